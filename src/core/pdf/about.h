// What a PDF says about itself: descriptive fields in its information dictionary and, the same, in
// XMP (ISO 16684-1); and what PDF/A wants beside (ISO 19005-2): its mark and an output intent.
#pragma once

#include <set>
#include <string>

#include "page/fields.h"

class QPDF;

namespace burnisher::pdf {

struct About {
  std::string title, author, subject, keywords;
  std::string language;  // BCP 47; empty: not stated
  std::string date;      // of the document, ISO 8601; empty: not stated
  DescriptiveFields more = {};
};

// "2026", "2026-03", "2026-03-09" or with "T14:05:00Z"; throws SettingsError for others.
void check_date(const std::string& date);

// Fields that `about` leaves empty are left as they are.
// `readings`: versions that its pages were read by.
void describe(QPDF& pdf, const About& about, const std::set<std::string>& readings);
void describe_archive(QPDF& pdf, const About& about, const std::set<std::string>& readings);

// The sRGB profile (made by lcms2), the same bytes every time.
std::string srgb_profile();

}  // namespace burnisher::pdf
