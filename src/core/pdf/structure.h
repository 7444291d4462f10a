// The tags of a PDF (ISO 32000-1, 14.7 and 14.8): what each stretch of its pages is, in the order
// it is to be read, for screen readers and for copying.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"
#include "pdf/text_layer.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>

namespace burnisher::pdf {

class Structure {
 public:
  explicit Structure(QPDF& pdf);

  // `parts` of the content of `sheet` (the page object, number `index` of the document) belong to
  // blocks of `page`. Several pages of one sheet come one after the other.
  void add(const Page& page, const std::vector<TaggedPart>& parts, QPDFObjectHandle sheet,
           int index, const SheetFrame& frame);
  // A link's element; `annotation` gets its number.
  void add_link(QPDFObjectHandle annotation, QPDFObjectHandle sheet);
  void finish(int sheets);

 private:
  QPDFObjectHandle element(const std::string& tag, QPDFObjectHandle parent);

  QPDF& pdf_;
  QPDFObjectHandle root_, document_;
  std::vector<std::vector<QPDFObjectHandle>> parents_;  // by sheet, by MCID
  std::vector<QPDFObjectHandle> links_;
};

}  // namespace burnisher::pdf
