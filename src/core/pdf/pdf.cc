#include "pdf/pdf.h"

#include <fmt/core.h>

#include <algorithm>
#include <map>

#include "base/error.h"
#include "base/files.h"
#include "jbig2/jbig2.h"
#include "pdf/font_objects.h"
#include "pdf/set_aside.h"
#include "pdf/structure.h"
#include "pdf/text_layer.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFWriter.hh>

namespace burnisher::pdf {
namespace {

// So many pages share the shapes of their letters.
constexpr size_t kSharing = 24;
constexpr size_t kNoisy = 4;  // ink that JBIG2 leaves more than a quarter of

QPDFObjectHandle name(const std::string& text) {
  return QPDFObjectHandle::newName(text);
}
QPDFObjectHandle integer(long long value) {
  return QPDFObjectHandle::newInteger(value);
}

std::string fill(const Rgb& colour) {
  return fmt::format("{:.3g} {:.3g} {:.3g} rg ", colour[0] / 255.0, colour[1] / 255.0,
                     colour[2] / 255.0);
}

// The unit square laid over a sheet of `w` x `h` points, turned counter-clockwise.
std::string laid_over(double w, double h, int turn) {
  switch (turn) {
    case 90:
      return fmt::format("0 {:.4f} {:.4f} 0 {:.4f} 0 cm ", h, -w, w);
    case 180:
      return fmt::format("{:.4f} 0 0 {:.4f} {:.4f} {:.4f} cm ", -w, -h, w, h);
    case 270:
      return fmt::format("0 {:.4f} {:.4f} 0 0 {:.4f} cm ", -h, w, h);
    default:
      return fmt::format("{:.4f} 0 0 {:.4f} 0 0 cm ", w, h);
  }
}

// The rules of a page, on a sheet of `w` x `h` points.
std::string filled(const PagePicture& picture, double w, double h) {
  const double x = w / picture.width, y = h / picture.height;
  std::string content = "q " + fill(picture.ink_colour);
  for (const Box& rule : picture.rules) {
    content += fmt::format("{:.2f} {:.2f} {:.2f} {:.2f} re ", rule.x0 * x, h - rule.y1 * y,
                           rule.width() * x, rule.height() * y);
  }
  return content + "f Q\n";
}

}  // namespace

struct PdfWriter::State {
  PendingFile file;
  SetAside aside;
  QPDF pdf;
  PdfSettings settings;
  TextFonts fonts;
  QPDFObjectHandle font_resources;
  std::optional<Structure> structure;
  std::vector<QPDFObjectHandle> sheets;
  std::vector<double> heights;  // points
  std::vector<PageNumber> numbers;
  std::vector<Bookmark> headings;
  struct Contents {
    int sheet;
    SheetFrame frame;
    std::vector<ContentsLine> lines;
  };
  std::vector<Contents> contents;
  // Ink that waits to be coded with that of its neighbours.
  struct WaitingInk {
    std::shared_ptr<const Bitonal> ink;
    QPDFObjectHandle stream;
  };
  std::vector<WaitingInk> waiting;
  std::map<std::vector<uint8_t>, QPDFObjectHandle> shared_by_pages;  // of sources' JBIG2
  std::map<std::string, std::unique_ptr<QPDF>> originals;            // that pages were taken from
  PdfSizes sizes;

  State(const std::string& path, bool overwrite, const PdfSettings& wanted)
      : file(path, overwrite), aside(path + ".pictures"), settings(wanted) {
    pdf.emptyPDF();
    font_resources = pdf.makeIndirectObject(QPDFObjectHandle::newDictionary());
    structure.emplace(pdf);
  }

  QPDFObjectHandle image(int width, int height) {
    auto stream = QPDFObjectHandle::newStream(&pdf);
    auto dictionary = stream.getDict();
    dictionary.replaceKey("/Type", name("/XObject"));
    dictionary.replaceKey("/Subtype", name("/Image"));
    dictionary.replaceKey("/Width", integer(width));
    dictionary.replaceKey("/Height", integer(height));
    return stream;
  }

