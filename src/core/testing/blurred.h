// A picture out of focus.
#pragma once

#include "raster/blur.h"
#include "raster/image.h"

namespace burnisher::testing {

// `sigma`: pixels.
inline Gray blurred(const Gray& page, double sigma) {
  FloatImage field(page.width(), page.height());
  for (size_t i = 0; i < page.samples().size(); ++i) field.samples()[i] = page.samples()[i];
  gaussian_blur(field, sigma);
  Gray out(page.width(), page.height());
  for (size_t i = 0; i < out.samples().size(); ++i)
    out.samples()[i] = static_cast<uint8_t>(field.samples()[i] + 0.5f);
  return out;
}

}  // namespace burnisher::testing
