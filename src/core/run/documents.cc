#include "run/documents.h"

#include <fmt/core.h>

#include <algorithm>
#include <optional>

#include "base/files.h"
#include "export/epub.h"
#include "export/flow.h"
#include "export/hocr.h"
#include "export/mets.h"
#include "export/odt.h"
#include "export/spreadsheet.h"
#include "export/text.h"
#include "export/word_list.h"
#include "layout/document.h"
#include "page/printed_number.h"
#include "pagefile/alto.h"
#include "pdf/original.h"

namespace burnisher::run {
namespace {

const char* const kNoTables = "no table was found, so there is none in it";

class PdfDocument : public Document {
 public:
  PdfDocument(const Sink& sink, const std::string& password, const pdf::PdfSettings& settings)
      : face_(settings.picture.face), password_(password), writer_(sink, settings) {}

  void add(const FinishedPage& page) override {
    // In a facsimile the two pages of a spread are on one sheet.
    if (left_.has_value() && page.page.part == 2) {
      writer_.add(sheet_of({&left_->page, &page.page}, left_->picture, face_));
      left_.reset();
      return;
    }
    write_left();
    ++sheets_;
    if (page.kept)
      writer_.add_original(page.page.file, password_, page.page.number);
    else if (face_ == pdf::PageFace::kFacsimile && page.page.part == 1)
      left_ = page;
    else
      writer_.add(sheet_of({&page.page}, page.picture, face_));
  }
  void finish() override {
    write_left();
    writer_.finish();
  }
  int last_sheet() const override { return sheets_; }
  std::string remark(size_t source_bytes) const override {
    const pdf::PdfSizes& sizes = writer_.sizes();
    std::string text =
        fmt::format("{} in {} {}: pictures {}, ink {}, text and structure {}",
                    bytes_text(sizes.all), sizes.pages, sizes.pages == 1 ? "page" : "pages",
                    bytes_text(sizes.pictures), bytes_text(sizes.ink), bytes_text(sizes.text));
    if (source_bytes > 0)
      text +=
          fmt::format("; {:.0f} % of the scans' {}",
                      100.0 * static_cast<double>(sizes.all) / static_cast<double>(source_bytes),
                      bytes_text(source_bytes));
    return text;
  }

 private:
  void write_left() {
    if (left_.has_value()) writer_.add(sheet_of({&left_->page}, left_->picture, face_));
    left_.reset();
  }

  pdf::PageFace face_;
  std::string password_;
  pdf::PdfWriter writer_;
  std::optional<FinishedPage> left_;  // waits for the other side of its spread
  int sheets_ = 0;
};

// A PDF that came in, with text where it had none.
class OriginalDocument : public Document {
 public:
  OriginalDocument(const Sink& sink, const Origin& origin, const Delivery& delivery)
      : about_(delivery.pdf.about), pdf_(origin.original, origin.password, sink) {}
  void add(const FinishedPage& page) override {
    last_ = page.page.number;
    if (page.kept)
      ++kept_;
    else
      pdf_.add(page.page);
  }
  void finish() override { pdf_.finish(about_); }
  int last_sheet() const override { return last_; }
  std::string remark(size_t) const override {
    const pdf::PdfSizes& sizes = pdf_.sizes();
    return fmt::format(
        "the file as it was with text added, {} instead of {}; {} of {} pages had text",
        bytes_text(sizes.all), bytes_text(sizes.sources), kept_, sizes.pages);
  }

 private:
  pdf::About about_;
  pdf::OriginalPdf pdf_;
  int kept_ = 0, last_ = 0;
};

// Text as printed.
class TextDocument : public Document {
 public:
  TextDocument(const Sink& sink, const Delivery& delivery)
      : file_(sink), settings_(delivery.text) {}
  void add(const FinishedPage& page) override {
    if (number_++ > 0 && settings_.marks == PageMarks::kFeed) write(exporting::kPageBreak);
    std::string text = exporting::text_of(page.page);
    if (settings_.marks == PageMarks::kNumber) text += fmt::format("\n[{}]\n\n", number_);
    if (settings_.marks == PageMarks::kNone && !text.empty()) text += "\n";
    write(text);
  }
  void finish() override { file_.keep(); }

 private:
  void write(const std::string& text) {
    file_.write(settings_.crlf ? exporting::with_crlf(text) : text);
  }

