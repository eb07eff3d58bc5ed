// SPDX-License-Identifier: GPL-3.0-or-later
// Studies, setups and loads. A book is opened in book_open.cpp; runs are read in book_runs.cpp and book_read_run.cpp.
#include "book/book.h"

#include <fmt/format.h>

#include <algorithm>

#include "book/sql_guard.h"
#include "system/clock.h"

namespace ash {
namespace {

long long idOf(SQLite::Database& database, const char* table, long long study, const std::string& name) {
  SQLite::Statement find(database, fmt::format("SELECT id FROM {} WHERE study = ? AND name = ?", table));
  find.bind(1, static_cast<int64_t>(study));
  find.bind(2, name);
  return find.executeStep() ? find.getColumn(0).getInt64() : 0;
}

}  // namespace

Result<long long> Book::edition() const {
  return guarded<long long>("read", m_path, [&]() -> Result<long long> {
    if (!m_database->tableExists("edition")) return 0LL;
    return static_cast<long long>(m_database->execAndGet("SELECT number FROM edition").getInt64());
  });
}

Result<std::vector<Study>> Book::studies() const {
  return guarded<std::vector<Study>>("read", m_path, [&]() -> Result<std::vector<Study>> {
    std::vector<Study> studies;
    SQLite::Statement rows(*m_database, "SELECT id, name, question, plan FROM study ORDER BY id");
    while (rows.executeStep()) {
      Study study;
      const int64_t id = rows.getColumn(0).getInt64();
      study.id = id;
      study.name = textAt(rows, 1);
      study.question = textAt(rows, 2);
      study.plan = parseObject(rows.getColumn(3).getString());
      SQLite::Statement setups(*m_database,
                               "SELECT name, parts, conditions, levels, id FROM setup WHERE study = ? ORDER BY id");
      setups.bind(1, id);
      while (setups.executeStep()) {
        study.setups.push_back({textAt(setups, 0), parseObject(setups.getColumn(1).getString()),
                                parseObject(setups.getColumn(2).getString()),
                                parseObject(setups.getColumn(3).getString()), setups.getColumn(4).getInt64()});
      }
      SQLite::Statement loads(*m_database, "SELECT name, spec, id FROM load WHERE study = ? ORDER BY id");
      loads.bind(1, id);
      while (loads.executeStep()) {
        study.loads.push_back(
            {textAt(loads, 0), parseObject(loads.getColumn(1).getString()), loads.getColumn(2).getInt64()});
      }
      studies.push_back(std::move(study));
    }
    return studies;
  });
}

Result<Study> Book::study(const std::string& name) const {
  auto all = studies();
  if (!all) return all.error();
  const auto found = std::find_if(all->begin(), all->end(), [&](const Study& study) { return study.name == name; });
  if (found != all->end()) return std::move(*found);
  return Error::badInput(
      fmt::format("There is no study \"{}\" in {}; `ashg book info {}` lists them.", name, m_path, m_path));
}

Status Book::ensurePlace(const std::string& study, const Setup& setup, const Load& load) {
  return guardedStatus("write", m_path, [&] {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    bool isNew = false;
    SQLite::Statement newStudy(*m_database, "INSERT OR IGNORE INTO study (name, created) VALUES (?, ?)");
    newStudy.bind(1, study);
    newStudy.bind(2, isoTimeNow());
    isNew |= newStudy.exec() > 0;
    SQLite::Statement find(*m_database, "SELECT id FROM study WHERE name = ?");
    find.bind(1, study);
    find.executeStep();
    const int64_t id = find.getColumn(0).getInt64();
    if (idOf(*m_database, "setup", id, setup.name) == 0) {
      SQLite::Statement insert(*m_database,
                               "INSERT INTO setup (study, name, parts, conditions, levels) VALUES (?, ?, ?, ?, ?)");
      insert.bind(1, id);
      insert.bind(2, setup.name);
      insert.bind(3, jsonText(setup.parts));
      insert.bind(4, jsonText(setup.conditions));
      insert.bind(5, jsonText(setup.levels));
      isNew |= insert.exec() > 0;
    }
    if (idOf(*m_database, "load", id, load.name) == 0) {
      SQLite::Statement insert(*m_database, "INSERT INTO load (study, name, spec) VALUES (?, ?, ?)");
      insert.bind(1, id);
      insert.bind(2, load.name);
      insert.bind(3, jsonText(load.spec));
      isNew |= insert.exec() > 0;
    }
    if (isNew) countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
  });
}

}  // namespace ash
