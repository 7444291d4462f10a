// Documents being written page by page: PDF, text, ALTO.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "export/pdf.h"
#include "page/page.h"
#include "run/run.h"

namespace burnisher::run {

// A page ready to go into documents.
struct FinishedPage {
  Page page;
  exporting::CodedPicture picture;  // empty unless a PDF is wanted
  std::string job_picture;          // the file's name; empty unless there is a job
};

class Document {
 public:
  virtual ~Document() = default;
  virtual void add(const FinishedPage& page) = 0;
  virtual void finish() = 0;
  // What its reader should know, such as that nothing is in it; mostly empty.
  virtual std::string remark() const { return ""; }
};

// Throws OutputError when the file cannot be made.
std::unique_ptr<Document> new_document(OutputKind kind, const std::string& path,
                                       const std::string& title, const RunSettings& settings);

}  // namespace burnisher::run
