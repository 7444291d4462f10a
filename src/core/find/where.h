// Conditions on what is known of a document: its descriptive fields, its name, the place of a page.
#pragma once

#include <string>
#include <vector>

#include "find/index.h"

namespace burnisher::find {

// "date>=1890", "creator=Rask", "title~log" (has it in it); also = != < <= >. Numbers compare as
// numbers where both sides are, everything else as text, capitals and small letters alike, so that
// dates of ISO 8601 compare as they should. `document` is a document's name, `page` the place of a
// page in it.
struct Condition {
  std::string field, comparison, value;
};

// Throws SettingsError for what is none.
Condition condition_named(const std::string& text);

// Whether all conditions but those on pages hold. Of a field that is there several times one value
// is enough; one that is not there fulfils nothing but !=.
bool holds(const std::vector<Condition>& conditions, const IndexedDocument& document);
// Whether all conditions on pages hold.
bool holds_for_page(const std::vector<Condition>& conditions, int position);

}  // namespace burnisher::find
