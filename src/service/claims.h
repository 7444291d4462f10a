// Who has which document open: several people go through those that wait, each has one of their
// own. A claim lapses when the browser that has it is not heard of any more.
#pragma once

#include <chrono>
#include <functional>
#include <map>
#include <mutex>
#include <optional>
#include <string>

namespace burnisher::service {

class Claims {
 public:
  using Clock = std::chrono::steady_clock;
  static constexpr std::chrono::seconds kLapse{60};  // browsers are heard of every 15 s

  explicit Claims(std::function<Clock::time_point()> now = [] { return Clock::now(); })
      : now_(std::move(now)) {}

  // A secret for who claims the document; nothing when somebody else has it. With the secret of the
  // claim that is there, that one holds on, and after a lapse or a restart it is taken up again.
  std::optional<std::string> claim(const std::string& id, const std::string& name,
                                   const std::string& secret);
  // Whether this secret is that of the claim on the document, and it holds.
  bool holds(const std::string& id, const std::string& secret) const;
  // Who has it open; nothing: nobody.
  std::optional<std::string> holder(const std::string& id) const;
  void release(const std::string& id, const std::string& secret);
  // Whatever claim there is; the document waits no more.
  void drop(const std::string& id);

 private:
  struct Claim {
    std::string name, secret;
    Clock::time_point until;
  };
  const Claim* held(const std::string& id) const;

  std::function<Clock::time_point()> now_;
  mutable std::mutex guard_;
  std::map<std::string, Claim> claims_;
};

}  // namespace burnisher::service
