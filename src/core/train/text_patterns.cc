#include "train/text_patterns.h"

#include <iterator>

#include "base/unicode.h"

namespace burnisher::train {
namespace {

using Text = std::vector<char32_t>;

const char* const kTemplates[] = {"9#.#.19##",
                                  "9# March 18##",
                                  "9# September 19##",
                                  "19##-0#-1#",
                                  "9#:##",
                                  "1#.## h",
                                  "£9,###.##",
                                  "$9##.##",
                                  "€ 9.###,##",
                                  "9# %",
                                  "9.# %",
                                  "No. 9##",
                                  "Nr. 9#/19##",
                                  "№ 9##",
                                  "pp. 9#–9##",
                                  "p. 9#",
                                  "Aaaaa, 9##–9##, 9#",
                                  "Aaaaaa, 9##, 9#–9#; see also Aaaaa",
                                  "Aaaa, 9##-9##, 9##",
                                  "18##–18##",
                                  "Vol. 9, No. 9#",
                                  "§ 9# Abs. 9",
                                  "N 9#°##'##\" E",
                                  "S 0#°##'##\" W",
                                  "S 0#°##′##″ E",
                                  "N 9#° ##' 9\" W",
                                  "9##-#####, fee $9#.##",
                                  "Section 9#, Township 9 North",
                                  "the NE 1/4 of the SW 1/4",
                                  "(9#.### chains) to",
                                  "radius of 9###.## feet",
                                  "Book 9#, Page 9##",
                                  "9/# of 9",
                                  "(9##) ###-####",
                                  "+4# 9## ### ###",
                                  "AA-####-A",
                                  "A9#/##",
                                  "AA 9## AAA",
                                  "9# × 9# mm",
                                  "9½ × 9¼ in.",
                                  "9.## m²",
                                  "9# km/h",
                                  "±0.## °C",
                                  "a = 9.##",
                                  "x² + 9x − 9#",
                                  "[9#]",
                                  "(9)",
                                  "9)",
                                  "9#.",
                                  "a) 9##",
                                  "IX. 9#",
                                  "fol. 9#v",
                                  "Ref: AAA/9##/##",
                                  "ISBN 978-9-##-######-#",
                                  "http://www.aaaaaa.org/aaa",
                                  "aaaa.aaaaaa@aaaaa.com",
                                  "#aaaaa",
                                  "9/##",
                                  "9 3/4",
                                  "9#,### tons",
                                  "9 ### ###",
                                  "9.###.###",
                                  "0.0###",
                                  "-9#.#",
                                  "–9#",
                                  "*9##",
                                  "9#† 9#‡",
                                  "©19## A. Aaaaaa",
                                  "A. A. Aaaaa & Co.",
                                  "Art. 9 lit. a",
                                  "10⁹ m³",
                                  "9#° 9#′",
                                  "Lot 9#, Block 9",
                                  "9##.## feet to",
                                  "thence N 9#°##' W",
                                  "Total 9##.## 9##.##",
                                  "9## 9## 9## 9##",
                                  "9#.## 9#.## 9#.##",
                                  "aaa_aaa(9)",
                                  "<aaa> {aaa}",
                                  "--aaaaa=9",
                                  "/aaa/aaa/aaa.9",
                                  "9# ft. 9 in.",
                                  "Qty 9#",
                                  "AAAA 9##",
                                  "A-9",
                                  "9A",
                                  "###"};

const char* const kAbbreviations[] = {
    "St.",  "Mr.",  "Mrs.",  "Dr.",      "Prof.", "Esq.",      "etc.",  "i.e.",  "e.g.",
    "viz.", "cf.",  "ibid.", "op. cit.", "Bd.",   "Hrsg.",     "z. B.", "u. a.", "Co.",
    "Ltd.", "Inc.", "GmbH",  "XIV",      "xvii",  "MDCCLXXVI", "VIII",  "iv",    "No.",
    "fig.", "Tab.", "Abb.",  "vgl.",     "ff.",   "pl.",       "sq.",   "&c."};

}  // namespace

Text filled(const std::string& pattern, Random& random) {
  Text line = decode_utf8(pattern);
  const bool literal_a = random.chance(0.1);
  for (char32_t& c : line) {
    if (c == U'#') c = U'0' + static_cast<char32_t>(random.index(10));
    if (c == U'9') c = U'1' + static_cast<char32_t>(random.index(9));
    if (c == U'A' && !literal_a) c = U'A' + static_cast<char32_t>(random.index(26));
    if (c == U'a' && !literal_a) c = U'a' + static_cast<char32_t>(random.index(26));
  }
  return line;
}

Text figure_of_print(Random& random) {
  return filled(kTemplates[random.index(std::size(kTemplates))], random);
}

Text abbreviation(Random& random) {
  return decode_utf8(kAbbreviations[random.index(std::size(kAbbreviations))]);
}

void make_typographic(Text& line, Random& random) {
  const bool continental = random.chance(0.2);
  Text set;
  for (size_t i = 0; i < line.size(); ++i) {
    const bool opens = i == 0 || line[i - 1] == U' ' || line[i - 1] == U'(';
    if (line[i] == U'\'') {
      set.push_back(opens ? U'‘' : U'’');
    } else if (line[i] == U'"') {
      set.push_back(continental ? (opens ? U'„' : U'“') : (opens ? U'“' : U'”'));
    } else if (line[i] == U'-' && i + 1 < line.size() && line[i + 1] == U'-') {
      set.push_back(random.chance(0.7) ? U'—' : U'–');
      ++i;
    } else {
      set.push_back(line[i]);
    }
  }
  line = set;
}

void use_long_s(Text& line) {
  for (size_t i = 0; i + 1 < line.size(); ++i) {
    if (line[i] == U's' && is_letter(line[i + 1])) line[i] = U'ſ';
  }
}

void capitalise(Text& line) {
  for (char32_t& c : line) {
    if (c != U'ß' && c != U'ſ' && c != U'ŉ') c = to_upper(c);
  }
}

void capitalise_words(Text& line) {
  for (size_t i = 0; i < line.size(); ++i) {
    if ((i == 0 || line[i - 1] == U' ') && line[i] != U'ß') line[i] = to_upper(line[i]);
  }
}

}  // namespace burnisher::train
