// The stage `recognise`: the lines of a page become words with places and confidences.
#pragma once

#include <memory>

#include "page/page.h"
#include "recognise/beam_search.h"
#include "recognise/languages.h"
#include "recognise/network.h"

namespace burnisher::recognise {

struct RecogniseSettings {
  // A line whose mean confidence stays below is read again a little smaller and larger, and the
  // most confident reading is kept.
  double second_look = 0.9;
  bool spelling = true;                // languages' spelling helps with doubtful letters
  std::vector<std::string> languages;  // that occur; empty: any that is known
  bool modern_s = false;               // a long s is written as s
  BeamSearchSettings beam_search;
};

// A loaded model, shared by all threads.
class Recogniser {
 public:
  // `languages_folder`: language models; "": none. Throws InputError/FormatError.
  explicit Recogniser(const std::string& model_path, const std::string& languages_folder = "",
                      Precision precision = precision_of_processor());
  ~Recogniser();

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

  // Reads lines with letters that the page does not use again without those letters, makes
  // look-alike signs of one kind (see character_prior.h), and long s modern if that is wanted. To
  // be called when all lines are read.
  void settle(const Gray& gray, const PlaneMap& page_to_gray, const RecogniseSettings& settings,
              Page& page) const;

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::recognise
