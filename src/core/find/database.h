// SQLite as the index uses it: a database that closes itself, statements that bind and step.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <string_view>

struct sqlite3;
struct sqlite3_stmt;

namespace burnisher::find {

class Statement {
 public:
  Statement(sqlite3* database, const char* text);
  ~Statement();
  Statement(const Statement&) = delete;
  Statement& operator=(const Statement&) = delete;

  // Values in the order of the question marks; begin anew with `reset`.
  Statement& bind(int64_t value);
  Statement& bind(double value);
  Statement& bind(const std::string& text);
  Statement& bind_bytes(std::string_view bytes);  // must live until the next reset

  bool step();  // whether there is a row
  void run();   // steps to the end and resets
  void reset();

  int64_t number(int column) const;
  double real(int column) const;
  std::string text(int column) const;
  std::string_view bytes(int column) const;  // until the next step

 private:
  [[noreturn]] void fail() const;

  sqlite3* database_;
  sqlite3_stmt* held_ = nullptr;
  int bound_ = 0;
};

class Database {
 public:
  enum class Use { kWrite, kRead };
  // "": in memory. Throws InputError where it cannot be opened, FormatError for a file that is no
  // database, OutputError where it cannot be written.
  Database(const std::string& path, Use use);

  void run(const char* text);
  int64_t number(const char* question);
  Statement statement(const char* text) { return Statement(held_.get(), text); }
  sqlite3* handle() const { return held_.get(); }
  int64_t last_row() const;

 private:
  struct Close {
    void operator()(sqlite3* database) const;
  };
  std::unique_ptr<sqlite3, Close> held_;
};

// Whether the file begins as an SQLite database does.
bool is_database(const std::string& path);

}  // namespace burnisher::find
