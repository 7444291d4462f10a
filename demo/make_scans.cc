// Makes the demo scans: papers of the Skerrow Light Board, an invented lighthouse service, set here
// and put through the project's own scan damage. Each scan has its truth beside it as text.
//   make_demo_scans DIR          (scripts/setup --training installs the faces)

#include <cmath>
#include <cstdio>
#include <exception>
#include <filesystem>

#include "raster/warp.h"
#include "scanner.h"

namespace burnisher::demo {
namespace {

constexpr double kDpi = 200;
constexpr double kWidth = 176, kHeight = 250;  // B5, millimetres

const char* const kReport[] = {
    "The year under review was marked by three gales of unusual force, of which that of the 14th "
    "November carried away "
    "the landing stage at Hallow Rock and did damage to the amount of £216 at the Skerrow station "
    "itself.",
    "The light was exhibited on every night without exception. The mean consumption of oil was "
    "1.84 pints an hour, "
    "against 1.91 in the year before, a saving which the Engineer ascribes to the new burners "
    "fitted in March.",
    "The fog signal at Nether Point was sounded during 412 hours. It failed once, on the 3rd of "
    "June, for twenty minutes; "
    "the cause was a fractured spring, and a spare is now kept at the station.",
    "Of the twenty-two keepers in the service, two retired and one was drowned while returning "
    "from the relief. The "
    "Board records its regret, and has granted the widow a pension of £18 a year.",
    "The tender Fulmar steamed 5,730 miles. Her boiler was surveyed at Easter and found good for a "
    "further four years.",
    "The dues collected amounted to £9,482 7s. 4d., an increase of six per cent. The Board "
    "proposes to apply the surplus "
    "to the tower at Hallow Rock, for which plans have been drawn."};

void title_page(const Maker& maker) {
  Sheet s(kWidth, kHeight, kDpi);
  double y = 40;
  const auto centred = [&](const std::string& text, double size, double space) {
    s.set(text, {20, y, 136, "Old Standard TT", size, Align::kCentre, 1.2, 0});
    y += space;
  };
  centred("SKERROW LIGHT BOARD", 24, 26);
  s.rule(68, 62, 108, 62, 0.5);
  centred("Thirty-first", 15, 9);
  centred("ANNUAL REPORT", 20, 12);
  centred("for the year ending 31st December 1887", 13, 16);
  s.end_block();
  centred("with the returns of the keepers", 11, 7);
  centred("and an account of the oil, stores and dues", 11, 92);
  s.end_block();
  centred("HARBOUR STREET, SKERROW", 11, 7);
  centred("1888", 11, 7);
  maker.jpeg("01-title", s, scanned(s, {0.6, false, 21, ordinary()}));
}

void letter(const Maker& maker) {
  Sheet s(kWidth, kHeight, kDpi);
  Setting text{24, 20, 128, "EB Garamond", 12, Align::kLeft, 1.25, 0};
  const auto paragraph = [&](const std::string& words, double gap) {
    text.y += s.set(words, text) + gap;
    s.end_block();
  };
  paragraph("SKERROW LIGHT BOARD\nEngineer’s Office, 4 Harbour Street", 10);
  paragraph("12 March 1891", 6);
  paragraph("Miss Orla Tennick\nSchoolhouse, Nether Point", 6);
  paragraph("Dear Miss Tennick,", 2);
  text.align = Align::kJustified;
  paragraph(
      "Your letter of the 4th reached me on my return from Hallow Rock. You ask whether the "
      "children may visit the tower. "
      "They may, on any Thursday after the lamp has been trimmed, provided that no more than eight "
      "come at a time and that "
      "the keeper on watch, Mr. Dunmore, is told by the Tuesday before.",
      2);
  paragraph(
      "The stair has 187 steps. The lantern is 41 feet above the gallery floor, and the light is "
      "seen for 17 miles in clear "
      "weather. I should ask that nobody touch the lens: it was ground at a cost of £640 and "
      "cannot be had again within a year.",
      2);
  paragraph("I enclose a drawing of the burner, which you may keep.", 6);
  text.align = Align::kLeft;
  paragraph("Yours faithfully,", 14);
  paragraph("Edmund Rask\nEngineer to the Board", 0);
  maker.jpeg("02-letter", s, scanned(s, {-1.3, false, 22, ordinary()}));
}

void report(const Maker& maker) {
  Sheet s(kWidth, kHeight, kDpi);
  s.set("Annual Report of the Skerrow Light Board",
        {20, 14, 120, "Old Standard TT", 10, Align::kLeft, 1.2, 0});
  s.set("7", {140, 14, 16, "Old Standard TT", 10, Align::kRight, 1.2, 0});
  s.rule(20, 20, 156, 20, 0.25);
  s.end_block();
  Setting left{20, 24, 64, "Old Standard TT", 10.5, Align::kJustified, 1.2, 4};
  for (int i = 0; i < 3; ++i) left.y += s.set(kReport[i], left);
  s.end_block();
  s.engraving(22, left.y + 4, 60, 62);
  s.set("The tower at Hallow Rock",
        {20, left.y + 69, 64, "Old Standard TT Italic", 9.5, Align::kCentre, 1.2, 0});
  s.end_block();
  Setting right{92, 24, 64, "Old Standard TT", 10.5, Align::kJustified, 1.2, 4};
  for (int i = 3; i < 6; ++i) right.y += s.set(kReport[i], right);
  for (int i = 0; i < 2; ++i) right.y += s.set(kReport[(i + 1) % 3], right);
  s.end_block();
  maker.jpeg("03-report", s, scanned(s, {0.9, false, 23, ordinary()}));
}

void keepers_log(const Maker& maker) {
  Sheet s(kWidth, kHeight, kDpi);
  Setting text{18, 20, 140, "GNUTypewriter", 10.5, Align::kLeft, 1.45, 0};
  const char* lines =
      "SKERROW STATION      KEEPER'S LOG      WEEK 46, 1923\n"
      "Mon 12   Lit 4.21 pm. Wind SW 5. Bar. 29.61\n"
      "         2 steamers, 1 schooner passed inside the reef.\n"
      "Tue 13   Lit 4.19 pm. Wind SW 7, rain. Bar. 29.22\n"
      "         Gallery door lashed. Oil used 14 gals.\n"
      "Wed 14   Lit 4.18 pm. Gale W 9. Bar. 28.84\n"
      "         Spray over lantern from 2 am. One pane cracked.\n"
      "Thu 15   Lit 4.16 pm. Wind NW 6, clearing. Bar. 29.40\n"
      "         Pane replaced. Boat from Nether Point, mail.\n"
      "Fri 16   Lit 4.15 pm. Wind N 3. Bar. 29.97\n"
      "         Relief delayed by swell. Tower whitewashed, N side.\n"
      "Sat 17   Lit 4.13 pm. Calm, fog from midnight.\n"
      "         Fog signal sounded 6 h 40 min.\n"
      "Sun 18   Lit 4.12 pm. Calm. Bar. 30.11\n"
      "         Service read at 11. Stores counted: see sheet 9.\n"
      "                              J. Dunmore, Principal Keeper";
  s.set(lines, text);
  Handling handling{-0.7, false, 24, ordinary()};
  handling.damage.ragged = 0.12;
  handling.damage.fading = 0.2;
  maker.jpeg("04-log", s, scanned(s, handling));
}

void stores(const Maker& maker) {
  Sheet s(kWidth, kHeight, kDpi);
  s.set("Stores at Hallow Rock, 30 June 1904",
        {20, 18, 136, "Liberation Sans", 14, Align::kCentre, 1.2, 0});
  s.end_block();
  const char* rows[][4] = {
      {"Article", "In hand", "Used", "Value £"}, {"Lamp oil, gallons", "412", "163", "30.90"},
      {"Wicks, dozen", "24", "7", "2.16"},       {"Lamp glasses", "61", "12", "7.63"},
      {"White lead, lb", "140", "85", "3.50"},   {"Rope, fathoms", "95", "20", "4.75"},
      {"Coal, cwt", "38", "51", "5.32"},         {"Flour, lb", "280", "196", "1.75"},
      {"Lamp black, lb", "6", "2", "0.45"},      {"Signal rockets", "18", "3", "9.90"},
      {"Canvas, yards", "44", "15", "3.30"}};
  double y = 34;
  for (const auto& row : rows) {
    const double x[] = {24, 84, 108, 130};
    const double w[] = {58, 20, 20, 22};
    for (int c = 0; c < 4; ++c)
      s.set(row[c],
            {x[c], y, w[c], "Liberation Sans", 11, c ? Align::kRight : Align::kLeft, 1.2, 0});
    s.join_lines(4);
    y += 9;
    s.rule(20, y - 2, 156, y - 2, 0.2);
  }
  Handling handling{0.4, false, 25, ordinary()};
  maker.bitonal_tiff("05-stores", s, scanned(s, handling));
}

void notice(const Maker& maker) {
  Sheet s(kWidth, kHeight, kDpi);
  s.set("NOTICE TO MARINERS · NACHRICHT FÜR SEEFAHRER",
        {20, 22, 136, "Old Standard TT", 13, Align::kCentre, 1.2, 0});
  s.end_block();
  Setting english{20, 38, 64, "EB Garamond", 11.5, Align::kJustified, 1.22, 0};
  english.y += s.set(
                   "From the 1st of May 1912 the light on Skerrow will show two white flashes "
                   "every fifteen seconds in place of "
                   "the fixed light shown until now. The light stands 52 metres above high water "
                   "and is seen for 17 sea miles.",
                   english) +
               3;
  s.set(
      "Vessels bound for Nether Point should keep the red sector of Hallow Rock open until the "
      "beacon bears north-east by "
      "east. The bell buoy off the reef has been withdrawn and will not be replaced before the "
      "autumn.",
      english);
  s.end_block();
  Setting german{92, 38, 64, "EB Garamond", 11.5, Align::kJustified, 1.22, 0};
  german.y += s.set(
                  "Vom 1. Mai 1912 an zeigt das Feuer auf Skerrow alle fünfzehn Sekunden zwei "
                  "weiße Blitze anstelle des bisherigen "
                  "festen Feuers. Das Licht steht 52 Meter über Hochwasser und ist 17 Seemeilen "
                  "weit sichtbar.",
                  german) +
              3;
  s.set(
      "Schiffe, die Nether Point anlaufen, halten den roten Sektor von Hallow Rock offen, bis die "
      "Bake Nordost zu Ost peilt. "
      "Die Glockenboje vor dem Riff ist eingezogen und wird nicht vor dem Herbst ersetzt.",
      german);
  s.end_block();
  s.set("By order of the Board · Im Auftrag der Behörde",
        {20, 132, 136, "EB Garamond", 11.5, Align::kCentre, 1.2, 0});
  maker.colour_jpeg("06-notice", s, scanned(s, {-0.5, false, 26, ordinary()}));
}

void prose_page(Sheet& s, double x, const std::string& number, int first) {
  s.set(number, {x, 14, 120, "Old Standard TT", 10, Align::kCentre, 1.2, 0});
  s.end_block();
  Setting text{x, 24, 120, "Old Standard TT", 11, Align::kJustified, 1.24, 5};
  for (int i = 0; i < 6; ++i) text.y += s.set(kReport[(first + i) % 6], text);
  s.end_block();
}

void upside_down(const Maker& maker) {
  Sheet s(kWidth, kHeight, kDpi);
  prose_page(s, 28, "12", 2);
  maker.jpeg("07-upside-down", s, scanned(s, {0.8, true, 27, ordinary()}));
}

void carbon_copy(const Maker& maker) {
  Sheet s(kWidth, kHeight, kDpi);
  Setting text{20, 24, 136, "GNUTypewriter", 11, Align::kLeft, 1.5, 0};
  s.set(
      "To the Principal Keeper, Hallow Rock\n"
      "Sir, - I am directed to acknowledge your return of\n"
      "stores for the quarter. The Board observes that 51 cwt\n"
      "of coal were used against an allowance of 45, and asks\n"
      "for your explanation by the next relief.\n"
      "The new pattern of lamp glass will be sent by the\n"
      "Fulmar on the 9th. Kindly return the old ones packed\n"
      "in the same cases.\n"
      "R. Halloran, Storekeeper\n"
      "19 July 1904",
      text);
  Handling handling{0.3, false, 28, ordinary()};
  handling.damage.ink = 0.38;
  handling.damage.ink_blur = 0.1;
  handling.damage.fading = 0.35;
  handling.damage.texture = 0.015;
  handling.damage.noise = 0.02;
  maker.jpeg("08-carbon", s, scanned(s, handling));
}

void blank(const Maker& maker) {
  const Sheet s(kWidth, kHeight, kDpi);
  Handling handling{0, false, 29, ordinary()};
  handling.damage.specks = 0.08;
  maker.jpeg("09-blank", s, scanned(s, handling));
}

void spread(const Maker& maker) {
  Sheet s(2 * 150, 215, kDpi * 0.75);
  prose_page(s, 14, "18", 1);
  prose_page(s, 164, "19", 4);
  maker.jpeg("10-spread", s, scanned(s, {0.2, false, 30, ordinary()}));
}

// A leaf of a bound and punched ledger on the scanner's black bed: it curls towards the spine.
Gray on_the_bed(const Gray& leaf) {
  auto bend = std::make_shared<DisplacementField>();
  bend->step = 16;
  bend->columns = leaf.width() / 16 + 2;
  bend->rows = 2;
  for (int i = 0; i < 2 * bend->columns; ++i) {
    const double from_spine = (i % bend->columns) * 16.0 / leaf.width();
    bend->down.push_back(static_cast<float>(-60 * std::exp(-5 * from_spine)));
  }
  const Gray curled = warped(leaf, PlaneMap(Affine{}, bend), leaf.width(), leaf.height(), 236);
  constexpr int kBed = 46;
  Gray scan(leaf.width() + kBed, leaf.height() + 2 * kBed, 22);
  for (int y = 0; y < leaf.height(); ++y) {
    for (int x = 0; x < leaf.width(); ++x) {
      const double shade = 0.45 * std::exp(-14.0 * x / leaf.width());
      scan.row(y + kBed)[x] = static_cast<uint8_t>(curled.row(y)[x] * (1 - shade));
    }
  }
  for (const double height : {0.3, 0.7}) {
    const double cx = leaf.width() - 0.035 * leaf.width(), cy = kBed + height * leaf.height();
    const double radius = 3 / 25.4 * kDpi;
    for (int y = static_cast<int>(cy - radius); y <= cy + radius; ++y) {
      for (int x = static_cast<int>(cx - radius); x <= cx + radius; ++x) {
        if (std::hypot(x - cx, y - cy) <= radius) scan.row(y)[x] = 22;
      }
    }
  }
  return scan;
}

void ledger(const Maker& maker) {
  Sheet s(kWidth, kHeight, kDpi);
  prose_page(s, 28, "31", 3);
  Handling handling{0.0, false, 31, ordinary()};
  handling.damage.stain = 0.12;
  handling.damage.show_through = 0.08;
  handling.damage.specks = 0.8;
  maker.jpeg("11-ledger", s, on_the_bed(scanned(s, handling)));
}

void russian_notice(const Maker& maker) {
  Sheet s(148, 118, kDpi);
  s.set("SKERROW LIGHT BOARD · УПРАВЛЕНИЕ МАЯКА СКЕРРОУ",
        {14, 14, 120, "PT Serif", 11, Align::kCentre, 1.2, 0});
  s.end_block();
  Setting text{14, 28, 120, "PT Serif", 10.5, Align::kJustified, 1.25, 0};
  text.y += s.set(
                "С 1 мая 1912 года маяк Скерроу показывает две белые вспышки каждые пятнадцать "
                "секунд вместо прежнего постоянного огня. Огонь стоит на высоте 52 метров и виден "
                "за 17 морских миль. Во время тумана колокол бьёт два раза в минуту.",
                text) +
            4;
  s.end_block();
  text.y += s.set(
                "Masters of Russian ships are asked to call the station by the word «Маяк» and to "
                "hand in their list of lights, «Список огней», at Nether Point.",
                text) +
            4;
  s.end_block();
  s.set("Смотритель маяка · Keeper of the Light",
        {14, text.y + 2, 120, "PT Serif", 10.5, Align::kCentre, 1.2, 0});
  maker.jpeg("12-russian-notice", s, scanned(s, {0.4, false, 41, ordinary()}));
}

void arabic_letter(const Maker& maker) {
  Sheet s(148, 128, kDpi);
  s.set("SKERROW LIGHT BOARD", {14, 14, 120, "EB Garamond", 12, Align::kLeft, 1.2, 0});
  s.end_block();
  Setting text{14, 28, 120, "Amiri", 13, Align::kRight, 1.5, 0};
  text.y += s.set("إلى مجلس منارة سكيرو", text) + 3;
  s.end_block();
  text.y +=
      s.set(
          "تحية طيبة، وبعد. وصلت إلينا رسالتكم رقم ١١٤ ومعها صندوق العدسات، فوجدنا فيه عدستين "
          "مكسورتين، وأما الباقي فسليم. نرجو أن ترسلوا مع أول سفينة اثنتي عشرة فتيلة وعلبة زيت "
          "واحدة، وأن تكتبوا على الصندوق Skerrow Light حتى لا يضيع في الميناء.",
          text) +
      3;
  s.end_block();
  Setting english{14, text.y + 2, 120, "EB Garamond", 11.5, Align::kJustified, 1.22, 0};
  english.y += s.set(
                   "The packing list goes back to you with this letter. Please quote our "
                   "number B-27 when you answer.",
                   english) +
               4;
  s.end_block();
  Setting name = text;
  name.y = english.y;
  s.set("يوسف الحداد، حارس المنارة", name);
  maker.jpeg("13-arabic-letter", s, scanned(s, {-0.3, false, 43, ordinary()}));
}

void japanese_letter(const Maker& maker) {
  Sheet s(148, 128, kDpi);
  Setting head{14, 14, 120, "Noto Serif CJK JP", 13, Align::kLeft, 1.3, 0};
  head.y += s.set("スケロー灯台局 御中", head) + 5;
  s.end_block();
  Setting text{14, head.y, 120, "Noto Serif CJK JP", 11.5, Align::kLeft, 1.5, 0};
  for (const char* paragraph :
       {"拝啓　先月二十日付の書簡第１１４号を拝受いたしました。灯台のレンズを納めた箱は、"
        "昨日の定期船で本港に到着し、税関の検査を終えました。",
        "箱の外側に海水による損傷が見られますが、中のレンズ六枚はすべて無事です。"
        "次の船は十一月三日に出港する予定ですので、受取人の氏名をお知らせください。"}) {
    text.y += s.set(paragraph, text) + 3;
    s.end_block();
  }
  Setting english{14, text.y + 2, 120, "EB Garamond", 11.5, Align::kLeft, 1.22, 0};
  english.y += s.set("Please quote our number H-31 when you answer.", english) + 4;
  s.end_block();
  Setting name = text;
  name.y = english.y;
  s.set("港務局長　佐伯　清", name);
  maker.jpeg("harbour-letter", s, scanned(s, {0.3, false, 47, ordinary()}));
}

}  // namespace
}  // namespace burnisher::demo

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fprintf(stderr, "usage: make_demo_scans DIR\n");
    return 2;
  }
  try {
    std::filesystem::create_directories(argv[1]);
    using namespace burnisher::demo;
    const Maker maker(argv[1]);
    title_page(maker);
    letter(maker);
    report(maker);
    keepers_log(maker);
    stores(maker);
    notice(maker);
    upside_down(maker);
    carbon_copy(maker);
    blank(maker);
    spread(maker);
    ledger(maker);
    russian_notice(maker);
    arabic_letter(maker);
    // For tests/scans: on a machine without these faces the demo is the same.
    japanese_letter(maker);
  } catch (const std::exception& cause) {
    std::fprintf(stderr, "make_demo_scans: %s\n", cause.what());
    return 1;
  }
  return 0;
}
