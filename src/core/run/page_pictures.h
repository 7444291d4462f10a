// The picture a page gets in a PDF.
#pragma once

#include <memory>

#include "clean/clean.h"
#include "export/illustration.h"
#include "intake/scan_file.h"
#include "pdf/pdf.h"

namespace burnisher::run {

using SharedPicture = std::shared_ptr<const pdf::PagePicture>;

// Of a page fresh from cleaning, now with blocks and words. For faces that set type, its words get
// theirs.
SharedPicture picture_of(const ScanFile& file, const Scan& scan, clean::CleanResult& cleaned,
                         const pdf::PictureSettings& settings);
// The same of a page picture as it is kept in a job.
SharedPicture picture_of(Picture picture, Page& page, const pdf::PictureSettings& settings);
// Of the scan itself, for facsimiles.
SharedPicture picture_of(const ScanFile& file, const Scan& scan,
                         const pdf::PictureSettings& settings);

// The picture blocks of a page, for documents that hold pictures beside their text.
exporting::Illustrations illustrations_of(const Picture& picture, const Page& page,
                                          const pdf::PictureSettings& settings);

// A page on a sheet of its own, or the one or two pages of a scan on a facsimile of it.
pdf::Sheet sheet_of(const std::vector<const Page*>& pages, const SharedPicture& picture,
                    pdf::PageFace face);

}  // namespace burnisher::run
