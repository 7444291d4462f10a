// What documents are wanted and how they are to be: shared by `run` and `export`.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"
#include "page/page_order.h"
#include "pdf/pdf.h"

namespace burnisher::run {

// CSV and XLSX: tables only. METS: what belongs together.
enum class OutputKind {
  kPdf,
  kText,
  kMarkdown,
  kEpub,
  kOdt,
  kAlto,
  kHocr,
  kWordsTsv,
  kWordsJson,
  kCsv,
  kXlsx,
  kMets
};

// By the ending of a file name, as in .pdf. Throws SettingsError.
OutputKind output_kind_of(const std::string& path);
// By its name in --to. Throws SettingsError.
OutputKind output_kind_named(const std::string& name);
const char* ending_of(OutputKind kind);
// All names, as in "pdf, text, ...".
std::string output_kind_names();

// What documents need of their pages beside what was read.
struct Wanted {
  bool picture = false;        // of the whole page
  bool illustrations = false;  // its picture blocks
  void add(OutputKind kind);
};

enum class PageMarks {
  kFeed,    // a form feed on a line of its own between pages
  kNumber,  // [12] where a page ends
  kNone,
};

struct TextSettings {
  bool flow = false;                        // paragraphs joined, notes at the end
  bool heads = false;                       // with `flow`: running heads and page numbers stay
  PageMarks marks = PageMarks::kFeed;       // of text as printed
  PageMarks flow_marks = PageMarks::kNone;  // of flowing text and Markdown
  bool crlf = false;
};

struct Delivery {
  bool overwrite = false;
  Positions positions = Positions::kPage;
  pdf::PdfSettings pdf;
  TextSettings text;
  bool drop_blank = false;
  std::string order;  // of the pages of the one document; empty: as they come
  std::vector<Replacement> replacements;
  std::string name = "{stem}";  // of files in an output folder
  bool face_chosen = false;     // by the user; else one PDF in is one PDF out, with text added
};

// Descriptive fields by name, put where documents say such things: title, creator, subject, date,
// language, keywords, and the other elements of Dublin Core. What names a field of its own there
// becomes "name: value" in the description. What is set already stays. Throws SettingsError for a
// date that is none.
void describe(const DescriptiveFields& fields, pdf::About& about);

// The file name, without its ending, for an input's stem.
std::string name_for(const std::string& pattern, const std::string& stem,
                     const DescriptiveFields& fields = {}, int number = 1);
// Throws SettingsError for a pattern without {stem}, or with a folder in it.
void check_name(const std::string& pattern, bool split = false);

}  // namespace burnisher::run
