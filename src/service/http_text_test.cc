#include "service/http_text.h"

#include <gtest/gtest.h>

namespace burnisher::service {
namespace {

TEST(HttpText, ResultsHaveTheTypeOfTheirKind) {
  const struct {
    const char *ending, *type;
  } cases[] = {{".pdf", "application/pdf"},
               {".xml", "application/xml"},
               {".json", "application/json"},
               {".html", "text/html; charset=utf-8"},
               {".txt", "text/plain; charset=utf-8"},
               {".md", "text/plain; charset=utf-8"},
               {".tsv", "text/tab-separated-values; charset=utf-8"},
               {".epub", "application/epub+zip"}};
  for (const auto& c : cases) EXPECT_EQ(type_of(c.ending), c.type) << c.ending;
}

TEST(HttpText, MessagesNameNoFoldersAndNoOptions) {
  const std::string folder = "/srv/store/0123";
  EXPECT_EQ(as_seen_outside("burnisher: /srv/store/0123/in/0001.png: is no picture\n", folder),
            "0001.png: is no picture");
  EXPECT_EQ(as_seen_outside("/srv/store/0123/job: busy\nburnisher: /srv/store/0123/in/a: odd\n\n",
                            folder),
            "job: busy\na: odd");
  EXPECT_EQ(as_seen_outside("", folder), "");
  EXPECT_EQ(as_seen_outside("a.png: 900 megapixels (--max-pixels raises the limit); b.png: odd (2)",
                            folder),
            "a.png: 900 megapixels; b.png: odd (2)");
  EXPECT_EQ(as_seen_outside("cut short (--max", folder), "cut short (--max");
}

TEST(HttpText, AnswersAreSoundWhateverIsInThem) {
  EXPECT_EQ(dumped({{"name", "a\xff\"b"}}), "{\"name\":\"a\xEF\xBF\xBD\\\"b\"}");
}

}  // namespace
}  // namespace burnisher::service
