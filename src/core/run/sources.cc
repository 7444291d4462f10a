#include "run/sources.h"

#include <fmt/core.h>

#include <set>

#include "clean/settings_text.h"
#include "job/digest.h"
#include "pagefile/page_xml.h"
#include "run/read_scan.h"

namespace burnisher::run {
namespace {

// Names and values, a line each.
class Lines {
 public:
  template <typename Value>
  Lines& operator()(const char* name, const Value& value) {
    if constexpr (std::is_enum_v<Value>)
      text_ += fmt::format("{} = {}\n", name, static_cast<int>(value));
    else
      text_ += fmt::format("{} = {}\n", name, value);
    return *this;
  }
  Lines& operator()(const char* name, const std::vector<std::string>& values) {
    text_ += name;
    text_ += " =";
    for (const std::string& value : values) text_ += " \"" + value + "\"";
    text_ += "\n";
    return *this;
  }
  const std::string& text() const { return text_; }

 private:
  std::string text_;
};

void add(const layout::SegmentSettings& s, Lines& lines) {
  lines("columns", s.columns)("text-angle", s.text_angle);
  lines("text-in-pictures", s.text_in_pictures)("tables", s.tables);
  lines("right-to-left", s.right_to_left);
  if (!s.region) return;
  for (const layout::Length* length :
       {&s.region->x, &s.region->y, &s.region->width, &s.region->height})
    lines("region", length->value)("region-unit", length->unit);
}

void add(const recognise::RecogniseSettings& s, Lines& lines) {
  lines("second-look", s.second_look)("spelling", s.spelling)("languages", s.languages);
  lines("scripts", s.scripts)("modern-s", s.modern_s)("points", s.points);
  const auto& beam = s.beam_search;
  lines("beam-weight", beam.weight)("certain-weight", beam.certain_weight);
  lines("sign-weight", beam.sign_weight)("bonus", beam.bonus)("least", beam.least);
  lines("beams", beam.beams);
}

void add(const pdf::PdfSettings& s, Lines& lines) {
  lines("title", s.about.title)("author", s.about.author)("subject", s.about.subject);
  lines("keywords", s.about.keywords)("language", s.about.language)("date", s.about.date);
  lines("face", s.picture.face)("size", s.picture.size)("jpeg-quality", s.picture.jpeg_quality);
  lines("thumbnails", s.picture.thumbnails)("archive", s.archive);
  lines("headings-as-bookmarks", s.headings_as_bookmarks);
  for (const pdf::Bookmark& mark : s.bookmarks)
    lines("bookmark", fmt::format("{} {} {} {}", mark.page, mark.level, mark.top, mark.title));
  lines("labels-as-read", s.labels_as_read);
  for (const pdf::LabelRange& range : s.labels)
    lines("label", fmt::format("{} {:d} {} {}", range.first, static_cast<int>(range.style),
                               range.start, range.prefix));
  lines("opening", s.opening);
}

}  // namespace

std::string reading_settings_text(const RunSettings& settings) {
  const StageSettings& stages = settings.stages;
  Lines lines;
  for (const auto& [name, value] : clean::as_text(stages.clean)) lines(name.c_str(), value);
  add(stages.segment, lines);
  for (const Page& stencil : stages.stencils)
    lines("stencil", job::digest_of(write_page_xml(stencil, "")));
  add(stages.recognise, lines);
  lines("try-turns", stages.upright.try_turns)("readable", stages.upright.readable);
  lines("turns-from", stages.upright.turns_from);
  lines("clearly", stages.upright.clearly)("sample", stages.upright.sample);
  lines("reading-settles-rows", stages.reading_settles_rows);
  if (stages.barcodes) lines("barcodes", stages.barcodes);
  if (stages.leaves) lines("leaves", stages.leaves);
  lines("pixels", settings.limits.pixels)("pdf-dpi", settings.limits.pdf_dpi);
  lines("strict", settings.limits.strict)("existing-text", settings.existing_text);
  lines("precision", settings.precision);
  return lines.text();
}

std::string delivery_settings_text(const RunSettings& settings, const RunTools& tools) {
  const Delivery& d = settings.delivery;
  Lines lines;
  lines("positions", d.positions);
  add(d.pdf, lines);
  lines("flow", d.text.flow)("heads", d.text.heads)("marks", d.text.marks);
  lines("flow-marks", d.text.flow_marks)("crlf", d.text.crlf)("drop-blank", d.drop_blank);
  lines("order", d.order)("face-chosen", d.face_chosen)("even", settings.stages.clean.even);
  for (const Replacement& one : d.replacements)
    lines("replacement", fmt::format("{} {}", one.page, one.file));
  for (const BlockKind kind : settings.kinds_wanted.only) lines("only", name_of(kind));
  for (const BlockKind kind : settings.kinds_wanted.drop) lines("drop", name_of(kind));
  lines("repair", settings.correct.repair)("limit", settings.correct.limit);
  lines("correct-languages", settings.correct.languages)("languages", settings.languages);
  for (const HoldRule& rule : settings.hold) lines("hold", rule.measure)("hold-limit", rule.limit);
  for (const auto& [name, value] : settings.fields) lines("field", name + "=" + value);
  for (const auto& [file, fields] : settings.fields_by_file)
    for (const auto& [name, value] : fields) lines("field", file + ": " + name + "=" + value);
  lines("lexicon", tools.lexicon_digest);
  return lines.text();
}

std::string models_digest(const RunSettings& settings) {
  std::set<std::string> files = {settings.page_model};
  for (const recognise::Bundle& bundle : settings.bundles) {
    files.insert(bundle.network);
    if (!bundle.confusions.empty()) files.insert(bundle.confusions);
    if (settings.stages.recognise.spelling)
      for (const auto& [tag, file] : bundle.spelling) files.insert(file);
  }
  std::string all;
  for (const std::string& file : files)
    if (!file.empty()) all += job::digest_of_file(file);
  return job::digest_of(all);
}

}  // namespace burnisher::run