  PendingFile file_;
  TextSettings settings_;
  int number_ = 0;
};

// Flowing text and Markdown.
class FlowDocument : public Document {
 public:
  FlowDocument(const Sink& sink, const Origin& origin, const Delivery& delivery, bool markdown)
      : file_(sink),
        settings_(delivery.text),
        markdown_(markdown),
        flow_({settings_.heads, origin.is_word},
              [this](const exporting::FlowItem& item) { write(item); }) {}
  void add(const FinishedPage& page) override { flow_.add(page.page); }
  void finish() override {
    flow_.finish();
    file_.keep();
  }

 private:
  void write(const exporting::FlowItem& item) {
    std::string text = markdown_ ? exporting::markdown(item) : exporting::flowing(item);
    if (item.kind == exporting::FlowItem::Kind::kPageEnd) {
      if (settings_.flow_marks == PageMarks::kFeed) text = exporting::kPageBreak;
      if (settings_.flow_marks == PageMarks::kNumber)
        text = fmt::format(markdown_ ? "\\[{}\\]\n\n" : "[{}]\n\n", item.page);
    }
    file_.write(settings_.crlf ? exporting::with_crlf(text) : text);
  }

  PendingFile file_;
  TextSettings settings_;
  bool markdown_;
  exporting::Flow flow_;
};

// EPUB and ODT.
template <typename Book>
class BookDocument : public Document {
 public:
  BookDocument(const Sink& sink, const Origin& origin, const Delivery& delivery)
      : book_(sink,
              exporting::BookSettings{
                  delivery.pdf.about.title.empty() ? origin.title : delivery.pdf.about.title,
                  delivery.pdf.about.author, delivery.pdf.about.language, delivery.pdf.about.date,
                  delivery.pdf.about.more},
              {delivery.text.heads, origin.is_word}) {}
  void add(const FinishedPage& page) override { book_.add(page.page, page.illustrations); }
  void finish() override { book_.finish(); }

 private:
  Book book_;
};

class HocrDocument : public Document {
 public:
  HocrDocument(const Sink& sink, const std::string& title, const Delivery& delivery)
      : file_(sink), positions_(delivery.positions) {
    file_.write(exporting::hocr_head(title, delivery.pdf.about.language));
  }
  void add(const FinishedPage& page) override {
    file_.write(exporting::hocr_page(page.page, positions_, ++number_));
  }
  void finish() override {
    file_.write(exporting::hocr_tail());
    file_.keep();
  }

 private:
  PendingFile file_;
  Positions positions_;
  int number_ = 0;
};

class WordsDocument : public Document {
 public:
  WordsDocument(const Sink& sink, const Delivery& delivery, bool json)
      : file_(sink), positions_(delivery.positions), json_(json) {
    file_.write(json ? "[\n" : exporting::word_list_head());
  }
  void add(const FinishedPage& page) override {
    ++number_;
    if (!json_) {
      file_.write(exporting::word_list_tsv(page.page, positions_, number_));
      return;
    }
    const std::string rows = exporting::word_list_json(page.page, positions_, number_);
    if (rows.empty()) return;
    // The comma behind the last row waits for more.
    file_.write(pending_ + rows.substr(0, rows.size() - 2));
    pending_ = ",\n";
  }
  void finish() override {
    if (json_) file_.write("\n]\n");
    file_.keep();
  }

 private:
  PendingFile file_;
  Positions positions_;
  bool json_;
  std::string pending_;
  int number_ = 0;
};

class AltoDocument : public Document {
 public:
  AltoDocument(const Sink& sink, Positions positions) : file_(sink), positions_(positions) {}
  void add(const FinishedPage& page) override {
    if (left_.has_value() && page.page.part == 2) {
      write({&*left_, &page.page});
      left_.reset();
      return;
    }
    write_left();
    // In positions of the scan the two pages of a spread are one.
    if (positions_ == Positions::kScan && page.page.part == 1)
      left_ = page.page;
    else
      write({&page.page});
  }
  void finish() override {
    write_left();
    if (number_ == 0) file_.write(alto_head(""));
    file_.write(alto_tail());
    file_.keep();
  }

 private:
  void write(const std::vector<const Page*>& sides) {
    if (number_ == 0) file_.write(alto_head(sides.front()->file));
    file_.write(alto_page(sides, positions_, ++number_));
  }
  void write_left() {
    if (left_.has_value()) write({&*left_});
    left_.reset();
  }

