#include "find/index.h"

#include <algorithm>
#include <filesystem>
#include "base/json.h"

#include "base/error.h"
#include "base/files.h"

namespace burnisher::find {
namespace {

namespace fs = std::filesystem;
using nlohmann::ordered_json;

constexpr int kApplication = 0x4275726E;  // "Burn", in the file's head
constexpr int kVersion = 1;               // of the tables; another one is made anew

const char* const kTables = R"(
create table root(path text primary key);
create table document(id integer primary key, key text unique, name text, fields text, position int);
create table file(id integer primary key, path text unique, size int, modified int);
create table page(id integer primary key, document int, file int, file_position int,
  number_in_file int, position int, printed text, scan text, scan_page int, part int, width int,
  height int, dpi real, picture text, pdf text, pdf_page int, words int);
create index page_by_document on page(document, file_position, number_in_file);
create index page_by_file on page(file);
create table form(id integer primary key, text text);
create table page_forms(page integer primary key, forms blob);
create table page_doubts(page integer primary key, doubts blob);
create table page_places(page integer primary key, places blob);
)";

const char* const kPageColumns =
    "select page.id, document, page.position, file.path, number_in_file, printed, scan, scan_page, "
    "part, width, height, dpi, picture, pdf, pdf_page, words from page join file on "
    "file.id = page.file ";

}  // namespace

Index::Index(const std::string& path, Database::Use use)
    : folder_(path.empty() ? "" : fs::absolute(path).parent_path().string()), database_(path, use) {
  database_.run("pragma cache_size = -65536");
  const int64_t application = database_.number("pragma application_id");
  const int64_t version = database_.number("pragma user_version");
  const bool empty = database_.number("select count(*) from sqlite_master") == 0;
  if (!empty && application != kApplication)
    throw FormatError(path + ": is a database of another program, not an index");
  if (!empty && version == kVersion) return;
  if (use == Database::Use::kRead)
    throw FormatError(path + ": was made by another version of the program; index it again");
  make();
}

void Index::make() {
  begin();
  std::vector<std::string> old;
  {
    Statement names = database_.statement("select name from sqlite_master where type = 'table'");
    while (names.step()) old.push_back(names.text(0));
  }
  for (const std::string& name : old) database_.run(("drop table \"" + name + "\"").c_str());
  database_.run(kTables);
  database_.run(("pragma application_id = " + std::to_string(kApplication)).c_str());
  database_.run(("pragma user_version = " + std::to_string(kVersion)).c_str());
  commit();
}

void Index::begin() {
  database_.run("begin immediate");
}
void Index::commit() {
  new_form_.reset();
  database_.run("commit");
}

// In an index that lies beside what it tells of, paths move with it.
std::string Index::stored(const std::string& path) const {
  if (folder_.empty() || path.empty()) return path;
  const std::string relative = relative_path(path, folder_);
  return relative.empty() ? path : relative;
}

std::string Index::resolved(const std::string& path) const {
  if (folder_.empty() || path.empty() || path.front() == '/') return path;
  return (fs::path(folder_) / path).lexically_normal().string();
}

int64_t Index::document(const std::string& key, const std::string& name, const Fields& fields,
                        int position) {
  ordered_json list = ordered_json::array();
  for (const auto& [field, value] : fields) list.push_back({field, value});
  Statement put = database_.statement(
      "insert into document(key, name, fields, position) values(?, ?, ?, ?) on conflict(key) do "
      "update set name = excluded.name, fields = excluded.fields, position = excluded.position "
      "returning id");
  put.bind(stored(key)).bind(name);
  put.bind(json_text(list));
  put.bind(static_cast<int64_t>(position));
  put.step();
  const int64_t id = put.number(0);
  put.run();
  return id;
}

std::unordered_map<std::string, Index::KnownFile> Index::files() const {
  std::unordered_map<std::string, KnownFile> known;
  Statement all = database_.statement(
      "select path, size, modified, document, file_position, pdf, pdf_page from file left join "
      "page "
      "on page.file = file.id and number_in_file = 1");
  while (all.step())
    known[resolved(all.text(0))] = {{all.number(1), all.number(2)},
                                    {all.number(3), static_cast<int>(all.number(4)),
                                     resolved(all.text(5)), static_cast<int>(all.number(6))}};
  return known;
}

