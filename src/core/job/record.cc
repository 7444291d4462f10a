#include "job/record.h"

#include "base/json.h"

#include "base/error.h"

namespace burnisher::job {
namespace {

using nlohmann::json;

const char* const kFormat = "burnisher-record-1";

json json_of(const PageRecord& page) {
  return {{"part", page.part},         {"reading", page.reading},
          {"size", page.stamp.size},   {"modified", page.stamp.modified},
          {"written", page.written},   {"person", page.person},
          {"blank", page.blank},       {"other_side", page.other_side},
          {"skew", page.skew},         {"perspective", page.perspective},
          {"curl", page.curl},         {"notes", page.notes},
          {"unread", page.unread},     {"words", page.words},
          {"suspects", page.suspects}, {"held", page.held},
          {"look", page.look}};
}

PageRecord page_of(const json& from) {
  PageRecord page;
  from.at("part").get_to(page.part);
  from.at("reading").get_to(page.reading);
  from.at("size").get_to(page.stamp.size);
  from.at("modified").get_to(page.stamp.modified);
  from.at("written").get_to(page.written);
  from.at("person").get_to(page.person);
  from.at("blank").get_to(page.blank);
  from.at("other_side").get_to(page.other_side);
  from.at("skew").get_to(page.skew);
  from.at("perspective").get_to(page.perspective);
  from.at("curl").get_to(page.curl);
  from.at("notes").get_to(page.notes);
  page.unread = from.value("unread", "");
  from.at("words").get_to(page.words);
  from.at("suspects").get_to(page.suspects);
  from.at("held").get_to(page.held);
  from.at("look").get_to(page.look);
  return page;
}

}  // namespace

std::string written_record(const ScanRecord& record) {
  json pages = json::array();
  for (const PageRecord& page : record.pages) pages.push_back(json_of(page));
  const json all = {{"format", kFormat},
                    {"sources",
                     {{"scan", record.sources.scan},
                      {"settings", record.sources.settings},
                      {"models", record.sources.models},
                      {"program", record.sources.program}}},
                    {"failure", record.failure},
                    {"kept", record.kept},
                    {"turn", record.turn},
                    {"turn_confidence", record.turn_confidence},
                    {"seconds", record.seconds},
                    {"misfits", record.misfits},
                    {"pages", pages}};
  return json_text(all, 1) + "\n";
}

ScanRecord read_record(const std::string& text) {
  try {
    const json all = parse_json(text);
    if (all.at("format") != kFormat) throw FormatError("is no record of this program");
    ScanRecord record;
    const json& sources = all.at("sources");
    sources.at("scan").get_to(record.sources.scan);
    sources.at("settings").get_to(record.sources.settings);
    sources.at("models").get_to(record.sources.models);
    sources.at("program").get_to(record.sources.program);
    all.at("failure").get_to(record.failure);
    all.at("kept").get_to(record.kept);
    all.at("turn").get_to(record.turn);
    all.at("turn_confidence").get_to(record.turn_confidence);
    all.at("seconds").get_to(record.seconds);
    all.at("misfits").get_to(record.misfits);
    for (const json& page : all.at("pages")) record.pages.push_back(page_of(page));
    return record;
  } catch (const json::exception& cause) {
    throw FormatError(std::string("is no record of a scan: ") + cause.what());
  }
}

}  // namespace burnisher::job
