// Which documents are made, and what their files are called.
#pragma once

#include "run/documents.h"
#include "run/run.h"
#include "run/scan_list.h"

namespace burnisher::run {

// One document of all scans, not one for each file or part of a batch.
bool joined(const RunSettings& settings);

// What is made of the scans of one document.
WantedDocuments wanted_documents(const RunSettings& settings, const ListedDocument& document);

// Two documents that would be written under one name are a mistake that costs one of them: throws
// SettingsError.
void keep_names_apart(const RunSettings& settings, const ScanList& scans);

}  // namespace burnisher::run