  QPDFObjectHandle coded(const CodedImage& coded) {
    auto stream = image(coded.width, coded.height);
    auto dictionary = stream.getDict();
    const bool colour = !coded.bitonal && coded.channels == 3;
    dictionary.replaceKey("/ColorSpace", name(colour ? "/DeviceRGB" : "/DeviceGray"));
    dictionary.replaceKey("/BitsPerComponent", integer(coded.bitonal ? 1 : 8));
    put(stream, coded);
    sizes.pictures += coded.bytes.size();
    return stream;
  }

  void put(QPDFObjectHandle stream, const CodedImage& coded) {
    auto parameters = QPDFObjectHandle::newNull();
    const char* filter = "/DCTDecode";
    if (coded.coding == Coding::kG4) {
      filter = "/CCITTFaxDecode";
      parameters = QPDFObjectHandle::parse(
          fmt::format("<< /K -1 /Columns {} /Rows {} >>", coded.width, coded.height));
    } else if (coded.coding == Coding::kDeflate) {
      filter = "/FlateDecode";
      parameters = QPDFObjectHandle::parse(
          fmt::format("<< /Predictor 12 /Colors {} /BitsPerComponent 8 /Columns {} >>",
                      coded.channels, coded.width));
    } else if (coded.coding == Coding::kJbig2) {
      filter = "/JBIG2Decode";
      if (!coded.globals.empty()) {
        parameters = QPDFObjectHandle::newDictionary();
        parameters.replaceKey("/JBIG2Globals", shared(coded.globals));
      }
    } else if (coded.coding == Coding::kJpeg2000) {
      filter = "/JPXDecode";
    }
    aside.put(stream, coded.bytes, name(filter), parameters);
  }

  // The stream of `globals`, the same for all pages that have the same.
  QPDFObjectHandle shared(const std::vector<uint8_t>& globals) {
    auto& stream = shared_by_pages[globals];
    if (!stream.isInitialized()) {
      stream = QPDFObjectHandle::newStream(&pdf);
      aside.put(stream, globals, QPDFObjectHandle::newNull(), QPDFObjectHandle::newNull());
      sizes.pictures += globals.size();
    }
    return stream;
  }

  // `stencil`: paints with a colour where there is ink, and nothing elsewhere.
  QPDFObjectHandle ink_image(const std::shared_ptr<const Bitonal>& ink, bool stencil) {
    auto stream = image(ink->width(), ink->height());
    auto dictionary = stream.getDict();
    dictionary.replaceKey("/BitsPerComponent", integer(1));
    if (stencil)
      dictionary.replaceKey("/ImageMask", QPDFObjectHandle::newBool(true));
    else
      dictionary.replaceKey("/ColorSpace", name("/DeviceGray"));
    waiting.push_back({ink, stream});
    return stream;
  }

  void code_ink() {
    if (waiting.empty()) return;
    std::vector<const Bitonal*> inks;
    for (const WaitingInk& one : waiting) inks.push_back(one.ink.get());
    const jbig2::CodedPages pages = jbig2::encode_pages(inks);
    QPDFObjectHandle globals;
    if (!pages.globals.empty()) {
      globals = QPDFObjectHandle::newStream(&pdf);
      aside.put(globals, pages.globals, QPDFObjectHandle::newNull(), QPDFObjectHandle::newNull());
      sizes.ink += pages.globals.size();
    }
    for (size_t i = 0; i < waiting.size(); ++i) {
      // Ink as dense as noise is the one thing that the older coding may do better.
      if (pages.pages[i].size() > waiting[i].ink->bytes().size() / kNoisy) {
        const CodedImage g4 = coded_g4(*waiting[i].ink);
        if (g4.bytes.size() <= pages.pages[i].size()) {
          put(waiting[i].stream, g4);
          sizes.ink += g4.bytes.size();
          continue;
        }
      }
      auto parameters = QPDFObjectHandle::newNull();
      if (globals.isInitialized()) {
        parameters = QPDFObjectHandle::newDictionary();
        parameters.replaceKey("/JBIG2Globals", globals);
      }
      aside.put(waiting[i].stream, pages.pages[i], name("/JBIG2Decode"), parameters);
      sizes.ink += pages.pages[i].size();
    }
    waiting.clear();
  }

