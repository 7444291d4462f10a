#include "pdf/blank_font.h"

#include <string>
#include <utility>

namespace burnisher::pdf {
namespace {

class Table {
 public:
  Table& u16(int v) {
    bytes_.push_back(static_cast<uint8_t>(v >> 8));
    bytes_.push_back(static_cast<uint8_t>(v));
    return *this;
  }
  Table& u32(uint32_t v) {
    return u16(static_cast<int>(v >> 16)).u16(static_cast<int>(v & 0xffff));
  }
  Table& zeros(int count) {
    bytes_.insert(bytes_.end(), static_cast<size_t>(count), 0);
    return *this;
  }
  Table& text(const std::string& s) {
    bytes_.insert(bytes_.end(), s.begin(), s.end());
    return *this;
  }
  const std::vector<uint8_t>& bytes() const { return bytes_; }

 private:
  std::vector<uint8_t> bytes_;
};

uint32_t checksum(const std::vector<uint8_t>& bytes) {
  uint32_t sum = 0;
  for (size_t i = 0; i < bytes.size(); i += 4) {
    uint32_t word = 0;
    for (size_t k = 0; k < 4; ++k) word = word << 8 | (i + k < bytes.size() ? bytes[i + k] : 0);
    sum += word;
  }
  return sum;
}

Table head_table() {
  Table t;
  t.u32(0x00010000)
      .u32(0x00010000)
      .u32(0)
      .u32(0x5F0F3CF5);                      // checkSumAdjustment is filled in later
  t.u16(0x000B).u16(kBlankUnits).zeros(16);  // flags, units, created, modified
  t.u16(0).u16(kBlankDescent).u16(kBlankAdvance).u16(kBlankAscent);
  return t.u16(0).u16(8).u16(2).u16(0).u16(0);
}

Table hhea_table() {
  Table t;
  t.u32(0x00010000).u16(kBlankAscent).u16(kBlankDescent).u16(0).u16(kBlankAdvance);
  return t.u16(0).u16(0).u16(0).u16(1).u16(0).u16(0).zeros(8).u16(0).u16(1);
}

Table maxp_table(int count) {
  Table t;
  return t.u32(0x00010000).u16(count).zeros(4).zeros(4).u16(1).zeros(16);
}

// One full record; the others repeat its advance.
Table hmtx_table(int count) {
  Table t;
  return t.u16(kBlankAdvance).u16(0).zeros(2 * (count - 1));
}

Table os2_table() {
  Table t;
  t.u16(4).u16(kBlankAdvance).u16(400).u16(5).u16(0).zeros(20).u16(0);
  t.zeros(10).zeros(16).text("BURN").u16(0x40).u16(0x20).u16(0xFFFF);
  t.u16(kBlankAscent).u16(kBlankDescent).u16(0).u16(kBlankAscent).u16(-kBlankDescent);
  return t.u32(1).u32(0).u16(450).u16(700).u16(0).u16(0x20).u16(0);
}

// An empty mapping: characters are reached by glyph number alone.
Table cmap_table() {
  Table t;
  t.u16(0).u16(1).u16(3).u16(1).u32(12);
  return t.u16(4)
      .u16(24)
      .u16(0)
      .u16(2)
      .u16(2)
      .u16(0)
      .u16(0)
      .u16(0xFFFF)
      .u16(0)
      .u16(0xFFFF)
      .u16(1)
      .u16(0);
}

Table name_table() {
  const std::string name = "BurnisherBlank";
  Table t;
  const int ids[] = {1, 4, 6};
  t.u16(0).u16(3).u16(6 + 3 * 12);
  for (int id : ids) {
    t.u16(1).u16(0).u16(0).u16(id).u16(static_cast<int>(name.size())).u16(0);
  }
  return t.text(name);
}

Table post_table() {
  Table t;
  return t.u32(0x00030000).u32(0).u16(-100).u16(50).u32(1).zeros(16);
}

}  // namespace

std::vector<uint8_t> blank_font(int glyphs) {
  const int count = glyphs + 1;
  Table loca, glyf;
  loca.zeros(2 * (count + 1));
  glyf.zeros(4);  // some readers refuse a table of no bytes
  const std::pair<const char*, Table> tables[] = {
      // in the order of their tags
      {"OS/2", os2_table()},  {"cmap", cmap_table()},      {"glyf", glyf},
      {"head", head_table()}, {"hhea", hhea_table()},      {"hmtx", hmtx_table(count)},
      {"loca", loca},         {"maxp", maxp_table(count)}, {"name", name_table()},
      {"post", post_table()}};
  const int number = static_cast<int>(std::size(tables));
  Table font;
  font.u32(0x00010000).u16(number).u16(128).u16(3).u16(number * 16 - 128);
  uint32_t offset = static_cast<uint32_t>(12 + 16 * number);
  size_t head_at = 0;
  for (const auto& [tag, table] : tables) {
    if (std::string(tag) == "head") head_at = offset;
    font.text(tag)
        .u32(checksum(table.bytes()))
        .u32(offset)
        .u32(static_cast<uint32_t>(table.bytes().size()));
    offset += static_cast<uint32_t>((table.bytes().size() + 3) / 4 * 4);
  }
  for (const auto& [tag, table] : tables) {
    font.text(std::string(table.bytes().begin(), table.bytes().end()));
    font.zeros(static_cast<int>((4 - table.bytes().size() % 4) % 4));
  }
  std::vector<uint8_t> bytes = font.bytes();
  const uint32_t adjustment = 0xB1B0AFBAu - checksum(bytes);
  for (size_t i = 0; i < 4; ++i)
    bytes[head_at + 8 + i] = static_cast<uint8_t>(adjustment >> (24 - 8 * i));
  return bytes;
}

}  // namespace burnisher::pdf
