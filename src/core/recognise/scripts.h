// The scripts that can be read: for each its ISO 15924 code, its direction, and the alphabet of a
// network that reads it. Every alphabet holds ASCII and common signs too, so that figures and Latin
// words inside a line need no other network.
#pragma once

#include <string>
#include <vector>

#include "recognise/strip.h"

namespace burnisher::recognise {

struct Script {
  std::string code;  // ISO 15924
  std::string name;
  bool right_to_left = false;
  std::string listed;  // its characters, where they are few
  std::string digits;  // its own ten digits from 0 on; "": only 0-9
  std::string points;  // marks that are mostly left out in print: Hebrew points, harakat
  // Of the networks that are trained for it: joined and stacked letters are seen larger, so that
  // each has frames of its own.
  StripFrame frame;
  // Its characters are thousands, each in a square of one size, twice the x-height of its frame.
  std::string (*squares)() = nullptr;
  bool spaced = true;  // words are kept apart

  // UTF-8, NFC, each once.
  std::string characters() const { return squares != nullptr ? squares() : listed; }
};

const std::vector<Script>& scripts();
// Throws SettingsError that names the known ones.
const Script& script_named(const std::string& code);

}  // namespace burnisher::recognise
