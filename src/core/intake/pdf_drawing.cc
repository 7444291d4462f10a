#include "intake/pdf_drawing.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace burnisher {
namespace {

constexpr int kDeepestForm = 8;         // forms within forms; deeper ones are not looked into
constexpr size_t kMostPictures = 2000;  // of a page; more are no scan

const std::set<std::string> kDrawsNothing = {
    "q",  "Q",  "cm", "Do", "BMC", "BDC", "EMC", "gs", "BT", "ET", "Tf", "Tm", "Td",
    "TD", "T*", "Tc", "Tw", "Tz",  "TL",  "Ts",  "Tr", "g",  "rg", "cs", "sc", "scn"};
const std::set<std::string> kShowsText = {"Tj", "TJ", "'", "\""};

// PDF's matrices have their columns where an Affine has its rows.
Affine affine_of(const double (&m)[6]) {
  return {m[0], m[2], m[4], m[1], m[3], m[5]};
}

class Reader : public QPDFObjectHandle::ParserCallbacks {
 public:
  Reader(QPDFObjectHandle resources, const Affine& start, int depth, PdfDrawing& drawing)
      : resources_(resources), depth_(depth), drawing_(drawing), map_(start) {}

  void handleObject(QPDFObjectHandle object) override {
    if (!object.isOperator()) {
      operands_.push_back(object);
      return;
    }
    const std::string name = object.getOperatorValue();
    constexpr long long kUnseen = 3;
    if (name == "Tr" && !operands_.empty() && operands_[0].isInteger())
      text_mode_ = operands_[0].getIntValue();
    const bool text = kShowsText.count(name) > 0;
    drawing_.any_text = drawing_.any_text || text;
    drawing_.plain =
        drawing_.plain && (text ? text_mode_ == kUnseen : kDrawsNothing.count(name) > 0);
    if (name == "q") saved_.push_back(map_);
    if (name == "Q" && !saved_.empty()) {
      map_ = saved_.back();
      saved_.pop_back();
    }
    if (name == "cm" && operands_.size() == 6) {
      double m[6];
      for (size_t i = 0; i < 6; ++i)
        m[i] = operands_[i].isNumber() ? operands_[i].getNumericValue() : 0;
      map_ = map_ * affine_of(m);
    }
    if (name == "Do" && !operands_.empty() && operands_[0].isName()) draw(operands_[0].getName());
    operands_.clear();
  }
  void handleEOF() override {}

 private:
  void draw(const std::string& name) {
    auto objects = resources_.isDictionary() ? resources_.getKey("/XObject") : resources_;
    auto object = objects.isDictionary() ? objects.getKey(name) : objects;
    if (!object.isStream()) {
      drawing_.plain = false;
      return;
    }
    auto kind = object.getDict().getKey("/Subtype");
    if (kind.isName() && kind.getName() == "/Image") add_picture(object);
    if (kind.isName() && kind.getName() == "/Form") draw_form(object);
  }

  void add_picture(QPDFObjectHandle object) {
    auto dictionary = object.getDict();
    auto width = dictionary.getKey("/Width"), height = dictionary.getKey("/Height");
    if (!width.isInteger() || !height.isInteger() || drawing_.pictures.size() >= kMostPictures) {
      drawing_.plain = false;
      return;
    }
    PlacedPicture picture;
    picture.stream = object;
    picture.to_page = map_;
    picture.area = std::fabs(map_.a * map_.e - map_.b * map_.d);
    const double across = std::hypot(map_.a, map_.d), down = std::hypot(map_.b, map_.e);
    if (across > 0 && down > 0)
      picture.dpi =
          72 * std::min(width.getNumericValue() / across, height.getNumericValue() / down);
    drawing_.pictures.push_back(picture);
  }

  void draw_form(QPDFObjectHandle form) {
    drawing_.plain = false;
    if (depth_ >= kDeepestForm) return;
    auto dictionary = form.getDict();
    Affine map = map_;
    auto matrix = dictionary.getKey("/Matrix");
    if (matrix.isArray() && matrix.getArrayNItems() == 6) {
      double m[6];
      for (int i = 0; i < 6; ++i)
        m[i] = matrix.getArrayItem(i).isNumber() ? matrix.getArrayItem(i).getNumericValue() : 0;
      map = map * affine_of(m);
    }
    auto own = dictionary.getKey("/Resources");
    Reader reader(own.isDictionary() ? own : resources_, map, depth_ + 1, drawing_);
    QPDFPageObjectHelper(form).parseContents(&reader);
  }

  QPDFObjectHandle resources_;
  int depth_;
  PdfDrawing& drawing_;
  Affine map_;
  std::vector<Affine> saved_;
  std::vector<QPDFObjectHandle> operands_;
  long long text_mode_ = 0;
};

}  // namespace

QPDFObjectHandle::Rectangle crop_box(QPDFPageObjectHelper& page) {
  auto crop = page.getAttribute("/CropBox", false);
  auto box = crop.isRectangle() ? crop : page.getAttribute("/MediaBox", false);
  if (!box.isRectangle()) return {0, 0, 612, 792};  // what viewers assume
  QPDFObjectHandle::Rectangle r = box.getArrayAsRectangle();
  if (r.llx > r.urx) std::swap(r.llx, r.urx);
  if (r.lly > r.ury) std::swap(r.lly, r.ury);
  return r;
}

int rotation_of(QPDFPageObjectHelper& page) {
  auto rotate = page.getAttribute("/Rotate", false);
  if (!rotate.isInteger()) return 0;
  return static_cast<int>((rotate.getIntValue() % 360 + 360) % 360) / 90 * 90;
}

PdfDrawing drawing_of(QPDFPageObjectHelper& page) {
  PdfDrawing drawing;
  Reader reader(page.getAttribute("/Resources", false), Affine{}, 0, drawing);
  page.parseContents(&reader);
  // What is drawn over the page besides its contents: stamps, filled-in fields.
  auto annotations = page.getObjectHandle().getKey("/Annots");
  if (annotations.isArray()) {
    for (auto& annotation : annotations.getArrayAsVector()) {
      if (annotation.isDictionary() && annotation.hasKey("/AP")) drawing.plain = false;
    }
  }
  return drawing;
}

}  // namespace burnisher
