// Reading a table block: its rows, its cells' text, its printed lines.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher {

int row_count(const Block& table);
int column_count(const Block& table);

// The text of a block, its lines joined by spaces; hyphens at line ends stay.
std::string text_of(const Block& block);

// The text of a cell, its lines joined by spaces; hyphens at line ends stay.
std::string text_of(const Block& table, const Cell& cell);

// Of the rows that a cell stands for, the one level with which its text is printed.
int printed_row(const Block& table, const Cell& cell);

// The table's texts by rows and columns. A cell that spans several columns is in the first, one
// that spans several rows in that of printed_row; the others are empty.
std::vector<std::vector<std::string>> texts_of(const Block& table);

// Printed lines of the table: cells' lines on one level, from left to right, row by row.
std::vector<std::vector<const Line*>> printed_lines(const Block& table);

// One line that holds the words of all of them; size, stroke, language and script are those of the
// one with most words.
Line joined(const std::vector<const Line*>& lines);

}  // namespace burnisher
