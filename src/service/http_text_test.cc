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

TEST(HttpText, MessagesNameNoFolders) {
  const std::string folder = "/srv/store/0123";
  EXPECT_EQ(without_folders("burnisher: /srv/store/0123/in/0001.png: is no picture\n", folder),
            "0001.png: is no picture");
  EXPECT_EQ(without_folders("/srv/store/0123/job: busy\nburnisher: /srv/store/0123/in/a: odd\n\n",
                            folder),
            "job: busy\na: odd");
  EXPECT_EQ(without_folders("", folder), "");
}

TEST(HttpText, AnswersAreSoundWhateverIsInThem) {
  EXPECT_EQ(dumped({{"name", "a\xff\"b"}}), "{\"name\":\"a\xEF\xBF\xBD\\\"b\"}");
}

}  // namespace
}  // namespace burnisher::service
