#include "correct/lexicon.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "base/parallel.h"
#include "testing/small_dictionary.h"

namespace burnisher::correct {
namespace {

using testing::SmallDictionary;
using testing::TemporaryFolder;

TEST(Lexicon, KnowsInflectionsCapitalsPossessivesAndCompounds) {
  const SmallDictionary dictionary;
  const auto lexicon = dictionary.open();
  for (const char* word : {"lamp", "lamps", "Lamp", "LAMP", "keeper's", "keeper’s", "keepers’",
                           "light-house", "oil/lamps", "keeper’ll", "waſ"})
    EXPECT_TRUE(lexicon->knows(word, {"xx"})) << word;
  for (const char* word : {"larnp", "light-larnp", "lampe", "zz"})
    EXPECT_FALSE(lexicon->knows(word, {"xx"})) << word;
}

TEST(Lexicon, ALanguageWithoutDictionaryKnowsNothing) {
  const SmallDictionary dictionary;
  const auto lexicon = dictionary.open();
  EXPECT_TRUE(lexicon->has("xx"));
  EXPECT_FALSE(lexicon->has("yy"));
  EXPECT_FALSE(lexicon->knows("lamp", {"yy"}));
  EXPECT_TRUE(lexicon->knows("lamp", {"yy", "xx"}));
  EXPECT_EQ(lexicon->installed(), std::vector<std::string>{"xx"});
}

TEST(Lexicon, EnglishIsSpelledInTwoWays) {
  const TemporaryFolder folder;
  const auto dictionary = [&](const std::string& name, const std::string& word) {
    write_file(folder.file(name + ".aff"), "SET UTF-8\n");
    write_file(folder.file(name + ".dic"), "1\n" + word + "\n");
  };
  dictionary("en_GB", "harbour");
  dictionary("en_US", "harbor");
  dictionary("en_ZA", "bakkie");
  dictionary("de_AT", "Jänner");
  dictionary("de_DE", "Januar");
  const Lexicon lexicon({folder.path()});
  EXPECT_TRUE(lexicon.knows("harbour", {"en"}));
  EXPECT_TRUE(lexicon.knows("harbor", {"en"}));
  EXPECT_FALSE(lexicon.knows("bakkie", {"en"}));
  EXPECT_TRUE(lexicon.knows("Januar", {"de"}));
  EXPECT_FALSE(lexicon.knows("Jänner", {"de"}));
}

TEST(Lexicon, TheFirstFolderWithALanguageServesIt) {
  const TemporaryFolder own, system;
  for (const auto& [folder, word] : {std::pair{&own, "lamp"}, {&system, "oil"}}) {
    write_file(folder->file("xx.aff"), "SET UTF-8\n");
    write_file(folder->file("xx.dic"), std::string("1\n") + word + "\n");
  }
  const Lexicon lexicon({own.path(), system.path()});
  EXPECT_TRUE(lexicon.knows("lamp", {"xx"}));
  EXPECT_FALSE(lexicon.knows("oil", {"xx"}));
  EXPECT_TRUE(Lexicon({"/nowhere"}).installed().empty());
}

TEST(Lexicon, ArticlesAreDrawnToTheirWords) {
  const TemporaryFolder folder;
  write_file(folder.file("fr_FR.aff"), "SET UTF-8\n");
  write_file(folder.file("fr_FR.dic"), "3\neau\nhuile\nquelqu\n");
  const Lexicon lexicon({folder.path()});
  EXPECT_TRUE(lexicon.knows("l’eau", {"fr"}));
  EXPECT_TRUE(lexicon.knows("d'huile", {"fr"}));
  EXPECT_FALSE(lexicon.knows("l’eaux", {"fr"}));
  EXPECT_FALSE(lexicon.knows("zzzz’eau", {"fr"}));
}

TEST(Lexicon, ListsAddTheUsersOwnWords) {
  const SmallDictionary dictionary;
  const auto lexicon = dictionary.open();
  WordList list;
  list.add("Skerrow");
  lexicon->add_list(list);
  EXPECT_TRUE(lexicon->knows("Skerrow", {"xx"}));
  EXPECT_TRUE(lexicon->knows("Skerrow’s", {}));
  EXPECT_TRUE(lexicon->listed("Skerrow"));
  EXPECT_FALSE(lexicon->listed("lamp"));
}

TEST(Lexicon, DictionariesInOtherEncodingsAreUnderstood) {
  const TemporaryFolder folder;
  write_file(folder.file("zz_ZZ.aff"), "SET ISO8859-2\n");
  write_file(folder.file("zz_ZZ.dic"), "1\nsv\xECtlo\n");  // the e with caron of Latin 2
  const Lexicon lexicon({folder.path()});
  EXPECT_TRUE(lexicon.knows("světlo", {"zz"}));
  EXPECT_FALSE(lexicon.knows("svetlo", {"zz"}));
  EXPECT_FALSE(lexicon.knows("свет", {"zz"}));
}

TEST(Lexicon, AnswersManyThreadsAtOnce) {
  const SmallDictionary dictionary;
  const auto lexicon = dictionary.open();
  parallel_each(200, [&](int i) {
    EXPECT_EQ(lexicon->knows(i % 2 ? "lamps" : "larnps", {"xx"}), i % 2 == 1);
  });
}

TEST(Lexicon, ProposesWhatItKnows) {
  const SmallDictionary dictionary;
  const auto proposals = dictionary.open()->proposals("lanp", "xx");
  EXPECT_NE(std::find(proposals.begin(), proposals.end(), "lamp"), proposals.end());
}

TEST(WordList, IsKeptSortedWithItsComments) {
  const TemporaryFolder folder;
  const std::string path = folder.file("words.txt");
  write_file(path, "# places\nSkerrow\n  Dunmore  # a keeper\n\n");
  WordList list = WordList::read(path);
  EXPECT_TRUE(list.contains("Dunmore"));
  EXPECT_TRUE(list.add("Hallow"));
  EXPECT_FALSE(list.add("Hallow"));
  EXPECT_TRUE(list.remove("Skerrow"));
  EXPECT_FALSE(list.remove("Skerrow"));
  list.write(path);
  const auto bytes = read_file(path);
  EXPECT_EQ(std::string(bytes.begin(), bytes.end()), "# places\nDunmore\nHallow\n");
  EXPECT_TRUE(WordList::read(folder.file("none.txt")).sorted().empty());
  write_file(folder.file("odd.txt"), std::string("a\0b\n", 4));
  EXPECT_THROW(WordList::read(folder.file("odd.txt")), FormatError);
}

}  // namespace
}  // namespace burnisher::correct
