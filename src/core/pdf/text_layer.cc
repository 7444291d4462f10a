#include "pdf/text_layer.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "base/unicode.h"
#include "page/leader.h"
#include "page/table.h"
#include "pdf/blank_font.h"
#include "pdf/word_extents.h"

namespace burnisher::pdf {
namespace {

constexpr size_t kMostMappings = 100;  // in one block of a CMap

std::string utf16_hex(char32_t c) {
  if (c < 0x10000) return fmt::format("{:04X}", static_cast<uint32_t>(c));
  const uint32_t rest = static_cast<uint32_t>(c) - 0x10000;
  return fmt::format("{:04X}{:04X}", 0xD800 + (rest >> 10), 0xDC00 + (rest & 0x3FF));
}

// Writes words where they lie; the pen's place and direction are kept, so that words that follow
// each other on a straight line need no place of their own.
class Writer {
 public:
  Writer(const SheetFrame& frame, TextFonts& fonts) : frame_(frame), fonts_(fonts) {}

  void line(const Line& line, bool joins_next, bool space_after) {
    if (line.words.empty() || line.baseline.size() < 2) return;
    const BaselinePath way(line);
    const Point p = frame_.to_sheet(way.point(way.extent(line.words.front()).from));
    const Point up = frame_.to_sheet(way.point(way.extent(line.words.front()).from) + Point{0, 1});
    scale_ = std::hypot(up.x - p.x, up.y - p.y);
    size_ = std::max(0.5, line.x_height / kXHeightOfEm * frame_.points * scale_);
    content_ += "BT\n";
    placed_ = false;
    font_.clear();
    const std::vector<Extent> extents = extents_of(line, way, widths_of(line));
    for (size_t i = 0; i < line.words.size(); ++i) {
      const bool last = i + 1 == line.words.size();
      word(line, i, way, extents, last && joins_next, !last || space_after);
    }
    content_ += "ET\n";
  }

  std::string& content() { return content_; }

 private:
  // Pixels of the sheet to points.
  Point points(Point p) const {
    return {p.x * frame_.points, (frame_.height - p.y) * frame_.points};
  }
  Point placed(const BaselinePath& way, double place) const {
    return points(frame_.to_sheet(way.point(place)));
  }

  std::vector<SetWidth> widths_of(const Line& line) {
    std::vector<SetWidth> widths;
    for (const Word& word : line.words) {
      widths.emplace_back();
      if (word.type.em <= 0) continue;
      bool right_to_left = false;
      const type::TextMetrics extent = fonts_.face(type::face_of(word.type))
                                           .face->extent(in_visual_order(word.text, right_to_left));
      if (extent.ink <= 0) continue;
      widths.back() = {extent.ink * word.type.em, extent.lead / extent.ink,
                       (extent.advance - extent.lead - extent.ink) / extent.ink};
    }
    return widths;
  }

  void word(const Line& line, size_t index, const BaselinePath& way,
            const std::vector<Extent>& extents, bool joins_next, bool space_after) {
    const Word& word = line.words[index];
    bool right_to_left = false;
    std::vector<char32_t> characters = in_visual_order(word.text, right_to_left);
    const bool soft_end = joins_next && characters.size() > 1 && characters.back() == U'-';
    const Extent extent = extents[index];
    face_ = word.type.em > 0 ? &fonts_.face(type::face_of(word.type)) : nullptr;
    if (face_ != nullptr)
      set_in_type(word.type);
    else
      set_invisible(line, word, way);
    show(characters, placed(way, extent.from), placed(way, extent.to), soft_end);
    if (!space_after) return;
    // The space extents to the next word; at the line's end it keeps lines apart when copied.
    Extent gap{extent.to, extent.to + 0.3 * line.x_height};
    if (index + 1 < line.words.size()) {
      const Extent next = extents[index + 1];
      gap = next.from >= extent.to ? Extent{extent.to, next.from} : Extent{next.to, extent.from};
    } else if (right_to_left) {
      gap = {extent.from - 0.3 * line.x_height, extent.from};
    }
    if (gap.to - gap.from < 1) gap.to = gap.from + 1;
    show({U' '}, placed(way, gap.from), placed(way, gap.to));
  }

  void set_in_type(const Type& type) {
    em_ = type.em * frame_.points * scale_;
    set_mode(0);
    if (type.colour != colour_) {
      colour_ = type.colour;
      content_ += fmt::format("{:.3g} {:.3g} {:.3g} rg\n", colour_[0] / 255.0, colour_[1] / 255.0,
                              colour_[2] / 255.0);
    }
    set_font(face_->name(), em_);
  }

  // 0: seen, 3: not.
  void set_mode(int mode) {
    if (mode != mode_) content_ += fmt::format("{} Tr\n", mode);
    mode_ = mode;
  }

  void set_font(const std::string& name, double size) {
    const std::string font = fmt::format("/{} {:.2f} Tf\n", name, size);
    if (font != font_) content_ += font;
    font_ = font;
  }

