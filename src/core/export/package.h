// A zip archive whose first entry tells what it is (EPUB OCF 3.3, 4.2.2; ODF 1.3 part 2, 3.3): the
// same content gives the same bytes.
#pragma once

#include <string>
#include <vector>

namespace burnisher::exporting {

class Package {
 public:
  // `kind`: the media type, kept uncompressed in the entry "mimetype".
  explicit Package(const std::string& kind);

  void add(const std::string& name, std::string content);
  // Pictures, which are compressed already.
  void add_as_it_is(const std::string& name, std::string content);
  // The archive's bytes. Throws OutputError.
  std::string bytes() const;

 private:
  struct Entry {
    std::string name, content;
    bool stored;
  };
  std::vector<Entry> entries_;
};

}  // namespace burnisher::exporting
