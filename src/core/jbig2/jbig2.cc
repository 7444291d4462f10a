#include "jbig2/jbig2.h"

#include <algorithm>
#include <tuple>

#include "base/parallel.h"
#include "jbig2/mq_encoder.h"
#include "jbig2/regions.h"
#include "jbig2/symbols.h"

namespace burnisher::jbig2 {
namespace {

enum SegmentType { kSymbolDictionary = 0, kTextRegion = 6, kGenericRegion = 38, kPageStart = 48 };

constexpr uint32_t kDictionaryNumber = 0;  // segments of pages have higher ones

using Bytes = std::vector<uint8_t>;

void put(Bytes& out, uint32_t value, int bytes) {
  while (bytes-- > 0) out.push_back(static_cast<uint8_t>(value >> (8 * bytes)));
}

void append(Bytes& out, const Bytes& more) {
  out.insert(out.end(), more.begin(), more.end());
}

// `page` 0: for all pages. 7.2.
Bytes segment(uint32_t number, SegmentType type, int page, bool uses_dictionary,
              const Bytes& body) {
  Bytes out;
  put(out, number, 4);
  put(out, type, 1);
  put(out, uses_dictionary ? 1 << 5 : 0, 1);
  if (uses_dictionary) put(out, kDictionaryNumber, 1);  // one byte: segments are few
  put(out, static_cast<uint32_t>(page), 1);
  put(out, static_cast<uint32_t>(body.size()), 4);
  append(out, body);
  return out;
}

Bytes page_start(const Bitonal& page) {
  Bytes body;
  put(body, static_cast<uint32_t>(page.width()), 4);
  put(body, static_cast<uint32_t>(page.height()), 4);
  put(body, 0, 4);  // resolutions: the PDF says
  put(body, 0, 4);
  put(body, 0x03, 1);  // without loss; refinements are possible
  put(body, 0, 2);     // no stripes
  return body;
}

void put_region(Bytes& out, int width, int height, int x, int y) {
  for (const int value : {width, height, x, y}) put(out, static_cast<uint32_t>(value), 4);
  put(out, 0, 1);  // laid over what is there: OR
}

// Rows of `page` that hold ink.
std::pair<int, int> rows_with_ink(const Bitonal& page) {
  const auto inked = [&](int y) {
    return std::any_of(page.row(y), page.row(y) + page.stride(), [](uint8_t b) { return b != 0; });
  };
  int top = 0, bottom = page.height();
  while (top < bottom && !inked(top)) ++top;
  while (bottom > top && !inked(bottom - 1)) --bottom;
  return {top, bottom};
}

Bytes generic_region(const Bitonal& page, int top, int bottom, Template shape) {
  Bitonal cut(page.width(), bottom - top);
  for (int y = top; y < bottom; ++y) std::copy_n(page.row(y), page.stride(), cut.row(y - top));
  Bytes body;
  put_region(body, cut.width(), cut.height(), 0, top);
  put(body, shape == Template::k16 ? 0x08 : 0x0A, 1);  // typical prediction
  append(body, usual_pixels(shape));
  MqEncoder coder;
  std::vector<Context> contexts(kGenericContexts);
  encode_generic(coder, contexts, cut, shape);
  append(body, coder.finish());
  return body;
}

int bits_for(size_t symbols) {
  int bits = 0;
  while ((size_t{1} << bits) < symbols) ++bits;
  return bits;
}

// 6.5. The symbols come by height, then by width.
Bytes dictionary(const std::vector<Shape>& symbols) {
  Bytes body;
  put(body, 0, 2);  // arithmetic coding, template 0
  append(body, usual_pixels(Template::k16));
  put(body, static_cast<uint32_t>(symbols.size()), 4);  // exported
  put(body, static_cast<uint32_t>(symbols.size()), 4);  // new
  MqEncoder coder;
  IntegerContexts heights, widths, exports;
  std::vector<Context> contexts(kGenericContexts);
  int height = 0;
  for (size_t i = 0; i < symbols.size();) {
    heights.encode(coder, symbols[i].height - height);
    height = symbols[i].height;
    int width = 0;
    for (; i < symbols.size() && symbols[i].height == height; ++i) {
      widths.encode(coder, symbols[i].width - width);
      width = symbols[i].width;
      encode_generic(coder, contexts, symbols[i]);
    }
    widths.encode_end(coder);
  }
  exports.encode(coder, 0);  // none left out,
  exports.encode(coder, static_cast<int>(symbols.size()));
  append(body, coder.finish());
  return body;
}

constexpr int kStripBits = 1;  // 2 rows; found by trying. Most letters of a line share a strip
constexpr int kStrip = 1 << kStripBits;  // rows

// A shape with the symbol it is coded by.
struct Instance {
  Placed placed;
  Use use;
  int bottom() const { return placed.y + placed.shape.height - 1; }
};

// The same in a frame that holds the symbol, too, so that neither its size nor its place is much of
// a surprise. The frame stays on the page.
Instance framed(const Placed& placed, const Use& use, const Shape& symbol, const Bitonal& page) {
  if (use.exact) return {placed, use};
  const Shape& shape = placed.shape;
  const int left = std::max(std::min(0, use.dx), -placed.x);
  const int top = std::max(std::min(0, use.dy), -placed.y);
  const int right = std::min(std::max(shape.width, use.dx + symbol.width), page.width() - placed.x);
  const int bottom =
      std::min(std::max(shape.height, use.dy + symbol.height), page.height() - placed.y);
  Instance instance{{Shape(right - left, bottom - top), placed.x + left, placed.y + top}, use};
  for (int y = 0; y < shape.height; ++y) {
    for (int x = 0; x < shape.width; ++x) {
      if (shape.pixel(x, y)) instance.placed.shape.set(x - left, y - top);
    }
  }
  instance.use.dx -= left;
  instance.use.dy -= top;
  return instance;
}

// 6.4, with refinement; corners are those at the bottom left.
Bytes text_region(const Bitonal& page, std::vector<Instance> instances,
                  const std::vector<Shape>& symbols) {
  std::stable_sort(instances.begin(), instances.end(), [](const Instance& a, const Instance& b) {
    return std::make_tuple(a.bottom() / kStrip, a.placed.x) <
           std::make_tuple(b.bottom() / kStrip, b.placed.x);
  });
  Bytes body;
  put_region(body, page.width(), page.height(), 0, 0);
  put(body, 0x02 | kStripBits << 2, 2);  // refinement, template 0; bottom left; OR
  append(body, kUsualRefinementPixels);
  put(body, static_cast<uint32_t>(instances.size()), 4);
  MqEncoder coder;
  IntegerContexts strips, firsts, gaps, rises, refined, wider, higher, right, down;
  NumberContexts numbers(bits_for(symbols.size()));
  std::vector<Context> contexts(kRefinementContexts);
  strips.encode(coder, 0);
  int strip = 0, first = 0, pen = 0;
  bool fresh = true;
  for (size_t i = 0; i < instances.size(); ++i) {
    const Instance& it = instances[i];
    const Shape& shape = it.placed.shape;
    const Shape& symbol = symbols[static_cast<size_t>(it.use.symbol)];
    const int at = it.bottom() / kStrip;
    if (i > 0 && at != strip) {
      gaps.encode_end(coder);
      fresh = true;
    }
    if (fresh) {
      strips.encode(coder, at - strip);
      strip = at;
      firsts.encode(coder, it.placed.x - first);
      first = it.placed.x;
    } else {
      gaps.encode(coder, it.placed.x - pen);
    }
    fresh = false;
    rises.encode(coder, it.bottom() - strip * kStrip);
    numbers.encode(coder, static_cast<uint32_t>(it.use.symbol));
    refined.encode(coder, it.use.exact ? 0 : 1);
    if (!it.use.exact) {
      const int dw = shape.width - symbol.width, dh = shape.height - symbol.height;
      wider.encode(coder, dw);
      higher.encode(coder, dh);
      right.encode(coder, it.use.dx - (dw >> 1));
      down.encode(coder, it.use.dy - (dh >> 1));
      encode_refinement(coder, contexts, shape, symbol, it.use.dx, it.use.dy);
    }
    pen = it.placed.x + shape.width - 1;
  }
  gaps.encode_end(coder);
  append(body, coder.finish());
  return body;
}

void put_back(const Placed& placed, Bitonal& page) {
  for (int y = 0; y < placed.shape.height; ++y) {
    for (int x = 0; x < placed.shape.width; ++x) {
      if (placed.shape.pixel(x, y)) page.set_ink(placed.x + x, placed.y + y, true);
    }
  }
}

Bytes coded_with_symbols(Parted& page, const std::vector<Use>& uses,
                         const std::vector<Shape>& symbols) {
  std::vector<Instance> instances;
  for (size_t i = 0; i < page.shapes.size(); ++i) {
    const Use& use = uses[i];
    if (use.symbol < 0) {
      put_back(page.shapes[i], page.rest);
    } else {
      const Shape& symbol = symbols[static_cast<size_t>(use.symbol)];
      instances.push_back(framed(page.shapes[i], use, symbol, page.rest));
    }
  }
  Bytes out = segment(1, kPageStart, 1, false, page_start(page.rest));
  if (!instances.empty()) {
    const Bytes region = text_region(page.rest, std::move(instances), symbols);
    append(out, segment(2, kTextRegion, 1, true, region));
  }
  const auto [top, bottom] = rows_with_ink(page.rest);
  if (top < bottom) {
    const Bytes region = generic_region(page.rest, top, bottom, Template::k13);
    append(out, segment(3, kGenericRegion, 1, false, region));
  }
  return out;
}

}  // namespace

std::vector<uint8_t> encode_page(const Bitonal& page) {
  Bytes out = segment(1, kPageStart, 1, false, page_start(page));
  const auto [top, bottom] = rows_with_ink(page);
  if (top == bottom) return out;
  // Noise is learnt faster by few pixels, print is known better by many.
  Bytes region = generic_region(page, top, bottom, Template::k16);
  const Bytes other = generic_region(page, top, bottom, Template::k13);
  if (other.size() < region.size()) region = other;
  append(out, segment(2, kGenericRegion, 1, false, region));
  return out;
}

CodedPages encode_pages(const std::vector<const Bitonal*>& pages) {
  const auto each = [&](const auto& body) {
    parallel_each(static_cast<int>(pages.size()), [&](int at) { body(static_cast<size_t>(at)); });
  };
  std::vector<Parted> parts(pages.size());
  each([&](size_t i) { parts[i] = parted(*pages[i]); });
  const Symbols symbols = symbols_of(parts);
  const bool shared = !symbols.dictionary.empty();
  CodedPages result;
  result.pages.resize(pages.size());
  each([&](size_t i) {
    result.pages[i] = shared ? coded_with_symbols(parts[i], symbols.uses[i], symbols.dictionary)
                             : encode_page(*pages[i]);
  });
  if (shared) {
    result.globals =
        segment(kDictionaryNumber, kSymbolDictionary, 0, false, dictionary(symbols.dictionary));
  }
  return result;
}

}  // namespace burnisher::jbig2
