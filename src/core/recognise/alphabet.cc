#include "recognise/alphabet.h"

#include "base/error.h"
#include "base/unicode.h"

namespace burnisher::recognise {

Alphabet::Alphabet(const std::string& characters) : characters_(decode_utf8(characters)) {
  for (size_t i = 0; i < characters_.size(); ++i) {
    if (!classes_.emplace(characters_[i], static_cast<int>(i) + 1).second) {
      throw FormatError("the model's alphabet names the character '" + encode_utf8(characters_[i]) +
                        "' twice; the model file is damaged");
    }
  }
}

int Alphabet::class_of(char32_t character) const {
  const auto found = classes_.find(character);
  return found == classes_.end() ? 0 : found->second;
}

std::string Alphabet::utf8() const {
  std::string text;
  for (char32_t c : characters_) text += encode_utf8(c);
  return text;
}

const std::string& latin_characters() {
  static const std::string characters =
      " !\"#$%&'()*+,-./0123456789:;<=>?@ABCDEFGHIJKLMNOPQRSTUVWXYZ[\\]^_`"
      "abcdefghijklmnopqrstuvwxyz{|}~"
      "ÀÁÂÃÄÅÆÇÈÉÊËÌÍÎÏÐÑÒÓÔÕÖ×ØÙÚÛÜÝÞßàáâãäåæçèéêëìíîïðñòóôõö÷øùúûüýþÿ"
      "ĀāĂăĄąĆćĈĉĊċČčĎďĐđĒēĖėĘęĚěĜĝĞğĠġĢģĤĥĦħĪīĮįİıĴĵĶķĹĺĻļĽľŁłŃńŅņŇňŌōŐőŒœ"
      "ŔŕŘřŚśŜŝŞşŠšŤťŪūŬŭŮůŰűŲųŴŵŶŷŸŹźŻżŽžſȘșȚțẞẀẁẂẃẄẅỲỳ"
      // Vietnamese.
      "ƠơƯưẠạẢảẤấẦầẨẩẪẫẬậẮắẰằẲẳẴẵẶặẸẹẺẻẼẽẾếỀềỂểỄễỆệỈỉỊịỌọỎỏỐốỒồỔổỖỗỘộỚớỜờỞởỠỡỢợỤụỦủỨứỪừỬửỮữỰựỴỵỶỷỸỹ"
      // African and Turkic languages; accents of tones where no letter has them built in.
      "ƁɓƊɗƉɖƎǝƏəƐɛƔɣƖɩƘƙƝɲƟɵƢƣƆɔƩʃƬƭƲʋƳƴƷʒǦǧǨǩǸǹḾḿĬĭŎŏʼ\u0300\u0301\u0302\u0303\u0304"
      // Romanised scripts.
      "ḌḍḎḏḠḡḤḥḪḫẖḲḳḴḵḶḷḸḹḺḻṀṁṂṃṄṅṆṇṈṉṚṛṜṝṞṟṠṡṢṣṬṭṮṯẎẏẒẓẔẕẗǍǎǏǐǑǒǓǔǕǖǗǘǙǚǛǜǢǣǪǫȲȳʾʿ"
      "‘’‚“”„‹›«»–—…•†‡§¶°·¡¿©®™€£¥¢ªº¹²³⁰⁴⁵⁶⁷⁸⁹¼½¾⅓⅔⅛±µ¬‰−′″№ƒ";
  return characters;
}

}  // namespace burnisher::recognise
