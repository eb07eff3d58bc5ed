// SPDX-License-Identifier: GPL-3.0-or-later
// The one place where SQLite's exceptions become sentences.
#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <string>
#include <utility>

#include "model/json.h"
#include "model/result.h"
#include "model/text.h"

struct sqlite3_file;

namespace ash {

/// "Cannot write bench.ashbook: the disk is full." for what SQLite threw.
Error sqlError(const std::string& doing, const std::string& path, const SQLite::Exception& exception);

/// A text of a row as it may be shown and written on: UTF-8 without control characters.
inline std::string textAt(SQLite::Statement& row, int column) {
  return withoutControls(asUtf8(row.getColumn(column).getString()));
}

/// Counts an edit, inside its transaction: who looks on reads the book again (Book::edition()).
void countEdit(SQLite::Database& database);

/// The database's write-ahead log as SQLite has it open; null when there is none.
sqlite3_file* openLog(SQLite::Database& database);

/// Syncs what has been committed to the drive, without holding a lock. A drive that fails is told of at the next write.
void syncCommitted(SQLite::Database& database);

/// Runs `work` and turns what it throws into an Error.
template <typename T, typename F>
Result<T> guarded(const std::string& doing, const std::string& path, F work) {
  try {
    return work();
  } catch (const SQLite::Exception& exception) {
    return sqlError(doing, path, exception);
  } catch (const Json::exception&) {
    return Error::badInput("Cannot " + doing + " " + path + ": a field of it is no JSON. Run `ashg book check` on it.");
  }
}

template <typename F>
Status guardedStatus(const std::string& doing, const std::string& path, F work) {
  const auto result = guarded<bool>(doing, path, [&]() -> Result<bool> {
    work();
    return true;
  });
  return result ? Status() : Status(result.error());
}

}  // namespace ash
