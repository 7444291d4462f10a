// Where the models lie that came with the program: the recogniser's, the languages' spelling, what
// is mixed up.
#pragma once

#include <string>
#include <vector>

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
  // The folder of language models; "" when there is none.
  std::string languages() const;
  // What the recogniser is known to mix up. Throws SettingsError.
  std::string confusion_model() const;

 private:
  std::vector<std::string> places() const;
  std::string found(const char* name) const;  // "": nowhere
  std::string looked_at() const;

  std::string folder_;
};

}  // namespace burnisher::cli
