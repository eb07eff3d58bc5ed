// SPDX-License-Identifier: GPL-3.0-or-later
// Opening, making and migrating a book. A book may come from a stranger: nothing in it is run, and nothing that this
// program did not make is followed.
#include <fcntl.h>
#include <fmt/format.h>
#include <sqlite3.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <filesystem>

#include "book/book.h"
#include "book/book_format.h"
#include "book/sql_guard.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr int kBusyTimeoutMs = 5000;
constexpr int kLongestValueB = 256 * 1024 * 1024;

void prepare(SQLite::Database& database) {
  sqlite3* handle = database.getHandle();
  // A file that turns out to be damaged is left as it is when it is closed; open() takes this back for sound ones.
  sqlite3_db_config(handle, SQLITE_DBCONFIG_NO_CKPT_ON_CLOSE, 1, nullptr);
  // https://www.sqlite.org/security.html, "Untrusted SQLite Database Files".
  for (const auto& [option, value] :
       {std::pair{SQLITE_DBCONFIG_DEFENSIVE, 1}, std::pair{SQLITE_DBCONFIG_ENABLE_TRIGGER, 0},
        std::pair{SQLITE_DBCONFIG_ENABLE_VIEW, 0}, std::pair{SQLITE_DBCONFIG_TRUSTED_SCHEMA, 0}}) {
    sqlite3_db_config(handle, option, value, nullptr);
  }
  sqlite3_limit(handle, SQLITE_LIMIT_LENGTH, kLongestValueB);
  sqlite3_limit(handle, SQLITE_LIMIT_ATTACHED, 0);
  database.exec("PRAGMA cell_size_check = ON");
  database.exec("PRAGMA mmap_size = 0");
  database.exec("PRAGMA foreign_keys = ON");
  // Commits are synced after they have let go of the lock (syncCommitted()), so that a slow drive holds no recorder up.
  database.exec("PRAGMA synchronous = NORMAL");
}

int formatOf(SQLite::Database& database) { return database.execAndGet("PRAGMA user_version").getInt(); }

void migrate(SQLite::Database& database, int from) {
  // Tables are made anew under their names: what refers to them by name stays
  // (https://www.sqlite.org/lang_altertable.html).
  database.exec("PRAGMA foreign_keys = OFF");
  SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
  // Another process may have done it while this one waited for the lock.
  const int now = formatOf(database);
  for (int version = std::max(from, now); version < kBookFormat; ++version) {
    database.exec(std::string(kMigrations[version]));
  }
  database.exec(fmt::format("PRAGMA user_version = {}", kBookFormat));
  database.exec(fmt::format("PRAGMA application_id = {}", kBookApplicationId));
  transaction.commit();
  database.exec("PRAGMA foreign_keys = ON");
}

Status checkIsBook(SQLite::Database& database, const std::string& path) {
  const int application = database.execAndGet("PRAGMA application_id").getInt();
  if (application != kBookApplicationId) {
    return Error::badInput(fmt::format("{} is no book of this program.", path));
  }
  // Tables and indexes are all that a book has; anything else could make reading it do something.
  SQLite::Statement strange(database,
                            "SELECT name FROM sqlite_schema WHERE type NOT IN ('table', 'index') OR "
                            "(type = 'table' AND sql LIKE 'CREATE VIRTUAL%') LIMIT 1");
  if (strange.executeStep()) {
    return Error::badInput(fmt::format("{} has a part that this program never makes, so it is not opened.", path));
  }
  return {};
}

std::string newerSentence(const std::string& path, int format) {
  return fmt::format("{} was written by a newer version (format {}, this one knows {}): it is opened for reading only.",
                     path, format, kBookFormat);
}

// A folder, a device or a pipe is no book, and reading one might never end.
Status checkIsFile(const std::string& path) {
  std::error_code error;
  const auto status = fs::status(path, error);
  if (!fs::exists(status)) {
    return Error::badInput(fmt::format("There is no book {}; make one with `ashg book new {}`.", path, path));
  }
  if (fs::is_directory(status)) return Error::badInput(fmt::format("{} is a folder, not a book.", path));
  if (!fs::is_regular_file(status)) return Error::badInput(fmt::format("{} is no file, and so no book.", path));
  return {};
}

std::unique_ptr<SQLite::Database> openDatabase(const std::string& path, BookAccess access) {
  const std::string whole = fs::absolute(path).string();
  if (access == BookAccess::ReadWrite)
    return std::make_unique<SQLite::Database>(whole, SQLite::OPEN_READWRITE, kBusyTimeoutMs);
  // The first question may meet somebody who just makes the log's index: it waits like all that follow.
  auto database = std::make_unique<SQLite::Database>(whole, SQLite::OPEN_READONLY, kBusyTimeoutMs);
  try {
    formatOf(*database);
    return database;
  } catch (const SQLite::Exception& exception) {
    // On a medium that cannot be written the log's index cannot be made; without a log the file may be read as it
    // stands.
    std::error_code error;
    const bool hasLog = fs::exists(whole + "-wal", error) && fs::file_size(whole + "-wal", error) > 0;
    const int code = exception.getErrorCode() & 0xFF;
    if (hasLog || (code != SQLITE_CANTOPEN && code != SQLITE_READONLY)) throw;
    std::string quoted;
    for (const char c : whole) quoted += c == '%' ? "%25" : c == '?' ? "%3f" : c == '#' ? "%23" : std::string(1, c);
    return std::make_unique<SQLite::Database>("file:" + quoted + "?immutable=1",
                                              SQLite::OPEN_READONLY | SQLite::OPEN_URI, kBusyTimeoutMs);
  }
}

