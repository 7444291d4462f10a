#include "find/database.h"

#include <sqlite3.h>

#include <fstream>

#include "base/error.h"

namespace burnisher::find {
namespace {

constexpr int kPatience = 10000;  // ms that another program may be writing

[[noreturn]] void fail(sqlite3* database) {
  const char* name = sqlite3_db_filename(database, "main");
  const std::string file = name == nullptr || *name == 0 ? "the index" : name;
  const std::string what = file + ": " + sqlite3_errmsg(database);
  switch (sqlite3_errcode(database) & 0xFF) {
    case SQLITE_NOTADB:
    case SQLITE_CORRUPT:
      throw FormatError(what);
    case SQLITE_READONLY:
    case SQLITE_FULL:
    case SQLITE_IOERR:
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
      throw OutputError(what);
    default:
      throw InputError(what);
  }
}

}  // namespace

Statement::Statement(sqlite3* database, const char* text) : database_(database) {
  if (sqlite3_prepare_v2(database, text, -1, &held_, nullptr) != SQLITE_OK) fail();
}

Statement::~Statement() {
  sqlite3_finalize(held_);
}

void Statement::fail() const {
  find::fail(database_);
}

Statement& Statement::bind(int64_t value) {
  if (sqlite3_bind_int64(held_, ++bound_, value) != SQLITE_OK) fail();
  return *this;
}

Statement& Statement::bind(double value) {
  if (sqlite3_bind_double(held_, ++bound_, value) != SQLITE_OK) fail();
  return *this;
}

Statement& Statement::bind(const std::string& text) {
  if (sqlite3_bind_text(held_, ++bound_, text.data(), static_cast<int>(text.size()),
                        SQLITE_TRANSIENT) != SQLITE_OK)
    fail();
  return *this;
}

Statement& Statement::bind_bytes(std::string_view bytes) {
  if (sqlite3_bind_blob(held_, ++bound_, bytes.data(), static_cast<int>(bytes.size()),
                        SQLITE_STATIC) != SQLITE_OK)
    fail();
  return *this;
}

bool Statement::step() {
  const int result = sqlite3_step(held_);
  if (result != SQLITE_ROW && result != SQLITE_DONE) fail();
  return result == SQLITE_ROW;
}

void Statement::run() {
  while (step()) {
  }
  reset();
}

void Statement::reset() {
  sqlite3_reset(held_);
  bound_ = 0;
}

int64_t Statement::number(int column) const {
  return sqlite3_column_int64(held_, column);
}
double Statement::real(int column) const {
  return sqlite3_column_double(held_, column);
}

std::string Statement::text(int column) const {
  return std::string(bytes(column));
}

std::string_view Statement::bytes(int column) const {
  const void* from = sqlite3_column_blob(held_, column);
  const int size = sqlite3_column_bytes(held_, column);
  return from == nullptr
             ? std::string_view()
             : std::string_view(static_cast<const char*>(from), static_cast<size_t>(size));
}

void Database::Close::operator()(sqlite3* database) const {
  sqlite3_close(database);
}

Database::Database(const std::string& path, Use use) {
  sqlite3* opened = nullptr;
  const int flags =
      SQLITE_OPEN_NOMUTEX |  // one thread at a time, as everything here
      (use == Use::kRead ? SQLITE_OPEN_READONLY : SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE);
  const int result =
      sqlite3_open_v2(path.empty() ? ":memory:" : path.c_str(), &opened, flags, nullptr);
  held_.reset(opened);
  if (result != SQLITE_OK) {
    const std::string what = path + ": cannot be opened as an index";
    if (use == Use::kRead) throw InputError(what);
    throw OutputError(what);
  }
  sqlite3_busy_timeout(opened, kPatience);
}

void Database::run(const char* text) {
  if (sqlite3_exec(held_.get(), text, nullptr, nullptr, nullptr) != SQLITE_OK) fail(held_.get());
}

int64_t Database::number(const char* question) {
  Statement asked = statement(question);
  return asked.step() ? asked.number(0) : 0;
}

int64_t Database::last_row() const {
  return sqlite3_last_insert_rowid(held_.get());
}

bool is_database(const std::string& path) {
  char head[16] = {};
  std::ifstream file(path, std::ios::binary);
  return file.read(head, sizeof head) && std::string_view(head, 15) == "SQLite format 3";
}

}  // namespace burnisher::find
