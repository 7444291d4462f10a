// Every reader of foreign bytes meets damaged ones: flipped, cut, doubled. It may refuse them or
// make the best of them, but it must not crash, hang or reach for gigabytes.

#include <gtest/gtest.h>

#include <gtest/gtest-spi.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>
#include <fstream>
#include <functional>
#include <new>

#include "base/error.h"
#include "base/files.h"
#include "base/random.h"
#include "correct/decisions.h"
#include "export/hocr.h"
#include "intake/scan_file.h"
#include "layout/marks.h"
#include "neural/tensor_file.h"
#include "page/table.h"
#include "pagefile/alto.h"
#include "pagefile/hocr.h"
#include "pagefile/page_xml.h"
#include "pdf/pdf.h"
#include "program.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/jpeg2000.h"
#include "raster/png.h"
#include "raster/pnm.h"
#include "raster/tiff.h"
#include "recognise/language_model.h"
#include "testing/printed_page.h"
#include "testing/small_dictionary.h"
#include "train/run_files.h"

namespace burnisher {
namespace {

constexpr int kRounds = 150;
constexpr double kPixelLimit = 1e6;

std::vector<uint8_t> damaged(const std::vector<uint8_t>& bytes, Random& random) {
  std::vector<uint8_t> out = bytes;
  const int kind = random.index(4);
  if (kind == 0) {
    out.resize(static_cast<size_t>(random.index(out.size())));
  } else if (kind == 1) {
    const auto at = static_cast<long>(random.index(out.size()));
    out.insert(out.begin() + at, out.begin(), out.begin() + std::min<long>(at + 1, 40));
  } else {
    const int flips = 1 + random.index(8);
    // Headers decide most: half of the damage is done there.
    const size_t reach = kind == 2 ? std::min<size_t>(out.size(), 64) : out.size();
    for (int i = 0; i < flips; ++i)
      out[static_cast<size_t>(random.index(reach))] = static_cast<uint8_t>(random.index(256));
  }
  return out;
}

constexpr rlim_t kMostSeconds = 60;         // of processor time, for all versions together
constexpr rlim_t kMostMemory = 1ull << 30;  // bytes beyond what the test itself has

rlim_t address_space_now() {
  std::ifstream in("/proc/self/statm");
  rlim_t pages = 0;
  in >> pages;
  return pages * static_cast<rlim_t>(sysconf(_SC_PAGESIZE));
}

// Runs `read` on many damaged versions, in a process of its own that may not take long nor much;
// anything but an Error of ours is a failure.
void survive(const std::vector<uint8_t>& good,
             const std::function<void(const std::vector<uint8_t>&)>& read) {
  ASSERT_NO_THROW(read(good));
  const pid_t child = fork();
  ASSERT_GE(child, 0);
  if (child == 0) {
    const rlim_t memory = address_space_now() + kMostMemory;
    const rlimit space{memory, memory}, time{kMostSeconds, kMostSeconds};
    setrlimit(RLIMIT_AS, &space);
    setrlimit(RLIMIT_CPU, &time);
    Random random(good.size());
    int code = 0;
    for (int round = 0; round < kRounds && code == 0; ++round) {
      const std::vector<uint8_t> bad = damaged(good, random);
      try {
        read(bad);
      } catch (const Error&) {
      } catch (const std::bad_alloc&) {
        code = 2;
      } catch (...) {
        code = 3;
      }
    }
    _exit(code);
  }
  int status = 0;
  ASSERT_EQ(waitpid(child, &status, 0), child);
  EXPECT_FALSE(WIFSIGNALED(status)) << "ended by signal " << WTERMSIG(status)
                                    << (WTERMSIG(status) == SIGXCPU ? ": took too long" : "");
  EXPECT_EQ(WEXITSTATUS(status), 0)
      << (WEXITSTATUS(status) == 2 ? "reached for too much memory"
                                   : "threw what is no Error of ours");
}

// The limits are kept at all: what hangs or takes gigabytes fails.
TEST(Damage, LimitsHold) {
  EXPECT_NONFATAL_FAILURE(survive({1, 2, 3},
                                  [](const auto& bytes) {
                                    if (bytes != std::vector<uint8_t>{1, 2, 3})
                                      std::vector<char> all(3ull << 30, 'x');
                                  }),
                          "too much memory");
}

Gray small_page() {
  testing::PrintedPage page(220, 90);
  page.print({"Skerrow", 20, 60, 44});
  return page.picture();
}

TEST(Damage, Png) {
  survive(write_png(Picture(small_page()), 300),
          [](const auto& bytes) { read_png(bytes, kPixelLimit); });
}

TEST(Damage, Jpeg) {
  survive(write_jpeg(small_page(), 80), [](const auto& bytes) { read_jpeg(bytes, kPixelLimit); });
}

TEST(Damage, Jpeg2000) {
  testing::TemporaryFolder folder;
  const std::string picture = folder.file("a.png"), coded = folder.file("a.jp2");
  write_file(picture, write_png(Picture(small_page()), 300));
  ASSERT_EQ(tests::shell("opj_compress -i " + picture + " -o " + coded).code, 0);
  survive(read_file(coded), [](const auto& bytes) { read_jpeg2000(bytes, kPixelLimit); });
}

TEST(Damage, Pnm) {
  const Gray page = small_page();
  std::string text = "P5\n# note\n220 90\n255\n";
  text.append(reinterpret_cast<const char*>(page.row(0)), page.samples().size());
  survive({text.begin(), text.end()}, [](const auto& bytes) { read_pnm(bytes, kPixelLimit); });
}

class TiffDamage : public ::testing::TestWithParam<bool> {};

TEST_P(TiffDamage, IsSurvived) {
  testing::TemporaryFolder folder;
  const std::string path = folder.file("a.tif");
  write_tiff(path, GetParam() ? Picture(to_bitonal(small_page(), 128)) : Picture(small_page()),
             200);
  survive(read_file(path), [&](const auto& bytes) {
    write_file(path, bytes);
    if (count_tiff_pages(path) > 0) read_tiff(path, 0, kPixelLimit);
  });
}

INSTANTIATE_TEST_SUITE_P(Kinds, TiffDamage, ::testing::Bool());

TEST(Damage, Pdf) {
  testing::TemporaryFolder folder;
  const std::string path = folder.file("a.pdf");
  {
    pdf::PdfWriter writer({path, true}, {});
    Page page;
    page.width = 220;
    page.height = 90;
    pdf::Sheet sheet;
    sheet.width = page.width;
    sheet.height = page.height;
    sheet.picture = std::make_shared<pdf::PagePicture>(
        pdf::page_picture(Picture(small_page()), {}, page.dpi, {}));
    sheet.pages = {&page};
    sheet.to_sheet = {PlaneMap()};
    writer.add(sheet);
    writer.finish();
  }
  ScanLimits limits;
  limits.pixels = kPixelLimit;
  survive(read_file(path), [&](const auto& bytes) {
    write_file(path, bytes);
    ScanFile(path, limits).read(1);
  });
}

TEST(Damage, PageXml) {
  Page page;
  page.width = 300;
  page.height = 200;
  Block block;
  block.outline = Box{1, 2, 30, 40}.corners();
  Line line;
  line.baseline = {{1, 20}, {30, 20}};
  line.box = {1, 2, 30, 40};
  line.words = {{"lamp", {1, 2, 30, 40}, 0.9, {{U'l', {1, 2, 5, 40}, 0.8}}}};
  block.lines = {line};
  page.blocks = {block};
  const std::string xml = write_page_xml(page, "a.png");
  survive({xml.begin(), xml.end()}, [](const auto& bytes) {
    read_page_xml(std::string(bytes.begin(), bytes.end()), "a.xml");
  });
}

TEST(Damage, PageXmlOfCorrectedPagesAndTables) {
  Page page = testing::page_of_lines(
      {testing::line_of({testing::word_of("lamp"), testing::word_of("lit")})});
  Word& word = page.blocks[0].lines[0].words[0];
  word.readings = {{"larnp", 0.5}};
  word.error_probability = 0.5;
  word.reasons = kUnsure;
  word.corrected = CorrectedBy::kRepair;
  word.before = "larnp";
  Block table = page.blocks[0];
  table.kind = BlockKind::kTable;
  table.cells = {Cell{0, 0, 1, 1, false, {1, 2, 30, 40}, {0}}};
  page.blocks.push_back(table);
  const std::string xml = write_page_xml(page, "a.png");
  survive({xml.begin(), xml.end()}, [](const auto& bytes) {
    const PageXml read = read_page_xml(std::string(bytes.begin(), bytes.end()), "a.xml");
    for (const Block& block : read.page.blocks) texts_of(block);
    write_page_xml(read.page, "a.png");
  });
}

TEST(Damage, CellsAtAbsurdPlaces) {
  for (const char* row : {"-3", "2000000000"}) {
    const std::string xml =
        "<PcGts xmlns='x'><Page imageFilename='a.png' imageWidth='9' imageHeight='9'>"
        "<TableRegion id='t'><Coords points='0,0 9,9'/><TextRegion id='c'><Coords points='0,0 "
        "9,9'/><Roles><TableCellRole rowIndex='" +
        std::string(row) + "' columnIndex='0'/></Roles></TextRegion></TableRegion></Page></PcGts>";
    try {
      read_page_xml(xml, "a.xml");
      FAIL() << row;
    } catch (const FormatError& cause) {
      EXPECT_NE(std::string(cause.what()).find("a.xml: no table has a cell in row"),
                std::string::npos);
    }
  }
}

// Runs `read` on damaged versions of a file.
void survive_file(const std::string& good, const std::function<void(const std::string&)>& read) {
  testing::TemporaryFolder folder;
  const std::string path = folder.file("file");
  survive({good.begin(), good.end()}, [&](const std::vector<uint8_t>& bytes) {
    write_file(path, bytes);
    read(path);
  });
}

TEST(Damage, Alto) {
  const Page page = testing::page_of_lines({testing::line_of({testing::word_of("lamp")})});
  survive_file(write_alto({page, page}, Positions::kPage),
               [](const std::string& path) { read_alto_file(path); });
}

TEST(Damage, Hocr) {
  const Page page = testing::page_of_lines({testing::line_of({testing::word_of("lamp")})});
  survive_file(exporting::hocr_head("Log", "en") + exporting::hocr_page(page, Positions::kPage, 1) +
                   exporting::hocr_tail(),
               [](const std::string& path) { read_hocr_file(path); });
}

TEST(Damage, LanguageModels) {
  const std::vector<uint8_t> model = read_file(BURNISHER_MODELS_FOLDER "/languages/fi.glyphs");
  survive_file({model.begin(), model.end()}, [](const std::string& path) {
    const recognise::LanguageModel read(path);
    recognise::LanguageModel::Context next;
    read.step(read.start(), 0, next);
  });
}

TEST(Damage, LayoutMarks) {
  survive_file(
      R"({"format": "burnisher-layout-1", "pages": [{"page": "log-0007", "turn": 90, "blocks": [)"
      R"({"kind": "table", "level": 0, "outline": [[1, 2], [30, 2], [30, 40], [1, 40]],)"
      R"("lines": [[1, 2, 30, 10]], "rows": [20], "columns": [9], "header": 1,)"
      R"("joined": [[0, 0, 1, 2]]}]}]})",
      [](const std::string& path) {
        const std::vector<uint8_t> bytes = read_file(path);
        layout::read_marks({bytes.begin(), bytes.end()});
      });
}

TEST(Damage, TablesOfDecisions) {
  correct::Decision d;
  d.file = "log.png";
  d.box = {1, 2, 30, 40};
  d.read = "larnp";
  d.verdict = correct::Verdict::kChange;
  d.text = "lamp";
  survive_file(correct::decisions_table({d, d, d}),
               [](const std::string& path) { correct::read_decisions(path); });
}

TEST(Damage, ConfusionModelsAndLists) {
  survive_file(correct::write_confusion_model(testing::plain_confusion_model()),
               [](const std::string& path) { correct::read_confusion_model(path); });
  survive_file("# places\nSkerrow\nDunmore\nHallow\n",
               [](const std::string& path) { correct::WordList::read(path); });
}

TEST(Damage, LinesOfALog) {
  survive_file(
      "minutes\tlines\tsteps\trate\tloss\tclean\tmedium\theavy\n"
      "1.0\t100\t3\t0.001\t2.5\t0.5\t0.6\t0.7\n",
      [](const std::string& path) { train::read_log(path); });
}

TEST(Damage, ModelFile) {
  testing::TemporaryFolder folder;
  const std::string path = folder.file("m");
  neural::TensorFile file;
  file.tensors["w"] = {{3, 4}, std::vector<float>(12, 0.5f)};
  file.metadata["note"] = "x";
  neural::write_tensor_file(path, file, true);
  survive(read_file(path), [&](const auto& bytes) {
    write_file(path, bytes);
    neural::read_tensor_file(path);
  });
}

TEST(Damage, ScanFilesOfAnyBytes) {
  testing::TemporaryFolder folder;
  Random random(3);
  for (int round = 0; round < kRounds; ++round) {
    std::vector<uint8_t> bytes(static_cast<size_t>(random.index(200)));
    for (uint8_t& b : bytes) b = static_cast<uint8_t>(random.index(256));
    // Start like a known kind, go on at random.
    const char* starts[] = {"\x89PNG\r\n\x1a\n", "\xff\xd8\xff", "II*", "P5 ", "%PDF-1.7\n", ""};
    const std::string start = starts[random.index(6)];
    bytes.insert(bytes.begin(), start.begin(), start.end());
    const std::string path = folder.file("torn-leaf-71");
    write_file(path, bytes);
    try {
      ScanFile(path, {}).read(1);
    } catch (const Error& error) {
      EXPECT_NE(std::string(error.what()).find(path), std::string::npos) << error.what();
    }
  }
}

}  // namespace
}  // namespace burnisher
