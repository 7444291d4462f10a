// One bundle at work: line strips in, characters in printed order out.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "page/page.h"
#include "recognise/beam_search.h"
#include "recognise/bundle.h"
#include "recognise/decode.h"
#include "recognise/languages.h"
#include "recognise/network.h"
#include "recognise/strip.h"
#include "recognise/strip_leaders.h"
#include "recognise/strip_margins.h"

namespace burnisher::recognise {

struct LineTask {
  Line* line = nullptr;
  LinePlace place;    // in pixels of the picture that is sampled
  double factor = 1;  // on the x-height
  StripMargins margins = {kStripMargin, kStripMargin};
};

// Where the line lies in the picture that is sampled.
LinePlace place_of(const Line& line, const PlaneMap& page_to_gray);

// A line as read, with what is needed to read it again with a language in mind.
struct LineReading {
  Gray strip;
  std::vector<StripLeader> leaders;  // of the strip: not read as letters
  std::optional<StripMap> map;
  Posteriors posteriors;
  std::vector<ReadCharacter> characters;                     // in printed order
  std::vector<float> script_log_probability, script_frames;  // as FrameScores has them
  double confidence = 0;  // mean over the characters as the network alone reads them

  bool doubtful() const;
  std::string text(const std::string& script) const;  // in logical order
};

// Safe to call from many threads.
class Reader {
 public:
  // `languages`: must outlive the reader; the bundle's are among them. Throws
  // InputError/FormatError.
  // `most_prepared`: as Network has it.
  Reader(const Bundle& bundle, const Languages& languages, Precision precision,
         size_t most_prepared = Network::kAllWidths);

  const Bundle& bundle() const { return bundle_; }
  const Alphabet& alphabet() const { return model_.alphabet; }
  const StripFrame& frame() const { return model_.frame; }
  // Those of the bundle's languages that the readings are in, of `among` (empty: of all); "" where
  // that can't be told.
  std::vector<std::string> languages_of(const std::vector<LineReading>& readings,
                                        const std::vector<std::string>& among) const;
  const std::vector<std::string>& tells_scripts() const { return tells_scripts_; }

  std::vector<LineReading> read(const Gray& gray, const std::vector<LineTask>& tasks) const;

  // How likely a reading is, by how surely its letters were seen and how well it is spelled in one
  // of the bundle's languages (of `among`; empty: of all). For comparing readings of one line.
  double likelihood(const LineReading& reading, const std::vector<std::string>& among) const;
  // The same of a piece of text. `confidence`: mean over its characters.
  double likelihood(double confidence, const std::string& text,
                    const std::vector<std::string>& among) const;

  // Whether a reading is spelled as texts in one of those languages are: no other script would
  // make sense of it.
  bool makes_sense(const LineReading& reading, const std::vector<std::string>& among) const;

  // Reads lines below `second_look` a little smaller and larger, too, and keeps the surest.
  void look_again(const Gray& gray, const std::vector<LineTask>& tasks, double second_look,
                  std::vector<LineReading>& readings) const;

  // Lines with doubtful letters are read with their language's spelling in mind. `tags`: the
  // language of each reading, "": not known. `barred`: classes that must not occur; may be empty.
  void spell(const std::vector<std::string>& tags, const BeamSearchSettings& settings,
             const std::vector<bool>& barred, std::vector<LineReading>& readings) const;

  // As Network has it.
  void rest() const { network_.rest(); }

  // The words of the line, in logical order.
  void write(const LineReading& reading, const PlaneMap& page_to_gray, Line& line) const;

 private:
  std::vector<LineReading> read_placed(const Gray& gray, const std::vector<LineTask>& tasks) const;
  std::vector<std::string> own_languages(const std::vector<std::string>& among) const;
  FrameScores scores_of(const Gray& strip) const;
  void add_readings(const std::vector<ReadCharacter>& characters, const Posteriors& posteriors,
                    Line& line) const;

  Bundle bundle_;
  Model model_;
  Network network_;
  const Languages& languages_;
  std::vector<std::string> tells_scripts_;
  Symbols symbols_;
};

}  // namespace burnisher::recognise
