#include <fmt/core.h>

#include <algorithm>
#include <filesystem>
#include <map>
#include <set>

#include "base/error.h"
#include "base/files.h"
#include "cli/find_results.h"
#include "intake/scan_file.h"
#include "pagefile/page_file.h"
#include "pdf/highlights.h"
#include "raster/convert.h"
#include "report/find_sheet.h"
#include "report/html.h"
#include "report/proof_sheet.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

std::string title_of(const std::vector<std::string>& sought) {
  std::string title = "Places of ";
  for (size_t i = 0; i < sought.size() && i < 4; ++i) title += (i > 0 ? ", " : "") + sought[i];
  return sought.size() > 4 ? title + " ..." : title;
}

// The picture that the places on a page belong to: its own, or its scan where that has the page's
// size, or the PDF page drawn.
Gray picture_of(const find::IndexedPage& page) {
  if (!page.picture.empty()) return to_gray(page_picture(page.picture, 1, page.width, page.height));
  if (fs::path(page.file).extension() == ".pdf")
    return to_gray(draw_pdf_page(page.file, page.number_in_file, page.dpi, ScanLimits().pixels));
  return to_gray(page_picture(page.scan, page.scan_page, page.width, page.height));
}

// Where the words of a page are on its page of the PDF.
std::vector<Box> places_on_pdf_page(find::HitViews& views, const find::IndexedPage& page) {
  std::vector<find::PlacedText> words;
  for (const find::IndexedWord& word : views.words_of(page.id).words)
    words.push_back({views.form(word.form),
                     {word.page.centre().x / page.width, word.page.centre().y / page.height}});
  return find::places_in_pdf(words, pdf_words(page.pdf, page.pdf_page));
}

// The same, an empty one where there is none, which is said once.
class PagePictures {
 public:
  explicit PagePictures(Console& console) : console_(console) {}
  Gray operator()(const find::IndexedPage& page) {
    try {
      return picture_of(page);
    } catch (const Error& cause) {
      if (!told_) console_.say(std::string(cause.what()) + "; its hits are shown without pictures");
      told_ = true;
      return {};
    }
  }

 private:
  Console& console_;
  bool told_ = false;
};

}  // namespace

void write_find_page(const std::vector<Searched>& searched, const std::vector<std::string>& sought,
                     const std::string& path, bool overwrite, Console& console) {
  report::FindSheet sheet;
  sheet.title = title_of(sought);
  sheet.sought = sought;
  const std::string folder = fs::absolute(path).parent_path().string();
  sheet.address = [&](const std::string& file) {
    return report::address_of(relative_path(file, folder));
  };
  for (const Searched& one : searched) {
    std::map<size_t, size_t> met;
    find::HitViews views(*one.index);
    for (const find::Hit& hit : one.hits) {
      const find::IndexedDocument& document = one.documents[hit.document];
      const auto [found, fresh] = met.try_emplace(hit.document, sheet.documents.size());
      if (fresh)
        sheet.documents.push_back(
            {document.name, static_cast<int>(one.index->page_count(document.id)), document.fields});
      sheet.places.push_back(
          {found->second, hit.sought, hit.probability, hit.misread, views.lines(hit)});
      // Pages of several indexes are told apart by more than their numbers.
      for (find::HitLine& line : sheet.places.back().lines)
        line.page.id = line.page.id * static_cast<int64_t>(searched.size()) + (&one - &searched[0]);
    }
  }
  PagePictures pictures(console);
  sheet.picture = [&](const find::IndexedPage& page) { return pictures(page); };
  write_file(path, report::find_html(sheet), overwrite);
}

