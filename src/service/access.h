// Who may ask: tokens, by the names of those who have them.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace burnisher::service {

class Access {
 public:
  // Without tokens everybody is "".
  Access() = default;
  // A file with a name and a token a line, and the word "reviewer" for who goes through what waits
  // for a person; # begins a comment. Throws InputError/FormatError, also
  // for tokens of fewer than 16 characters, and for a file that others than its owner may read.
  static Access read(const std::string& path);

  bool asked_for() const { return !tokens_.empty(); }
  // The name of who sent this "Authorization" header; nothing for a wrong token. All tokens are
  // compared whole, however early they differ.
  std::optional<std::string> who(const std::string& header) const;
  // Whether this name sees what waits for a person, whosever it is.
  bool reviews(const std::string& name) const;

 private:
  struct Token {
    std::string name, text;
    bool reviewer = false;
  };
  std::vector<Token> tokens_;
};

// Whether an address reaches no further than this machine.
bool is_loopback(const std::string& host);

}  // namespace burnisher::service