FormNumber Index::form_number(const std::string& text) {
  if (!numbers_known_) {
    each_form(
        [&](FormNumber number, std::string_view form) { numbers_[std::string(form)] = number; });
    numbers_known_ = true;
  }
  const auto [found, fresh] =
      numbers_.try_emplace(text, static_cast<FormNumber>(numbers_.size() + 1));
  if (fresh) {
    if (!new_form_)
      new_form_ = std::make_unique<Statement>(database_.handle(), "insert into form values(?, ?)");
    new_form_->bind(static_cast<int64_t>(found->second)).bind(text);
    new_form_->run();
  }
  return found->second;
}

void Index::replace(const std::string& file, const job::FileStamp& stamp,
                    const std::vector<std::pair<IndexedPage, const Page*>>& pages) {
  remove(file);
  Statement put_file =
      database_.statement("insert into file(path, size, modified) values(?, ?, ?)");
  put_file.bind(stored(file)).bind(stamp.size).bind(stamp.modified).run();
  const int64_t file_id = database_.last_row();
  Statement put_page = database_.statement(
      "insert into page(document, file, file_position, number_in_file, position, printed, scan, "
      "scan_page, part, width, height, dpi, picture, pdf, pdf_page, words) values(0, ?, 0, ?, 0, "
      "?, "
      "?, ?, ?, ?, ?, ?, ?, '', 0, ?)");
  Statement forms = database_.statement("insert into page_forms values(?, ?)");
  Statement doubts = database_.statement("insert into page_doubts values(?, ?)");
  Statement places = database_.statement("insert into page_places values(?, ?)");
  for (const auto& [one, page] : pages) {
    const PageWords words =
        page_words(*page, [this](const std::string& text) { return form_number(text); });
    put_page.bind(file_id).bind(static_cast<int64_t>(one.number_in_file)).bind(one.printed);
    put_page.bind(stored(one.scan)).bind(static_cast<int64_t>(one.scan_page));
    put_page.bind(static_cast<int64_t>(one.part)).bind(static_cast<int64_t>(one.width));
    put_page.bind(static_cast<int64_t>(one.height)).bind(one.dpi).bind(stored(one.picture));
    put_page.bind(static_cast<int64_t>(words.words.size())).run();
    const int64_t id = database_.last_row();
    const PackedWords bytes = packed(words);
    forms.bind(id).bind_bytes(bytes.forms).run();
    doubts.bind(id).bind_bytes(bytes.doubts).run();
    places.bind(id).bind_bytes(bytes.places).run();
  }
}

void Index::remove(const std::string& file) {
  const std::string path = stored(file);
  for (const char* table : {"page_forms", "page_doubts", "page_places"})
    database_
        .statement((std::string("delete from ") + table +
                    " where page in (select page.id from page join file on file.id = page.file "
                    "where path = ?)")
                       .c_str())
        .bind(path)
        .run();
  database_.statement("delete from page where file = (select id from file where path = ?)")
      .bind(path)
      .run();
  database_.statement("delete from file where path = ?").bind(path).run();
}

void Index::place(const std::string& file, const Standing& standing) {
  database_
      .statement(
          "update page set document = ?1, file_position = ?2, pdf = ?3, pdf_page = case when ?4 > "
          "0 "
          "then ?4 + number_in_file - 1 else 0 end where file = (select id from file where path = "
          "?5)")
      .bind(standing.document)
      .bind(static_cast<int64_t>(standing.file_position))
      .bind(stored(standing.pdf))
      .bind(static_cast<int64_t>(standing.first_pdf_page))
      .bind(stored(file))
      .run();
}

void Index::tidy() {
  database_.run("delete from document where id not in (select document from page)");
  database_.run(
      "update page set position = fresh.place from (select id, row_number() over (partition by "
      "document order by file_position, number_in_file) as place from page) as fresh where "
      "page.id = fresh.id and page.position <> fresh.place");
}

std::vector<std::string> Index::roots() const {
  std::vector<std::string> list;
  Statement all = database_.statement("select path from root order by rowid");
  while (all.step()) list.push_back(resolved(all.text(0)));
  return list;
}

