// From what a person named to what a recogniser learns from: named glyphs where they stand in their
// lines, whole lines that were typed, and new lines composed of named glyphs, with the document's
// own spacing and damage. Where the surely read letters that were named are mostly what they were
// read as, surely read neighbours count as named too, so that one need not name what is right: but
// for readings that were named otherwise (self-training; Scudder 1965).
#pragma once

#include <cstdint>
#include <map>
#include <set>
#include <string>
#include <vector>

#include "recognise/model.h"
#include "teach/namings.h"
#include "teach/type_case.h"
#include "train/examples.h"

namespace burnisher::teach {

// Examples say which line of the document they are of: "NAME, line 12" in Example::page.
struct CaseExamples {
  std::vector<train::Example> lines;  // typed as a whole
  std::vector<train::Example> runs;   // named glyphs that follow one another
  recognise::Symbols symbols;         // texts that need a class of their own, see recognise/model.h
  size_t glyphs = 0;                  // named, in runs
  std::vector<std::string> lost;      // namings whose line is not there any more
};

// `known`: symbols of the model that goes on learning; texts that have one keep it.
// The namings, and those that surely read glyphs on the same lines stand for.
std::vector<Naming> with_sure_readings(const TypeCase& type_case,
                                       const std::vector<Naming>& namings);

// The namings, and those of the glyphs of lines that were typed as a whole: where a line falls into
// as many words as were typed, and a word into as many glyphs as characters, each glyph is its
// character.
std::vector<Naming> with_typed_glyphs(const TypeCase& type_case,
                                      const std::vector<Naming>& namings);

CaseExamples examples_of(const TypeCase& type_case, const std::vector<Naming>& namings,
                         const recognise::Symbols& known);

// What named characters and symbols were mostly read as, where both are one: a class that is new to
// a network may begin as that one.
std::map<char32_t, char32_t> read_before(const TypeCase& type_case,
                                         const std::vector<Naming>& namings,
                                         const recognise::Symbols& symbols);

// Lines composed of named glyphs in the order in which they stand in the document, with other
// pictures of the same glyphs in their places, and rare ones put in more often than they occur.
// `held_back`: lines (as Example::page names them) whose glyphs are not used.
std::vector<train::Example> composed_lines(const TypeCase& type_case,
                                           const std::vector<Naming>& namings,
                                           const recognise::Symbols& symbols,
                                           const std::set<std::string>& held_back, int count,
                                           uint64_t seed);

}  // namespace burnisher::teach
