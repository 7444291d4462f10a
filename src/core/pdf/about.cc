#include "pdf/about.h"

#include <fmt/core.h>
#include <lcms2.h>

#include <pugixml.hpp>
#include <sstream>
#include <vector>

#include "base/error.h"
#include "base/pattern.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>

namespace burnisher::pdf {
namespace {

const char* const kRgbName = "sRGB IEC61966-2.1";

// "Burnisher (reading 3f2a90c1d4e7)".
std::string producer(const std::set<std::string>& readings) {
  std::string versions;
  for (const std::string& version : readings) versions += (versions.empty() ? "" : ", ") + version;
  return versions.empty() ? "Burnisher" : "Burnisher (reading " + versions + ")";
}

std::string xmp_of(const About& about, const std::set<std::string>& readings, bool archive) {
  pugi::xml_document document;
  auto meta = document.append_child("x:xmpmeta");
  meta.append_attribute("xmlns:x") = "adobe:ns:meta/";
  auto rdf = meta.append_child("rdf:RDF");
  rdf.append_attribute("xmlns:rdf") = "http://www.w3.org/1999/02/22-rdf-syntax-ns#";
  auto node = rdf.append_child("rdf:Description");
  node.append_attribute("rdf:about") = "";
  node.append_attribute("xmlns:dc") = "http://purl.org/dc/elements/1.1/";
  node.append_attribute("xmlns:pdf") = "http://ns.adobe.com/pdf/1.3/";
  node.append_attribute("xmlns:xmp") = "http://ns.adobe.com/xap/1.0/";
  node.append_attribute("xmlns:pdfaid") = "http://www.aiim.org/pdfa/ns/id/";
  const auto alternatives = [&](const char* name, const std::string& text) {
    if (text.empty()) return;
    auto item = node.append_child(name).append_child("rdf:Alt").append_child("rdf:li");
    item.append_attribute("xml:lang") = "x-default";
    item.text() = text.c_str();
  };
  const auto list = [&](const char* name, const char* kind, const std::string& text) {
    if (text.empty()) return;
    node.append_child(name).append_child(kind).append_child("rdf:li").text() = text.c_str();
  };
  alternatives("dc:title", about.title);
  list("dc:creator", "rdf:Seq", about.author);
  alternatives("dc:description", about.subject);
  list("dc:language", "rdf:Bag", about.language);
  // As the XMP specification types them.
  for (const auto& [name, value] : about.more) {
    const std::string element = "dc:" + name;
    if (name == "rights" || name == "description")
      alternatives(element.c_str(), value);
    else if (name == "coverage" || name == "format" || name == "identifier" || name == "source")
      node.append_child(element.c_str()).text() = value.c_str();
    else
      list(element.c_str(), "rdf:Bag", value);
  }
  if (!about.keywords.empty()) node.append_child("pdf:Keywords").text() = about.keywords.c_str();
  node.append_child("pdf:Producer").text() = producer(readings).c_str();
  if (!about.date.empty()) node.append_child("xmp:CreateDate").text() = about.date.c_str();
  if (archive) {
    node.append_child("pdfaid:part").text() = "2";
    node.append_child("pdfaid:conformance").text() = "U";
  }
  std::ostringstream out;
  document.save(out, " ", pugi::format_default | pugi::format_no_declaration);
  return "<?xpacket begin=\"\xEF\xBB\xBF\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?>\n" + out.str() +
         "<?xpacket end=\"w\"?>\n";
}

// "2026-03-09T14:05:00Z" -> "D:20260309140500Z".
std::string pdf_date(const std::string& date) {
  std::string out = "D:";
  for (const char c : date) {
    if (c >= '0' && c <= '9') out += c;
  }
  return date.back() == 'Z' ? out + "Z" : out;
}

}  // namespace

void check_date(const std::string& date) {
  static const Pattern known(
      R"([0-9]{4}(-(0[1-9]|1[0-2])(-(0[1-9]|[12][0-9]|3[01])(T([01][0-9]|2[0-3]):[0-5][0-9]:[0-5][0-9]Z)?)?)?)");
  if (!date.empty() && !known.matches(date)) {
    throw SettingsError(
        "date", date +
                    ": expected a date as in 1923, 1923-04 or 1923-04-17, with a time as in "
                    "1923-04-17T08:00:00Z");
  }
}

void describe(QPDF& pdf, const About& about, const std::set<std::string>& readings) {
  auto info = pdf.getTrailer().getKey("/Info");
  if (!info.isDictionary()) {
    info = pdf.makeIndirectObject(QPDFObjectHandle::newDictionary());
    pdf.getTrailer().replaceKey("/Info", info);
    info.replaceKey("/Producer", QPDFObjectHandle::newUnicodeString(producer(readings)));
  }
  const auto set = [&](const char* key, const std::string& text) {
    if (!text.empty()) info.replaceKey(key, QPDFObjectHandle::newUnicodeString(text));
  };
  set("/Title", about.title);
  set("/Author", about.author);
  set("/Subject", about.subject);
  set("/Keywords", about.keywords);
  if (!about.date.empty()) set("/CreationDate", pdf_date(about.date));
  auto root = pdf.getRoot();
  if (!about.language.empty())
    root.replaceKey("/Lang", QPDFObjectHandle::newUnicodeString(about.language));
  if (!about.title.empty()) {
    auto preferences = root.getKey("/ViewerPreferences");
    if (!preferences.isDictionary()) preferences = QPDFObjectHandle::newDictionary();
    preferences.replaceKey("/DisplayDocTitle", QPDFObjectHandle::newBool(true));
    root.replaceKey("/ViewerPreferences", preferences);
  }
  if (root.hasKey("/Metadata")) return;  // another program's; it stays
  auto xmp = QPDFObjectHandle::newStream(&pdf, xmp_of(about, readings, false));
  xmp.getDict().replaceKey("/Type", QPDFObjectHandle::newName("/Metadata"));
  xmp.getDict().replaceKey("/Subtype", QPDFObjectHandle::newName("/XML"));
  root.replaceKey("/Metadata", xmp);
}

void describe_archive(QPDF& pdf, const About& about, const std::set<std::string>& readings) {
  auto root = pdf.getRoot();
  root.getKey("/Metadata")
      .replaceStreamData(xmp_of(about, readings, true), QPDFObjectHandle::newNull(),
                         QPDFObjectHandle::newNull());
  auto profile = QPDFObjectHandle::newStream(&pdf, srgb_profile());
  profile.getDict().replaceKey("/N", QPDFObjectHandle::newInteger(3));
  auto intent = QPDFObjectHandle::parse(
      fmt::format("<< /Type /OutputIntent /S /GTS_PDFA1 /OutputConditionIdentifier ({0}) "
                  "/Info ({0}) >>",
                  kRgbName));
  intent.replaceKey("/DestOutputProfile", profile);
  auto intents = QPDFObjectHandle::newArray();
  intents.appendItem(pdf.makeIndirectObject(intent));
  root.replaceKey("/OutputIntents", intents);
}

std::string srgb_profile() {
  cmsHPROFILE profile = cmsCreate_sRGBProfile();
  cmsSetProfileVersion(profile, 2.4);  // what every reader of PDF/A-2 understands
  cmsUInt32Number size = 0;
  cmsSaveProfileToMem(profile, nullptr, &size);
  std::string bytes(size, '\0');
  const bool saved = cmsSaveProfileToMem(profile, bytes.data(), &size) != 0;
  cmsCloseProfile(profile);
  if (!saved || bytes.size() < 128) throw OutputError("the sRGB profile could not be made");
  // Its date of making would be different every time: ICC.1, 7.2.1, bytes 24 to 35.
  const std::string date("\x07\xD0\0\x01\0\x01\0\0\0\0\0\0", 12);
  bytes.replace(24, date.size(), date);
  return bytes;
}

}  // namespace burnisher::pdf
