#include "export/mets.h"

#include <fmt/core.h>
#include <zlib.h>

#include <algorithm>
#include <cctype>
#include <filesystem>
#include <map>
#include <pugixml.hpp>
#include <sstream>

#include "base/files.h"
#include "base/unicode.h"

namespace burnisher::exporting {
namespace {

namespace fs = std::filesystem;

const char* media_type_of(const std::string& path) {
  static const std::map<std::string, const char*> kTypes = {
      {".jpg", "image/jpeg"},
      {".jpeg", "image/jpeg"},
      {".png", "image/png"},
      {".tif", "image/tiff"},
      {".tiff", "image/tiff"},
      {".pdf", "application/pdf"},
      {".xml", "application/xml"},
      {".txt", "text/plain"},
      {".md", "text/markdown"},
      {".html", "text/html"},
      {".csv", "text/csv"},
      {".tsv", "text/tab-separated-values"},
      {".json", "application/json"},
      {".epub", "application/epub+zip"},
      {".odt", "application/vnd.oasis.opendocument.text"},
      {".xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"}};
  std::string ending = fs::path(path).extension();
  for (char& c : ending) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  const auto at = kTypes.find(ending);
  return at == kTypes.end() ? nullptr : at->second;
}

// A relative reference (RFC 3986) from the folder of `from`.
std::string reference(const std::string& path, const std::string& from) {
  std::error_code status;
  const fs::path folder = fs::absolute(from, status).parent_path();
  const std::string plain = relative_path(path, folder.string());
  std::string out;
  for (const char c : plain) {
    const bool bare = std::isalnum(static_cast<unsigned char>(c)) || c == '/' || c == '-' ||
                      c == '.' || c == '_' || c == '~';
    out += bare ? std::string(1, c) : fmt::format("%{:02X}", static_cast<unsigned char>(c));
  }
  return out;
}

// The files of one use, each once.
class Group {
 public:
  Group(pugi::xml_node section, const char* use, const std::string& mets)
      : section_(section), use_(use), mets_(mets) {}

  // Its ID; empty for none.
  std::string add(const std::string& path) {
    if (path.empty()) return "";
    const auto [at, fresh] = ids_.emplace(path, fmt::format("{}-{}", use_, ids_.size() + 1));
    if (!fresh) return at->second;
    if (!group_) {
      group_ = section_.append_child("fileGrp");
      group_.append_attribute("USE") = use_;
    }
    auto file = group_.append_child("file");
    file.append_attribute("ID") = at->second.c_str();
    if (const char* type = media_type_of(path)) file.append_attribute("MIMETYPE") = type;
    if (fs::exists(path)) {
      const std::vector<uint8_t> bytes = read_file(path);
      const uLong sum = crc32_z(0, bytes.data(), bytes.size());
      file.append_attribute("SIZE") = static_cast<unsigned long long>(bytes.size());
      file.append_attribute("CHECKSUM") = fmt::format("{:08x}", sum).c_str();
      file.append_attribute("CHECKSUMTYPE") = "CRC32";
    }
    auto place = file.append_child("FLocat");
    place.append_attribute("LOCTYPE") = "URL";
    place.append_attribute("xlink:href") = reference(path, mets_).c_str();
    return at->second;
  }

