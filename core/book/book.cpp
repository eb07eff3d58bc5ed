// SPDX-License-Identifier: GPL-3.0-or-later
// Opening, making and migrating a book; studies, setups and loads. Runs are read in book_runs.cpp and
// book_read_run.cpp.
#include "book/book.h"

#include <fmt/format.h>

#include <cerrno>
#include <filesystem>

#include "book/book_format.h"
#include "book/sql_guard.h"
#include "system/clock.h"

namespace ash {
namespace {

constexpr int kBusyTimeoutMs = 5000;

void prepare(SQLite::Database& database) {
  database.setBusyTimeout(kBusyTimeoutMs);
  database.exec("PRAGMA foreign_keys = ON");
  database.exec("PRAGMA trusted_schema = OFF");
}

void migrate(SQLite::Database& database, int from) {
  SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
  // Another process may have done it while this one waited for the lock.
  const int now = database.execAndGet("PRAGMA user_version").getInt();
  for (int version = std::max(from, now); version < kBookFormat; ++version) {
    database.exec(std::string(kMigrations[version]));
  }
  database.exec(fmt::format("PRAGMA user_version = {}", kBookFormat));
  database.exec(fmt::format("PRAGMA application_id = {}", kBookApplicationId));
  transaction.commit();
}

Status checkIsBook(SQLite::Database& database, const std::string& path) {
  const int application = database.execAndGet("PRAGMA application_id").getInt();
  if (application != kBookApplicationId) {
    return Error::badInput(fmt::format("{} is no book of this program.", path));
  }
  const int format = database.execAndGet("PRAGMA user_version").getInt();
  if (format > kBookFormat) {
    return Error::badInput(
        fmt::format("{} was written by a newer version (format {}, this one knows {}). Use that version.", path, format,
                    kBookFormat));
  }
  return {};
}

long long idOf(SQLite::Database& database, const char* table, long long study, const std::string& name) {
  SQLite::Statement find(database, fmt::format("SELECT id FROM {} WHERE study = ? AND name = ?", table));
  find.bind(1, static_cast<int64_t>(study));
  find.bind(2, name);
  return find.executeStep() ? find.getColumn(0).getInt64() : 0;
}

}  // namespace

Book::Book(std::string path, std::unique_ptr<SQLite::Database> database)
    : m_path(std::move(path)), m_database(std::move(database)) {}
Book::Book(Book&&) noexcept = default;
Book& Book::operator=(Book&&) noexcept = default;
Book::~Book() = default;

Result<Book> Book::create(const std::string& path) {
  std::error_code error;
  if (std::filesystem::exists(path, error)) {
    return Error::badInput(fmt::format("{} is there already; give another name or open it.", path));
  }
  return guarded<Book>("make the book", path, [&]() -> Result<Book> {
    auto database = std::make_unique<SQLite::Database>(path, SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    prepare(*database);
    database->exec("PRAGMA journal_mode = WAL");
    migrate(*database, 0);
    return Book(path, std::move(database));
  });
}

Result<Book> Book::open(const std::string& path, BookAccess access) {
  std::error_code error;
  if (!std::filesystem::exists(path, error)) {
    return Error::badInput(fmt::format("There is no book {}; make one with `ashg book new {}`.", path, path));
  }
  if (std::filesystem::is_directory(path, error))
    return Error::badInput(fmt::format("{} is a folder, not a book.", path));
  return guarded<Book>("open the book", path, [&]() -> Result<Book> {
    const int flags = access == BookAccess::ReadOnly ? SQLite::OPEN_READONLY : SQLite::OPEN_READWRITE;
    auto database = std::make_unique<SQLite::Database>(path, flags);
    prepare(*database);
    if (Status isBook = checkIsBook(*database, path); !isBook) return isBook.error();
    const int format = database->execAndGet("PRAGMA user_version").getInt();
    if (access == BookAccess::ReadWrite && format < kBookFormat) migrate(*database, format);
    return Book(path, std::move(database));
  });
}

Result<Book> Book::openOrCreate(const std::string& path) {
  std::error_code error;
  return std::filesystem::exists(path, error) ? open(path, BookAccess::ReadWrite) : create(path);
}

Result<std::vector<Study>> Book::studies() const {
  return guarded<std::vector<Study>>("read", m_path, [&]() -> Result<std::vector<Study>> {
    std::vector<Study> studies;
    SQLite::Statement rows(*m_database, "SELECT id, name, question, plan FROM study ORDER BY id");
    while (rows.executeStep()) {
      Study study;
      const int64_t id = rows.getColumn(0).getInt64();
      study.id = id;
      study.name = rows.getColumn(1).getString();
      study.question = rows.getColumn(2).getString();
      study.plan = Json::parse(rows.getColumn(3).getString());
      SQLite::Statement setups(*m_database,
                               "SELECT name, parts, conditions, levels, id FROM setup WHERE study = ? ORDER BY id");
      setups.bind(1, id);
      while (setups.executeStep()) {
        study.setups.push_back({setups.getColumn(0).getString(), Json::parse(setups.getColumn(1).getString()),
                                Json::parse(setups.getColumn(2).getString()),
                                Json::parse(setups.getColumn(3).getString()), setups.getColumn(4).getInt64()});
      }
      SQLite::Statement loads(*m_database, "SELECT name, spec, id FROM load WHERE study = ? ORDER BY id");
      loads.bind(1, id);
      while (loads.executeStep()) {
        study.loads.push_back({loads.getColumn(0).getString(), Json::parse(loads.getColumn(1).getString()),
                               loads.getColumn(2).getInt64()});
      }
      studies.push_back(std::move(study));
    }
    return studies;
  });
}

Status Book::ensurePlace(const std::string& study, const Setup& setup, const Load& load) {
  return guardedStatus("write", m_path, [&] {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement newStudy(*m_database, "INSERT OR IGNORE INTO study (name, created) VALUES (?, ?)");
    newStudy.bind(1, study);
    newStudy.bind(2, isoTimeNow());
    newStudy.exec();
    SQLite::Statement find(*m_database, "SELECT id FROM study WHERE name = ?");
    find.bind(1, study);
    find.executeStep();
    const int64_t id = find.getColumn(0).getInt64();
    if (idOf(*m_database, "setup", id, setup.name) == 0) {
      SQLite::Statement insert(*m_database,
                               "INSERT INTO setup (study, name, parts, conditions, levels) VALUES (?, ?, ?, ?, ?)");
      insert.bind(1, id);
      insert.bind(2, setup.name);
      insert.bind(3, setup.parts.dump());
      insert.bind(4, setup.conditions.dump());
      insert.bind(5, setup.levels.dump());
      insert.exec();
    }
    if (idOf(*m_database, "load", id, load.name) == 0) {
      SQLite::Statement insert(*m_database, "INSERT INTO load (study, name, spec) VALUES (?, ?, ?)");
      insert.bind(1, id);
      insert.bind(2, load.name);
      insert.bind(3, load.spec.dump());
      insert.exec();
    }
    transaction.commit();
  });
}

}  // namespace ash
