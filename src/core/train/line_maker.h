// Makes training lines: text set in a face, pressed, warped, scanned, and cut into a strip by the
// same code that cuts the lines of real pages. A seed gives the same line every time.
#pragma once

#include <memory>
#include <vector>

#include "compose/degrade.h"
#include "compose/typeset.h"
#include "recognise/alphabet.h"
#include "recognise/strip.h"
#include "train/text_source.h"

namespace burnisher::train {

struct TrainingLine {
  Gray strip;
  std::vector<int> classes;    // the text as classes of the alphabet
  std::vector<float> centres;  // where each character's middle lies, strip pixels
  std::vector<char32_t> text;  // in printed order (base/printed_order.h)
};

class LineMaker {
 public:
  // `source` and `alphabet` are shared between threads; the faces belong to this maker.
  LineMaker(const TextSource& source, const recognise::Alphabet& alphabet,
            const std::vector<compose::TypefaceEntry>& faces, bool held,
            const recognise::StripFrame& frame);

  // `longest`: characters at most.
  TrainingLine make(compose::ScanLevel level, int longest, uint64_t seed);

 private:
  bool try_line(compose::ScanLevel level, int longest, Random& random, TrainingLine& line);
  void print_neighbours(const compose::TypefacePair& faces, const compose::TypeStyle& style,
                        double baseline, Random& random, FloatImage& ink) const;

  const TextSource& source_;
  const recognise::Alphabet& alphabet_;
  compose::TypefaceSampler faces_;
  std::unique_ptr<compose::TypefaceSampler> latin_;  // for what faces of another script lack
  recognise::StripFrame frame_;
};

}  // namespace burnisher::train
