// What a reading is made from, in short: for jobs, that read again only what changed.
#pragma once

#include <string>

#include "run/run.h"

namespace burnisher::run {

// Every setting that cleaning, layout and reading look at, one a line. Settings of documents, of
// correction and of speed are not among them.
std::string reading_settings_text(const RunSettings& settings);
// Every setting that documents and correction look at.
std::string delivery_settings_text(const RunSettings& settings, const RunTools& tools);
// The files that read: networks, alphabets, spelling.
std::string models_digest(const RunSettings& settings);

}  // namespace burnisher::run
