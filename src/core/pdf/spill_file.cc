#include "pdf/spill_file.h"

#include <zlib.h>

#include "base/error.h"

#include <qpdf/Pipeline.hh>

namespace burnisher::pdf {
namespace {

// Gives qpdf the bytes when it writes them.
class Waiting : public QPDFObjectHandle::StreamDataProvider {
 public:
  Waiting(std::FILE* file, long at, size_t size) : file_(file), at_(at), size_(size) {}

  void provideStreamData(QPDFObjGen const&, Pipeline* to) override {
    std::vector<uint8_t> bytes(size_);
    if (std::fseek(file_, at_, SEEK_SET) != 0 ||
        std::fread(bytes.data(), 1, size_, file_) != size_) {
      throw OutputError(
          "the page pictures set aside for the PDF cannot be read again; is the disk full?");
    }
    to->write(bytes.data(), bytes.size());
    to->finish();
  }

 private:
  std::FILE* file_;
  long at_;
  size_t size_;
};

}  // namespace

void SpillFile::put(QPDFObjectHandle stream, const std::vector<uint8_t>& bytes,
                    QPDFObjectHandle filter, QPDFObjectHandle parameters) {
  std::FILE* file = file_.stream();
  std::fseek(file, 0, SEEK_END);
  const long at = std::ftell(file);
  file_.write({reinterpret_cast<const char*>(bytes.data()), bytes.size()});
  stream.replaceStreamData(std::make_shared<Waiting>(file, at, bytes.size()), filter, parameters);
}

void SpillFile::put_content(QPDFObjectHandle stream, const std::string& content) {
  uLongf size = compressBound(content.size());
  std::vector<uint8_t> bytes(size);
  if (compress2(bytes.data(), &size, reinterpret_cast<const Bytef*>(content.data()), content.size(),
                Z_BEST_COMPRESSION) != Z_OK)
    throw OutputError("a page's text could not be deflated; is memory short?");
  bytes.resize(size);
  put(stream, bytes, QPDFObjectHandle::newName("/FlateDecode"), QPDFObjectHandle::newNull());
}

}  // namespace burnisher::pdf
