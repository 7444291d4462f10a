#include "run/delivery.h"

#include <algorithm>
#include <iterator>

#include <filesystem>

#include "base/error.h"
#include "base/unicode.h"

namespace burnisher::run {
namespace {

const char* const kStem = "{stem}";

struct KindRow {
  OutputKind kind;
  const char* name;
  const char* ending;
};
constexpr KindRow kKinds[] = {
    {OutputKind::kPdf, "pdf", ".pdf"},          {OutputKind::kText, "text", ".txt"},
    {OutputKind::kMarkdown, "markdown", ".md"}, {OutputKind::kEpub, "epub", ".epub"},
    {OutputKind::kOdt, "odt", ".odt"},          {OutputKind::kAlto, "alto", ".xml"},
    {OutputKind::kHocr, "hocr", ".html"},       {OutputKind::kWordsTsv, "words", ".tsv"},
    {OutputKind::kWordsJson, "json", ".json"},  {OutputKind::kCsv, "csv", ".csv"},
    {OutputKind::kXlsx, "xlsx", ".xlsx"},       {OutputKind::kMets, "mets", ".mets"}};

}  // namespace

OutputKind output_kind_of(const std::string& path) {
  for (const KindRow& row : kKinds) {
    if (std::filesystem::path(path).extension() == row.ending) return row.kind;
  }
  throw SettingsError(
      "out",
      path +
          ": the ending says what to write; known are .pdf, .txt, .md (Markdown), .epub, .odt, "
          ".xml "
          "(ALTO), .html (hOCR), .tsv and .json (words), .csv and .xlsx for tables, and .mets "
          "(the files of the whole object)");
}

OutputKind output_kind_named(const std::string& name) {
  for (const KindRow& row : kKinds) {
    if (name == row.name) return row.kind;
  }
  throw SettingsError("to", name + ": known are " + output_kind_names());
}

const char* ending_of(OutputKind kind) {
  for (const KindRow& row : kKinds) {
    if (row.kind == kind) return row.ending;
  }
  return "";
}

std::string output_kind_names() {
  std::string names;
  for (const KindRow& row : kKinds) names += (names.empty() ? "" : ", ") + std::string(row.name);
  return names;
}

void Wanted::add(OutputKind kind) {
  picture = picture || kind == OutputKind::kPdf;
  illustrations = illustrations || kind == OutputKind::kEpub || kind == OutputKind::kOdt;
}

void describe(const DescriptiveFields& fields, pdf::About& about) {
  const std::pair<const char*, std::string*> known[] = {
      {"title", &about.title},       {"creator", &about.author},     {"subject", &about.keywords},
      {"date", &about.date},         {"language", &about.language},  {"author", &about.author},
      {"keywords", &about.keywords}, {"description", &about.subject}};
  std::string others;
  for (const auto& [name, value] : fields) {
    const std::string& wanted = name;
    const auto place = std::find_if(std::begin(known), std::end(known),
                                    [&](const auto& one) { return one.first == wanted; });
    if (place != std::end(known)) {
      if (place->second->empty()) *place->second = value;
    } else if (is_dublin_core(name)) {
      about.more.emplace_back(name, value);
    } else {
      others += (others.empty() ? "" : "; ") + name + ": " + value;
    }
  }
  if (!others.empty()) about.subject += (about.subject.empty() ? "" : "; ") + others;
  pdf::check_date(about.date);
}

namespace {

// Fields come from sheets that anybody may have printed: none becomes a path.
std::string as_part_of_name(const std::string& text) {
  std::string name;
  for (const char c : sound_utf8(text)) {
    const bool sound = c != '/' && c != '\\' && static_cast<unsigned char>(c) >= 0x20 && c != 0x7F;
    name += sound ? c : '_';
  }
  if (!name.empty() && name.front() == '.') name.front() = '_';
  return name;
}

}  // namespace

std::string name_for(const std::string& pattern, const std::string& stem,
                     const DescriptiveFields& fields, int number) {
  std::string name;
  for (size_t at = 0; at < pattern.size();) {
    const size_t end = pattern[at] == '{' ? pattern.find('}', at) : std::string::npos;
    if (end == std::string::npos) {
      name += pattern[at++];
      continue;
    }
    const std::string key = pattern.substr(at + 1, end - at - 1);
    if (key == "stem") name += stem;
    if (key == "n") name += std::to_string(number);
    for (const auto& [field, value] : fields)
      if (field == key) name += as_part_of_name(value);
    at = end + 1;
  }
  return name.empty() ? stem : name;
}

void check_name(const std::string& pattern, bool split) {
  const bool told = pattern.find(split ? "{" : kStem) != std::string::npos;
  if (!told || pattern.find('/') != std::string::npos)
    throw SettingsError(
        "name", pattern + (split ? ": expected a file name without ending and folder, with {stem}, "
                                   "{n} or a field's name in it, as in {box}-{n}"
                                 : ": expected a file name without ending and folder, with {stem} "
                                   "where the input's name goes, as in {stem}-read"));
}

}  // namespace burnisher::run
