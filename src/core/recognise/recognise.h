// The stage `recognise`: the lines of a page become words with places and confidences.
#pragma once

#include <memory>

#include "page/page.h"
#include "recognise/beam_search.h"
#include "recognise/bundle.h"
#include "recognise/languages.h"
#include "recognise/network.h"

namespace burnisher::recognise {

struct RecogniseSettings {
  // A line whose mean confidence stays below is read again a little smaller and larger, and the
  // most confident reading is kept.
  double second_look = 0.9;
  bool spelling = true;                // languages' spelling helps with doubtful letters
  std::vector<std::string> languages;  // that occur; empty: any that is known
  std::vector<std::string> scripts;    // that occur (ISO 15924); empty: any that can be read
  bool modern_s = false;               // a long s is written as s
  bool points = true;                  // Hebrew points and Arabic vowel signs are kept
  BeamSearchSettings beam_search;
};

// Bundles that read lines, shared by all threads. The first sees every line and tells its script
// where it can; the others are loaded when a line needs them.
class Recogniser {
 public:
  // Throws SettingsError without a bundle, InputError/FormatError for the first one's files.
  explicit Recogniser(const std::vector<Bundle>& bundles,
                      Precision precision = precision_of_processor());
  // One model file, as read_bundle takes it.
  explicit Recogniser(const std::string& model_path,
                      Precision precision = precision_of_processor());
  ~Recogniser();

  // Those whose spelling is known, of any bundle.
  const Languages& languages() const;

  // `gray` is sampled through `page_to_gray` (the page's way back to the scan, or the identity when
  // `gray` is the page itself). Fills the words of every line of `page`, anew.
  void read(const Gray& gray, const PlaneMap& page_to_gray, const RecogniseSettings& settings,
            Page& page) const;
  // The same for these lines only.
  void read(const Gray& gray, const PlaneMap& page_to_gray, const RecogniseSettings& settings,
            const std::vector<Line*>& lines) const;

  // Reads blocks of lines that run up or down the page from the other end, too, and keeps the surer
  // reading. To be called when all lines are read.
  void read_round(const Gray& gray, const PlaneMap& page_to_gray, const RecogniseSettings& settings,
                  Page& page) const;

  // Reads lines of the first bundle with letters that the page does not use again without those
  // letters, makes look-alike signs of one kind (see character_prior.h), and long s modern if that
  // is wanted. To be called when all lines are read.
  void settle(const Gray& gray, const PlaneMap& page_to_gray, const RecogniseSettings& settings,
              Page& page) const;

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::recognise
