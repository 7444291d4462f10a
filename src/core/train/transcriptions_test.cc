#include "train/transcriptions.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "pagefile/alto.h"
#include "pagefile/page_xml.h"
#include "raster/png.h"
#include "testing/printed_page.h"
#include "testing/word_pages.h"

namespace burnisher::train {
namespace {

using testing::line_of;
using testing::page_of_lines;
using testing::TemporaryFolder;
using testing::word_of;

struct Listening : Progress {
  void advance(const std::string&, double, double) override {}
  void warn(const std::string& message) override { said += message + "\n"; }
  void say(const std::string& message) override { said += message + "\n"; }
  std::string said;
};

class Transcriptions : public ::testing::Test {
 protected:
  void put_picture(const std::string& name, int width = 900, int height = 1200) {
    write_file(folder_.file(name), write_png(Gray(width, height), 200));
  }
  std::vector<train::Example> read() {
    return read_transcriptions(folder_.path(), {}, nullptr, listening_);
  }

  TemporaryFolder folder_;
  Listening listening_;
  Page page_ =
      page_of_lines({line_of({word_of("The"), word_of("lamp")}), line_of({word_of("lit")}, 200)});
};

TEST_F(Transcriptions, ComeFromPageXmlLineByLine) {
  put_picture("a.png");
  write_file(folder_.file("a.xml"), write_page_xml(page_, "a.png"));
  const auto examples = read();
  ASSERT_EQ(examples.size(), 2u);
  EXPECT_EQ(encode_utf8(examples[0].text), "The lamp");
  EXPECT_NEAR(examples[0].place.x_height, 15, 0.1);
  EXPECT_LT(examples[0].picture.height(), 200);  // the line with its surroundings, not the page
}

TEST_F(Transcriptions, ComeFromAltoAndFromPicturesOfLines) {
  put_picture("a.png");
  write_file(folder_.file("a.xml"), write_alto({page_}, Positions::kPage));
  EXPECT_EQ(read().size(), 2u);
}

TEST_F(Transcriptions, PicturesWithoutATextAreNamed) {
  put_picture("a.png");
  write_file(folder_.file("a.xml"), write_page_xml(page_, "a.png"));
  put_picture("b.png");
  EXPECT_EQ(read().size(), 2u);
  EXPECT_NE(listening_.said.find("b.png"), std::string::npos) << listening_.said;
}

TEST_F(Transcriptions, AFolderWithoutAnyIsAnError) {
  EXPECT_THROW(read(), InputError);
  EXPECT_THROW(read_transcriptions(folder_.file("nowhere"), {}, nullptr, listening_), InputError);
}

}  // namespace
}  // namespace burnisher::train
