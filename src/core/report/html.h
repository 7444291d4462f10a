// What all HTML reports share: one self-contained page that needs no network.
#pragma once

#include <string>

#include "base/markup.h"

#include "raster/image.h"

namespace burnisher::report {

// The page round `body`, with the common look and `style` added to it.
std::string html_page(const std::string& title, const std::string& style, const std::string& body);

// A path as an address: every sign but those that mean nothing there is written by its number.
std::string address_of(const std::string& path);

// JSON as it may stand in a script element: nothing in it ends the element.
std::string within_script(const std::string& json);

// An <img> with the picture inside, as PNG, or as JPEG when that is smaller by far.
std::string html_picture(const Picture& picture, const std::string& alt);

}  // namespace burnisher::report
