#include "correct/surroundings.h"

#include <gtest/gtest.h>

#include "correct/document_words.h"
#include "correct/suggestions.h"
#include "correct/word_change.h"
#include "testing/small_dictionary.h"

namespace burnisher::correct {
namespace {

using testing::line_of;
using testing::page_of_lines;
using testing::plain_confusion_model;
using testing::SmallDictionary;
using testing::word_of;

std::vector<Place> places_on(const Page& page, const std::vector<std::string>& languages = {}) {
  std::vector<Place> places;
  Surroundings({&page}, languages).each(page, [&](const Spot&, const Place& place) {
    places.push_back(place);
  });
  return places;
}

TEST(Surroundings, KnowWhereSentencesBegin) {
  const auto places =
      places_on(page_of_lines({line_of({word_of("Lit."), word_of("Wind"), word_of("south")}),
                               line_of({word_of("Calm")}, 150)}));
  ASSERT_EQ(places.size(), 4u);
  EXPECT_TRUE(places[0].sentence_start);
  EXPECT_TRUE(places[1].sentence_start);
  EXPECT_FALSE(places[2].sentence_start);
  EXPECT_TRUE(places[3].sentence_start);
}

TEST(Surroundings, WordsAreOfTheLanguagesOfTheirScript) {
  Page page =
      page_of_lines({line_of({word_of("маяк"), word_of("Skerrow"), word_of("412")}, 100, "ru")});
  const auto places = places_on(page, {"ru", "en", "xx"});
  EXPECT_EQ(places[0].languages, (std::vector<std::string>{"ru", "xx"}));
  EXPECT_EQ(places[1].languages, (std::vector<std::string>{"en", "xx"}));
  EXPECT_EQ(places[2].languages, (std::vector<std::string>{"ru", "en", "xx"}));
  // Of a language of another script alone: no dictionary is asked.
  EXPECT_TRUE(places_on(page, {"ru"})[1].languages.empty());
}

TEST(Surroundings, BringTheHalvesOfAWordTogether) {
  Page page = page_of_lines({line_of({word_of("the"), word_of("light-")}),
                             line_of({word_of("house,"), word_of("no-")}, 150),
                             line_of({word_of("—")}, 200)});
  const auto places = places_on(page);
  EXPECT_EQ(places[1].other_half, "house");
  EXPECT_TRUE(places[1].first_half);
  EXPECT_EQ(places[2].other_half, "light");
  EXPECT_FALSE(places[2].first_half);
  EXPECT_EQ(places[0].other_half, "");
  // Cells of a table do not go on in one another.
  page.blocks[0].kind = BlockKind::kTable;
  EXPECT_EQ(places_on(page)[1].other_half, "");
}

TEST(Surroundings, ALinesOwnLanguageComesFirst) {
  const Page page = page_of_lines({line_of({word_of("the lamp was lit")}, 100, "en"),
                                   line_of({word_of("das Licht")}, 150, "de"),
                                   line_of({word_of("??")}, 200, "")});
  const auto places = places_on(page);
  EXPECT_EQ(places[0].languages, (std::vector<std::string>{"en", "de"}));
  EXPECT_EQ(places[1].languages, (std::vector<std::string>{"de", "en"}));
  EXPECT_EQ(places[2].languages, (std::vector<std::string>{"en", "de"}));
  EXPECT_EQ(places_on(page, {"fr"})[1].languages, std::vector<std::string>{"fr"});
}

TEST(Surroundings, PassOverWhatIsNoText) {
  Page page = page_of_lines({line_of({word_of("12")})});
  for (const BlockKind kind :
       {BlockKind::kNoise, BlockKind::kPageNumber, BlockKind::kDropCapital}) {
    page.blocks[0].kind = kind;
    EXPECT_TRUE(places_on(page).empty());
  }
}

TEST(Surroundings, CertaintyIsTheLines) {
  const auto places =
      places_on(page_of_lines({line_of({word_of("abcd", 1), word_of("efgh", 0.5)})}));
  EXPECT_NEAR(places[0].line_certainty, 0.75, 1e-9);
}

TEST(DocumentWords, CountWhatIsClear) {
  DocumentWords words;
  words.add(page_of_lines({line_of({word_of("Skerrow,"), word_of("“Skerrow"),
                                    word_of("Dunmore", 0.6), word_of("412"), word_of("412")})}));
  EXPECT_EQ(words.count("Skerrow"), 2);
  EXPECT_EQ(words.count("Dunmore"), 0);
  EXPECT_EQ(words.count("412"), 0);
  EXPECT_FALSE(words.knows("Skerrow"));
  Page settled = page_of_lines({line_of({word_of("Dunmore", 0.6)})});
  settled.blocks[0].lines[0].words[0].corrected = CorrectedBy::kPerson;
  words.add(settled);
  EXPECT_TRUE(words.knows("Dunmore"));
}

// ---- what is known of a word ----

class WordAnalyses : public ::testing::Test {
 protected:
  WordAnalysis find(const Word& word) {
    place_.word = &word;
    place_.languages = {"xx"};
    return analysis_of(place_, {*lexicon_, document_, confusions_});
  }
  std::vector<std::string> suggest(const Word& word, Effort effort) {
    const WordAnalysis findings = find(word);
    std::vector<std::string> texts;
    for (const Suggestion& s :
         suggestions_for(place_, findings, {*lexicon_, document_, confusions_}, 5, effort))
      texts.push_back(s.text);
    return texts;
  }

