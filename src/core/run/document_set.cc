#include "run/document_set.h"

#include "run/job_names.h"

namespace burnisher::run {

DocumentSet::DocumentSet(const WantedDocuments& wanted, const Origin& origin,
                         const Delivery& delivery, std::vector<Problem>& problems)
    : problems_(problems) {
  for (const auto& [kind, path] : in_finishing_order(wanted)) {
    try {
      documents_.push_back(
          {{path, "", {}}, new_document(kind, Sink(path, delivery.overwrite), origin, delivery)});
    } catch (const std::exception& cause) {
      problems_.push_back(problem_of(cause));
    }
  }
}

void DocumentSet::add(const FinishedPage& page, const std::string& place) {
  ++pages_;
  for (auto& [written, document] : documents_) {
    if (!document) continue;
    try {
      document->add(page);
      if (const int sheet = document->last_sheet(); sheet > 0)
        written.sheets.emplace_back(page_name_of(page.page), sheet);
    } catch (const OutputError& cause) {
      // A file that cannot be written on is not kept, and takes no more pages.
      problems_.push_back(problem_of(cause));
      document.reset();
    } catch (const std::exception& cause) {
      problems_.push_back({place + ": is missing in " + written.path + ": " + cause.what(),
                           problem_of(cause).code});
    }
  }
}

std::vector<DocumentSet::Written> DocumentSet::finish(size_t source_bytes) {
  std::vector<Written> all;
  for (auto& [written, document] : documents_) {
    if (!document) continue;
    try {
      document->finish();
      written.remark = document->remark(source_bytes);
      all.push_back(std::move(written));
    } catch (const std::exception& cause) {
      problems_.push_back(problem_of(cause));
    }
  }
  documents_.clear();
  return all;
}

}  // namespace burnisher::run
