#include "pdf/pdf.h"

#include <fmt/core.h>

#include <algorithm>
#include <map>
#include <optional>

#include "base/error.h"
#include "base/files.h"
#include "pdf/font_objects.h"
#include "pdf/navigation_objects.h"
#include "pdf/picture_objects.h"
#include "pdf/spill_file.h"
#include "pdf/structure.h"
#include "pdf/text_layer.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFWriter.hh>

namespace burnisher::pdf {

struct PdfWriter::State {
  PendingFile file;
  SpillFile aside;
  QPDF pdf;
  PdfSettings settings;
  PictureObjects pictures;
  TextFonts fonts;
  QPDFObjectHandle font_resources;
  std::optional<Structure> structure;
  Sheets sheets;
  std::vector<double> heights;  // points
  std::vector<PageNumber> numbers;
  std::set<std::string> readings;  // versions that pages were read by
  std::vector<Bookmark> headings;
  std::vector<ContentsPage> contents;
  std::map<std::string, std::unique_ptr<QPDF>> originals;  // that pages were taken from
  PdfSizes sizes;

  State(const Sink& sink, const PdfSettings& wanted)
      : file(sink),
        aside(file.temporary_path() + ".pictures"),
        settings(wanted),
        pictures(pdf, aside) {
    pdf.emptyPDF();
    font_resources = pdf.makeIndirectObject(QPDFObjectHandle::newDictionary());
    structure.emplace(pdf);
  }

  void note_headings(const Page& page, const SheetFrame& frame, int sheet) {
    for (const Block& block : page.blocks) {
      if (block.kind != BlockKind::kHeading || block.lines.empty()) continue;
      Bookmark heading;
      for (const Line& line : block.lines) {
        std::string text = line.text();
        if (!heading.title.empty() && heading.title.back() == '-')
          heading.title.pop_back();
        else if (!heading.title.empty())
          heading.title += ' ';
        heading.title += text;
      }
      heading.page = sheet;
      heading.level = std::clamp(block.level, 1, 6);
      const Point top = frame.to_sheet({bounds(block.outline).x0, bounds(block.outline).y0});
      heading.top = (frame.height - top.y) * frame.points;
      if (!heading.title.empty()) headings.push_back(heading);
    }
  }

  std::vector<Bookmark> bookmarks() const {
    if (!settings.bookmarks.empty()) return settings.bookmarks;
    return settings.headings_as_bookmarks ? headings : std::vector<Bookmark>();
  }

