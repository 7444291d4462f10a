// The index: which words stand where, on all pages of one job or of many documents, in one SQLite
// file.
//
//   root      files and folders that a collection is of
//   document  key, name, descriptive fields (JSON), place among the documents
//   page      of which document and file, what is printed on it, its scan, its picture, its PDF
//   page form      every spelling that occurs, by number page_forms, page_doubts, page_places   a
//   page's words (find/page_words.h)
//
// A word search looks through the forms, which are few, then through the packed pages for the
// numbers it found. Forms that no page has any more stay; they cost a few bytes and match nothing.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <unordered_map>
#include <utility>
#include <vector>

#include "find/database.h"
#include "find/page_words.h"
#include "job/digest.h"

namespace burnisher::find {

using Fields = std::vector<std::pair<std::string, std::string>>;

struct IndexedDocument {
  int64_t id = 0;
  std::string key;   // path of the job, folder or file it is
  std::string name;  // for people
  Fields fields;
};

// A page, without its words. Paths are absolute.
struct IndexedPage {
  int64_t id = 0, document = 0;
  int position = 1;  // within its document, from 1
  std::string file;  // that it was read from: PAGE XML, ALTO, hOCR, PDF
  int number_in_file = 1;
  std::string printed;  // page number on it; "": none
  std::string scan;     // file
  int scan_page = 1, part = 0;
  int width = 0, height = 0;
  double dpi = 300;
  std::string picture;  // that page positions belong to; "": none
  std::string pdf;      // the PDF that has the page; "": none
  int pdf_page = 0;
  int words = 0;
};

class Index {
 public:
  // Makes the file where it is not there, and makes it anew where it is an index of another
  // version. "": in memory. Throws as Database does, and FormatError for another program's
  // database.
  Index(const std::string& path, Database::Use use);

  // What was read of one file, in one go with everything up to `commit`.
  void begin();
  void commit();

  // The number of the document of that key, which is made or brought up to date.
  int64_t document(const std::string& key, const std::string& name, const Fields& fields,
                   int position);
  // Which document a file's pages are in, where they stand in it, and the PDF that has them.
  struct Standing {
    int64_t document = 0;
    int file_position = 0;
    std::string pdf;
    int first_pdf_page = 0;
    bool operator==(const Standing& other) const {
      return document == other.document && file_position == other.file_position &&
             pdf == other.pdf && first_pdf_page == other.first_pdf_page;
    }
  };
  struct KnownFile {
    job::FileStamp stamp;
    Standing standing;
  };
  // What it has of each file that pages are from, by path.
  std::unordered_map<std::string, KnownFile> files() const;
  // Pages of a file in place of those it had. `page.id` and `page.position` are not looked at.
  void replace(const std::string& file, const job::FileStamp& stamp,
               const std::vector<std::pair<IndexedPage, const Page*>>& pages);
  void remove(const std::string& file);
  void place(const std::string& file, const Standing& standing);
  // Documents without pages go; pages get their position.
  void tidy();

  // The files and folders that a collection was made of, absolute.
  std::vector<std::string> roots() const;
  void set_roots(const std::vector<std::string>& paths);

  std::vector<IndexedDocument> documents() const;
  IndexedPage page(int64_t id) const;
  int64_t word_count() const;
  int64_t page_count() const;
  int64_t page_count(int64_t document) const;

  // Every form with its number.
  void each_form(const std::function<void(FormNumber, std::string_view)>& visit) const;
  std::string form(FormNumber number) const;
  // The pages of a document in order, packed. `visit` false ends it.
  struct PackedPage {
    int64_t id = 0;
    int position = 1;
    std::string_view forms, doubts;  // `doubts` only where wanted; both until the next page
  };
  void each_page(int64_t document, bool doubts,
                 const std::function<bool(const PackedPage&)>& visit) const;
  PageWords words(int64_t page, bool places = true) const;

 private:
  std::string stored(const std::string& path) const;
  std::string resolved(const std::string& path) const;
  FormNumber form_number(const std::string& text);
  void make();

  std::string folder_;  // of the file; "": in memory
  mutable Database database_;
  std::unordered_map<std::string, FormNumber> numbers_;  // filled when something is written
  bool numbers_known_ = false;
  std::unique_ptr<Statement> new_form_;
  mutable std::unique_ptr<Statement> form_by_number_, words_alone_, words_and_places_;
};

}  // namespace burnisher::find
