#include "run/documents.h"

#include "base/files.h"
#include "export/text.h"
#include "page/alto.h"

namespace burnisher::run {
namespace {

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
    if (number_ == 0) file_.write(alto_head(page.page.file));
    file_.write(alto_page(page.page, positions_, ++number_));
  }
  void finish() override {
    if (number_ == 0) file_.write(alto_head(""));
    file_.write(alto_tail());
    file_.keep();
  }

 private:
  PendingFile file_;
  Positions positions_;
  int number_ = 0;
};

}  // namespace

std::unique_ptr<Document> new_document(OutputKind kind, const std::string& path,
                                       const std::string& title, const RunSettings& settings) {
  switch (kind) {
    case OutputKind::kPdf:
      return std::make_unique<PdfDocument>(path, title, settings);
    case OutputKind::kText:
      return std::make_unique<TextDocument>(path, settings.overwrite);
    case OutputKind::kAlto:
      break;
  }
  return std::make_unique<AltoDocument>(path, settings.overwrite, settings.positions);
}

}  // namespace burnisher::run