  std::vector<LabelRange> labels() const {
    if (!settings.labels.empty()) return settings.labels;
    return settings.labels_as_read ? labels_read(numbers) : std::vector<LabelRange>();
  }
};

PdfWriter::PdfWriter(const Sink& sink, const PdfSettings& settings)
    : state_(std::make_unique<State>(sink, settings)) {}

PdfWriter::~PdfWriter() = default;

const PdfSizes& PdfWriter::sizes() const {
  return state_->sizes;
}

void PdfWriter::add(const Sheet& sheet) {
  State& s = *state_;
  const double points = 72 / sheet.dpi;
  const double width = sheet.width * points, height = sheet.height * points;
  const int index = static_cast<int>(s.sheets.size());
  auto objects = QPDFObjectHandle::newDictionary();
  std::string content = s.pictures.drawn(*sheet.picture, width, height, sheet.turn, objects);
  auto node = s.pdf.makeIndirectObject(QPDFObjectHandle::parse(
      fmt::format("<< /Type /Page /MediaBox [0 0 {:.4f} {:.4f}] /StructParents {} /Tabs /S >>",
                  width, height, index)));
  SheetFrame frame;
  frame.height = sheet.height;
  frame.points = points;
  for (size_t i = 0; i < sheet.pages.size(); ++i) {
    const Page& page = *sheet.pages[i];
    if (!page.reading.empty()) s.readings.insert(page.reading);
    frame.to_sheet = sheet.to_sheet[i];
    TextLayer layer = text_layer(page, frame, s.fonts);
    content += layer.content;
    s.structure->add(page, layer.parts, node, index, frame);
    frame.first_id += static_cast<int>(layer.parts.size());
    s.note_headings(page, frame, index + 1);
    std::vector<ContentsLine> lines = contents_of(page);
    if (!lines.empty()) s.contents.push_back({index, frame, std::move(lines)});
  }
  auto resources = QPDFObjectHandle::newDictionary();
  resources.replaceKey("/XObject", objects);
  resources.replaceKey("/Font", s.font_resources);
  node.replaceKey("/Resources", resources);
  auto stream = QPDFObjectHandle::newStream(&s.pdf);
  s.aside.put_content(stream, content);
  node.replaceKey("/Contents", stream);
  // A picture that stands on its side has one that does, too, which no viewer would turn.
  if (sheet.picture->thumbnail.has_value() && sheet.turn == 0)
    node.replaceKey("/Thumb", s.pictures.coded(*sheet.picture->thumbnail));
  QPDFPageDocumentHelper(s.pdf).addPage(QPDFPageObjectHelper(node), false);
  s.sheets.push_back(node);
  s.heights.push_back(height);
  s.numbers.push_back(sheet.number);
  s.pictures.code_ink_when_enough();
}

void PdfWriter::add_original(const std::string& file, const std::string& password, int page) {
  State& s = *state_;
  auto& source = s.originals[file];
  try {
    if (!source) {
      source = std::make_unique<QPDF>();
      source->setSuppressWarnings(true);
      source->processFile(file.c_str(), password.c_str());
    }
    QPDFPageObjectHelper original(source->getAllPages().at(static_cast<size_t>(page - 1)));
    const auto box = original.getAttribute("/MediaBox", false).getArrayAsRectangle();
    QPDFPageDocumentHelper(s.pdf).addPage(original, false);
    auto copy = s.pdf.getAllPages().back();
    copy.removeKey("/StructParents");  // its tags stay behind
    s.sheets.push_back(copy);
    s.heights.push_back(box.ury);
    s.numbers.push_back({});
  } catch (const std::exception& cause) {
    throw FormatError(
        fmt::format("page {} of {} cannot be taken over: {}", page, file, cause.what()));
  }
}

void PdfWriter::finish() {
  State& s = *state_;
  s.pictures.code_ink();
  add_fonts(s.pdf, s.fonts, s.font_resources);
  describe(s.pdf, s.settings.about, s.readings);
  add_bookmarks(s.pdf, s.sheets, s.bookmarks());
  const std::vector<LabelRange> labels = s.labels();
  add_labels(s.pdf, s.sheets, labels);
  add_links(s.pdf, s.sheets, s.contents, labels, *s.structure);
  if (!s.sheets.empty()) set_opening(s.pdf, s.sheets, s.heights.front(), s.settings.opening);
  s.structure->finish(static_cast<int>(s.sheets.size()));
  if (s.settings.archive) describe_archive(s.pdf, s.settings.about, s.readings);
  try {
    QPDFWriter writer(s.pdf);
    writer.setOutputFile(s.file.temporary_path().c_str(), s.file.stream(), false);
    writer.setObjectStreamMode(qpdf_o_generate);
    writer.setMinimumPDFVersion("1.7");
    writer.setLinearization(true);
    writer.setDeterministicID(true);
    writer.write();
  } catch (const Error&) {
    throw;
  } catch (const std::exception& cause) {
    throw OutputError(std::string("the PDF could not be written: ") + cause.what());
  }
  std::fseek(s.file.stream(), 0, SEEK_END);
  s.sizes.all = static_cast<size_t>(std::ftell(s.file.stream()));
  s.sizes.pages = static_cast<int>(s.sheets.size());
  s.sizes.pictures = s.pictures.picture_bytes();
  s.sizes.ink = s.pictures.ink_bytes();
  s.sizes.text = s.sizes.all - std::min(s.sizes.all, s.sizes.pictures + s.sizes.ink);
  s.file.keep();
}

}  // namespace burnisher::pdf
