// Bitmaps through the arithmetic coder: generic regions (T.88, 6.2; template 0 with typical
// prediction) and refinements of a bitmap by another (6.3; template 0 or 1).
#pragma once

#include <vector>

#include "jbig2/mq_encoder.h"
#include "jbig2/shapes.h"
#include "raster/image.h"

namespace burnisher::jbig2 {

constexpr size_t kGenericContexts = 1 << 16;
constexpr size_t kRefinementContexts = 1 << 13;

// Adaptive pixels of template 0 and of refinements, where they usually are.
extern const std::vector<uint8_t> kUsualPixels;
extern const std::vector<uint8_t> kUsualRefinementPixels;

// `typical`: rows equal to the row above cost one decision.
void encode_generic(MqEncoder& coder, std::vector<Context>& contexts, const Bitonal& picture,
                    bool typical);
void encode_generic(MqEncoder& coder, std::vector<Context>& contexts, const Shape& shape);

// `shape` coded with `other`, moved by (dx, dy), known.
void encode_refinement(MqEncoder& coder, std::vector<Context>& contexts, const Shape& shape,
                       const Shape& other, int dx, int dy);

}  // namespace burnisher::jbig2
