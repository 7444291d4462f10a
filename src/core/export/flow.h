// The running text of a document: paragraphs joined over lines, columns and pages, hyphens at line
// ends resolved, lists and headings told apart, notes set aside for the end.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "export/illustration.h"
#include "page/page.h"

namespace burnisher::exporting {

struct FlowItem {
  enum class Kind {
    kParagraph,
    kHeading,
    kListItem,
    kTable,
    kCaption,
    kNote,
    kHead,
    kPicture,
    kPageEnd
  };
  Kind kind = Kind::kParagraph;
  int level = 1;                                // of headings
  std::string text;                             // of list items: without the marker
  std::string marker;                           // of list items: "-" or "3."
  std::string language;                         // BCP 47; empty: not known
  Block block;                                  // of tables and pictures
  std::shared_ptr<const Illustration> picture;  // of pictures; may be null
  int page = 1;                                 // of the document: where it begins
};

struct FlowSettings {
  bool heads = false;  // running heads and page numbers stay, as kHead
  // Whether a word is right in a language; decides about hyphens. Empty: every hyphen before a
  // small letter goes.
  std::function<bool(const std::string& word, const std::string& language)> is_word;
};

// Pages go in, items come out at `sink`, in reading order; notes last. Keeps no more than the open
// paragraph and the notes.
class Flow {
 public:
  using Sink = std::function<void(const FlowItem&)>;
  Flow(const FlowSettings& settings, const Sink& sink) : settings_(settings), sink_(sink) {}

  // `pictures`: those of its picture blocks that are at hand.
  void add(const Page& page, const Illustrations& pictures = {});
  void finish();

 private:
  // Of the text block before, with the edges of its column.
  struct LastLine {
    Line line;
    int page = 0;  // 0: there was none
    double left = 0, end = 0;
  };

  void add_text(const Block& block, const Page& page);
  bool parted_from_last(const Block& block, const Page& page) const;
  void add_line(const Line& line, bool begins);
  void open(FlowItem item);
  void close();
  void later(FlowItem item);
  std::string joined_text(const Block& block) const;
  std::string joined(const std::string& before, const std::string& after,
                     const std::string& language) const;

  FlowSettings settings_;
  Sink sink_;
  int page_ = 0;
  bool open_ = false, drop_capital_ = false;
  FlowItem item_;  // the open paragraph
  LastLine last_;
  std::vector<FlowItem> after_;  // come when the open paragraph ends
  std::vector<FlowItem> notes_;
};

}  // namespace burnisher::exporting
