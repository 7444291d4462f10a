// What the page network learns from: composed pages at its text scale, and the maps it should see.
#pragma once

#include "base/random.h"
#include "compose/composed_page.h"
#include "layout/page_network.h"

namespace burnisher::train {

struct TrainingPage {
  Gray page;              // at the network's text scale; its sides are multiples of kPageStep
  layout::MapGrid truth;  // the same in cells
};

// The whole page, its text scaled to layout::kPageXHeight.
TrainingPage training_page(const compose::ComposedPage& composed);

// As the network meets it in training: the text scale estimated only nearly right, paler or
// darker, and cut to a window of `width` x `height` pixels (beyond the page: nothing).
TrainingPage varied_window(const compose::ComposedPage& composed, int width, int height,
                           Random& random);

}  // namespace burnisher::train