  PendingFile file_;
  Positions positions_;
  std::optional<Page> left_;  // waits for the other side of its spread
  int number_ = 0;
};

// Tables one after the other, an empty line between them.
class CsvDocument : public Document {
 public:
  explicit CsvDocument(const Sink& sink) : file_(sink) {}
  void add(const FinishedPage& page) override {
    for (const Block& block : page.page.blocks) {
      if (block.kind != BlockKind::kTable) continue;
      if (!first_) file_.write("\r\n");
      first_ = false;
      file_.write(exporting::csv_of(block));
    }
  }
  void finish() override { file_.keep(); }
  std::string remark(size_t) const override { return first_ ? kNoTables : ""; }

 private:
  PendingFile file_;
  bool first_ = true;
};

class XlsxDocument : public Document {
 public:
  explicit XlsxDocument(const Sink& sink) : book_(sink) {}
  void add(const FinishedPage& page) override {
    ++pages_;
    int number = 0;
    for (const Block& block : page.page.blocks) {
      if (block.kind != BlockKind::kTable) continue;
      book_.add(block, fmt::format("page {} table {}", pages_, ++number));
      empty_ = false;
    }
  }
  void finish() override { book_.finish(); }
  std::string remark(size_t) const override { return empty_ ? kNoTables : ""; }

 private:
  exporting::Workbook book_;
  int pages_ = 0;
  bool empty_ = true;
};

class MetsDocument : public Document {
 public:
  MetsDocument(const Sink& sink, const Origin& origin, const Delivery& delivery)
      : mets_(sink,
              {delivery.pdf.about.title.empty() ? origin.title : delivery.pdf.about.title,
               delivery.pdf.about.author, delivery.pdf.about.language, delivery.pdf.about.date,
               delivery.pdf.about.more},
              origin.beside) {}
  void add(const FinishedPage& page) override {
    mets_.add(page.page, {page.page.file, page.picture_file, page.page_file},
              text_of(printed_number(page.page)));
  }
  void finish() override { mets_.finish(); }

 private:
  exporting::Mets mets_;
};

}  // namespace

std::vector<std::string> paths_of(const WantedDocuments& wanted) {
  std::vector<std::string> paths;
  for (const auto& [kind, path] : wanted) {
    if (kind != OutputKind::kMets) paths.push_back(path);
  }
  return paths;
}

WantedDocuments in_finishing_order(WantedDocuments wanted) {
  std::stable_partition(wanted.begin(), wanted.end(),
                        [](const auto& one) { return one.first != OutputKind::kMets; });
  return wanted;
}

std::unique_ptr<Document> new_document(OutputKind kind, const Sink& sink, const Origin& origin,
                                       const Delivery& delivery) {
  const std::string& title = origin.title;
  switch (kind) {
    case OutputKind::kPdf: {
      if (!origin.original.empty())
        return std::make_unique<OriginalDocument>(sink, origin, delivery);
      pdf::PdfSettings settings = delivery.pdf;
      if (settings.about.title.empty()) settings.about.title = title;
      return std::make_unique<PdfDocument>(sink, origin.password, settings);
    }
    case OutputKind::kText:
      if (delivery.text.flow) return std::make_unique<FlowDocument>(sink, origin, delivery, false);
      return std::make_unique<TextDocument>(sink, delivery);
    case OutputKind::kMarkdown:
      return std::make_unique<FlowDocument>(sink, origin, delivery, true);
    case OutputKind::kEpub:
      return std::make_unique<BookDocument<exporting::Epub>>(sink, origin, delivery);
    case OutputKind::kOdt:
      return std::make_unique<BookDocument<exporting::Odt>>(sink, origin, delivery);
    case OutputKind::kHocr:
      return std::make_unique<HocrDocument>(
          sink, delivery.pdf.about.title.empty() ? title : delivery.pdf.about.title, delivery);
    case OutputKind::kWordsTsv:
    case OutputKind::kWordsJson:
      return std::make_unique<WordsDocument>(sink, delivery, kind == OutputKind::kWordsJson);
    case OutputKind::kCsv:
      return std::make_unique<CsvDocument>(sink);
    case OutputKind::kXlsx:
      return std::make_unique<XlsxDocument>(sink);
    case OutputKind::kMets:
      return std::make_unique<MetsDocument>(sink, origin, delivery);
    case OutputKind::kAlto:
      break;
  }
  return std::make_unique<AltoDocument>(sink, delivery.positions);
}

}  // namespace burnisher::run
