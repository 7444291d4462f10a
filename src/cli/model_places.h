// Where the models lie that came with the program: the recogniser's, the languages' spelling, what
// is mixed up.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "correct/confusion_model.h"
#include "page/page.h"
#include "recognise/bundle.h"

namespace burnisher::cli {

class ModelPlaces {
 public:
  // A folder that counts before all others: --models.
  void set_folder(const std::string& folder) { folder_ = folder; }

  // The recogniser's model file, or "".
  std::string shipped_model() const;
  // `given` or the shipped one; throws SettingsError with the places looked at when there is none.
  std::string model_to_use(const std::string& given) const;
  // The network that sees pages. Throws SettingsError where there is none.
  std::string page_model() const;
  // Where bundles lie that the user taught.
  static std::string own_folder();
  // The bundles named, by name (the user's own too), table or model file; all that came with the
  // program when none is. Throws SettingsError with those that are known.
  std::vector<recognise::Bundle> bundles(const std::vector<std::string>& named = {}) const;
  // Those that the user taught.
  std::vector<recognise::Bundle> own_bundles() const;
  // What each script's bundle is known to mix up. Bundles that don't say so take from the first
  // that does what makes a word a suspect, and no confusions.
  std::map<std::string, correct::ConfusionModel> confusion_models() const;
  // That of the script most of the pages are in; one without habits where there is none.
  correct::ConfusionModel confusion_model_for(const std::vector<const Page*>& pages) const;

 private:
  std::vector<std::string> places() const;
  std::vector<recognise::Bundle> shipped() const;
  std::string found(const char* name) const;  // "": nowhere
  std::string looked_at() const;

  std::string folder_;
};

}  // namespace burnisher::cli
