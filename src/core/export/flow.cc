#include "export/flow.h"

#include <algorithm>
#include <cmath>
#include <regex>

#include "base/statistics.h"
#include "base/unicode.h"

namespace burnisher::exporting {
namespace {

constexpr double kIndent = 0.8;  // x-heights from which on a line is indented
constexpr double kShortLine =
    0.12;  // of the block's width: a line that ends so early ends something

// Of the column's width: white left after a line, beyond what the next word needs, that was meant.
constexpr double kMeantBreak = 0.2;

constexpr double kPartingWhite = 1.5;  // x-heights between the ink of two blocks
constexpr double kWiderPitch = 1.15;   // beside the block's: white that parts paragraphs

const char* const kBullets[] = {"\u2022", "\u00B7", "\u25AA", "\u25CF", "-", "\u2013", "*"};

char32_t first_of(const std::string& text) {
  const auto characters = decode_utf8(text);
  return characters.empty() ? 0 : characters.front();
}

bool ends_sentence(const std::string& text) {
  auto characters = decode_utf8(text);
  static const std::u32string kClosing = U"\"'\u2019\u201D\u00BB)]";
  while (!characters.empty() && kClosing.find(characters.back()) != std::u32string::npos)
    characters.pop_back();
  static const std::u32string kEnds = U".!?:;";
  return !characters.empty() && kEnds.find(characters.back()) != std::u32string::npos;
}

bool begins_small(const std::string& text) {
  const char32_t c = first_of(text);
  return is_letter(c) && !is_upper(c);
}

// The marker a list item begins with, and where its text does.
std::pair<std::string, size_t> marker_of(const std::string& text) {
  for (const std::string bullet : kBullets) {
    if (text.size() > bullet.size() + 1 && text.compare(0, bullet.size(), bullet) == 0 &&
        text[bullet.size()] == ' ')
      return {"-", bullet.size() + 1};
  }
  static const std::regex kNumbered(R"(^(\(?(\d{1,3}|[a-z])[.)]) )");
  std::smatch match;
  if (std::regex_search(text, match, kNumbered))
    return {match[1].str(), static_cast<size_t>(match.length(0))};
  return {"", 0};
}

Box ink_of(const Block& block) {
  Box box;
  for (const Line& line : block.lines) box = united(box, line.box);
  return box;
}

// How far to the right a block's lines could have gone: to where those of others that begin below
// or above it end, and no further than what stands beside it.
double column_right(const Block& block, const std::vector<Block>& blocks) {
  const Box own = ink_of(block);
  double right = own.x1, limit = 1e18;
  for (const Block& other : blocks) {
    if (other.lines.empty() || other.kind == BlockKind::kNoise) continue;
    const Box box = ink_of(other);
    const bool same_edge = std::fabs(box.x0 - own.x0) < 2 * block.lines.front().x_height;
    if (other.kind == BlockKind::kText && same_edge) right = std::max(right, box.x1);
    if (overlap(box.y0, box.y1, own.y0, own.y1) > 0 && box.x0 >= own.x1)
      limit = std::min(limit, box.x0);
  }
  return std::min(right, limit);
}

// White left after `line`, beyond what the next word needs, as it is where the break was meant:
// addresses, verse, signatures, titles.
bool breaks_on_purpose(const Line& line, const Line& next, double column_left, double column_end) {
  if (next.words.empty()) return false;
  const double room = column_end - line.box.x1 - next.words.front().box.width();
  return room > kMeantBreak * (column_end - column_left);
}

double foot_of(const Line& line) {
  return line.baseline.size() < 2 ? line.box.y1 : height_at(line.baseline, line.baseline.front().x);
}

// From line to line, upright pages; 0 for a single line.
double usual_pitch(const std::vector<Line>& lines) {
  std::vector<double> steps;
  for (size_t i = 1; i < lines.size(); ++i)
    steps.push_back(foot_of(lines[i]) - foot_of(lines[i - 1]));
  return steps.empty() ? 0 : median(steps);
}

// Whether nothing but white, and more of it than between lines, lies between `line` and a block
// below it.
bool parted_by_white(const Line& line, const Block& below, const std::vector<Block>& blocks) {
  const Box upper = line.box, lower = ink_of(below);
  const double from = std::max(upper.x0, lower.x0), to = std::min(upper.x1, lower.x1);
  if (to <= from || lower.y0 - upper.y1 < kPartingWhite * line.x_height) return false;
  return std::none_of(blocks.begin(), blocks.end(), [&](const Block& other) {
    const Box box = bounds(other.outline);
    return other.kind != BlockKind::kNoise && box.y0 >= upper.y1 && box.y1 <= lower.y0 &&
           overlap(box.x0, box.x1, from, to) > 0;
  });
}

// Which lines of a block begin something new.
std::vector<bool> beginnings(const Block& block, double column_end) {
  const auto& lines = block.lines;
  std::vector<bool> begins(lines.size(), false);
  double left = lines.front().box.x0, right = lines.front().box.x1;
  for (const Line& line : lines) {
    left = std::min(left, line.box.x0);
    right = std::max(right, line.box.x1);
  }
  const auto indented = [&](const Line& line) {
    return line.box.x0 - left > kIndent * line.x_height;
  };
  const size_t count = static_cast<size_t>(std::count_if(lines.begin(), lines.end(), indented));
  const double pitch = usual_pitch(lines);
  const bool hanging = 2 * count > lines.size();  // what stands out begins, as in indexes
  for (size_t i = 0; i < lines.size(); ++i) {
    const bool stands_out = hanging ? !indented(lines[i]) : indented(lines[i]);
    const bool after_short = i > 0 && right - lines[i - 1].box.x1 > kShortLine * (right - left) &&
                             ends_sentence(lines[i - 1].text());
    const bool listed = !marker_of(lines[i].text()).first.empty() &&
                        (i == 0 || ends_sentence(lines[i - 1].text()) ||
                         right - lines[i - 1].box.x1 > kShortLine * (right - left));
    const bool meant = i > 0 && breaks_on_purpose(lines[i - 1], lines[i], left, column_end);
    const bool spaced = i > 0 && ends_sentence(lines[i - 1].text()) &&
                        foot_of(lines[i]) - foot_of(lines[i - 1]) > kWiderPitch * pitch;
    begins[i] = (count > 0 && stands_out) || after_short || listed || meant || spaced;
  }
  return begins;
}

std::string trimmed_hyphen(std::string text) {
  text.pop_back();
  return text;
}

// The last word of `text`, the first of `after`, without what is no letter round them.
std::string edge_word(const std::string& text, bool last) {
  auto characters = decode_utf8(text);
  if (last) std::reverse(characters.begin(), characters.end());
  std::vector<char32_t> word;
  for (const char32_t c : characters) {
    if (!is_letter(c) && c != U'\'' && c != U'\u2019') {
      if (!word.empty() || c == U' ') break;
      continue;
    }
    word.push_back(c);
  }
  if (last) std::reverse(word.begin(), word.end());
  return encode_utf8(word);
}

std::shared_ptr<const Illustration> picture_at(const Box& box, const Illustrations& pictures) {
  for (const auto& picture : pictures) {
    if (picture->place.contains(box.centre())) return picture;
  }
  return nullptr;
}

}  // namespace

std::string Flow::joined(const std::string& before, const std::string& after,
                         const std::string& language) const {
  if (before.empty()) return after;
  if (after.empty()) return before;
  if (before.size() < 2 || before.back() != '-' || before[before.size() - 2] == ' ' ||
      !is_letter(first_of(after)))
    return before + ' ' + after;
  if (is_upper(first_of(after))) return before + after;  // North-East
  const std::string whole = trimmed_hyphen(before);
  if (!settings_.is_word) return whole + after;
  const std::string head = edge_word(whole, true), tail = edge_word(after, false);
  if (settings_.is_word(head + tail, language)) return whole + after;
  // Two words with a hyphen of their own: well-known.
  if (settings_.is_word(head, language) && settings_.is_word(tail, language)) return before + after;
  return whole + after;
}

std::string Flow::joined_text(const Block& block) const {
  std::string text;
  for (const Line& line : block.lines) text = joined(text, line.text(), line.language);
  return text;
}

void Flow::open(FlowItem item) {
  close();
  item_ = std::move(item);
  item_.page = page_;
  open_ = true;
}

void Flow::close() {
  if (open_ && !item_.text.empty()) sink_(item_);
  open_ = false;
  for (const FlowItem& item : after_) sink_(item);
  after_.clear();
}

void Flow::later(FlowItem item) {
  item.page = page_;
  if (item.kind == FlowItem::Kind::kNote) {
    notes_.push_back(std::move(item));
  } else if (open_) {
    after_.push_back(std::move(item));
  } else {
    sink_(item);
  }
}

void Flow::add_line(const Line& line, bool begins) {
  const std::string text = line.text();
  if (text.empty()) return;
  if (drop_capital_) {
    item_.text += text;  // goes on in the same word
    drop_capital_ = false;
    return;
  }
  if (open_ && !begins) {
    item_.text = joined(item_.text, text, line.language);
    return;
  }
  FlowItem item;
  item.language = line.language;
  const auto [marker, at] = marker_of(text);
  if (!marker.empty()) item.kind = FlowItem::Kind::kListItem;
  item.marker = marker;
  item.text = text.substr(at);
  open(std::move(item));
}

bool Flow::parted_from_last(const Block& block, const Page& page) const {
  if (last_.page == 0) return false;
  return breaks_on_purpose(last_.line, block.lines[0], last_.left, last_.end) ||
         (last_.page == page_ && parted_by_white(last_.line, block, page.blocks));
}

void Flow::add_text(const Block& block, const Page& page) {
  if (block.lines.empty()) return;
  const double column_end = column_right(block, page.blocks);
  const std::vector<bool> begins = beginnings(block, column_end);
  for (size_t i = 0; i < block.lines.size(); ++i) {
    bool fresh = begins[i];
    if (i == 0) {
      // A block goes on with the paragraph before it when that is not at its end.
      const std::string text = block.lines[0].text();
      const bool goes_on = open_ && begins_small(text) && !ends_sentence(item_.text) &&
                           !parted_from_last(block, page);
      fresh = !goes_on && !drop_capital_;
    }
    add_line(block.lines[i], fresh);
  }
  last_ = {block.lines.back(), page_, ink_of(block).x0, column_end};
}

void Flow::add(const Page& page, const Illustrations& pictures) {
  ++page_;
  using Kind = FlowItem::Kind;
  for (const Block& block : page.blocks) {
    FlowItem item;
    item.language = block.language();
    switch (block.kind) {
      case BlockKind::kText:
      case BlockKind::kMarginNote:
        add_text(block, page);
        continue;
      case BlockKind::kDropCapital:
        item.text = joined_text(block);
        open(std::move(item));
        drop_capital_ = true;
        continue;
      case BlockKind::kHeading:
        close();
        item.kind = Kind::kHeading;
        item.level = std::clamp(block.level, 1, 6);
        item.text = joined_text(block);
        break;
      case BlockKind::kTable:
        close();
        item.kind = Kind::kTable;
        item.block = block;
        break;
      case BlockKind::kCaption:
        item.kind = Kind::kCaption;
        item.text = joined_text(block);
        break;
      case BlockKind::kFootnote:
        item.kind = Kind::kNote;
        item.text = joined_text(block);
        break;
      case BlockKind::kRunningHead:
      case BlockKind::kPageNumber:
        if (!settings_.heads) continue;
        item.kind = Kind::kHead;
        item.text = joined_text(block);
        break;
      case BlockKind::kPicture:
        item.kind = Kind::kPicture;
        item.block = block;
        item.picture = picture_at(bounds(block.outline), pictures);
        break;
      case BlockKind::kSeparator:
      case BlockKind::kNoise:
        continue;
    }
    if (item.text.empty() && item.kind != Kind::kTable && item.kind != Kind::kPicture) continue;
    later(std::move(item));
  }
  FlowItem end;
  end.kind = Kind::kPageEnd;
  later(std::move(end));
}

void Flow::finish() {
  close();
  for (const FlowItem& note : notes_) sink_(note);
  notes_.clear();
}

}  // namespace burnisher::exporting
