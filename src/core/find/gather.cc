#include "find/gather.h"

#include <fmt/core.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <map>
#include <optional>
#include <set>

#include "base/files.h"
#include "base/parallel.h"
#include "intake/inputs.h"
#include "intake/pdf_programs.h"
#include "intake/pdf_text.h"
#include "intake/scan_file.h"
#include "job/job_file.h"
#include "page/printed_number.h"
#include "pagefile/alto.h"
#include "pagefile/hocr.h"
#include "pagefile/page_file.h"

namespace burnisher::find {
namespace {

namespace fs = std::filesystem;

constexpr double kPdfDpi = 300;  // at which places on PDF pages are told
constexpr int kPdfPagesAtOnce = 50;
constexpr size_t kHead = 4000;  // bytes that tell what a file is
constexpr int kDeepest = 40;    // folders within folders
const char* const kIndexOfJob = "find.sqlite";
const char* const kSides[] = {"", "-left", "-right"};

// What kinds of text files are worth, where several hold the same document.
enum class Kind { kNone, kPdf, kHocr, kAlto, kPage };

std::string ending_of(const std::string& path) {
  std::string ending = fs::path(path).extension().string();
  std::transform(ending.begin(), ending.end(), ending.begin(),
                 [](unsigned char c) { return std::tolower(c); });
  return ending;
}

Kind kind_of(const std::string& path) {
  const std::string ending = ending_of(path);
  if (ending == ".pdf") return Kind::kPdf;
  if (ending != ".xml" && ending != ".html" && ending != ".hocr" && ending != ".xhtml")
    return Kind::kNone;
  std::ifstream file(path, std::ios::binary);
  std::string head(kHead, 0);
  file.read(head.data(), static_cast<std::streamsize>(head.size()));
  head.resize(static_cast<size_t>(file.gcount()));
  if (ending == ".xml" && head.find("<PcGts") != std::string::npos) return Kind::kPage;
  if (ending == ".xml" && head.find("<alto") != std::string::npos) return Kind::kAlto;
  return looks_like_hocr(head) ? Kind::kHocr : Kind::kNone;
}

std::string absolute(const std::string& path) {
  std::string whole = fs::absolute(path).lexically_normal().string();
  while (whole.size() > 1 && whole.back() == '/') whole.pop_back();
  return whole;
}

// The PDF of the same name beside a file that tells all its pages.
TextFile with_pdf_beside(const std::string& path) {
  const std::string pdf = fs::path(path).replace_extension(".pdf").string();
  std::error_code status;
  if (ending_of(path) == ".pdf") return {path, path, 1};
  return fs::exists(pdf, status) ? TextFile{path, pdf, 1} : TextFile{path, "", 0};
}

std::string title_of(const Fields& fields) {
  for (const auto& [name, value] : fields)
    if (name == "title") return value;
  return "";
}

// A job's pages: one document, or one for each of its scans' files where it made one of each.
std::vector<TextDocument> documents_of_job(const std::string& folder, const job::JobFile& job) {
  std::map<std::string, std::pair<std::string, int>> sheets;  // PDF and its page, by page
  for (const job::MadeDocument& made : job.documents) {
    const std::string path = absolute((fs::path(folder) / made.file).string());
    for (const auto& [page, sheet] : made.sheets) sheets.try_emplace(page, path, sheet);
  }
  const bool parted = !setting_of(job, "out-dir").empty();
  std::map<std::string, Fields> own;
  for (const job::ScanSource& scan : job.scans) own[stem_of(scan.file)] = scan.fields;
  const std::string title = setting_of(job, "title");
  std::set<std::string> there;
  for (const std::string& path : files_in(folder)) there.insert(path);
  std::vector<TextDocument> documents;
  for (const std::string& scan : job.order) {
    const std::string source = scan.substr(0, scan.rfind('-'));
    const std::string key = parted ? folder + "#" + source : folder;
    if (documents.empty() || documents.back().key != key) {
      TextDocument one{key, "", job.fields, {}};
      const Fields& more = own[source];
      if (parted) one.fields.insert(one.fields.begin(), more.begin(), more.end());
      if (!title.empty() && title_of(one.fields).empty()) one.fields.emplace_back("title", title);
      one.name = parted ? source : title_of(one.fields);
      if (one.name.empty()) one.name = stem_of(folder);
      documents.push_back(std::move(one));
    }
    for (const char* side : kSides) {
      const std::string name = scan + side;
      const std::string path = (fs::path(folder) / (name + ".xml")).string();
      const auto wish = job.wishes.find(name);
      if ((wish != job.wishes.end() && wish->second.leave_out) || there.count(path) == 0) continue;
      const auto sheet = sheets.find(name);
      documents.back().files.push_back(
          sheet == sheets.end() ? TextFile{path, "", 0}
                                : TextFile{path, sheet->second.first, sheet->second.second});
    }
  }
  // Nothing of it was read yet.
  documents.erase(std::remove_if(documents.begin(), documents.end(),
                                 [](const TextDocument& one) { return one.files.empty(); }),
                  documents.end());
  return documents;
}

void add_folder(const std::string& folder, int depth, std::vector<TextDocument>& documents,
                std::vector<std::string>& others) {
  if (const auto job = job::job_file_in(folder)) {
    for (TextDocument& one : documents_of_job(folder, *job)) documents.push_back(std::move(one));
    return;
  }
  std::map<std::string, std::pair<Kind, std::string>> best;  // by stem
  for (const std::string& path : files_in(folder)) {
    const Kind kind = kind_of(path);
    const std::string ending = ending_of(path);
    if (kind == Kind::kNone) {
      if (ending == ".xml" || ending == ".html") others.push_back(path);
      continue;
    }
    auto& held = best[stem_of(path)];
    if (kind > held.first) held = {kind, path};
  }
  TextDocument pages{folder, fs::path(folder).filename().string(), {}, {}};
  for (const auto& [stem, found] : best) {
    if (found.first == Kind::kPage)
      pages.files.push_back({found.second, "", 0});
    else
      documents.push_back({found.second, stem, {}, {with_pdf_beside(found.second)}});
  }
  if (!pages.files.empty()) documents.push_back(std::move(pages));
  if (depth >= kDeepest) return;
  std::vector<std::string> inner;
  std::error_code status;
  for (fs::directory_iterator at(folder, status); !status && at != fs::directory_iterator();
       at.increment(status)) {
    std::error_code broken;
    if (at->is_directory(broken) && !at->is_symlink(broken)) inner.push_back(at->path().string());
  }
  std::sort(inner.begin(), inner.end());
  for (const std::string& one : inner) add_folder(one, depth + 1, documents, others);
}

// What an index tells of a page beside its words.
IndexedPage described(const Page& page, const std::string& file, int number,
                      const std::string& picture) {
  IndexedPage one;
  one.file = file;
  one.number_in_file = number;
  one.printed = text_of(printed_number(page));
  one.scan = scan_path(page, file, "");
  if (one.scan.empty()) one.scan = page.file;
  one.scan_page = page.number;
  one.part = page.part;
  one.width = page.width;
  one.height = page.height;
  one.dpi = page.dpi;
  std::error_code status;
  if (!picture.empty() && fs::exists(picture, status)) one.picture = picture;
  return one;
}

std::vector<Page> pages_of_pdf(const std::string& path) {
  const int count = ScanFile(path, {}).page_count();
  std::vector<Page> pages;
  for (int first = 1; first <= count; first += kPdfPagesAtOnce) {
    for (const PdfWords& words :
         pdf_words(path, first, std::min(count, first + kPdfPagesAtOnce - 1))) {
      pages.push_back(page_of_words(words, kPdfDpi));
      pages.back().file = path;
      pages.back().number = static_cast<int>(pages.size());
    }
  }
  return pages;
}

struct ReadFile {
  job::FileStamp stamp;
  std::vector<Page> pages;
  std::vector<IndexedPage> described;
  std::optional<Problem> problem;
};

ReadFile read_text_file(const std::string& path) {
  ReadFile read;
  // Taken before the reading: what changes meanwhile is read again the next time.
  read.stamp = job::stamp_of(path);
  try {
    std::string picture;
    switch (kind_of(path)) {
      case Kind::kPdf:
        read.pages = pages_of_pdf(path);
        break;
      case Kind::kHocr:
        read.pages = read_hocr_file(path);
        break;
      case Kind::kAlto:
        read.pages = read_alto_file(path);
        break;
      default: {
        PageFile file = read_page_file(path, false);
        if (!file.image_name.empty()) picture = picture_path(file, "");
        read.pages = std::move(file.pages);
      }
    }
    for (const Page& page : read.pages)
      read.described.push_back(
          described(page, path, static_cast<int>(read.described.size()) + 1, picture));
  } catch (const std::exception& cause) {
    read.pages.clear();
    read.described.clear();
    read.problem = problem_of(cause);
  }
  return read;
}

}  // namespace

bool is_job(const std::string& folder) {
  std::error_code status;
  return fs::exists(fs::path(folder) / "job.json", status);
}

std::string index_of_job(const std::string& folder) {
  return (fs::path(folder) / kIndexOfJob).string();
}

std::vector<TextDocument> documents_at(const std::string& path, std::vector<std::string>& others) {
  const std::string whole = absolute(path);
  std::error_code status;
  std::vector<TextDocument> documents;
  if (fs::is_directory(whole, status)) {
    add_folder(whole, 0, documents, others);
    return documents;
  }
  if (!fs::exists(whole, status)) throw InputError(path + ": is not there");
  if (kind_of(whole) == Kind::kNone)
    throw InputError(path +
                     ": holds no read pages; PAGE XML, ALTO, hOCR, a PDF with text, a job, a "
                     "folder of them or an index is wanted");
  documents.push_back({whole, stem_of(whole), {}, {with_pdf_beside(whole)}});
  if (kind_of(whole) == Kind::kPage) documents.back().files.front().pdf.clear();
  return documents;
}

void without_doubles(std::vector<TextDocument>& documents) {
  std::set<std::string> met;
  std::vector<TextDocument> kept;
  for (TextDocument& document : documents) {
    auto& files = document.files;
    files.erase(std::remove_if(files.begin(), files.end(),
                               [&](const TextFile& file) { return !met.insert(file.path).second; }),
                files.end());
    if (!files.empty()) kept.push_back(std::move(document));
  }
  documents = std::move(kept);
}

namespace {

// Whether the index has these documents, so named and in this order.
bool same_documents(const std::vector<IndexedDocument>& known,
                    const std::vector<TextDocument>& documents) {
  return std::equal(known.begin(), known.end(), documents.begin(), documents.end(),
                    [](const IndexedDocument& a, const TextDocument& b) {
                      return a.key == b.key && a.name == b.name && a.fields == b.fields;
                    });
}

// Reads files side by side and puts them into the index in their order.
void read_into(Index& index, const std::vector<std::string>& files, Progress& progress,
               UpdateReport& report) {
  int done = 0;
  in_order(
      static_cast<int>(files.size()),
      [&](int i) {
        return progress.cancelled() ? ReadFile() : read_text_file(files[static_cast<size_t>(i)]);
      },
      [&](const ReadFile& read) {
        const std::string& path = files[static_cast<size_t>(done++)];
        if (progress.cancelled()) return;
        if (read.problem) {
          report.problems.push_back(*read.problem);
          index.remove(path);
          return;
        }
        std::vector<std::pair<IndexedPage, const Page*>> pages;
        for (size_t k = 0; k < read.pages.size(); ++k)
          pages.emplace_back(read.described[k], &read.pages[k]);
        index.replace(path, read.stamp, pages);
        ++report.read;
        progress.advance("files indexed", done, static_cast<double>(files.size()));
      });
}

}  // namespace

UpdateReport update(Index& index, const std::vector<TextDocument>& found, Progress& progress) {
  UpdateReport report;
  // What has no page is no document: an index that is up to date does not know it either.
  std::vector<TextDocument> documents;
  for (const TextDocument& one : found)
    if (!one.files.empty()) documents.push_back(one);
  const auto known = index.files();
  const std::vector<IndexedDocument> known_documents = index.documents();
  std::vector<std::string> to_read;
  bool moved = !same_documents(known_documents, documents);
  std::set<std::string> there;
  for (size_t d = 0; d < documents.size(); ++d) {
    int position = 0;
    for (const TextFile& file : documents[d].files) {
      ++report.files;
      there.insert(file.path);
      const auto before = known.find(file.path);
      if (before == known.end() || !(before->second.stamp == job::stamp_of(file.path)))
        to_read.push_back(file.path);
      else if (!moved)
        moved = !(before->second.standing ==
                  Index::Standing{known_documents[d].id, position, file.pdf, file.first_pdf_page});
      ++position;
    }
  }
  std::vector<std::string> gone;
  for (const auto& [path, one] : known)
    if (there.count(path) == 0) gone.push_back(path);
  if (to_read.empty() && gone.empty() && !moved) return report;

  index.begin();
  for (const std::string& path : gone) index.remove(path);
  report.removed = static_cast<int>(gone.size());
  read_into(index, to_read, progress, report);
  int place = 0;
  for (const TextDocument& document : documents) {
    const int64_t id = index.document(document.key, document.name, document.fields, place++);
    int position = 0;
    for (const TextFile& file : document.files)
      index.place(file.path, {id, position++, file.pdf, file.first_pdf_page});
  }
  index.tidy();
  index.commit();
  return report;
}

namespace {

// Says what is wrong, and nothing of the progress.
class WithoutProgress : public Progress {
 public:
  explicit WithoutProgress(Progress& told) : told_(told) {}
  void advance(const std::string&, double, double) override {}
  void warn(const std::string& message) override { told_.warn(message); }
  void say(const std::string& message) override { told_.say(message); }
  bool cancelled() const override { return told_.cancelled(); }

 private:
  Progress& told_;
};

}  // namespace

void refresh_index_of_job(const std::string& folder, Progress& progress) {
  if (!is_job(folder)) return;
  try {
    std::vector<std::string> others;
    const auto documents = documents_at(folder, others);
    Index index(index_of_job(folder), Database::Use::kWrite);
    WithoutProgress quiet(progress);
    update(index, documents, quiet);
  } catch (const Error& cause) {
    progress.say(std::string(cause.what()) + "; `burnisher find` will take longer");
  }
}

}  // namespace burnisher::find
