#include "run/split.h"

#include <fmt/core.h>

#include <algorithm>
#include <filesystem>
#include <optional>

#include "barcode/barcodes.h"
#include "barcode/separator_sheet.h"
#include "base/files.h"
#include "base/parallel.h"
#include "base/pattern.h"
#include "clean/clean.h"
#include "raster/convert.h"

namespace burnisher::run {
namespace {

// What a sheet means for the documents.
struct Cut {
  bool begins = false;  // a document begins here
  bool left_out = false;
  DescriptiveFields fields;
};

// The pattern as a regular expression.
std::string expression_of(const std::string& pattern) {
  std::string text;
  for (const char c : pattern) {
    if (c == '*')
      text += ".*";
    else if (c == '?')
      text += '.';
    else if (std::isalnum(static_cast<unsigned char>(c)) || static_cast<unsigned char>(c) >= 0x80)
      text += c;
    else
      text += std::string("\\") + c;
  }
  return text;
}

Cut cut_at(const ScanTask& task, const SplitRule& rule, const Pattern& wanted) {
  const Scan scan = task.file->read(task.page);
  Cut cut;
  if (rule.at == SplitRule::At::kBlank) {
    const auto pages = clean::clean(scan, {});
    cut.begins = cut.left_out =
        std::all_of(pages.begin(), pages.end(), [](const auto& page) { return page.blank; });
    return cut;
  }
  for (const Barcode& code : barcode::barcodes_on(to_gray(scan.picture))) {
    const auto fields = barcode::fields_of_separator(code.text);
    if (rule.at == SplitRule::At::kSeparator && fields) {
      cut.begins = cut.left_out = true;
      cut.fields = *fields;
      return cut;
    }
    if (rule.at == SplitRule::At::kBarcode && wanted.matches(code.text)) {
      cut.begins = true;
      cut.fields = {{"barcode", code.text}};
      return cut;
    }
  }
  return cut;
}

}  // namespace

SplitRule split_rule(const std::string& text) {
  if (text.empty()) return {};
  if (text == "blank") return {SplitRule::At::kBlank, ""};
  if (text == "separator") return {SplitRule::At::kSeparator, ""};
  const std::string code = "barcode=";
  if (text.rfind(code, 0) == 0 && text.size() > code.size())
    return {SplitRule::At::kBarcode, text.substr(code.size())};
  throw SettingsError("split-at", text +
                                      ": expected blank, separator, or barcode=PATTERN as in "
                                      "barcode=INV-*");
}

void split(const SplitRule& rule, const std::vector<std::string>& inputs, ScanList& scans) {
  if (rule.at == SplitRule::At::kNowhere || scans.tasks.empty()) return;
  const Pattern wanted(expression_of(rule.pattern));
  std::vector<Cut> cuts(scans.tasks.size());
  parallel_each(static_cast<int>(cuts.size()), [&](int i) {
    const auto at = static_cast<size_t>(i);
    try {
      cuts[at] = cut_at(scans.tasks[at], rule, wanted);
    } catch (const std::exception&) {
      // It is read again, and what is wrong with it is said then.
    }
  });
  const std::filesystem::path first(inputs.front());
  const std::string stem =
      std::filesystem::is_directory(first) ? first.filename().string() : stem_of(inputs.front());
  std::vector<ScanTask> kept;
  scans.documents.clear();
  for (size_t i = 0; i < cuts.size(); ++i) {
    if (cuts[i].begins || scans.documents.empty()) {
      // Sheets that follow one another begin one document.
      const bool fresh = scans.documents.empty() ||
                         (!kept.empty() && kept.back().document == scans.documents.back().key);
      if (fresh) {
        const size_t n = scans.documents.size() + 1;
        scans.documents.push_back({fmt::format("{}-{}", stem, n),
                                   fmt::format("{}-{}", stem, n),
                                   {},
                                   static_cast<int>(n)});
      }
      scans.documents.back().fields = cuts[i].fields;
    }
    if (cuts[i].left_out) continue;
    kept.push_back(scans.tasks[i]);
    kept.back().document = scans.documents.back().key;
  }
  if (kept.empty() || kept.back().document != scans.documents.back().key)
    scans.documents.pop_back();
  for (size_t i = 0; i < kept.size(); ++i)
    kept[i].last_of_document = i + 1 == kept.size() || kept[i + 1].document != kept[i].document;
  scans.tasks = std::move(kept);
  scans.split = true;
}

}  // namespace burnisher::run
