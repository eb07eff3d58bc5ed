// SPDX-License-Identifier: GPL-3.0-or-later
// The rows that the pages of a damaged book still hold, each known for what it is by its shape.
#pragma once

#include <cstdint>
#include <map>
#include <set>
#include <string>
#include <tuple>
#include <vector>

#include "book/sqlite_pages.h"

namespace ash::salvage {

using Values = std::vector<SqliteValue>;

bool isText(const SqliteValue& value);
bool isInteger(const SqliteValue& value);
bool isBlob(const SqliteValue& value);
bool isNull(const SqliteValue& value);
bool isNumber(const SqliteValue& value);
/// What the value holds; only of one that holds it.
const std::string& textOf(const SqliteValue& value);
int64_t integerOf(const SqliteValue& value);
double numberOf(const SqliteValue& value);

struct BlockPlace {
  CellPlace place;
  int64_t number = 0;
  double firstS = 0, lastS = 0;
  int64_t sweeps = 0, columns = 0;
  bool isWhole = false;
};

/// A file that is kept with a run or with a setup.
struct AttachmentPlace {
  CellPlace place;
  std::string run;    // empty = with the setup
  int64_t setup = 0;  // 0 = with the run
};

using SourceKey = std::pair<std::string, int64_t>;  // run, number

/// Everything that was found, blocks and files by their place only.
struct Found {
  std::map<int64_t, Values> studies, setups, loads, events;  // by row id
  std::map<std::string, Values> runs;
  std::map<SourceKey, std::string> sources;
  std::map<std::tuple<std::string, int64_t, int64_t>, Values> readings;
  std::map<std::pair<std::string, int64_t>, Values> phases;
  std::map<SourceKey, std::vector<BlockPlace>> blocks;
  std::map<int64_t, AttachmentPlace> attachments;  // by row id
  std::map<std::string, std::set<Values>> others;  // by table: rows on which nothing hangs
  long long unreadable = 0, unknown = 0;
};

/// Reads every page that is in use. Rows of no table of a book are counted, not kept.
Found findRows(const SqlitePages& pages);

}  // namespace ash::salvage
