#include "run/documents.h"

#include <fmt/core.h>

#include <optional>

#include "base/files.h"
#include "export/spreadsheet.h"
#include "export/text.h"
#include "page/alto.h"

namespace burnisher::run {
namespace {

const char* const kNoTables = "no table was found, so there is none in it";

class PdfDocument : public Document {
 public:
  PdfDocument(const std::string& path, const std::string& title, const RunSettings& settings)
      : writer_(path, settings.overwrite,
                {title, settings.languages.empty() ? "" : settings.languages.front(),
                 settings.jpeg_quality}) {}
  void add(const FinishedPage& page) override { writer_.add(page.page, page.picture); }
  void finish() override { writer_.finish(); }

 private:
  exporting::PdfWriter writer_;
};

class TextDocument : public Document {
 public:
  TextDocument(const std::string& path, bool overwrite) : file_(path, overwrite) {}
  void add(const FinishedPage& page) override {
    if (!first_) file_.write(exporting::kPageBreak);
    first_ = false;
    file_.write(exporting::text_of(page.page));
  }
  void finish() override { file_.keep(); }

 private:
  PendingFile file_;
  bool first_ = true;
};

class AltoDocument : public Document {
 public:
  AltoDocument(const std::string& path, bool overwrite, Positions positions)
      : file_(path, overwrite), positions_(positions) {}
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
  CsvDocument(const std::string& path, bool overwrite) : file_(path, overwrite) {}
  void add(const FinishedPage& page) override {
    for (const Block& block : page.page.blocks) {
      if (block.kind != BlockKind::kTable) continue;
      if (!first_) file_.write("\r\n");
      first_ = false;
      file_.write(exporting::csv_of(block));
    }
  }
  void finish() override { file_.keep(); }
  std::string remark() const override { return first_ ? kNoTables : ""; }

 private:
  PendingFile file_;
  bool first_ = true;
};

class XlsxDocument : public Document {
 public:
  XlsxDocument(const std::string& path, bool overwrite) : book_(path, overwrite) {}
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
  std::string remark() const override { return empty_ ? kNoTables : ""; }

 private:
  exporting::Workbook book_;
  int pages_ = 0;
  bool empty_ = true;
};

}  // namespace

std::unique_ptr<Document> new_document(OutputKind kind, const std::string& path,
                                       const std::string& title, const RunSettings& settings) {
  switch (kind) {
    case OutputKind::kPdf:
      return std::make_unique<PdfDocument>(path, title, settings);
    case OutputKind::kText:
      return std::make_unique<TextDocument>(path, settings.overwrite);
    case OutputKind::kCsv:
      return std::make_unique<CsvDocument>(path, settings.overwrite);
    case OutputKind::kXlsx:
      return std::make_unique<XlsxDocument>(path, settings.overwrite);
    case OutputKind::kAlto:
      break;
  }
  return std::make_unique<AltoDocument>(path, settings.overwrite, settings.positions);
}

}  // namespace burnisher::run
