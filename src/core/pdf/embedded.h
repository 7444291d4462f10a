// The picture of a scanned page inside a PDF, in its own bytes.
#pragma once

#include <optional>
#include <string>

#include "pdf/picture.h"

namespace burnisher::pdf {

// Where page `page` (from 1) is one picture upright over all of it, and text that is not seen: that
// picture, coded as it is, if it has about `width` x `height` pixels. Nothing for all other pages,
// for codings and colours that do not stand for themselves, for locked PDFs and for files that are
// none.
std::optional<CodedImage> embedded_picture(const std::string& file, int page, int width,
                                           int height);

}  // namespace burnisher::pdf
