// The number that is printed on a page.
#pragma once

#include <optional>
#include <string>

#include "page/page.h"

namespace burnisher {

// A printed page number, arabic or roman ("xiv").
struct PrintedNumber {
  int value = 0;
  bool roman = false;
};

// "12", "- 12 -", "[xii]", "p. 12"; nothing when the text is more than that.
std::optional<PrintedNumber> number_in_text(const std::string& text);

// The number in the page's page-number block, or at either end of its running head.
std::optional<PrintedNumber> printed_number(const Page& page);

// As it is printed: "12", "xiv"; "" for none.
std::string text_of(const std::optional<PrintedNumber>& number);

}  // namespace burnisher
