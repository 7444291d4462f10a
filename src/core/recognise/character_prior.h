// What characters a page may be expected to have: which letters it uses at all, and which of two
// look-alike signs. A letter that turns up once, unsurely, on a page that otherwise does without it
// was misread; a printer's straight quotes and primes are of one kind.
#pragma once

#include <vector>

#include "page/page.h"
#include "recognise/alphabet.h"

namespace burnisher::recognise {

// For every class whether it is a letter beyond ASCII that the page seems not to use: read nowhere
// with confidence and seldom at all.
std::vector<bool> implausible_characters(const Page& page, const Alphabet& alphabet);

// Lines with such a letter in them.
std::vector<Line*> lines_with(const std::vector<bool>& implausible, const Alphabet& alphabet,
                              Page& page);

// Of ' and ′, and of " and ″, the rarer becomes the commoner one.
void settle_primes(Page& page);

// An apostrophe within a word becomes of the kind, ' or ’, that the apostrophes and quotation marks
// of its block are, and less so those of its page: one text is typed, or set, throughout.
void settle_apostrophes(Page& page);

// The long s of old print becomes the s of today.
void modernise_s(Page& page);

}  // namespace burnisher::recognise
