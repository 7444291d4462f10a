#include <fmt/core.h>

#include <filesystem>
#include <fstream>

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "cli/commands.h"
#include "cli/find_results.h"
#include "find/gather.h"

namespace burnisher::cli {
namespace {

namespace fs = std::filesystem;

constexpr double kLeastWithNear = 0.25;  // docs/find.md has the curves that it is read off

struct FindOptions {
  std::vector<std::string> words, places, where;
  std::string list, html, pdf, proof;
  double least = -1;  // not said
  int context = 0;
  bool count = false, json = false, tsv = false, overwrite = false;
  find::SearchSettings search;
};

// One word or phrase a line.
std::vector<std::string> words_in(const std::string& path) {
  const auto bytes = read_file(path);
  std::vector<std::string> words;
  std::istringstream rows(std::string(bytes.begin(), bytes.end()));
  for (std::string row; std::getline(rows, row);) {
    while (!row.empty() && std::isspace(static_cast<unsigned char>(row.back()))) row.pop_back();
    if (!row.empty() && row.front() != '#') words.push_back(row);
  }
  if (words.empty())
    throw InputError(path + ": no word in it; one word or phrase a line is wanted");
  return words;
}

void tell(const find::UpdateReport& report, Context& context) {
  for (const Problem& problem : report.problems) context.console.warn(told(problem));
}

// A job's own index, brought up to date; one in memory where the job's folder takes none.
std::unique_ptr<find::Index> index_of(const std::string& job, Context& context) {
  std::vector<std::string> others;
  const auto documents = find::documents_at(job, others);
  try {
    auto index =
        std::make_unique<find::Index>(find::index_of_job(job), find::Database::Use::kWrite);
    tell(find::update(*index, documents, context.console), context);
    return index;
  } catch (const OutputError& cause) {
    context.console.say(std::string(cause.what()) + "; its pages are read for this search alone");
  } catch (const FormatError& cause) {
    context.console.say(std::string(cause.what()) + "; its pages are read for this search alone");
  }
  auto index = std::make_unique<find::Index>("", find::Database::Use::kWrite);
  tell(find::update(*index, documents, context.console), context);
  return index;
}

std::unique_ptr<find::Index> collection(const std::string& path, Context& context) {
  auto index = std::make_unique<find::Index>(path, find::Database::Use::kRead);
  int changed = 0;
  for (const auto& [file, known] : index->files()) changed += !(known.stamp == job::stamp_of(file));
  if (changed > 0)
    context.console.say(
        fmt::format("{}: {} of its files changed or went since; `burnisher index --into {}` brings "
                    "it up to date",
                    path, changed, path));
  return index;
}

// Jobs and collections have an index; everything else is read now, into one in memory.
std::vector<Searched> opened(const FindOptions& o, Context& context) {
  std::vector<Searched> all;
  std::vector<find::TextDocument> loose;
  for (const std::string& place : o.places) {
    std::unique_ptr<find::Index> index;
    if (find::is_job(place)) {
      index = index_of(place, context);
    } else if (fs::is_regular_file(place) && find::is_database(place)) {
      index = collection(place, context);
    } else {
      for (find::TextDocument& one : documents_told(place, context.console))
        loose.push_back(std::move(one));
    }
    if (index) all.push_back({std::move(index), {}, {}});
  }
  find::without_doubles(loose);
  if (!loose.empty()) {
    auto index = std::make_unique<find::Index>("", find::Database::Use::kWrite);
    tell(find::update(*index, loose, context.console), context);
    all.push_back({std::move(index), {}, {}});
  }
  for (Searched& one : all) one.documents = one.index->documents();
  return all;
}

// What the bundle of the sought words' script mixes up.
std::vector<correct::Confusion> confusions_for(const std::vector<std::string>& sought,
                                               Context& context) {
  auto models = context.models.confusion_models();
  for (const std::string& text : sought)
    for (const char32_t c : decode_utf8(text)) {
      const auto model = models.find(script_of(c));
      if (model != models.end() && !model->second.confusions.empty())
        return correct::misreadings_of_letters(model->second);
    }
  return {};
}

// Where nothing was found: what a freer search would find.
std::string hint(const std::vector<Searched>& searched, const std::vector<std::string>& sought,
                 const FindOptions& o) {
  if (o.search.expression) return "";
  find::SearchSettings freer = o.search;
  freer.folding = {true, true, true};
  size_t found = 0;
  for (const Searched& one : searched) found += find::search(*one.index, sought, freer).size();
  if (found > 0)
    return fmt::format("{} {} with --ignore-case, --ignore-accents or --ignore-spelling", found,
                       found == 1 ? "place" : "places");
  if (!o.search.inside) {
    freer.inside = true;
    for (const Searched& one : searched) found += find::search(*one.index, sought, freer).size();
    if (found > 0)
      return fmt::format("{} {} inside other words: --inside", found,
                         found == 1 ? "place" : "places");
  }
  return o.search.near ? "" : "--near looks for misread ones, too";
}

int find_all(FindOptions& o, Context& context) {
  std::vector<std::string> sought = o.words;
  if (!o.list.empty())
    for (const std::string& word : words_in(o.list)) sought.push_back(word);
  if (sought.empty()) throw SettingsError("say what to look for: words, or --words FILE");
  if (o.search.near && o.search.expression)
    throw SettingsError("near", "looks for words; with --regex it has no meaning");
  if (o.least >= 0 && !o.search.near) throw SettingsError("probability", "is of use with --near");
  for (const std::string* path : {&o.html, &o.proof, &o.pdf})
    if (!path->empty() && !fs::is_directory(*path)) check_target(*path, o.overwrite);
  for (const std::string& text : o.where) o.search.where.push_back(find::condition_named(text));
  o.search.least_probability = o.least < 0 ? kLeastWithNear : o.least;
  if (o.search.near) o.search.confusions = confusions_for(sought, context);
  std::vector<Searched> searched = opened(o, context);
  int64_t words = 0;
  for (const Searched& one : searched) words += one.index->word_count();
  if (words == 0) {
    context.console.warn("there is no text in what is to be searched");
    return kNothing;
  }
  for (Searched& one : searched) one.hits = find::search(*one.index, sought, o.search);
  const size_t hits = hit_count(searched);
  if (o.count)
    std::fputs(fmt::format("{}\n", hits).c_str(), stdout);
  else if (o.json)
    print_json(searched, sought);
  else if (o.tsv)
    print_tsv(searched, sought);
  else if (!o.list.empty())
    print_concordance(searched, sought);
  else if (o.html.empty() && o.pdf.empty() && o.proof.empty())
    print_lines(searched, sought, o.context, o.search.near);
  if (hits == 0) {
    // Programs that ask for figures look for no advice, and it takes as long again.
    const std::string more = o.count || o.json || o.tsv ? "" : hint(searched, sought, o);
    context.console.say("nothing found" + (more.empty() ? "" : "; " + more));
    return kSomeLeft;
  }
  if (!o.html.empty()) {
    write_find_page(searched, sought, o.html, o.overwrite, context.console);
    context.console.say("written: " + o.html);
  }
  if (!o.pdf.empty()) write_marked_pdfs(searched, sought, o.pdf, o.overwrite, context.console);
  if (!o.proof.empty()) {
    write_hit_proof(searched, sought, o.proof, o.overwrite, context.console);
    context.console.say("written: " + o.proof);
  }
  const size_t pages = pages_with_hits(searched);
  if (!o.count)
    context.console.say(fmt::format("{} {} on {} {}", hits, hits == 1 ? "hit" : "hits", pages,
                                    pages == 1 ? "page" : "pages"));
  return kAllDone;
}

}  // namespace

void add_find(CommandLine& line, Context& context) {
  Command command = line.root().command(
      "find", "words in, every place of them in what was read out, with page and picture");
  auto o = std::make_shared<FindOptions>();
  command.option(
      "words", o->words,
      "what is sought, each a word or, in quotes, several that follow one another; * and "
      "? stand for any letters and one");
  command
      .option("--in", o->places,
              "where: a job, an index made by `burnisher index`, PAGE XML, ALTO, hOCR, a PDF with "
              "text, a folder of them")
      .required()
      .take_all()
      .existing_path()
      .type_name("PLACE");
  command
      .option("--words", o->list,
              "look for the words in this file, one a line; without another form of output a table "
              "word by page")
      .type_name("FILE");
  find::SearchSettings& s = o->search;
  command.flag("--inside", s.inside, "inside longer words, too");
  command.flag("--near", s.near,
               "what was misread, too, by what the recogniser saw there and what it mixes up");
  command
      .option("--probability", o->least,
              "with --near: leave out what is less likely than this (default: 0.25)")
      .between(0, 1);
  command.flag("--regex", s.expression, "each is a regular expression over the text of a line");
  command.flag("--ignore-case", s.folding.ignore_case, "capitals and small letters alike");
  command.flag("--ignore-accents", s.folding.ignore_accents,
               "letters with and without accents, points and vowel signs alike");
  command.flag("--ignore-spelling", s.folding.ignore_spelling,
               "spellings of other times alike: long s, u and v, i and j, ß and ss, ligatures, "
               "hyphens, Arabic letter forms, digits of all scripts, Cyrillic of before 1918");
  command.flag("--as-read", s.as_read, "also what was read before somebody corrected it");
  command
      .option(
          "--where", o->where,
          "only in documents with such a field, as in 'date>=1890' or creator=Rask; = != < <= > "
          ">= ~ (has it in it); also document, page")
      .take_all()
      .type_name("CONDITION");
  command
      .option("--context", o->context,
              "show so many words on either side instead of the line, the hits below one another")
      .between(0, 1000)
      .type_name("N");
  command.flag("--count", o->count, "print the number of hits alone");
  command.flag("--tsv", o->tsv, "print a table: one row a hit, boxes in pixels of page and scan");
  command.flag("--json", o->json, "print the same as JSON");
  command.option("--html", o->html, "write a page with the picture of every hit here")
      .type_name("FILE");
  command
      .option("--pdf", o->pdf,
              "write a copy of the PDF with the hits marked here; a folder where they are in "
              "several PDFs")
      .type_name("FILE");
  command.option("--proof", o->proof, "write a proof sheet of the hits here, to check each of them")
      .type_name("FILE");
  command.flag("--overwrite", o->overwrite, "replace files that are there already");
  command.group("What counts as found",
                {"--inside", "--near", "--probability", "--regex", "--ignore-case",
                 "--ignore-accents", "--ignore-spelling", "--as-read", "--where"});
  command.group("What comes out", {"--context", "--count", "--tsv", "--json", "--html", "--pdf",
                                   "--proof", "--overwrite"});
  add_models_folder(command, context);
  add_quiet(command, context);
  command.examples(
      "Example:\n  burnisher find Hallow --in box3.job\n"
      "  burnisher find 'Hallow Rock' --in box3.job --near --html hallow.html\n"
      "  burnisher find 'light*' --in boxes/ --in log.pdf --context 5\n"
      "Ends with 0 where something was found, with 1 where nothing was.");
  command.action([o, &context] { return find_all(*o, context); });
}

}  // namespace burnisher::cli