bool write_marked_pdfs(const std::vector<Searched>& searched,
                       const std::vector<std::string>& sought, const std::string& path,
                       bool overwrite, Console& console) {
  std::map<std::string, std::vector<pdf::Highlight>> marks;  // by PDF
  size_t without = 0;
  for (const Searched& one : searched) {
    find::HitViews views(*one.index);
    int64_t page = 0;  // whose places are known; hits come page by page
    std::vector<Box> places;
    for (const find::Hit& hit : one.hits) {
      for (const find::HitLine& line : views.lines(hit)) {
        if (line.page.pdf.empty() || line.page.pdf_page == 0) {
          ++without;
          continue;
        }
        if (line.page.id != page) places = places_on_pdf_page(views, line.page);
        page = line.page.id;
        std::vector<Box> boxes;
        for (const size_t word : line.words)
          if (!places[word].empty()) boxes.push_back(places[word]);
        without += boxes.empty();
        std::string note = sought[hit.sought];
        if (hit.misread) note += fmt::format(" ({:.0f} %)", 100 * hit.probability);
        marks[line.page.pdf].push_back({line.page.pdf_page, boxes, note});
      }
    }
  }
  if (marks.empty())
    throw InputError(
        "none of the hits is on a page of a PDF that is known; make one with `burnisher "
        "run --job JOB --out FILE.pdf`, or search a PDF");
  if (marks.size() > 1) fs::create_directories(path);
  for (const auto& [file, highlights] : marks) {
    const std::string target = marks.size() == 1 && !fs::is_directory(path)
                                   ? path
                                   : (fs::path(path) / (stem_of(file) + "-marked.pdf")).string();
    pdf::write_highlighted(file, highlights, target, overwrite);
    console.say("written: " + target);
  }
  if (without > 0)
    console.warn(fmt::format("{} {} could not be marked: on no page of a PDF that is known",
                             without, without == 1 ? "place" : "places"));
  return without == 0;
}

void write_hit_proof(const std::vector<Searched>& searched, const std::vector<std::string>& sought,
                     const std::string& path, bool overwrite, Console& console) {
  std::vector<std::unique_ptr<PageFile>> files;
  report::ProofSheet sheet;
  sheet.title = title_of(sought);
  std::map<std::string, size_t> met;
  size_t without = 0;
  for (const Searched& one : searched) {
    find::HitViews views(*one.index);
    for (const find::Hit& hit : one.hits) {
      for (const find::HitLine& line : views.lines(hit)) {
        auto [at, fresh] = met.try_emplace(line.page.file, files.size());
        if (fresh && line.page.picture.empty()) {
          met.erase(at);
          ++without;
          continue;
        }
        if (fresh) {
          files.push_back(std::make_unique<PageFile>(read_page_file(line.page.file)));
          sheet.pages.push_back(&files.back()->pages.front());
        }
        for (const size_t number : line.words) {
          const auto word = find::word_on(*sheet.pages[at->second], number);
          if (word.second == nullptr) continue;
          report::ProofItem item{word.first, word.second, at->second, {}};
          if (hit.misread && line.words.size() == 1) item.suggestions.push_back(sought[hit.sought]);
          for (const OtherReading& reading : word.second->readings)
            if (item.suggestions.size() < 6 && reading.text != word.second->text &&
                (item.suggestions.empty() || reading.text != item.suggestions.front()))
              item.suggestions.push_back(reading.text);
          sheet.items.push_back(std::move(item));
        }
      }
    }
  }
  if (sheet.items.empty())
    throw InputError(
        "none of the hits is on PAGE XML that has its picture; a proof sheet is made of "
        "a job");
  if (without > 0)
    console.warn(fmt::format("{} {} not on the proof sheet: no PAGE XML with a picture", without,
                             without == 1 ? "place is" : "places are"));
  PagePictures pictures(console);
  sheet.picture = [&](size_t i) -> Gray {
    try {
      return to_gray(page_picture(*files[i], ""));
    } catch (const Error& cause) {
      console.warn(cause.what());
      return {};
    }
  };
  write_file(path, report::proof_html(sheet, false), overwrite);
}

}  // namespace burnisher::cli
