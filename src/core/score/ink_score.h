// Bitonal ink against the ink that was printed, pixel by pixel and letter by letter: the measures
// of the DIBCO contests (Gatos, Ntirogiannis and Pratikakis 2009), and what they don't see: letters
// that fell apart or ran together.
#pragma once

#include "raster/image.h"

namespace burnisher::score {

struct InkScore {
  // Pixels.
  double found = 0, printed = 0, both = 0;
  double skeleton = 0, skeleton_found = 0;  // of the printed ink, thinned to one pixel
  double distortion = 0;                    // sum over wrong pixels, see drd()
  double blocks = 0;                        // of 8 x 8 pixels that are not all of one kind
  // Components of the printed ink that are no specks.
  double letters = 0;
  double breaks = 0;  // pieces too many that letters came apart into
  double merges = 0;  // letters too many that run together in one piece
  double lost = 0;    // letters of which nothing is left
  double strewn = 0;  // pieces where nothing was printed

  void add(const InkScore& other);
  double f_measure() const;  // 0-1
  // With the skeleton's recall in place of all ink's, so that thin strokes count as much as thick
  // ones (Ntirogiannis, Gatos and Pratikakis 2008); 0-1.
  double pseudo_f_measure() const;
  // Distance reciprocal distortion (Lu, Kot and Shi 2004): 0 is best.
  double drd() const;
  double per_thousand(double count) const { return letters > 0 ? 1000 * count / letters : 0; }
};

// Both of one size. `least`: pixels of a component that counts as a letter or a piece.
InkScore score_ink(const Bitonal& found, const Bitonal& printed, int least);

// One pixel wide, as connected as before (Zhang and Suen 1984).
Bitonal thinned(const Bitonal& ink);

}  // namespace burnisher::score
