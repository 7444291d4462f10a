// Which files a person means by a path.
#pragma once

#include <string>
#include <vector>

namespace burnisher {

// A file named, or those in a folder named (sorted by name, kinds known by their endings, not
// looked into). Throws InputError for what is not there, cannot be listed or holds none.
std::vector<std::string> collect_inputs(const std::string& path);

// The files of a folder, sorted by name. Throws InputError when it cannot be listed.
std::vector<std::string> files_in(const std::string& folder);

}  // namespace burnisher
