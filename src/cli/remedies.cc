#include "cli/remedies.h"

namespace burnisher::cli {
namespace {

const char* remedy_of(ErrorCode code) {
  switch (code) {
    case ErrorCode::kTargetExists:
      return "--overwrite replaces it";
    case ErrorCode::kTooManyPixels:
      return "--max-pixels raises the limit";
    case ErrorCode::kPasswordWanted:
      return "--password-file gives the password";
    case ErrorCode::kHasText:
      return "--existing-text keep takes it as it is, replace reads the page anew";
    case ErrorCode::kSigned:
      return "--face cleaned makes new pages; or write text alone";
    case ErrorCode::kScanMissing:
      return "--images names the folder it is in";
    case ErrorCode::kOther:
      break;
  }
  return "";
}

}  // namespace

std::string told(const Problem& problem) {
  const std::string remedy = remedy_of(problem.code);
  return remedy.empty() ? problem.what : problem.what + " (" + remedy + ")";
}

std::string told(const std::exception& cause) {
  const auto* setting = dynamic_cast<const SettingsError*>(&cause);
  const std::string option =
      setting == nullptr || setting->setting().empty() ? "" : "--" + setting->setting() + " ";
  return option + told(problem_of(cause));
}

}  // namespace burnisher::cli
