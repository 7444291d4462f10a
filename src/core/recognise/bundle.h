// A bundle is what belongs together to read a script: the network with its alphabet, the spelling
// of its languages, and what it is known to mix up. On disk a table of names (JSON) beside the
// files it names, as in models/cyrillic.bundle.json:
//
//   {"format": "burnisher-bundle-1", "name": "cyrillic", "scripts": ["Cyrl"],
//    "network": "cyrillic.safetensors", "languages": ["ru", "uk"],
//    "confusions": "cyrillic.confusions.json"}
//
// The spelling of language TAG is languages/TAG.glyphs; "confusions" may be missing. A bundle that
// was taught goes on from another, whose spelling it has: "taught_from": "cyrillic". It may be of a
// script that no shipped bundle reads.
#pragma once

#include <map>
#include <string>
#include <vector>

namespace burnisher::recognise {

struct Bundle {
  std::string name;
  std::vector<std::string> scripts;             // ISO 15924
  std::string network;                          // model file
  std::map<std::string, std::string> spelling;  // files by language (BCP 47); those that exist
  std::string confusions;                       // file; "": none
  std::string taught_from;  // name of the bundle whose spelling it has; "": its own

  bool reads(const std::string& script) const;
};

// A bundle's table, or a model file alone, which makes a bundle of the script that most of its
// alphabet's letters are of; its spelling is what the folder "languages" beside it holds for that
// script. Throws InputError/FormatError.
Bundle read_bundle(const std::string& path);

// FOLDER/NAME.bundle.json of a bundle that was taught; its network is FOLDER/NAME.safetensors.
void write_taught_bundle(const std::string& folder, const Bundle& bundle);

// The bundles of a folder, that of the Latin script first, then by name. Throws FormatError for a
// broken table.
std::vector<Bundle> bundles_in(const std::string& folder);

}  // namespace burnisher::recognise