  // Operators that draw the picture; what they need goes into `objects`.
  std::string drawn(const PagePicture& picture, double w, double h, int turn,
                    QPDFObjectHandle objects) {
    std::string content = "/Artifact BMC\n";
    if (picture.paper_colour && *picture.paper_colour != Rgb{255, 255, 255})
      content += fmt::format("q {}0 0 {:.4f} {:.4f} re f Q\n", fill(*picture.paper_colour), w, h);
    const std::string place = laid_over(w, h, turn);
    if (picture.image.has_value()) {
      objects.replaceKey("/P", coded(*picture.image));
      content += "q " + place + "/P Do Q\n";
    }
    const bool alone = !picture.image.has_value() && !picture.paper_colour.has_value();
    for (size_t i = 0; i < picture.cutouts.size(); ++i) {
      const Cutout& cutout = picture.cutouts[i];
      const double x = w / picture.width, y = h / picture.height;
      objects.replaceKey(fmt::format("/C{}", i), coded(cutout.image));
      content +=
          fmt::format("q {:.4f} 0 0 {:.4f} {:.4f} {:.4f} cm /C{} Do Q\n", cutout.place.width() * x,
                      cutout.place.height() * y, cutout.place.x0 * x, h - cutout.place.y1 * y, i);
    }
    if (picture.ink) {
      auto ink = ink_image(picture.ink, !alone);
      content += "q " + place;
      if (picture.ink_colours.has_value()) {
        auto colours = coded(*picture.ink_colours);
        colours.getDict().replaceKey("/Mask", ink);
        objects.replaceKey("/I", colours);
      } else {
        if (!alone) content += fill(picture.ink_colour);
        objects.replaceKey("/I", ink);
      }
      content += "/I Do Q\n";
    }
    if (!picture.rules.empty()) content += filled(picture, w, h);
    return content + "EMC\n";
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

  QPDFObjectHandle destination(int sheet, double top) {
    auto target =
        QPDFObjectHandle::parse(top < 0 ? "[ /Fit ]" : fmt::format("[ /FitH {:.1f} ]", top));
    target.insertItem(0, sheets[static_cast<size_t>(sheet - 1)]);
    return target;
  }

  void add_bookmarks() {
    const auto& wanted = !settings.bookmarks.empty()      ? settings.bookmarks
                         : settings.headings_as_bookmarks ? headings
                                                          : std::vector<Bookmark>();
    struct Node {
      QPDFObjectHandle item, last;
      int level, count;
    };
    auto root = pdf.makeIndirectObject(QPDFObjectHandle::parse("<< /Type /Outlines >>"));
    std::vector<Node> open = {{root, QPDFObjectHandle::newNull(), 0, 0}};
    for (const Bookmark& bookmark : wanted) {
      if (bookmark.page > static_cast<int>(sheets.size())) {
        throw SettingsError(fmt::format("the bookmark '{}' leads to page {}, but there are {}",
                                        bookmark.title, bookmark.page, sheets.size()));
      }
      while (open.back().level >= bookmark.level) open.pop_back();
      Node& parent = open.back();
      auto item = pdf.makeIndirectObject(QPDFObjectHandle::newDictionary());
      item.replaceKey("/Title", QPDFObjectHandle::newUnicodeString(bookmark.title));
      item.replaceKey("/Parent", parent.item);
      item.replaceKey("/Dest", destination(bookmark.page, bookmark.top));
      if (parent.last.isDictionary()) {
        parent.last.replaceKey("/Next", item);
        item.replaceKey("/Prev", parent.last);
      } else {
        parent.item.replaceKey("/First", item);
      }
      parent.last = item;
      parent.item.replaceKey("/Last", item);
      ++parent.count;
      // Only the first level is open.
      parent.item.replaceKey("/Count", integer(parent.level == 0 ? parent.count : -parent.count));
      open.push_back({item, QPDFObjectHandle::newNull(), bookmark.level, 0});
    }
    if (root.hasKey("/First")) pdf.getRoot().replaceKey("/Outlines", root);
  }

  std::vector<LabelRange> labels() const {
    if (!settings.labels.empty()) return settings.labels;
    return settings.labels_as_read ? labels_read(numbers) : std::vector<LabelRange>();
  }

  void add_labels(const std::vector<LabelRange>& ranges) {
    if (ranges.empty()) return;
    auto list = QPDFObjectHandle::newArray();
    for (const LabelRange& range : ranges) {
      if (range.first > static_cast<int>(sheets.size())) break;
      auto label = QPDFObjectHandle::newDictionary();
      if (range.style != 0) label.replaceKey("/S", name(std::string("/") + range.style));
      if (!range.prefix.empty())
        label.replaceKey("/P", QPDFObjectHandle::newUnicodeString(range.prefix));
      if (range.start != 1) label.replaceKey("/St", integer(range.start));
      list.appendItem(integer(range.first - 1));
      list.appendItem(label);
    }
    auto tree = QPDFObjectHandle::newDictionary();
    tree.replaceKey("/Nums", list);
    pdf.getRoot().replaceKey("/PageLabels", tree);
  }

  void add_links(const std::vector<LabelRange>& ranges) {
    for (const Contents& page : contents) {
      auto sheet = sheets[static_cast<size_t>(page.sheet)];
      auto annotations = QPDFObjectHandle::newArray();
      for (const ContentsLine& line : page.lines) {
        const int target = page_labelled(ranges, static_cast<int>(sheets.size()), line.label);
        if (target == 0) continue;
        Polygon corners;
        for (const Point& p : line.box.corners()) corners.push_back(page.frame.to_sheet(p));
        const Box box = bounds(corners);
        const double points = page.frame.points;
        auto link = pdf.makeIndirectObject(QPDFObjectHandle::parse(
            fmt::format("<< /Type /Annot /Subtype /Link /F 4 /Border [0 0 0] /Rect [{:.1f} {:.1f} "
                        "{:.1f} {:.1f}] "
                        ">>",
                        box.x0 * points, (page.frame.height - box.y1) * points, box.x1 * points,
                        (page.frame.height - box.y0) * points)));
        link.replaceKey("/Dest", destination(target, -1));
        link.replaceKey("/Contents", QPDFObjectHandle::newUnicodeString("page " + line.label));
        structure->add_link(link, sheet);
        annotations.appendItem(link);
      }
      if (annotations.getArrayNItems() > 0) sheet.replaceKey("/Annots", annotations);
    }
  }

  void set_opening() {
    auto root = pdf.getRoot();
    if (settings.opening == Opening::kPage || sheets.empty()) return;
    const bool bookmarks = settings.opening == Opening::kBookmarks;
    root.replaceKey("/PageMode", name(bookmarks ? "/UseOutlines" : "/UseThumbs"));
    root.replaceKey("/OpenAction", destination(1, heights.front()));
  }
};

PdfWriter::PdfWriter(const std::string& path, bool overwrite, const PdfSettings& settings)
    : state_(std::make_unique<State>(path, overwrite, settings)) {}

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
  std::string content = s.drawn(*sheet.picture, width, height, sheet.turn, objects);
  auto node = s.pdf.makeIndirectObject(QPDFObjectHandle::parse(
      fmt::format("<< /Type /Page /MediaBox [0 0 {:.4f} {:.4f}] /StructParents {} /Tabs /S >>",
                  width, height, index)));
  SheetFrame frame;
  frame.height = sheet.height;
  frame.points = points;
  for (size_t i = 0; i < sheet.pages.size(); ++i) {
    const Page& page = *sheet.pages[i];
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
    node.replaceKey("/Thumb", s.coded(*sheet.picture->thumbnail));
  QPDFPageDocumentHelper(s.pdf).addPage(QPDFPageObjectHelper(node), false);
  s.sheets.push_back(node);
  s.heights.push_back(height);
  s.numbers.push_back(sheet.number);
  s.sizes.sources += sheet.picture->source_bytes;
  if (s.waiting.size() >= kSharing) s.code_ink();
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
  s.code_ink();
  add_fonts(s.pdf, s.fonts, s.font_resources);
  describe(s.pdf, s.settings.about);
  s.add_bookmarks();
  const std::vector<LabelRange> labels = s.labels();
  s.add_labels(labels);
  s.add_links(labels);
  s.set_opening();
  s.structure->finish(static_cast<int>(s.sheets.size()));
  if (s.settings.archive) describe_archive(s.pdf, s.settings.about);
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
  s.sizes.text = s.sizes.all - std::min(s.sizes.all, s.sizes.pictures + s.sizes.ink);
  s.file.keep();
}

}  // namespace burnisher::pdf