void Index::set_roots(const std::vector<std::string>& paths) {
  std::vector<std::string> whole;
  for (const std::string& path : paths) {
    const std::string one = fs::absolute(path).lexically_normal().string();
    if (std::find(whole.begin(), whole.end(), one) == whole.end()) whole.push_back(one);
  }
  if (whole == roots()) return;
  begin();
  database_.run("delete from root");
  for (const std::string& path : whole)
    database_.statement("insert into root values(?)").bind(stored(path)).run();
  commit();
}

std::vector<IndexedDocument> Index::documents() const {
  std::vector<IndexedDocument> list;
  Statement all =
      database_.statement("select id, key, name, fields from document order by position, key");
  while (all.step()) {
    IndexedDocument one{all.number(0), resolved(all.text(1)), all.text(2), {}};
    const auto fields = ordered_json_or_discarded(all.text(3));
    if (fields.is_array())
      for (const auto& field : fields)
        one.fields.emplace_back(field.at(0).get<std::string>(), field.at(1).get<std::string>());
    list.push_back(std::move(one));
  }
  return list;
}

IndexedPage Index::page(int64_t id) const {
  Statement asked = database_.statement((std::string(kPageColumns) + "where page.id = ?").c_str());
  asked.bind(id);
  IndexedPage page;
  if (!asked.step()) return page;
  page.id = asked.number(0);
  page.document = asked.number(1);
  page.position = static_cast<int>(asked.number(2));
  page.file = resolved(asked.text(3));
  page.number_in_file = static_cast<int>(asked.number(4));
  page.printed = asked.text(5);
  page.scan = resolved(asked.text(6));
  page.scan_page = static_cast<int>(asked.number(7));
  page.part = static_cast<int>(asked.number(8));
  page.width = static_cast<int>(asked.number(9));
  page.height = static_cast<int>(asked.number(10));
  page.dpi = asked.real(11);
  page.picture = resolved(asked.text(12));
  page.pdf = resolved(asked.text(13));
  page.pdf_page = static_cast<int>(asked.number(14));
  page.words = static_cast<int>(asked.number(15));
  return page;
}

int64_t Index::word_count() const {
  return database_.number("select sum(words) from page");
}
int64_t Index::page_count() const {
  return database_.number("select count(*) from page");
}

int64_t Index::page_count(int64_t document) const {
  Statement asked = database_.statement("select count(*) from page where document = ?");
  asked.bind(document);
  return asked.step() ? asked.number(0) : 0;
}

void Index::each_form(const std::function<void(FormNumber, std::string_view)>& visit) const {
  Statement all = database_.statement("select id, text from form");
  while (all.step()) visit(static_cast<FormNumber>(all.number(0)), all.bytes(1));
}

std::string Index::form(FormNumber number) const {
  if (!form_by_number_)
    form_by_number_ =
        std::make_unique<Statement>(database_.handle(), "select text from form where id = ?");
  form_by_number_->bind(static_cast<int64_t>(number));
  const std::string text = form_by_number_->step() ? form_by_number_->text(0) : "";
  form_by_number_->reset();
  return text;
}

void Index::each_page(int64_t document, bool doubts,
                      const std::function<bool(const PackedPage&)>& visit) const {
  Statement all = database_.statement(
      doubts ? "select page.id, position, forms, doubts from page join page_forms on "
               "page_forms.page = page.id join page_doubts on page_doubts.page = page.id where "
               "document = ? order by file_position, number_in_file"
             : "select page.id, position, forms from page join page_forms on page_forms.page = "
               "page.id where document = ? order by file_position, number_in_file");
  all.bind(document);
  while (all.step()) {
    PackedPage page{all.number(0), static_cast<int>(all.number(1)), all.bytes(2), {}};
    if (doubts) page.doubts = all.bytes(3);
    if (!visit(page)) return;
  }
}

PageWords Index::words(int64_t page, bool places) const {
  auto& asked = places ? words_and_places_ : words_alone_;
  if (!asked)
    asked = std::make_unique<Statement>(
        database_.handle(),
        places
            ? "select forms, doubts, places from page_forms join page_doubts using (page) join "
              "page_places using (page) where page = ?"
            : "select forms, doubts from page_forms join page_doubts using (page) where page = ?");
  asked->bind(page);
  PageWords words;
  if (asked->step())
    words =
        unpacked(asked->bytes(0), asked->bytes(1), places ? asked->bytes(2) : std::string_view());
  asked->reset();
  return words;
}

}  // namespace burnisher::find