 private:
  pugi::xml_node section_, group_;
  const char* use_;
  std::string mets_;
  std::map<std::string, std::string> ids_;
};

void describe(pugi::xml_node root, const MetsSettings& settings) {
  auto section = root.append_child("dmdSec");
  section.append_attribute("ID") = "about";
  auto wrap = section.append_child("mdWrap");
  wrap.append_attribute("MDTYPE") = "DC";
  auto data = wrap.append_child("xmlData");
  const auto field = [&](const char* name, const std::string& value) {
    if (!value.empty()) data.append_child(name).text() = sound_utf8(value).c_str();
  };
  field("dc:title", settings.title);
  field("dc:creator", settings.author);
  field("dc:date", settings.date);
  field("dc:language", settings.language);
  for (const auto& [name, value] : settings.more) field(("dc:" + name).c_str(), value);
}

void point_to(pugi::xml_node division, const std::string& id) {
  if (!id.empty()) division.append_child("fptr").append_attribute("FILEID") = id.c_str();
}

}  // namespace

Mets::Mets(const Sink& sink, const MetsSettings& settings,
           const std::vector<std::string>& documents)
    : sink_(sink), settings_(settings), documents_(documents) {
  // Said now rather than after the last page.
  PendingFile pending(sink);
}

void Mets::add(const Page& page, const PageFiles& files, const std::string& printed_number) {
  leaves_.push_back({files, printed_number});
  if (!page.reading.empty()) readings_.insert(page.reading);
  for (const Block& block : page.blocks) {
    if (block.kind != BlockKind::kHeading) continue;
    Heading heading;
    for (const Line& line : block.lines)
      heading.title += (heading.title.empty() ? "" : " ") + line.text();
    heading.level = std::clamp(block.level, 1, 6);
    heading.page = leaves_.size();
    if (!heading.title.empty()) headings_.push_back(heading);
  }
}

namespace {

pugi::xml_node root_of(pugi::xml_document& document, const MetsSettings& settings) {
  auto declaration = document.append_child(pugi::node_declaration);
  declaration.append_attribute("version") = "1.0";
  declaration.append_attribute("encoding") = "UTF-8";
  auto root = document.append_child("mets");
  root.append_attribute("xmlns") = "http://www.loc.gov/METS/";
  root.append_attribute("xmlns:xlink") = "http://www.w3.org/1999/xlink";
  root.append_attribute("xmlns:dc") = "http://purl.org/dc/elements/1.1/";
  if (!settings.title.empty()) root.append_attribute("LABEL") = sound_utf8(settings.title).c_str();
  auto agent = root.append_child("metsHdr").append_child("agent");
  agent.append_attribute("ROLE") = "CREATOR";
  agent.append_attribute("TYPE") = "OTHER";
  agent.append_attribute("OTHERTYPE") = "SOFTWARE";
  agent.append_child("name").text() = "Burnisher";
  return root;
}

}  // namespace

void Mets::finish() {
  pugi::xml_document document;
  auto root = root_of(document, settings_);
  for (const std::string& version : readings_)
    root.child("metsHdr").child("agent").append_child("note").text() =
        ("reading " + version).c_str();
  describe(root, settings_);
  add_pages(root);
  if (!headings_.empty()) add_sections(root);
  std::ostringstream out;
  document.save(out, "  ", pugi::format_default, pugi::encoding_utf8);
  PendingFile file(sink_);
  file.write(out.str());
  file.keep();
}

// The files, and which of them belong to which page.
void Mets::add_pages(pugi::xml_node root) const {
  auto files = root.append_child("fileSec");
  auto physical = root.append_child("structMap");
  physical.append_attribute("TYPE") = "PHYSICAL";
  auto object = physical.append_child("div");
  object.append_attribute("TYPE") = "object";
  object.append_attribute("DMDID") = "about";
  Group documents(files, "document", sink_.name()), scans(files, "scan", sink_.name()),
      pictures(files, "picture", sink_.name()), pages(files, "page", sink_.name());
  for (const std::string& path : documents_) point_to(object, documents.add(path));
  for (size_t i = 0; i < leaves_.size(); ++i) {
    const Leaf& leaf = leaves_[i];
    auto division = object.append_child("div");
    division.append_attribute("ID") = fmt::format("leaf-{}", i + 1).c_str();
    division.append_attribute("TYPE") = "page";
    division.append_attribute("ORDER") = static_cast<unsigned>(i + 1);
    if (!leaf.printed_number.empty())
      division.append_attribute("ORDERLABEL") = sound_utf8(leaf.printed_number).c_str();
    point_to(division, scans.add(leaf.files.scan));
    point_to(division, pictures.add(leaf.files.picture));
    point_to(division, pages.add(leaf.files.page_xml));
  }
  if (!files.first_child()) root.remove_child(files);
}

// The headings, nested by level, and the pages they stand on.
void Mets::add_sections(pugi::xml_node root) const {
  auto logical = root.append_child("structMap");
  logical.append_attribute("TYPE") = "LOGICAL";
  auto text = logical.append_child("div");
  text.append_attribute("TYPE") = "text";
  auto links = root.append_child("structLink");
  std::vector<std::pair<int, pugi::xml_node>> open = {{0, text}};
  for (size_t i = 0; i < headings_.size(); ++i) {
    const Heading& heading = headings_[i];
    while (open.back().first >= heading.level) open.pop_back();
    auto division = open.back().second.append_child("div");
    const std::string id = fmt::format("section-{}", i + 1);
    division.append_attribute("ID") = id.c_str();
    division.append_attribute("TYPE") = "section";
    division.append_attribute("LABEL") = sound_utf8(heading.title).c_str();
    open.emplace_back(heading.level, division);
    auto link = links.append_child("smLink");
    link.append_attribute("xlink:from") = id.c_str();
    link.append_attribute("xlink:to") = fmt::format("leaf-{}", heading.page).c_str();
  }
}

}  // namespace burnisher::exporting
