#include "export/flow.h"

#include <algorithm>

#include "base/unicode.h"
#include "export/paragraphs.h"

namespace burnisher::exporting {
namespace {

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
  if (is_ideographic(decode_utf8(before).back()) && is_ideographic(first_of(after)))
    return before + after;
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
