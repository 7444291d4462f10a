// A survey as a table: TSV and JSON for programs, HTML for the eye.
#pragma once

#include <string>
#include <vector>

#include "run/survey.h"

namespace burnisher::report {

// One row a scan under a header line; the names are those of the JSON.
std::string survey_tsv(const std::vector<run::ScanSurvey>& scans);

// An object with an array `pages`; docs/survey.md describes every member.
std::string survey_json(const std::vector<run::ScanSurvey>& scans);

// One self-contained page: thumbnails with the findings drawn on them.
std::string survey_html(const std::vector<run::ScanSurvey>& scans);

}  // namespace burnisher::report
