#include "cli/delivery_options.h"

#include <fmt/core.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "type/typefaces.h"

namespace burnisher::cli {

void DeliveryOptions::add(Command& command) {
  command.flag("--overwrite", delivery.overwrite, "replace files that are there already");
  command.flag("--drop-blank", delivery.drop_blank, "leave blank pages out of the documents");
  command
      .option("--order", delivery.order,
              "pages of the document in their new order, as in 3,1,5-7,12-; those not named "
              "are left out")
      .type_name("PAGES");
  command
      .option("--replace-page", replacements,
              "take a page from another file, as in 1=cover.jpg; counted before --order")
      .type_name("PAGE=FILE")
      .take_all();
  command
      .option("--report", report,
              "an HTML page that shows what was delivered: pages, how sure, what to look at, "
              "sizes")
      .type_name("FILE");
  add_pdf(command);
  add_text(command);
}

void DeliveryOptions::add_pdf(Command& command) {
  pdf::PdfSettings& pdf = delivery.pdf;
  command
      .option("--face", face,
              "what the pages of a PDF show: facsimile, the scan as it came in, JPEG untouched; "
              "cleaned, the page straightened and cleaned; hybrid, the same with real type where "
              "the print was surely read; reset, nothing but real type and the pictures, on clean "
              "paper (default: cleaned; one PDF alone is left as it is and gets the text added)")
      .one_of({"facsimile", "cleaned", "hybrid", "reset"});
  command
      .option("--size", size,
              "of a PDF: small (paper and pictures at 100 dpi), normal (150 dpi; ink at twice the "
              "resolution of scans below 400 dpi) or exact (every pixel as it is)")
      .one_of({"small", "normal", "exact"})
      .default_shown();
  command
      .option("--jpeg-quality", pdf.picture.jpeg_quality,
              "of JPEG pictures in a PDF, 1 to 100 (default: as --size wants it)")
      .between(1, 100);
  command.flag("--archive", pdf.archive,
               "PDF/A-2u, for keeping; `burnisher check` looks whether a file is");
  command.option("--title", pdf.about.title, "of a PDF (default: the file's name)")
      .type_name("TEXT");
  command.option("--author", pdf.about.author).type_name("TEXT");
  command.option("--subject", pdf.about.subject).type_name("TEXT");
  command.option("--keywords", pdf.about.keywords).type_name("TEXT");
  command.option("--date", pdf.about.date, "of the document, as in 1923-04-17").type_name("DATE");
  command
      .option("--bookmarks", bookmarks,
              "of a PDF: headings, none, or a file with title, page and level on each line, "
              "parted by tabs")
      .type_name("WHAT")
      .default_shown();
  command
      .option("--labels", labels,
              "page labels of a PDF: read (the numbers on the pages), none, or as in "
              "1-6:i,7-:1")
      .type_name("WHAT")
      .default_shown();
  command
      .option(
          "--opening", opening,
          "what a viewer shows first: page, bookmarks or thumbnails (which the file then holds)")
      .one_of({"page", "bookmarks", "thumbnails"})
      .default_shown();
}

void DeliveryOptions::add_text(Command& command) {
  run::TextSettings& text = delivery.text;
  command.flag("--flow", text.flow,
               "in .txt: paragraphs joined over lines, columns and pages, hyphens resolved, "
               "notes at the end, running heads and page numbers left out");
  command.flag("--keep-heads", text.heads,
               "with --flow and in .md: running heads and page numbers stay");
  command
      .option("--page-marks", marks,
              "where pages end in text: feed (form feed), number (as in [12]) or none (default: "
              "feed; with --flow and in .md none)")
      .one_of({"feed", "number", "none"});
  command.option("--line-ends", line_ends, "of text: lf or crlf")
      .one_of({"lf", "crlf"})
      .default_shown();
}

void DeliveryOptions::settle(const std::vector<std::string>& languages) {
  pdf::PdfSettings& pdf = delivery.pdf;
  delivery.face_chosen = !face.empty();
  pdf.picture.face = face == "facsimile" ? pdf::PageFace::kFacsimile
                     : face == "hybrid"  ? pdf::PageFace::kHybrid
                     : face == "reset"   ? pdf::PageFace::kReset
                                         : pdf::PageFace::kCleaned;
  pdf.picture.size = size == "small"   ? pdf::Size::kSmall
                     : size == "exact" ? pdf::Size::kExact
                                       : pdf::Size::kNormal;
  pdf.about.language = languages.empty() ? "" : languages.front();
  pdf::check_date(pdf.about.date);
  pdf.headings_as_bookmarks = bookmarks == "headings";
  if (bookmarks != "headings" && bookmarks != "none")
    pdf.bookmarks = pdf::read_bookmarks(bookmarks);
  pdf.labels_as_read = labels == "read";
  if (labels != "read" && labels != "none") pdf.labels = pdf::labels_named(labels);
  pdf.opening = opening == "bookmarks"    ? pdf::Opening::kBookmarks
                : opening == "thumbnails" ? pdf::Opening::kThumbnails
                                          : pdf::Opening::kPage;
  pdf.picture.thumbnails = pdf.opening == pdf::Opening::kThumbnails;
  run::TextSettings& text = delivery.text;
  text.marks = marks == "number" ? run::PageMarks::kNumber
               : marks == "none" ? run::PageMarks::kNone
                                 : run::PageMarks::kFeed;
  text.flow_marks = marks == "feed"     ? run::PageMarks::kFeed
                    : marks == "number" ? run::PageMarks::kNumber
                                        : run::PageMarks::kNone;
  text.crlf = line_ends == "crlf";
  for (const std::string& one : replacements)
    delivery.replacements.push_back(replacement_named(one));
  look_ahead();
}

WordCheck word_check(const correct::Lexicon* lexicon, const std::vector<std::string>& languages) {
  if (lexicon == nullptr) return {};
  return [lexicon, languages](const std::string& word, const std::string& language) {
    return lexicon->knows(word, language.empty() ? languages : std::vector<std::string>{language});
  };
}

void DeliveryOptions::look_ahead() const {
  for (const Replacement& one : delivery.replacements) {
    if (!std::filesystem::exists(one.file))
      throw InputError(
          fmt::format("--replace-page {}={}: there is no such file", one.page, one.file));
  }
  if (!report.empty()) PendingFile(report, delivery.overwrite);
  if (!pdf::sets_type(delivery.pdf.picture.face)) return;
  for (const Family family : {Family::kSerif, Family::kSans, Family::kMono})
    type::font_file({family, false, false, false});
}

}  // namespace burnisher::cli