  void set_invisible(const Line& line, const Word& word, const BaselinePath& way) {
    const double em = line.x_height / kXHeightOfEm;
    FontExtent extent{13, 4};  // a full letter's
    if (!way.steep() && em > 0) {
      const double base = height_at(line.baseline, word.box.centre().x);
      const auto steps = [&](double pixels) {
        return static_cast<int>(std::lround(pixels / em / kExtentStep));
      };
      extent.above = std::clamp(steps(base - word.box.y0), 3, 17);
      extent.below = std::clamp(steps(word.box.y1 - base), 0, 6);
    }
    set_mode(3);
    set_font(fonts_.name_of(extent), size_);
  }

  // From pen to pen, for the ink to extent from `from` to `to`; in points.
  struct Measure {
    double natural = 1, lead = 0, ink = 1;
  };
  Measure measure(const std::vector<char32_t>& characters) const {
    if (face_ == nullptr) {
      const double width =
          static_cast<double>(characters.size()) * size_ * kBlankAdvance / kBlankUnits;
      return {width, 0, width};
    }
    const type::TextMetrics extent = face_->face->extent(characters);
    if (extent.ink <= 0) return {extent.advance * em_, 0, extent.advance * em_};
    return {extent.advance * em_, extent.lead * em_, extent.ink * em_};
  }

  // A word on a slight slope is set level at the height of its middle: readers take a word whose
  // letters stand at different heights for several. Only steep ones are turned; of words that are
  // seen, those that would look like stairs.
  void show(const std::vector<char32_t>& characters, Point from, Point to, bool soft_end = false) {
    constexpr double kNear = 0.1;       // points
    constexpr double kSameWay = 0.002;  // slope; lines that differ by less share a matrix
    const double level = face_ == nullptr ? 0.2 : 0.03;  // rise over run
    if (to.x > from.x && std::fabs(to.y - from.y) < level * (to.x - from.x))
      from.y = to.y = (from.y + to.y) / 2;
    double width = std::hypot(to.x - from.x, to.y - from.y);
    Point along = width > 0 ? (to - from) * (1 / width) : Point{1, 0};
    width = std::max(width, 0.1);
    const Measure natural = measure(characters);
    // Dots of leaders stay round: room goes between them.
    const bool spaced = face_ != nullptr && is_leader(characters);
    const double stretch = spaced ? 1 : width / natural.ink;
    const double spacing =
        spaced ? (width - natural.ink) / static_cast<double>(characters.size() - 1) : 0;
    from = from - along * (natural.lead * stretch);
    const double off = std::hypot(pen_.x - from.x, pen_.y - from.y);
    const double turn = std::fabs(along.x * along_.y - along.y * along_.x);
    if (!placed_ || off > kNear || turn > kSameWay) {
      content_ += fmt::format("{:.5f} {:.5f} {:.5f} {:.5f} {:.2f} {:.2f} Tm\n", along.x, along.y,
                              -along.y, along.x, from.x, from.y);
      pen_ = from;
      along_ = along;
      placed_ = true;
    }
    std::string hex;
    CharacterCodes& codes = face_ == nullptr ? fonts_.codes : face_->codes;
    for (const char32_t c : characters) hex += fmt::format("{:04X}", codes.code_of(c));
    if (spaced) {
      // Readers would take the room for spaces.
      std::string text;
      for (const char32_t c : characters) text += utf16_hex(c);
      content_ += fmt::format("/Span <</ActualText <FEFF{}>>> BDC {:.3f} Tc\n", text, spacing);
    }
    const size_t last = hex.size() - 4;  // four digits a character; no room after the last one
    if (spaced)
      content_ +=
          fmt::format("100 Tz <{}> Tj 0 Tc <{}> Tj EMC\n", hex.substr(0, last), hex.substr(last));
    else if (soft_end)
      // A hyphen that only the line's end asks for is soft to readers that know such replacements;
      // the others join the word at a plain hyphen before a line's end: both find the whole word.
      content_ +=
          fmt::format("{:.2f} Tz <{}> Tj /Span <</ActualText <FEFF00AD>>> BDC <{}> Tj EMC\n",
                      100 * stretch, hex.substr(0, last), hex.substr(last));
    else
      content_ += fmt::format("{:.2f} Tz <{}> Tj\n", 100 * stretch, hex);
    pen_ = pen_ + along_ * (natural.natural * stretch +
                            spacing * static_cast<double>(characters.size() - 1));
  }

