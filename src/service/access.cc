#include "service/access.h"

#include <sys/stat.h>

#include <sstream>

#include "base/error.h"
#include "base/files.h"

namespace burnisher::service {
namespace {

constexpr size_t kShortest = 16;  // characters of a token
const std::string kScheme = "Bearer ";

// Takes the same time wherever they differ.
bool equal(const std::string& a, const std::string& b) {
  unsigned difference = static_cast<unsigned>(a.size() ^ b.size());
  for (size_t i = 0; i < a.size(); ++i)
    difference |= static_cast<unsigned char>(a[i]) ^
                  static_cast<unsigned char>(b.empty() ? 0 : b[i % b.size()]);
  return difference == 0;
}

}  // namespace

Access Access::read(const std::string& path) {
  struct stat status {};
  if (stat(path.c_str(), &status) == 0 && (status.st_mode & (S_IRGRP | S_IROTH)) != 0)
    throw InputError(path + ": others may read the tokens; `chmod 600` it");
  const auto bytes = read_file(path);
  std::istringstream lines(std::string(bytes.begin(), bytes.end()));
  Access access;
  int number = 0;
  for (std::string line; std::getline(lines, line);) {
    ++number;
    std::istringstream words(line.substr(0, line.find('#')));
    Token token;
    std::string role, more;
    if (!(words >> token.name)) continue;
    const bool has_text = static_cast<bool>(words >> token.text);
    token.reviewer = words >> role && role == "reviewer";
    if (!has_text || (!role.empty() && !token.reviewer) || words >> more ||
        token.text.size() < kShortest)
      throw FormatError(path + ", line " + std::to_string(number) +
                        ": expected a name, a token of at least 16 characters, and perhaps the "
                        "word reviewer");
    access.tokens_.push_back(token);
  }
  if (access.tokens_.empty()) throw FormatError(path + ": no token in it");
  return access;
}

std::optional<std::string> Access::who(const std::string& header) const {
  if (tokens_.empty()) return "";
  if (header.rfind(kScheme, 0) != 0) return std::nullopt;
  const std::string given = header.substr(kScheme.size());
  std::optional<std::string> name;
  for (const Token& token : tokens_)
    if (equal(given, token.text)) name = token.name;
  return name;
}

bool Access::reviews(const std::string& name) const {
  if (tokens_.empty()) return true;
  for (const Token& token : tokens_)
    if (token.name == name && token.reviewer) return true;
  return false;
}

bool is_loopback(const std::string& host) {
  return host == "localhost" || host == "::1" || host.rfind("127.", 0) == 0;
}

}  // namespace burnisher::service
