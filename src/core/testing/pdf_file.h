// PDFs made and changed object by object, for tests of those who read them.
#pragma once

#include <functional>
#include <string>

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFWriter.hh>

namespace burnisher::testing {

inline void save_pdf(QPDF& pdf, const std::string& path) {
  QPDFWriter writer(pdf, path.c_str());
  writer.setStaticID(true);
  writer.setStreamDataMode(qpdf_s_preserve);
  writer.setObjectStreamMode(qpdf_o_disable);
  writer.write();
}

// `to`: `from` after `change`.
inline void changed_pdf(const std::string& from, const std::string& to,
                        const std::function<void(QPDF&)>& change) {
  QPDF pdf;
  pdf.processFile(from.c_str());
  change(pdf);
  save_pdf(pdf, to);
}

inline QPDFObjectHandle parsed(const std::string& text) {
  return QPDFObjectHandle::parse(text);
}

// A stream with a dictionary as it is written in PDFs.
inline QPDFObjectHandle stream_of(QPDF& pdf, const std::string& dictionary,
                                  const std::string& data) {
  auto stream = QPDFObjectHandle::newStream(&pdf, data);
  stream.replaceDict(parsed(dictionary));
  stream.replaceStreamData(data, stream.getDict().getKey("/Filter"),
                           stream.getDict().getKey("/DecodeParms"));
  return stream;
}

}  // namespace burnisher::testing
