// Bytes that wait in a file until the PDF is written, so that a document of a thousand pages needs
// no more memory than one of ten.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "base/files.h"

#include <qpdf/QPDFObjectHandle.hh>

namespace burnisher::pdf {

class SpillFile {
 public:
  // The file is never kept: it is gone with this object.
  explicit SpillFile(const std::string& path) : file_(path, true) {}

  // Gives `stream` the bytes, which are coded as `filter` says already.
  void put(QPDFObjectHandle stream, const std::vector<uint8_t>& bytes, QPDFObjectHandle filter,
           QPDFObjectHandle parameters);
  // The same for operators of page contents, deflated.
  void put_content(QPDFObjectHandle stream, const std::string& content);

 private:
  PendingFile file_;
};

}  // namespace burnisher::pdf
