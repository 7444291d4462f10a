// The one family of exceptions of the core. Every message says what, where and what to do.
#pragma once

#include <stdexcept>
#include <string>

namespace burnisher {

enum class ErrorKind {
  kInput,     // a file is missing, unreadable, empty, or not what it claims to be
  kFormat,    // a file of a known kind breaks its own rules (cut short, corrupt, over a limit)
  kSettings,  // an option or a settings value makes no sense
  kOutput,    // a result could not be written
};

class Error : public std::runtime_error {
 public:
  Error(ErrorKind kind, const std::string& message) : std::runtime_error(message), kind_(kind) {}
  ErrorKind kind() const { return kind_; }

 private:
  ErrorKind kind_;
};

struct InputError : Error {
  explicit InputError(const std::string& message) : Error(ErrorKind::kInput, message) {}
};
struct FormatError : Error {
  explicit FormatError(const std::string& message) : Error(ErrorKind::kFormat, message) {}
};
struct SettingsError : Error {
  explicit SettingsError(const std::string& message) : Error(ErrorKind::kSettings, message) {}
};
struct OutputError : Error {
  explicit OutputError(const std::string& message) : Error(ErrorKind::kOutput, message) {}
};

}  // namespace burnisher
