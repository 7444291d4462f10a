// The pictures of pages as objects of a PDF: images in the bytes they have, ink coded together with
// that of neighbouring pages. Bytes wait in a file until the PDF is written.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "pdf/picture.h"
#include "pdf/spill_file.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>

namespace burnisher::pdf {

class PictureObjects {
 public:
  // Both have to outlive the objects.
  PictureObjects(QPDF& pdf, SpillFile& aside) : pdf_(pdf), aside_(aside) {}

  // Operators that draw the picture over a sheet of `w` x `h` points, turned counter-clockwise by
  // `turn` degrees; the images they name go into `objects`.
  std::string drawn(const PagePicture& picture, double w, double h, int turn,
                    QPDFObjectHandle objects);
  // An image on its own, as thumbnails are.
  QPDFObjectHandle coded(const CodedImage& image);

  // Codes the ink that waits once there is enough to share shapes, or now.
  void code_ink_when_enough();
  void code_ink();

  size_t picture_bytes() const { return picture_bytes_; }
  size_t ink_bytes() const { return ink_bytes_; }

 private:
  // Ink that waits to be coded with that of its neighbours.
  struct WaitingInk {
    std::shared_ptr<const Bitonal> ink;
    QPDFObjectHandle stream;
  };

  QPDFObjectHandle image(int width, int height);
  void put(QPDFObjectHandle stream, const CodedImage& image);
  // The stream of `globals`, the same for all pages that have the same.
  QPDFObjectHandle shared(const std::vector<uint8_t>& globals);
  // `stencil`: paints with a colour where there is ink, and nothing elsewhere.
  QPDFObjectHandle ink_image(const std::shared_ptr<const Bitonal>& ink, bool stencil);

  QPDF& pdf_;
  SpillFile& aside_;
  std::vector<WaitingInk> waiting_;
  std::map<std::vector<uint8_t>, QPDFObjectHandle> shared_by_pages_;  // of sources' JBIG2
  size_t picture_bytes_ = 0, ink_bytes_ = 0;
};

}  // namespace burnisher::pdf
