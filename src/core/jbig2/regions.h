// Bitmaps through the arithmetic coder: generic regions (T.88, 6.2, with typical prediction) and
// refinements of a bitmap by another (6.3, template 0).
#pragma once

#include <vector>

#include "jbig2/contexts.h"
#include "jbig2/mq_encoder.h"
#include "jbig2/shapes.h"
#include "raster/image.h"

namespace burnisher::jbig2 {

// Adaptive pixels, where they usually are.
const std::vector<uint8_t>& usual_pixels(Template shape);
extern const std::vector<uint8_t> kUsualRefinementPixels;

// Rows equal to the row above cost one decision.
void encode_generic(MqEncoder& coder, std::vector<Context>& contexts, const Bitonal& picture,
                    Template shape);
// Template 16, no prediction.
void encode_generic(MqEncoder& coder, std::vector<Context>& contexts, const Shape& shape);

// `shape` coded with `other`, moved by (dx, dy), known.
void encode_refinement(MqEncoder& coder, std::vector<Context>& contexts, const Shape& shape,
                       const Shape& other, int dx, int dy);

}  // namespace burnisher::jbig2
