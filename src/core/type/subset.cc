#include "type/subset.h"

#include <hb-subset.h>
#include <hb.h>

#include "base/error.h"

namespace burnisher::type {
namespace {

template <typename T, void (*kRelease)(T*)>
struct Released {
  T* object;
  explicit Released(T* made) : object(made) {}
  ~Released() { kRelease(object); }
  Released(const Released&) = delete;
  Released& operator=(const Released&) = delete;
};

}  // namespace

Subset subset_of(const TypefaceName& name, const std::vector<int>& glyphs) {
  const FontFile file = font_file(name);
  const Released<hb_blob_t, hb_blob_destroy> blob(hb_blob_create_from_file(file.path.c_str()));
  const Released<hb_face_t, hb_face_destroy> face(
      hb_face_create(blob.object, static_cast<unsigned>(file.index)));
  const Released<hb_subset_input_t, hb_subset_input_destroy> input(
      hb_subset_input_create_or_fail());
  for (const int glyph : glyphs)
    hb_set_add(hb_subset_input_glyph_set(input.object), static_cast<hb_codepoint_t>(glyph));
  // Characters are found by the PDF's own tables, letters stand as they are: nothing but outlines.
  hb_set_t* dropped = hb_subset_input_set(input.object, HB_SUBSET_SETS_DROP_TABLE_TAG);
  for (const hb_tag_t table :
       {HB_TAG('G', 'S', 'U', 'B'), HB_TAG('G', 'P', 'O', 'S'), HB_TAG('G', 'D', 'E', 'F'),
        HB_TAG('k', 'e', 'r', 'n'), HB_TAG('F', 'F', 'T', 'M')})
    hb_set_add(dropped, table);
  hb_subset_input_set_flags(input.object, HB_SUBSET_FLAGS_NO_HINTING);
  const Released<hb_subset_plan_t, hb_subset_plan_destroy> plan(
      hb_subset_plan_create_or_fail(face.object, input.object));
  if (plan.object == nullptr) throw OutputError(file.path + ": no part can be made of this font");
  const Released<hb_face_t, hb_face_destroy> made(hb_subset_plan_execute_or_fail(plan.object));
  if (made.object == nullptr) throw OutputError(file.path + ": no part can be made of this font");
  const Released<hb_blob_t, hb_blob_destroy> out(hb_face_reference_blob(made.object));
  unsigned length = 0;
  const char* bytes = hb_blob_get_data(out.object, &length);
  Subset subset;
  subset.font.assign(bytes, bytes + length);
  const hb_map_t* numbers = hb_subset_plan_old_to_new_glyph_mapping(plan.object);
  for (const int glyph : glyphs)
    subset.glyphs.push_back(
        static_cast<int>(hb_map_get(numbers, static_cast<hb_codepoint_t>(glyph))));
  return subset;
}

}  // namespace burnisher::type
