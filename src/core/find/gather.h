// What there is to search: jobs, and files that hold read pages.
#pragma once

#include <string>
#include <vector>

#include "base/error.h"
#include "base/progress.h"
#include "find/index.h"

namespace burnisher::find {

// A file with read pages: PAGE XML (one page), ALTO, hOCR, a PDF with text.
struct TextFile {
  std::string path;
  std::string pdf;         // that has the same pages; "": none
  int first_pdf_page = 0;  // in it
};

// What a person takes for one document: a job, or the files of it that became one document; a
// folder of PAGE XML; any other file.
struct TextDocument {
  std::string key;  // its path
  std::string name;
  Fields fields;
  std::vector<TextFile> files;  // in order
};

// The documents at a path, folders with all in them. Of files that hold the same document, as
// box.xml and box.pdf, the one that tells most is taken. Throws InputError for what is not there.
// `others`: .xml and .html files that hold no pages, passed over.
std::vector<TextDocument> documents_at(const std::string& path, std::vector<std::string>& others);

// Takes out documents that are there twice, as a folder and a file in it that was named, too.
void without_doubles(std::vector<TextDocument>& documents);

// Whether the folder is a job.
bool is_job(const std::string& folder);
// Where a job's index lies.
std::string index_of_job(const std::string& folder);

struct UpdateReport {
  int files = 0, read = 0, removed = 0;  // files: all there are
  std::vector<Problem> problems;         // files that cannot be read
};

// Brings the index up to date: reads what is new or changed, on all cores, and forgets what is
// gone.
UpdateReport update(Index& index, const std::vector<TextDocument>& documents, Progress& progress);

// The same for a job's own index; a folder that is no job is left alone. What goes wrong is said:
// nothing else depends on it, and a search tries again.
void refresh_index_of_job(const std::string& folder, Progress& progress);

}  // namespace burnisher::find