// What a power cut may leave of a file that somebody was just making.
bool isEmptyFile(const std::string& path) {
  std::error_code error;
  return fs::is_regular_file(path, error) && fs::file_size(path, error) == 0;
}

// Gives a finished file its name, unless a file of that name has come up meanwhile; safe from a power cut.
Status putInPlace(const std::string& from, const std::string& to) {
  const int file = ::open(from.c_str(), O_RDONLY | O_CLOEXEC);
  if (file < 0 || fsync(file) != 0) return Error::io("make the book", to, errno);
  ::close(file);
  if (isEmptyFile(to)) unlink(to.c_str());
  int result = renameat2(AT_FDCWD, from.c_str(), AT_FDCWD, to.c_str(), RENAME_NOREPLACE);
  // Some file systems know no such rename.
  if (result != 0 && (errno == EINVAL || errno == ENOSYS)) result = link(from.c_str(), to.c_str());
  if (result != 0) return Error::io("make the book", to, errno);
  const int folder = ::open(fs::absolute(to).parent_path().c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (folder >= 0) {
    fsync(folder);
    ::close(folder);
  }
  return {};
}

}  // namespace

Book::Book(std::string path, std::unique_ptr<SQLite::Database> database)
    : m_path(std::move(path)), m_database(std::move(database)) {}
Book::Book(Book&&) noexcept = default;
Book& Book::operator=(Book&&) noexcept = default;
Book::~Book() = default;

Result<Book> Book::create(const std::string& path) {
  if (path.empty()) return Error::badInput("A book needs a name.");
  std::error_code error;
  if (fs::exists(path, error) && !isEmptyFile(path)) {
    return Error::badInput(fmt::format("{} is there already; give another name or open it.", path));
  }
  // Made beside its place and then put there: nobody ever sees half a book.
  const std::string making = fmt::format("{}.making-{}", path, getpid());
  const auto clean = [&] {
    for (const char* ending : {"", "-wal", "-shm", "-journal"}) unlink((making + ending).c_str());
  };
  clean();
  Status made = guardedStatus("make the book", path, [&] {
    SQLite::Database database(fs::absolute(making).string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE,
                              kBusyTimeoutMs);
    prepare(database);
    database.exec("PRAGMA journal_mode = WAL");
    migrate(database, 0);
    // All of it must be in the one file that gets the name.
    const int code =
        sqlite3_wal_checkpoint_v2(database.getHandle(), nullptr, SQLITE_CHECKPOINT_TRUNCATE, nullptr, nullptr);
    if (code != SQLITE_OK) throw SQLite::Exception(database.getHandle(), code);
  });
  if (made) made = putInPlace(making, path);
  clean();
  if (!made) return made.error();
  return open(path, BookAccess::ReadWrite);
}

Result<Book> Book::open(const std::string& path, BookAccess access) {
  if (Status isFile = checkIsFile(path); !isFile) return isFile.error();
  return guarded<Book>("open the book", path, [&]() -> Result<Book> {
    auto database = openDatabase(path, access);
    prepare(*database);
    if (Status isBook = checkIsBook(*database, path); !isBook) return isBook.error();
    const int format = formatOf(*database);
    if (format > kBookFormat && access == BookAccess::ReadWrite) {
      return Error::badInput(newerSentence(path, format) + " Use that version to write into it.");
    }
    if (access == BookAccess::ReadWrite && format < kBookFormat) migrate(*database, format);
    if (access == BookAccess::ReadWrite)
      sqlite3_db_config(database->getHandle(), SQLITE_DBCONFIG_NO_CKPT_ON_CLOSE, 0, nullptr);
    Book book(path, std::move(database));
    book.m_canWrite = access == BookAccess::ReadWrite;
    book.m_format = formatOf(*book.m_database);
    if (format > kBookFormat) book.m_notice = newerSentence(path, format);
    return book;
  });
}

Result<Book> Book::openOrCreate(const std::string& path) {
  std::error_code error;
  if (!fs::exists(path, error) || isEmptyFile(path)) {
    auto made = create(path);
    // Somebody else may have made it in this moment.
    if (made || !fs::exists(path, error) || isEmptyFile(path)) return made;
  }
  return open(path, BookAccess::ReadWrite);
}

Result<Book> Book::openForWork(const std::string& path) {
  auto book = openOrCreate(path);
  if (book) return book;
  auto readOnly = open(path, BookAccess::ReadOnly);
  if (!readOnly) return book.error();
  if (readOnly->m_notice.empty())
    readOnly->m_notice = fmt::format("{} cannot be written: it is opened for reading only.", path);
  return readOnly;
}

}  // namespace ash
