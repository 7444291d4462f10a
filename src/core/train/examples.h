// Lines that a person has transcribed, and pictures of them: what a recogniser learns from besides
// rendered lines.
#pragma once

#include <string>
#include <vector>

#include "base/random.h"
#include "raster/image.h"
#include "recognise/alphabet.h"
#include "recognise/strip.h"
#include "train/line_maker.h"

namespace burnisher::train {

struct Example {
  std::string page;            // the file it comes from
  Gray picture;                // the line with its surroundings
  recognise::LinePlace place;  // in pixels of `picture`
  std::vector<char32_t> text;  // as one types it; single spaces, none at the ends
};

// The line at `place`, cut out of its page with enough round it to be moved and scaled.
Example example_of(const std::string& page, const Gray& picture, recognise::LinePlace place,
                   const std::string& text);

// The strip as it will be cut when the line is read.
Gray strip_of(const Example& example, const recognise::StripFrame& frame);

// The strip as another scan, or another estimate of the line's place, might have given it: a
// little larger, lower, paler, blurred or noisier.
TrainingLine varied(const Example& example, const recognise::StripFrame& frame,
                    const recognise::Alphabet& alphabet, Random& random);

// Every character of the examples that is not in `known`, in the order of the code points.
std::string missing_characters(const std::vector<Example>& examples, const std::string& known);

}  // namespace burnisher::train
