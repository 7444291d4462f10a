#include "report/find_sheet.h"

#include <gtest/gtest.h>

#include "testing/word_pages.h"

namespace burnisher::report {
namespace {

find::HitLine line_on(int position, const std::string& before, const std::string& found,
                      const std::string& after) {
  find::HitLine line;
  line.page.id = position;
  line.page.position = position;
  line.page.width = 400;
  line.page.height = 300;
  line.before = before;
  line.found = found;
  line.after = after;
  line.line_on_page = {40, 100, 300, 130};
  line.on_page = {100, 100, 160, 130};
  return line;
}

FindSheet sheet_of(std::vector<FoundPlace> places) {
  FindSheet sheet;
  sheet.title = "Places of <lamp>";
  sheet.sought = {"lamp"};
  sheet.documents = {{"Log & letters", 40, {{"date", "1904"}, {"title", "Log & letters"}}}};
  sheet.places = std::move(places);
  sheet.picture = [](const find::IndexedPage&) {
    Gray page(400, 300);
    for (int y = 0; y < page.height(); ++y)
      std::fill(page.row(y), page.row(y) + page.width(), static_cast<uint8_t>(230));
    return page;
  };
  sheet.address = [](const std::string& file) { return "papers/" + file; };
  return sheet;
}

size_t count(const std::string& text, const std::string& part) {
  size_t found = 0;
  for (size_t at = text.find(part); at != std::string::npos; at = text.find(part, at + 1)) ++found;
  return found;
}

TEST(FindSheet, ShowsEveryHitWithItsLineAndPicture) {
  FoundPlace first{0, 0, 0.97, false, {line_on(3, "the", "lamp", "was <lit>")}};
  first.lines[0].page.pdf = "log.pdf";
  first.lines[0].page.pdf_page = 5;
  first.lines[0].page.printed = "xii";
  const FoundPlace second{0, 0, 0.4, true, {line_on(17, "a", "larnp", "")}};
  const std::string html = find_html(sheet_of({first, second}));
  EXPECT_EQ(count(html, "<article "), 2u);
  EXPECT_EQ(count(html, "data:image/jpeg;base64,"), 2u);
  EXPECT_NE(html.find("the <mark>lamp</mark> was &lt;lit&gt;"), std::string::npos);
  EXPECT_NE(html.find("href=\"papers/log.pdf#page=5\""), std::string::npos);
  EXPECT_NE(html.find("printed xii"), std::string::npos);
  EXPECT_NE(html.find("97 % sure"), std::string::npos);
  EXPECT_NE(html.find("40 % that it is lamp"), std::string::npos);
  EXPECT_NE(html.find("date: 1904"), std::string::npos);
  EXPECT_EQ(count(html, "<title>Places of &lt;lamp&gt;</title>"), 1u);
  // The mark is where the word is on the line's picture.
  EXPECT_NE(html.find("<i style=\"left:"), std::string::npos);
  EXPECT_EQ(count(html, "http"), 0u);  // nothing is loaded
}

TEST(FindSheet, ChartsHowHitsAreSpread) {
  std::vector<FoundPlace> places;
  for (const int page : {1, 1, 1, 2, 40})
    places.push_back({0, 0, 1, false, {line_on(page, "", "lamp", "")}});
  const std::string html = find_html(sheet_of(places));
  EXPECT_EQ(count(html, "<rect "), 3u);
  EXPECT_NE(html.find("<a href=\"#hit-1\"><title>page 1: 3 hits</title>"), std::string::npos);
  EXPECT_NE(html.find("<a href=\"#hit-5\"><title>page 40: 1 hit</title>"), std::string::npos);
  // Where there are more pages than room, they share bars.
  FindSheet many = sheet_of(places);
  many.documents[0].pages = 5000;
  EXPECT_NE(find_html(many).find("<title>pages 1 to 20: 4 hits</title>"), std::string::npos);
}

TEST(FindSheet, DoesWithoutPicturesAndRunsRightToLeftWhereTheLineDoes) {
  FoundPlace place{0, 0, 1, false, {line_on(1, "كان", "المصباح", "مضاء")}};
  place.lines[0].right_to_left = true;
  FindSheet sheet = sheet_of({place});
  sheet.sought = {"المصباح", "زيت"};
  sheet.picture = [](const find::IndexedPage&) { return Gray(); };
  const std::string html = find_html(sheet);
  EXPECT_EQ(count(html, "data:image"), 0u);
  EXPECT_NE(html.find("<p class=\"line\" dir=\"rtl\">"), std::string::npos);
  EXPECT_NE(html.find("<td>زيت</td><td class=\"number\">0</td>"), std::string::npos);
}

}  // namespace
}  // namespace burnisher::report