  SmallDictionary dictionary_;
  std::unique_ptr<Lexicon> lexicon_ = dictionary_.open();
  DocumentWords document_;
  ConfusionModel confusions_ = plain_confusion_model();
  Place place_;
};

TEST_F(WordAnalyses, OnlyWordsAreCheckable) {
  EXPECT_TRUE(find(word_of("lamp")).checkable);
  EXPECT_TRUE(find(word_of("lamp")).known);
  EXPECT_FALSE(find(word_of("larnp")).known);
  EXPECT_FALSE(find(word_of("412")).checkable);
  EXPECT_TRUE(find(word_of("412")).known);
  EXPECT_FALSE(find(word_of("l9O5")).known);
}

TEST_F(WordAnalyses, AnUnknownWordIsMoreDoubtfulThanAKnownOne) {
  const auto error_probability = [&](const Word& word) {
    return confusions_.error_probability(find(word).features);
  };
  EXPECT_GT(error_probability(word_of("larnp")), error_probability(word_of("lamp")));
  EXPECT_GT(error_probability(word_of("lamp", 0.3)), error_probability(word_of("lamp", 0.9)));
  EXPECT_GT(error_probability(word_of("gall0ns")), error_probability(word_of("gallons")) - 1);
}

TEST_F(WordAnalyses, RivalsAreKnownReadingsOfOtherLetters) {
  const WordAnalysis rival =
      find(word_of("larnp", 0.5, {{"larnp", 0.5}, {"lamp", 0.3}, {"lainp", 0.2}}));
  EXPECT_NEAR(rival.own_share, 0.5, 1e-9);
  EXPECT_NEAR(rival.rival_share, 0.3, 1e-9);
  // Another punctuation is no rival word, and a clear word has none.
  EXPECT_EQ(find(word_of("lamp", 0.5, {{"lamp", 0.5}, {"lamp.", 0.5}})).rival_share, 0);
  EXPECT_EQ(find(word_of("lamp")).own_share, 1);
}

TEST_F(WordAnalyses, SuggestionsComeFromWhatWasSeenThenFromConfusions) {
  const Word seen = word_of("larnp", 0.5, {{"larnp", 0.6}, {"lainp", 0.2}, {"lamp", 0.1}});
  EXPECT_EQ(suggest(seen, Effort::kReadings).at(0), "lamp");
  EXPECT_TRUE(suggest(word_of("larnp"), Effort::kReadings).empty());
  EXPECT_EQ(suggest(word_of("larnp"), Effort::kGuesses).at(0), "lamp");
  EXPECT_EQ(suggest(word_of("“larnps,”"), Effort::kGuesses).at(0), "“lamps,”");
  EXPECT_EQ(suggest(word_of("modem"), Effort::kGuesses).at(0), "modern");
  EXPECT_EQ(suggest(word_of("thelamp"), Effort::kGuesses).at(0), "the lamp");
  EXPECT_TRUE(suggest(word_of("burnxd"), Effort::kGuesses).empty());
  EXPECT_EQ(suggest(word_of("burnxd"), Effort::kDictionary).at(0), "burned");
}

TEST_F(WordAnalyses, FiguresAreSuggestedOnlyAsTheyWereSeen) {
  EXPECT_TRUE(suggest(word_of("412", 0.5), Effort::kDictionary).empty());
  EXPECT_EQ(suggest(word_of("412", 0.5, {{"412", 0.6}, {"472", 0.4}}), Effort::kDictionary),
            std::vector<std::string>{"472"});
}

TEST_F(WordAnalyses, TheCostOfAWordGrowsWithWhatSpeaksAgainstIt) {
  const double clear = cost_as_it_stands(find(word_of("lamp")));
  const double unsure =
      cost_as_it_stands(find(word_of("lamp", 0.5, {{"lamp", 0.5}, {"lamps", 0.5}})));
  EXPECT_EQ(clear, 0);
  EXPECT_GT(unsure, clear);
  EXPECT_GT(cost_as_it_stands(find(word_of("larnp"))), unsure);
  EXPECT_GT(cost_as_it_stands(find(word_of("l9O5"))), cost_as_it_stands(find(word_of("larnp"))));
}

// ---- words changed ----

TEST(WordChange, SharesTheBoxByTheLengths) {
  Line line = line_of({word_of("thelamp"), word_of("lit")});
  const Box whole = line.words[0].box;
  replace_word(line, 0, "the lamp", CorrectedBy::kPerson);
  ASSERT_EQ(line.words.size(), 3u);
  EXPECT_EQ(line.words[0].box.x0, whole.x0);
  EXPECT_NEAR(line.words[0].box.width(), whole.width() * 3 / 8, 1e-6);
  EXPECT_NEAR(line.words[1].box.x1, whole.x1, 1e-6);
  EXPECT_EQ(line.words[0].before, "thelamp");
  EXPECT_EQ(line.words[1].before, "");
  EXPECT_EQ(line.words[1].confidence, 1);
}

TEST(WordChange, TheFirstReadingIsKeptThroughLaterChanges) {
  Line line = line_of({word_of("larnp", 0.4)});
  replace_word(line, 0, "lainp", CorrectedBy::kRepair);
  replace_word(line, 0, "lamp", CorrectedBy::kPerson);
  EXPECT_EQ(line.words[0].before, "larnp");
  replace_word(line, 0, "", CorrectedBy::kPerson);
  EXPECT_TRUE(line.words.empty());
}

TEST(WordChange, OnlyRepairsAreTakenBack) {
  Page page = page_of_lines({line_of({word_of("larnp"), word_of("oi1")})});
  Line& line = page.blocks[0].lines[0];
  replace_word(line, 0, "lamp", CorrectedBy::kRepair);
  replace_word(line, 1, "oil", CorrectedBy::kPerson);
  take_back_repairs(page);
  EXPECT_EQ(line.text(), "larnp oil");
}

}  // namespace
}  // namespace burnisher::correct
