// The documents of a service, each in a folder of its own below the store: what came in, its job,
// what was made of it, and a record (document.json) that survives a restart. Names from outside
// are kept as text and never become paths.
#pragma once

#include <condition_variable>
#include <functional>
#include <map>
#include <mutex>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace burnisher::service {

enum class DocumentState {
  kWaiting,  // to be read
  kWorking,
  kHeld,  // read; waits for a person
  kDone,
  kFailed
};
std::string name_of(DocumentState state);

struct StoredDocument {
  std::string id;       // 32 hexadecimal digits
  std::string owner;    // name of the token that it came with; "": nobody needs one
  std::string created;  // UTC, ISO 8601
  DocumentState state = DocumentState::kWaiting;
  std::vector<std::string> names;     // of the files, as they were given
  std::vector<std::string> files;     // as they lie in `in/`
  std::vector<std::string> settings;  // options of `run`, as arguments
  int pages = 0;                      // that came in; read, when it is done
  double seconds = 0;
  std::string why;  // it failed
  std::vector<std::string> problems, look;
  std::vector<std::string> held;  // why it waits for a person, or did
  std::string keep;               // what it was cut down to, see run/kept_places.h; "": nothing
};

// One file that comes in.
struct Upload {
  std::string name, type;  // as told; may be anything
  std::string bytes;
};

class Store {
 public:
  // Makes the folder; takes up what is in it. Throws OutputError.
  explicit Store(const std::string& folder);

  // Throws InputError for what has no bytes or is no scan by its content, FormatError for a broken
  // one or one of more pages (0: any), OutputError when it cannot be written.
  StoredDocument add(const std::vector<Upload>& uploads, const std::string& owner,
                     const std::vector<std::string>& settings, int most_pages);
  // Nothing where there is none, or it is somebody else's.
  std::optional<StoredDocument> find(const std::string& id, const std::string& owner) const;
  std::vector<StoredDocument> of(const std::string& owner) const;
  // Those that wait for a person, whosever they are.
  std::vector<StoredDocument> held() const;
  std::optional<StoredDocument> find_held(const std::string& id) const;
  // False: there is none.
  bool remove(const std::string& id, const std::string& owner);

  // The next that waits, which is at work then; nothing when `ended` says so. Blocks.
  std::optional<StoredDocument> next(const std::function<bool()>& ended);
  void put(const StoredDocument& document);
  // Somebody took it away meanwhile.
  bool gone(const std::string& id) const;
  // After the work on one that is gone.
  void sweep(const std::string& id);
  void wake() { changed_.notify_all(); }

  size_t count(DocumentState state) const;
  std::string folder_of(const std::string& id) const;

 private:
  // By when they came.
  std::vector<StoredDocument> those(const std::function<bool(const StoredDocument&)>& wanted) const;
  void write(const StoredDocument& document) const;

  std::string folder_;
  mutable std::mutex guard_;
  std::condition_variable changed_;
  std::map<std::string, StoredDocument> documents_;
  std::set<std::string> working_;  // folders that a process is at work in
};

// Random, of so many hexadecimal digits; from the system.
std::string random_name(int digits);

}  // namespace burnisher::service
