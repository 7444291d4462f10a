// Names of block kinds: as Burnisher writes them in options and messages, and as PAGE XML has them.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher {

const char* name_of(BlockKind kind);
// Throws SettingsError for names that are none.
BlockKind kind_named(const std::string& name);

// Which blocks a result is to have.
struct KindChoice {
  std::vector<BlockKind> only;  // empty: all
  std::vector<BlockKind> drop;

  bool keeps(BlockKind kind) const;
  void apply(Page& page) const;
};

// The region element and its `type` attribute (empty: none) in PAGE XML 2019.
struct PageRegion {
  const char* element;
  const char* type;
};
PageRegion page_region_of(BlockKind kind);
// kText for text regions of a type without a kind of its own, kNoise for unknown elements.
BlockKind kind_of_region(const std::string& element, const std::string& type);

}  // namespace burnisher
