// SPDX-License-Identifier: GPL-3.0-or-later
// What rows of a book's tables look like, told by the schema itself: by it a row is known without its table.
#pragma once

#include <string>
#include <vector>

namespace ash {

struct ColumnShape {
  char kind = '?';  ///< t text, i integer, n number, b blob, 0 the row's own number (kept as NULL), ? anything
  bool mayBeNull = true;
};

struct TableShape {
  std::string name;
  bool hasRowId = true;
  std::vector<ColumnShape> columns;
};

/// Of every table that a book of this version has (kMigrations); those with more columns first.
std::vector<TableShape> bookShapes();

}  // namespace ash
