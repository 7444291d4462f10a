#include "service/claims.h"

#include "service/store.h"

namespace burnisher::service {

constexpr int kSecretDigits = 32;

const Claims::Claim* Claims::held(const std::string& id) const {
  const auto found = claims_.find(id);
  return found != claims_.end() && found->second.until > now_() ? &found->second : nullptr;
}

std::optional<std::string> Claims::claim(const std::string& id, const std::string& name,
                                         const std::string& secret) {
  const std::lock_guard<std::mutex> lock(guard_);
  const Claim* there = held(id);
  if (there != nullptr && there->secret != secret) return std::nullopt;
  const std::string kept = there != nullptr ? secret : random_name(kSecretDigits);
  claims_[id] = {name, kept, now_() + kLapse};
  return kept;
}

bool Claims::holds(const std::string& id, const std::string& secret) const {
  const std::lock_guard<std::mutex> lock(guard_);
  const Claim* there = held(id);
  return there != nullptr && there->secret == secret;
}

std::optional<std::string> Claims::holder(const std::string& id) const {
  const std::lock_guard<std::mutex> lock(guard_);
  const Claim* there = held(id);
  if (there == nullptr) return std::nullopt;
  return there->name;
}

void Claims::release(const std::string& id, const std::string& secret) {
  const std::lock_guard<std::mutex> lock(guard_);
  const Claim* there = held(id);
  if (there != nullptr && there->secret == secret) claims_.erase(id);
}

void Claims::drop(const std::string& id) {
  const std::lock_guard<std::mutex> lock(guard_);
  claims_.erase(id);
}

}  // namespace burnisher::service