  const SheetFrame& frame_;
  TextFonts& fonts_;
  std::string content_;
  std::string font_;
  double size_ = 10, scale_ = 1;
  SetFace* face_ = nullptr;  // null: invisible
  double em_ = 10;           // of the face, points
  int mode_ = 0;
  std::array<uint8_t, 3> colour_{};
  bool placed_ = false;
  Point pen_, along_{1, 0};
};

// Whether a hyphen at the line's end only parts a word: the next line goes on in lower case.
bool word_goes_on(const Line& line, const Line* next) {
  if (next == nullptr || next->words.empty() || line.words.empty()) return false;
  const std::string& text = line.words.back().text;
  if (text.size() < 2 || text.back() != '-') return false;
  const auto head = decode_utf8(next->words.front().text);
  return !head.empty() && is_letter(head.front()) && !is_upper(head.front());
}

}  // namespace

int CharacterCodes::code_of(char32_t character) {
  const auto [place, fresh] = codes_.emplace(character, static_cast<int>(codes_.size()) + 1);
  if (fresh) by_code_[place->second] = character;
  return place->second;
}

std::string CharacterCodes::to_unicode() const {
  std::string cmap =
      "/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n"
      "/CIDSystemInfo << /Registry (Adobe) /Ordering (UCS) /Supplement 0 >> def\n"
      "/CMapName /Adobe-Identity-UCS def\n/CMapType 2 def\n"
      "1 begincodespacerange\n<0000> <FFFF>\nendcodespacerange\n";
  auto at = by_code_.begin();
  size_t left = by_code_.size();
  while (left > 0) {
    const size_t count = std::min(left, kMostMappings);
    cmap += fmt::format("{} beginbfchar\n", count);
    for (size_t i = 0; i < count; ++i, ++at)
      cmap += fmt::format("<{:04X}> <{}>\n", at->first, utf16_hex(at->second));
    cmap += "endbfchar\n";
    left -= count;
  }
  return cmap + "endcmap\nCMapName currentdict /CMap defineresource pop\nend\nend\n";
}

std::string TextFonts::name_of(const FontExtent& extent) {
  return fmt::format("T{}",
                     numbers_.emplace(extent, static_cast<int>(numbers_.size())).first->second);
}

SetFace& TextFonts::face(const type::TypefaceName& name) {
  const auto [place, fresh] = faces_.emplace(name, SetFace());
  if (fresh) {
    place->second.number = static_cast<int>(faces_.size());
    place->second.face = &opened_.named(name);
  }
  return place->second;
}

std::string tag_of(const Block& block) {
  switch (block.kind) {
    case BlockKind::kHeading:
      return fmt::format("H{}", std::clamp(block.level, 1, 6));
    case BlockKind::kTable:
      return "Table";
    case BlockKind::kFootnote:
      return "Note";
    case BlockKind::kCaption:
      return "Caption";
    case BlockKind::kRunningHead:
    case BlockKind::kPageNumber:
    case BlockKind::kSeparator:
    case BlockKind::kNoise:
      return "";
    case BlockKind::kText:
    case BlockKind::kMarginNote:
    case BlockKind::kDropCapital:
    case BlockKind::kPicture:
      break;
  }
  return "P";
}

TextLayer text_layer(const Page& page, const SheetFrame& frame, TextFonts& fonts) {
  TextLayer layer;
  Writer writer(frame, fonts);
  int id = frame.first_id;
  const auto part = [&](size_t block, int cell, const std::string& tag,
                        const std::vector<const Line*>& lines, bool space_after) {
    if (lines.empty() && tag != "Figure") return;
    if (tag.empty()) {
      writer.content() += "/Artifact <</Type /Pagination>> BDC\n";
    } else {
      writer.content() += fmt::format("/{} <</MCID {}>> BDC\n", tag, id);
      layer.parts.push_back({block, cell, id++});
    }
    for (size_t i = 0; i < lines.size(); ++i) {
      const Line* next = i + 1 < lines.size() ? lines[i + 1] : nullptr;
      writer.line(*lines[i], word_goes_on(*lines[i], next), space_after);
    }
    writer.content() += "EMC\n";
  };
  for (size_t b = 0; b < page.blocks.size(); ++b) {
    const Block& block = page.blocks[b];
    if (block.kind == BlockKind::kNoise) continue;
    if (block.kind == BlockKind::kTable && !block.cells.empty()) {
      for (size_t c = 0; c < block.cells.size(); ++c) {
        std::vector<const Line*> lines;
        for (const int index : block.cells[c].lines)
          lines.push_back(&block.lines[static_cast<size_t>(index)]);
        part(b, static_cast<int>(c), block.cells[c].header ? "TH" : "TD", lines, true);
      }
      continue;
    }
    std::vector<const Line*> lines;
    for (const Line& line : block.lines) {
      if (!line.words.empty()) lines.push_back(&line);
    }
    // A drop capital is the first letter of the word that follows.
    const bool figure = block.kind == BlockKind::kPicture && lines.empty();
    part(b, -1, figure ? "Figure" : tag_of(block), lines, block.kind != BlockKind::kDropCapital);
  }
  layer.content = std::move(writer.content());
  return layer;
}

}  // namespace burnisher::pdf
