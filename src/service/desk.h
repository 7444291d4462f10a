// What a flow keeps of every document it took, so that a restart at any moment neither loses one
// nor does it twice: a record beside the document's job, in the folder `in-work` of the place
// of delivery.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace burnisher::service {

enum class Stage {
  kWorking,     // its job is being read
  kDelivering,  // its documents are made and go to their place
  kWaiting,     // for a person
  kDone,        // delivered; what becomes of the original may be left to do
  kFailed,
};

struct DocumentRecord {
  std::string name;       // of the document, unique within the flow
  std::string source;     // file or folder it came as
  std::string signature;  // of that, see Inbox::signature
  Stage stage = Stage::kWorking;
  std::vector<std::string> files;  // names of the documents made, as in box3.pdf
  std::string why;                 // it waits or failed
  bool original_gone = false;      // moved or deleted as wished
};

class Desk {
 public:
  // Makes the folder; another process at work on it is refused. Throws OutputError/SettingsError.
  explicit Desk(const std::string& folder);
  ~Desk();
  Desk(const Desk&) = delete;
  Desk& operator=(const Desk&) = delete;

  std::vector<DocumentRecord> records() const;  // by name; broken ones are left out
  std::optional<DocumentRecord> record_of(const std::string& name) const;
  // Whether a source was taken as it is now.
  bool knows(const std::string& source, const std::string& signature) const;
  void put(const DocumentRecord& record);
  // With its job and what was made for it.
  void forget(const std::string& name);
  void drop_job(const std::string& name) const;

  std::string job_of(const std::string& name) const;
  std::string made_of(const std::string& name) const;  // the folder its documents are made in

 private:
  std::string path_of(const std::string& name) const;

  std::string folder_;
  int lock_ = -1;
  std::vector<DocumentRecord> held_;
};

}  // namespace burnisher::service
