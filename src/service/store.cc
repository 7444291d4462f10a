#include "service/store.h"

#include <fmt/core.h>
#include <sys/random.h>

#include <algorithm>
#include <filesystem>
#include "base/json.h"

#include "base/clock.h"
#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "intake/scan_file.h"

namespace burnisher::service {

NLOHMANN_JSON_SERIALIZE_ENUM(DocumentState, {{DocumentState::kWaiting, "waiting"},
                                             {DocumentState::kWorking, "working"},
                                             {DocumentState::kHeld, "held"},
                                             {DocumentState::kDone, "done"},
                                             {DocumentState::kFailed, "failed"}})
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(StoredDocument, id, owner, created, state, names,
                                                files, settings, pages, seconds, why, problems,
                                                look, held, keep)

namespace {

namespace fs = std::filesystem;

constexpr size_t kLongestName = 200;  // characters of a file's name that are kept
constexpr auto kLook = std::chrono::milliseconds(300);
bool is_id(const std::string& id) {
  return id.size() == 32 && std::all_of(id.begin(), id.end(), [](char c) {
           return (c >= '0' && c <= '9') || (c >= 'a' && c <= 'f');
         });
}

// What a file is, by its content alone; its name from outside says nothing.
const char* ending_of(FileKind kind) {
  switch (kind) {
    case FileKind::kPng:
      return ".png";
    case FileKind::kJpeg:
      return ".jpg";
    case FileKind::kJpeg2000:
      return ".jp2";
    case FileKind::kTiff:
      return ".tif";
    case FileKind::kPnm:
      return ".pnm";
    case FileKind::kPdf:
      return ".pdf";
  }
  return "";
}

}  // namespace

std::string name_of(DocumentState state) {
  return nlohmann::json(state).get<std::string>();
}

std::string random_name(int digits) {
  std::string name;
  std::vector<unsigned char> bytes(static_cast<size_t>((digits + 1) / 2));
  if (getrandom(bytes.data(), bytes.size(), 0) != static_cast<ssize_t>(bytes.size()))
    throw OutputError("the system gives no random numbers");
  for (const unsigned char byte : bytes) name += fmt::format("{:02x}", byte);
  name.resize(static_cast<size_t>(digits));
  return name;
}

Store::Store(const std::string& folder) : folder_(folder) {
  std::error_code status;
  fs::create_directories(folder, status);
  if (status) throw OutputError(folder + ": cannot be made: " + status.message());
  for (const auto& entry : fs::directory_iterator(folder)) {
    const std::string id = entry.path().filename();
    if (!is_id(id)) continue;
    try {
      auto one =
          parse_json(read_file((entry.path() / "document.json").string())).get<StoredDocument>();
      // What was at work when the service ended is gone on with.
      if (one.state == DocumentState::kWorking) one.state = DocumentState::kWaiting;
      documents_[id] = std::move(one);
    } catch (const std::exception&) {
      // It never was answered for: the record is the last thing written before the answer.
      fs::remove_all(entry.path(), status);
    }
  }
}

std::string Store::folder_of(const std::string& id) const {
  return (fs::path(folder_) / id).string();
}

void Store::write(const StoredDocument& one) const {
  write_file((fs::path(folder_of(one.id)) / "document.json").string(),
             json_text(nlohmann::json(one), 1) + "\n");
}

StoredDocument Store::add(const std::vector<Upload>& uploads, const std::string& owner,
                          const std::vector<std::string>& settings, int most_pages) {
  StoredDocument one;
  one.id = random_name(32);
  one.owner = owner;
  one.created = utc_now();
  one.settings = settings;
  const fs::path in = fs::path(folder_of(one.id)) / "in";
  std::error_code status;
  fs::create_directories(in, status);
  if (status) throw OutputError(std::string("the store takes nothing: ") + status.message());
  try {
    for (const Upload& upload : uploads) {
      std::string name = sound_utf8(upload.name).substr(0, kLongestName);
      one.names.push_back(sound_utf8(name));
      const ScanFile scan(Source(one.names.back(), {upload.bytes.begin(), upload.bytes.end()}), {});
      one.pages += scan.page_count();
      if (most_pages > 0 && one.pages > most_pages)
        throw FormatError(fmt::format("has more than {} pages", most_pages));
      one.files.push_back(fmt::format("{:04}{}", one.files.size() + 1, ending_of(scan.kind())));
      write_file((in / one.files.back()).string(), upload.bytes);
    }
    if (one.files.empty()) throw InputError("no file came with it");
    write(one);
  } catch (...) {  // whatever it was, nothing of it stays
    fs::remove_all(folder_of(one.id), status);
    throw;
  }
  {
    const std::lock_guard<std::mutex> lock(guard_);
    documents_[one.id] = one;
  }
  changed_.notify_one();
  return one;
}

std::optional<StoredDocument> Store::find(const std::string& id, const std::string& owner) const {
  const std::lock_guard<std::mutex> lock(guard_);
  const auto found = documents_.find(id);
  if (found == documents_.end() || found->second.owner != owner) return std::nullopt;
  return found->second;
}

std::vector<StoredDocument> Store::those(
    const std::function<bool(const StoredDocument&)>& wanted) const {
  const std::lock_guard<std::mutex> lock(guard_);
  std::vector<StoredDocument> list;
  for (const auto& [id, one] : documents_)
    if (wanted(one)) list.push_back(one);
  std::stable_sort(list.begin(), list.end(),
                   [](const auto& a, const auto& b) { return a.created < b.created; });
  return list;
}

std::vector<StoredDocument> Store::of(const std::string& owner) const {
  return those([&](const StoredDocument& one) { return one.owner == owner; });
}

std::vector<StoredDocument> Store::held() const {
  return those([](const StoredDocument& one) { return one.state == DocumentState::kHeld; });
}

std::optional<StoredDocument> Store::find_held(const std::string& id) const {
  const std::lock_guard<std::mutex> lock(guard_);
  const auto found = documents_.find(id);
  if (found == documents_.end() || found->second.state != DocumentState::kHeld) return std::nullopt;
  return found->second;
}

bool Store::remove(const std::string& id, const std::string& owner) {
  std::error_code status;
  const std::lock_guard<std::mutex> lock(guard_);
  const auto found = documents_.find(id);
  if (found == documents_.end() || found->second.owner != owner) return false;
  documents_.erase(found);
  // A restart must not find it again, though a process may still be at work in its folder.
  fs::remove(fs::path(folder_of(id)) / "document.json", status);
  if (working_.count(id) == 0) fs::remove_all(folder_of(id), status);
  return true;
}

std::optional<StoredDocument> Store::next(const std::function<bool()>& ended) {
  std::unique_lock<std::mutex> lock(guard_);
  while (!ended()) {
    StoredDocument* oldest = nullptr;
    for (auto& [id, one] : documents_)
      if (one.state == DocumentState::kWaiting && (!oldest || one.created < oldest->created))
        oldest = &one;
    if (oldest != nullptr) {
      oldest->state = DocumentState::kWorking;
      working_.insert(oldest->id);
      write(*oldest);
      return *oldest;
    }
    changed_.wait_for(lock, kLook);
  }
  return std::nullopt;
}

void Store::put(const StoredDocument& document) {
  const std::lock_guard<std::mutex> lock(guard_);
  const auto found = documents_.find(document.id);
  if (found == documents_.end()) return;
  found->second = document;
  write(document);
}

bool Store::gone(const std::string& id) const {
  const std::lock_guard<std::mutex> lock(guard_);
  return documents_.count(id) == 0;
}

void Store::sweep(const std::string& id) {
  std::error_code status;
  const std::lock_guard<std::mutex> lock(guard_);
  working_.erase(id);
  if (documents_.count(id) == 0) fs::remove_all(folder_of(id), status);
}

size_t Store::count(DocumentState state) const {
  const std::lock_guard<std::mutex> lock(guard_);
  return static_cast<size_t>(
      std::count_if(documents_.begin(), documents_.end(),
                    [&](const auto& one) { return one.second.state == state; }));
}

}  // namespace burnisher::service
