// The layout tree: page, block, line, word, glyph. All positions are in pixels of the page picture
// (after straightening); `to_scan` leads back to the scan as it came in.
#pragma once

#include <array>
#include <string>
#include <utility>
#include <vector>

#include "base/plane_map.h"
#include "page/barcode.h"

namespace burnisher {

enum class BlockKind {
  kText,
  kHeading,
  kCaption,
  kFootnote,
  kRunningHead,
  kPageNumber,
  kMarginNote,
  kDropCapital,  // the large first letter of the block that follows
  kTable,
  kPicture,
  kSeparator,
  kNoise,
};

struct Glyph {
  char32_t character = 0;
  Box box;
  double confidence = 0;  // 0-1
};

// Another way to read a word.
struct OtherReading {
  std::string text;
  double share = 0;  // 0-1: of what was seen, how much speaks for it
};

// Why a word is a suspect; several reasons may hold.
enum Reason : unsigned {
  kUnsure = 1,   // its letters were not clearly seen
  kUnknown = 2,  // not in the lexicon
  kOdd = 4,      // a mixture no word is made of, as in l9O5
};

enum class CorrectedBy { kNobody, kRepair, kPerson };

enum class Family { kSerif, kSans, kMono };

// The real type that stands in for a word's picture; kept in memory only, see type/match.h.
struct Type {
  double em = 0;  // pixels; 0: none does, the picture shows the word
  Family family = Family::kSerif;
  bool bold = false, italic = false;
  bool spare = false;               // of the face that has more characters
  std::array<uint8_t, 3> colour{};  // sRGB
};

struct Word {
  std::string text;  // UTF-8, NFC
  Box box;           // the ink
  double confidence = 0;
  std::vector<Glyph> glyphs;
  // The network's own probability of its least probable letter, before any language was asked. 0-1.
  double network_confidence = 0;
  std::vector<OtherReading> readings = {};  // likeliest first; none where all is clear
  double error_probability = 0;             // how likely it is wrong; 0 until it was looked at
  unsigned reasons = 0;                     // of Reason; 0: no suspect
  CorrectedBy corrected = CorrectedBy::kNobody;
  bool small_capitals = false;  // letters of it are, and are given in lower case
  std::string before = {};      // what stood there, when it was corrected; may be equal: confirmed
  Type type = {};
};

struct Line {
  Polyline baseline;  // left to right
  double x_height = 0;
  double stroke = 0;  // stroke width; 0: not measured
  Box box;            // the ink
  Polygon outline;    // of sloping and bent lines, with the box as its bounds; empty: the box
  std::vector<Word> words;
  double confidence = 0;  // of the letters, before any language is asked
  std::string language;   // BCP 47; "": not known
  std::string script;     // ISO 15924, as it was read; "": not known
  // What its file says of the line as a whole where that is not what its words say: somebody put
  // one right and not the other. Empty otherwise.
  std::string said = {};

  std::string text() const;
  bool runs_up_or_down() const;  // rather than across the page
  bool right_to_left() const;    // as at least half of its letters
};

// One cell of a table. Rows and columns count from 0; a cell may span several.
struct Cell {
  int row = 0, column = 0;
  int rows = 1, columns = 1;
  bool header = false;
  Box box;
  std::vector<int> lines;  // places in the table's lines
};

struct Block {
  BlockKind kind = BlockKind::kText;
  int level = 0;  // of headings: 1 is the highest; 0: not told
  Polygon outline;
  std::vector<Line> lines;
  std::vector<Cell> cells;  // of tables, by rows

  std::string language() const;  // of most of its lines; "": not known
  bool right_to_left() const;    // as most of its lines with words
};

// Where page pixels lie in the scan.
struct Geometry {
  PlaneMap to_scan;
  int scan_width = 0;
  int scan_height = 0;
};

struct Page {
  std::string file;  // the scan it came from
  // The same as seen from the folder that the page's PAGE XML lies in; empty: not known.
  std::string relative_file;
  int number = 1;  // from 1, within that file
  int part = 0;    // of a spread: 1 left, 2 right; 0: the scan is one page
  int width = 0;
  int height = 0;
  double dpi = 300;
  Geometry geometry;
  // How it was cleaned, as keys and values, so that the same can be done to its scan again; empty:
  // not known.
  std::vector<std::pair<std::string, std::string>> cleaning;
  std::string reading;            // version that read it, see base/reading_version.h; "": not known
  std::vector<Block> blocks;      // in reading order
  std::vector<Barcode> barcodes;  // where they were looked for

  // The languages of its lines, the commonest (by letters) first; none below a tenth.
  std::vector<std::string> languages() const;
  // Of most of its lines with words (ISO 15924); "Latn" when none is known.
  std::string main_script() const;

  // Noise blocks don't count in either.
  bool has_words() const;
  // Over words, weighted by their length; 0 without words.
  double mean_confidence() const;
  double mean_network_confidence() const;
};

// The languages of a document's pages, as those of one page.
std::vector<std::string> languages_of(const std::vector<const Page*>& pages);

// What tells the pages of a spread apart in file names: nothing, "-left", "-right".
const char* side_suffix(int part);

// How positions are given in results.
enum class Positions { kPage, kScan };

// The smallest upright box round `box` in the wanted frame.
Box placed(const Box& box, const Page& page, Positions positions);
Polyline placed(const Polyline& points, const Page& page, Positions positions);

}  // namespace burnisher
