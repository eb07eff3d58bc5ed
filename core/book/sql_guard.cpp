// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/sql_guard.h"

#include <fmt/format.h>
#include <sqlite3.h>

namespace ash {

sqlite3_file* openLog(SQLite::Database& database) {
  sqlite3_file* log = nullptr;
  sqlite3_file_control(database.getHandle(), "main", SQLITE_FCNTL_JOURNAL_POINTER, &log);
  return log != nullptr && log->pMethods != nullptr ? log : nullptr;
}

void syncCommitted(SQLite::Database& database) {
  if (sqlite3_file* log = openLog(database)) log->pMethods->xSync(log, SQLITE_SYNC_NORMAL);
}

void countEdit(SQLite::Database& database) { database.exec("UPDATE edition SET number = number + 1"); }

Error sqlError(const std::string& doing, const std::string& path, const SQLite::Exception& exception) {
  switch (exception.getErrorCode() & 0xFF) {
    case SQLITE_FULL:
      return {ErrorKind::DiskFull,
              fmt::format("Cannot {} {}: the disk is full. Make room and try again.", doing, path)};
    case SQLITE_READONLY:
    case SQLITE_PERM:
    case SQLITE_CANTOPEN:
      return Error::environment(
          fmt::format("Cannot {} {}: it cannot be opened there. Check the path and your rights.", doing, path));
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
      return Error::environment(fmt::format("Cannot {} {}: another program keeps it locked. Try again.", doing, path));
    case SQLITE_NOTADB:
      return {
          ErrorKind::BadInput,
          fmt::format("{} is no book: it is not an SQLite file. If it was one, `ashg book recover` saves what is left.",
                      path),
          true};
    case SQLITE_CORRUPT:
      return {
          ErrorKind::BadInput,
          fmt::format("Cannot {} {}: the file is damaged. `ashg book recover` saves what is left of it.", doing, path),
          true};
    default:
      return Error::environment(fmt::format("Cannot {} {}: {}.", doing, path, exception.what()));
  }
}

}  // namespace ash
