// The documents that are made of the same pages, written side by side. A page that one of them
// cannot take is missing there and named; the others, and the other pages, go on.
#pragma once

#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "base/error.h"
#include "run/documents.h"

namespace burnisher::run {

class DocumentSet {
 public:
  // `problems`: what goes wrong ends up here; must outlive this.
  DocumentSet(const WantedDocuments& wanted, const Origin& origin, const Delivery& delivery,
              std::vector<Problem>& problems);

  // `place`: the page's, for messages.
  void add(const FinishedPage& page, const std::string& place);
  int pages() const { return pages_; }

  struct Written {
    std::string path;
    std::string remark;  // for its reader; mostly empty
    // Of a PDF: its pages by their names in a job, and on which of the PDF's they are.
    std::vector<std::pair<std::string, int>> sheets;
  };
  // `source_bytes`: of the scans they were made of; 0: not known.
  std::vector<Written> finish(size_t source_bytes);

 private:
  std::vector<Problem>& problems_;
  struct Growing {
    Written written;
    std::unique_ptr<Document> document;  // null: it could not be written on
  };
  std::vector<Growing> documents_;
  int pages_ = 0;
};

}  // namespace burnisher::run
