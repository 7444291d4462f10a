// What `find` gives back: lines for people, tables and JSON for programs, pages and copies with the
// places marked.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "cli/commands.h"
#include "find/gather.h"
#include "find/hit_view.h"
#include "find/search.h"

namespace burnisher::cli {

// An index and what was found in it.
struct Searched {
  std::unique_ptr<find::Index> index;
  std::vector<find::IndexedDocument> documents;
  std::vector<find::Hit> hits;
};

// The documents at a path; what was passed over there is told. Throws as find::documents_at does.
std::vector<find::TextDocument> documents_told(const std::string& path, Console& console);

// How many pages the hits stand on.
size_t pages_with_hits(const std::vector<Searched>& searched);
size_t hit_count(const std::vector<Searched>& searched);

// Each with `context` words on either side; 0: with its line.
void print_lines(const std::vector<Searched>& searched, const std::vector<std::string>& sought,
                 int context, bool with_probability);
void print_tsv(const std::vector<Searched>& searched, const std::vector<std::string>& sought);
void print_json(const std::vector<Searched>& searched, const std::vector<std::string>& sought);
// Words by pages: how often each stands on which.
void print_concordance(const std::vector<Searched>& searched,
                       const std::vector<std::string>& sought);

void write_find_page(const std::vector<Searched>& searched, const std::vector<std::string>& sought,
                     const std::string& path, bool overwrite, Console& console);
// A copy of every PDF that has hits: `path` is one file, or a folder where there are several.
// Returns whether all hits could be marked.
bool write_marked_pdfs(const std::vector<Searched>& searched,
                       const std::vector<std::string>& sought, const std::string& path,
                       bool overwrite, Console& console);
// A proof sheet of the hits on PAGE XML.
void write_hit_proof(const std::vector<Searched>& searched, const std::vector<std::string>& sought,
                     const std::string& path, bool overwrite, Console& console);

}  // namespace burnisher::cli
