// One watched folder: what is dropped into it becomes documents at its place of delivery.
//
// A document goes through stages that are put down before they are acted on (service/desk.h):
// its job is read and its documents are made in the folder `in-work`, by a process of its
// own, so that one that crashes costs that document alone; then they are moved to their place in
// one step each, or to `waiting/` with a proof sheet where a person is to look; at last the
// original is kept, moved or deleted.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "base/process.h"
#include "service/desk.h"
#include "service/inbox.h"

namespace burnisher::service {

enum class Originals { kKeep, kMove, kDelete };

struct FlowSettings {
  std::string name;                  // in messages
  std::string in, out;               // folders
  std::vector<std::string> kinds;    // endings of the documents wanted, as in .pdf
  std::string kinds_named;           // the same as --to has them
  bool splits = false;               // one scan may become many documents
  std::vector<std::string> options;  // of `burnisher run`, as arguments
  Originals originals = Originals::kKeep;
  double settle = 3;        // seconds, see Inbox
  double most_seconds = 0;  // that one document may take; 0: any
};

// Something that happened, for the log.
struct Event {
  std::string flow, document, what;  // taken, delivered, waits, failed, decided...
  std::vector<std::string> files;
  std::string why;
  int pages = 0;
  double seconds = 0;
};

class Flow {
 public:
  // `program`: the path of burnisher. Throws InputError/OutputError/SettingsError.
  Flow(const FlowSettings& settings, const std::string& program,
       std::function<void(const Event&)> tell, std::function<bool()> cancelled);

  // Goes on with what was begun before, takes what is complete, looks for decisions. Returns how
  // many documents it did something for.
  int round();
  // Whether something is there that is not complete yet.
  bool unsettled() const { return inbox_.unsettled() > 0; }
  void wait(double seconds) { inbox_.wait(seconds); }
  int failed() const { return failed_; }
  int waiting() const;

 private:
  void go_on(DocumentRecord record);
  void read(DocumentRecord& record);
  void deliver(DocumentRecord& record);
  void set_waiting(DocumentRecord& record);
  void be_gone(DocumentRecord& record);
  void fail(DocumentRecord& record, const std::string& why);
  void put_original_away(DocumentRecord& record);
  bool look_for_decisions(DocumentRecord& record);
  std::string free_name(const std::string& source) const;
  std::string place(const std::string& folder, const std::string& file) const;
  // Where documents are to be made, as arguments of `run`.
  std::vector<std::string> targets(const DocumentRecord& record) const;
  ProcessResult program(const std::vector<std::string>& arguments) const;
  void tell(const DocumentRecord& record, const std::string& what, const std::string& why = "",
            int pages = 0, double seconds = 0) const;

  FlowSettings settings_;
  std::string program_;
  std::function<void(const Event&)> tell_;
  std::function<bool()> cancelled_;
  Desk desk_;
  Inbox inbox_;
  int failed_ = 0;
};

}  // namespace burnisher::service
