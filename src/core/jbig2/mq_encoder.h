// The adaptive binary arithmetic coder of JBIG2 (ITU-T T.88, annex E), writing side, and the
// integers coded with it (annex A).
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace burnisher::jbig2 {

// What the coder has learnt in one context: the state's number, doubled, plus the likelier bit.
using Context = uint8_t;

class MqEncoder {
 public:
  MqEncoder() { bytes_.push_back(0); }  // a byte to carry into; never written out

  void encode(Context& context, int bit);
  // `count` times the bit 0 in one context.
  void encode_zeros(Context& context, long count);
  // All bytes with the end mark; the encoder is used up.
  std::vector<uint8_t> finish();

 private:
  void renormalise();
  void byte_out();

  uint32_t interval_ = 0x8000, code_ = 0;
  int room_ = 12;  // shifts until a byte is complete
  std::vector<uint8_t> bytes_;
};

// One of the integer coding procedures (IADT, IAFS, ...): a context for each prefix.
class IntegerContexts {
 public:
  void encode(MqEncoder& coder, int value);
  void encode_end(MqEncoder& coder);  // the value "out of band"

 private:
  void bit(MqEncoder& coder, int value);
  void bits(MqEncoder& coder, uint32_t value, int count);

  std::array<Context, 512> contexts_{};
  uint32_t prefix_ = 1;
};

// Symbol numbers of a fixed length (IAID).
class NumberContexts {
 public:
  explicit NumberContexts(int length) : length_(length), contexts_(size_t{1} << length) {}
  void encode(MqEncoder& coder, uint32_t value);

 private:
  int length_;
  std::vector<Context> contexts_;
};

}  // namespace burnisher::jbig2
