// SPDX-License-Identifier: GPL-3.0-or-later
// Studies, setups and loads. A book is opened in book_open.cpp; runs are read in book_runs.cpp and book_read_run.cpp.
#include "book/book.h"

#include <fmt/format.h>

#include <algorithm>

#include "book/run_rows.h"
#include "book/sql_guard.h"

namespace ash {
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
    insertPlace(*m_database, study, setup, load);
    transaction.commit();
    syncCommitted(*m_database);
  });
}

}  // namespace ash
