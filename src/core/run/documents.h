// Documents being written page by page.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "base/files.h"
#include "page/page.h"
#include "run/delivery.h"
#include "run/page_pictures.h"

namespace burnisher::run {

// A page ready to go into documents.
struct FinishedPage {
  Page page;
  SharedPicture picture;  // null unless a PDF is wanted; on facsimiles, of the left page
  exporting::Illustrations illustrations;  // of its picture blocks, where they are wanted
  bool blank = false;
  bool person = false;                  // a person changed it: nothing is settled on it any more
  bool kept = false;                    // a PDF page that had its text already
  std::string job_picture;              // the file's name; empty unless there is one
  std::string picture_file, page_file;  // where it lies, with its PAGE XML; empty: nowhere
};

class Document {
 public:
  virtual ~Document() = default;
  virtual void add(const FinishedPage& page) = 0;
  virtual void finish() = 0;
  // The place, from 1, of the page that was added last among the document's own pages; 0: it has
  // none that could be named.
  virtual int last_sheet() const { return 0; }
  // What its reader should know, such as that nothing is in it; mostly empty. `source_bytes`: of
  // the scans it was made of; 0: not known.
  virtual std::string remark(size_t source_bytes) const {
    (void)source_bytes;
    return "";
  }
};

// Where a document comes from.
struct Origin {
  std::string title;     // where the settings give none
  std::string original;  // the one PDF that it is made of; empty: anything else
  std::string password;
  std::vector<std::string> beside;  // the other documents made of the same pages
  // Decides about hyphens at line ends; may be empty.
  std::function<bool(const std::string& word, const std::string& language)> is_word = {};
};

// A kind of document and its file.
using WantedDocuments = std::vector<std::pair<OutputKind, std::string>>;
// The files of all but METS, which names the others.
std::vector<std::string> paths_of(const WantedDocuments& wanted);
// In the order in which they are to be finished: METS last.
WantedDocuments in_finishing_order(WantedDocuments wanted);

// Throws OutputError when the file cannot be made.
std::unique_ptr<Document> new_document(OutputKind kind, const Sink& sink, const Origin& origin,
                                       const Delivery& delivery);

}  // namespace burnisher::run
