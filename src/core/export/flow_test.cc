#include "export/flow.h"

#include <gtest/gtest.h>

#include <algorithm>

#include <pugixml.hpp>
#include "base/json.h"

#include "export/hocr.h"
#include "export/text.h"
#include "export/word_list.h"
#include "testing/read_page.h"

namespace burnisher {
namespace {

using exporting::FlowItem;
using testing::line_at;
using testing::page_of;

Block block_of(const std::vector<Line>& lines, BlockKind kind = BlockKind::kText) {
  Block block = page_of(lines).blocks[0];
  block.kind = kind;
  return block;
}

Page page_with(std::vector<Block> blocks) {
  Page page = page_of({});
  page.blocks = std::move(blocks);
  return page;
}

std::string flowed(const std::vector<Page>& pages, const exporting::FlowSettings& settings = {},
                   std::string (*form)(const FlowItem&) = exporting::flowing) {
  std::string text;
  exporting::Flow flow(settings, [&](const FlowItem& item) { text += form(item); });
  for (const Page& page : pages) flow.add(page);
  flow.finish();
  return text;
}

exporting::FlowSettings with_words(const std::vector<std::string>& words) {
  exporting::FlowSettings settings;
  settings.is_word = [words](const std::string& word, const std::string&) {
    return std::find(words.begin(), words.end(), word) != words.end();
  };
  return settings;
}

TEST(Flow, LinesOfIdeographsJoinWithoutBlanks) {
  EXPECT_EQ(flowed({page_of({line_at({"灯台の灯は"}, 50, 100), line_at({"午後四時に、"}, 50, 150),
                             line_at({"等級", "Lit"}, 50, 200), line_at({"点された"}, 50, 250)})}),
            "灯台の灯は午後四時に、等級 Lit 点された\n\n");
  EXPECT_EQ(flowed({page_of({line_at({"등대의"}, 50, 100), line_at({"불은"}, 50, 150)})}),
            "등대의 불은\n\n");
}

TEST(Flow, LinesBecomeParagraphsAndHyphensGo) {
  const Page page = page_of({line_at({"The", "keeper", "of", "the", "light-"}, 50, 100),
                             line_at({"house", "wrote", "a", "well-"}, 50, 150),
                             line_at({"known", "log."}, 50, 200)});
  EXPECT_EQ(flowed({page}, with_words({"lighthouse", "well", "known"})),
            "The keeper of the lighthouse wrote a well-known log.\n\n");
}

TEST(Flow, ParagraphsGoOnOverColumnsAndPagesWithTheirHeadsBetween) {
  const Page first = page_with({block_of({line_at({"The", "gale", "of", "the"}, 50, 100)}),
                                block_of({line_at({"12"}, 50, 900)}, BlockKind::kPageNumber)});
  const Page second =
      page_with({block_of({line_at({"LOG"}, 50, 50)}, BlockKind::kRunningHead),
                 block_of({line_at({"night", "passed."}, 50, 100)}),
                 block_of({line_at({"1.", "Note."}, 50, 900)}, BlockKind::kFootnote),
                 block_of({line_at({"Calm", "after."}, 50, 300)})});
  EXPECT_EQ(flowed({first, second}),
            "The gale of the night passed.\n\nCalm after.\n\n1. Note.\n\n");
  exporting::FlowSettings heads;
  heads.heads = true;
  EXPECT_NE(flowed({first, second}, heads).find("LOG\n\n"), std::string::npos);
}

TEST(Flow, MoreWhiteAfterASentenceBeginsAParagraph) {
  const Page page =
      page_of({line_at({"The", "stair", "has", "187", "steps", "of", "iron."}, 50, 100),
               line_at({"The", "lantern", "is", "41", "feet", "above", "it"}, 50, 150),
               line_at({"and", "seen", "from", "every", "road", "there."}, 50, 200),
               line_at({"Nobody", "touches", "the", "lens", "in", "day"}, 50, 262),
               line_at({"or", "at", "night", "without", "a", "good", "cause."}, 50, 312)});
  EXPECT_EQ(flowed({page}),
            "The stair has 187 steps of iron. The lantern is 41 feet above it and seen from every "
            "road there.\n\nNobody touches the lens in day or at night without a good cause.\n\n");
}

TEST(Flow, LinesOfATitleFarApartStayApartAndPicturesPartNothing) {
  Page page = page_with({block_of({line_at({"for", "the", "year", "1887"}, 50, 100)}),
                         block_of({line_at({"with", "the", "returns"}, 60, 300)})});
  EXPECT_EQ(flowed({page}), "for the year 1887\n\nwith the returns\n\n");
  Block picture;
  picture.kind = BlockKind::kPicture;
  picture.outline = Box{40, 120, 500, 250}.corners();
  page.blocks.insert(page.blocks.begin() + 1, picture);
  EXPECT_NE(flowed({page}).find("for the year 1887 with the returns"), std::string::npos);
}

TEST(Flow, LogsStayLineByLine) {
  const Page page =
      page_of({line_at({"Mon", "12", "Lit", "4.21", "pm.", "Bar.", "29.61"}, 50, 100),
               line_at({"2", "steamers", "passed", "the", "reef"}, 200, 150),
               line_at({"Tue", "13", "Lit", "4.19", "pm.", "Rain"}, 50, 200),
               line_at({"Gallery", "door", "lashed", "and", "the", "tower"}, 200, 250),
               line_at({"washed"}, 200, 300),
               line_at({"Wed", "14", "Lit", "4.18", "pm.", "Gale"}, 50, 350)});
  EXPECT_EQ(flowed({page}),
            "Mon 12 Lit 4.21 pm. Bar. 29.61\n\n2 steamers passed the reef\n\nTue 13 Lit 4.19 pm. "
            "Rain\n\nGallery door lashed and the tower washed\n\nWed 14 Lit 4.18 pm. Gale\n\n");
}

TEST(Flow, EntriesOfAContentsPageStayApart) {
  const Page page = page_of({line_at({"Of", "the", "lamp", "........", "12"}, 50, 100),
                             line_at({"Of", "the", "horn", "........", "31"}, 50, 150),
                             line_at({"Stores", ".", ".", ".", ".", ".", "44"}, 50, 200)});
  EXPECT_EQ(flowed({page}),
            "Of the lamp ........ 12\n\nOf the horn ........ 31\n\nStores . . . . . 44\n\n");
  const Page front = page_of({line_at({"Preface", "........", "vii"}, 50, 100),
                              line_at({"Of", "the", "lamp", "......", "1"}, 50, 150)});
  EXPECT_EQ(flowed({front}), "Preface ........ vii\n\nOf the lamp ...... 1\n\n");
  // Dots in prose lead nowhere.
  const Page prose = page_of({line_at({"He", "waited", "...", "nothing"}, 50, 100),
                              line_at({"came", "of", "it", "at", "all."}, 50, 150)});
  EXPECT_EQ(flowed({prose}), "He waited ... nothing came of it at all.\n\n");
}

TEST(Flow, IndentsBeginParagraphs) {
  const Page page = page_of({line_at({"First", "day", "of", "fog", "and", "rain"}, 50, 100),
                             line_at({"with", "calm", "sea", "and", "no", "wind"}, 50, 150),
                             line_at({"Second", "day", "of", "the", "same"}, 90, 200),
                             line_at({"weather", "on", "the", "whole", "coast"}, 50, 250)});
  EXPECT_EQ(flowed({page}),
            "First day of fog and rain with calm sea and no wind\n\n"
            "Second day of the same weather on the whole coast\n\n");
}

TEST(Flow, LinesThatEndEarlyOnPurposeStayLines) {
  const Page page = page_with(
      {block_of({line_at({"Miss", "Tennick"}, 50, 100), line_at({"Schoolhouse"}, 50, 150)}),
       block_of({line_at({"The", "stair", "has", "many", "steps", "and", "the", "lantern", "hangs"},
                         50, 250),
                 line_at({"above", "them", "all."}, 50, 300)})});
  EXPECT_EQ(flowed({page}),
            "Miss Tennick\n\nSchoolhouse\n\nThe stair has many steps and the lantern hangs above "
            "them all.\n\n");
  // A column with another beside it is as wide as its own lines.
  const Page columns = page_with(
      {block_of({line_at({"Miss", "Tennick"}, 50, 100), line_at({"of", "the", "school"}, 50, 150)}),
       block_of({line_at({"Mr", "Rask"}, 500, 100)})});
  EXPECT_EQ(flowed({columns}), "Miss Tennick of the school\n\nMr Rask\n\n");
}

TEST(Flow, DropCapitalsAndNorthEastKeepTogether) {
  const Page page = page_with(
      {block_of({line_at({"T"}, 50, 120)}, BlockKind::kDropCapital),
       block_of({line_at({"he", "wind", "North-"}, 90, 100), line_at({"East."}, 90, 150)})});
  EXPECT_EQ(flowed({page}), "The wind North-East.\n\n");
}

TEST(Markdown, HeadingsListsTablesAndSignsThatMeanSomething) {
  Block heading = block_of({line_at({"Stores"}, 50, 100)}, BlockKind::kHeading);
  heading.level = 2;
  const Block list =
      block_of({line_at({"1.", "Oil"}, 50, 200), line_at({"2.", "Wicks*"}, 50, 250)});
  Block table =
      block_of({line_at({"Rope"}, 50, 400), line_at({"4|5"}, 300, 400)}, BlockKind::kTable);
  for (int column = 0; column < 2; ++column) {
    Cell cell;
    cell.column = column;
    cell.lines = {column};
    table.cells.push_back(cell);
  }
  EXPECT_EQ(flowed({page_with({heading, list, table})}, {}, exporting::markdown),
            "## Stores\n\n1. Oil\n\n2. Wicks\\*\n\n|  |  |\n| --- | --- |\n| Rope | 4\\|5 |\n\n");
}

TEST(Text, CrLfAtLineEnds) {
  EXPECT_EQ(exporting::with_crlf("a\nb\n"), "a\r\nb\r\n");
}

TEST(Hocr, HasPagesAreasLinesAndWords) {
  Page page = page_of({line_at({"Oil", "&", "wicks"}, 50, 100, 0.93)});
  page.file = "log \"7\".png";
  const std::string html = exporting::hocr_head("A <log>", "en") +
                           exporting::hocr_page(page, Positions::kPage, 1) + exporting::hocr_tail();
  pugi::xml_document xml;
  ASSERT_TRUE(xml.load_string(html.c_str())) << html;
  EXPECT_EQ(xml.select_nodes("//*[@class='ocrx_word']").size(), 3u);
  EXPECT_EQ(xml.select_nodes("//*[@class='ocr_line']").size(), 1u);
  const std::string title =
      xml.select_node("//*[@class='ocrx_word'][2]").node().attribute("title").value();
  EXPECT_EQ(title, "bbox 119 70 137 108; x_wconf 93");
  const std::string sheet =
      xml.select_node("//*[@class='ocr_page']").node().attribute("title").value();
  EXPECT_EQ(sheet, "image \"log \\\"7\\\".png\"; bbox 0 0 1000 1400; ppageno 0; scan_res 144 144");
}

TEST(Hocr, SaysWhatRunsFromTheRight) {
  Page page = page_of({line_at({"שמן", "זית"}, 50, 100)});
  page.blocks.push_back(page_of({line_at({"Oil"}, 50, 200)}).blocks[0]);
  pugi::xml_document xml;
  ASSERT_TRUE(
      xml.load_string((exporting::hocr_head("A", "") +
                       exporting::hocr_page(page, Positions::kPage, 1) + exporting::hocr_tail())
                          .c_str()));
  const auto paragraphs = xml.select_nodes("//*[@class='ocr_par']");
  ASSERT_EQ(paragraphs.size(), 2u);
  EXPECT_STREQ(paragraphs[0].node().attribute("dir").value(), "rtl");
  EXPECT_STREQ(paragraphs[1].node().attribute("dir").value(), "");
}

TEST(WordList, OneRowAWord) {
  Page page = page_of({line_at({"Oil", "9"}, 50, 100, 0.5)});
  page.blocks[0].lines[0].words[1].reasons = kUnsure | kOdd;
  EXPECT_EQ(exporting::word_list_tsv(page, Positions::kPage, 3),
            "3\t1\ttext\t1\t1\t50\t70\t104\t108\t0.500\t\t\tOil\n"
            "3\t1\ttext\t1\t2\t119\t70\t137\t108\t0.500\tunsure,odd\t\t9\n");
  std::string json = exporting::word_list_json(page, Positions::kPage, 3);
  json = "[" + json.substr(0, json.size() - 2) + "]";
  const auto rows = parse_json(json);
  ASSERT_EQ(rows.size(), 2u);
  EXPECT_EQ(rows[1]["text"], "9");
  EXPECT_EQ(rows[1]["box"][2], 137);
}

}  // namespace
}  // namespace burnisher
