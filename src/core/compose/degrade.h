// What printing, ageing and scanning do to ink on paper. Used on single lines for training and on
// whole pages for the demo scans. Lengths are in x-heights, so that the same damage looks alike at
// every resolution; strengths are shares of full ink or full white.
#pragma once

#include "base/random.h"
#include "raster/image.h"

namespace burnisher::compose {

enum class ScanLevel { kClean, kMedium, kHeavy };
enum class Threshold { kNone, kGlobal, kLocal };

struct ScanDamage {
  // Printing
  double ink_blur = 0;         // spread of ink before its edge forms; 0 leaves the outlines crisp
  double ink_threshold = 0.5;  // where the edge forms: below 0.5 fattens, above thins
  double ragged = 0;           // unevenness of the edge
  double erosion = 0;          // worn places: how far the edge draws back there
  double fading = 0;           // pale places: how much ink is missing there
  double mottle = 0;           // the same within a stroke: ink that did not take evenly
  double ink = 1;              // strength of the ink
  // Paper
  double paper = 1;         // brightness
  double texture = 0;       // fine unevenness
  double gradient = 0;      // light falling off to one side
  double stain = 0;         // darkness of stains
  double stain_size = 5;    // of their extent, x-heights
  double show_through = 0;  // strength of the verso
  double specks = 0;        // specks on a hundred square x-heights
  // Scanner
  double blur = 0;       // pixels
  double noise = 0;      // standard deviation
  int jpeg_quality = 0;  // 0: none
  Threshold threshold = Threshold::kNone;
  double threshold_level = 0.5;
  bool inverse = false;  // white on black
};

ScanDamage draw_damage(ScanLevel level, Random& random);

// Adds what a typewriter's ribbon does: wide soft strokes whose counters fill in.
void type_through_ribbon(ScanDamage& damage, Random& random);

// Gives crisp ink the edge that a press gives it.
void press(FloatImage& ink, double x_height, const ScanDamage& damage, Random& random);

// The grey picture a scanner makes of the inked paper. `verso` (mirrored ink of the other side)
// may be null.
Gray scan(const FloatImage& ink, const FloatImage* verso, double x_height, const ScanDamage& damage,
          Random& random);

// Smooth random values, mean 0, standard deviation about 1, that change over `grain` pixels.
FloatImage soft_noise(int width, int height, double grain, Random& random);

}  // namespace burnisher::compose
