// The one family of exceptions of the core. A message says what and where; what can be done about
// it is told by the code, in the words of whoever shows the message.
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

// What is wrong, where something can be done about it by a setting.
enum class ErrorCode {
  kOther,
  kTargetExists,    // a result would replace a file
  kTooManyPixels,   // a picture is over the limit
  kPasswordWanted,  // a PDF is locked
  kHasText,         // a PDF page has real text, and the settings say to stop then
  kSigned,          // a PDF is signed; text cannot be added
  kScanMissing,     // a page's scan is not where it was
};

class Error : public std::runtime_error {
 public:
  Error(ErrorKind kind, const std::string& message, ErrorCode code = ErrorCode::kOther)
      : std::runtime_error(message), kind_(kind), code_(code) {}
  ErrorKind kind() const { return kind_; }
  ErrorCode code() const { return code_; }

 private:
  ErrorKind kind_;
  ErrorCode code_;
};

struct InputError : Error {
  explicit InputError(const std::string& message, ErrorCode code = ErrorCode::kOther)
      : Error(ErrorKind::kInput, message, code) {}
};
struct FormatError : Error {
  explicit FormatError(const std::string& message, ErrorCode code = ErrorCode::kOther)
      : Error(ErrorKind::kFormat, message, code) {}
};
struct OutputError : Error {
  explicit OutputError(const std::string& message, ErrorCode code = ErrorCode::kOther)
      : Error(ErrorKind::kOutput, message, code) {}
};

// `setting`: the name of the one that is wrong, as in "labels"; empty: several, or none by name.
class SettingsError : public Error {
 public:
  explicit SettingsError(const std::string& message) : Error(ErrorKind::kSettings, message) {}
  SettingsError(const std::string& setting, const std::string& message)
      : Error(ErrorKind::kSettings, message), setting_(setting) {}
  const std::string& setting() const { return setting_; }

 private:
  std::string setting_;
};

// What went wrong with a file or a page while others went on.
struct Problem {
  std::string what;
  ErrorCode code = ErrorCode::kOther;
};
Problem problem_of(const std::exception& cause);

}  // namespace burnisher
