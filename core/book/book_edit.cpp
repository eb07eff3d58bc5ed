// SPDX-License-Identifier: GPL-3.0-or-later
// What a person edits: studies with their setups and loads, and which runs count.
#include <fmt/format.h>

#include <algorithm>

#include "book/book.h"
#include "book/sql_guard.h"
#include "system/clock.h"

namespace ash {
namespace {

/// Thrown to leave a transaction with a sentence for the person.
struct Refused {
  std::string why;
};

void bindId(SQLite::Statement& statement, int index, long long id) {
  if (id == 0)
    statement.bind(index);
  else
    statement.bind(index, static_cast<int64_t>(id));
}

template <typename Row>
bool holds(const std::vector<Row>& rows, long long id) {
  return std::any_of(rows.begin(), rows.end(), [&](const Row& row) { return row.id == id; });
}

// Rows that were in the study before and are no longer: refused while runs hang on them.
template <typename Row>
void removeRows(SQLite::Database& database, const char* table, const std::vector<Row>& before,
                const std::vector<Row>& after) {
  for (const Row& row : before) {
    if (row.id == 0 || holds(after, row.id)) continue;
    SQLite::Statement count(database, fmt::format("SELECT COUNT(*) FROM run WHERE {} = ?", table));
    count.bind(1, static_cast<int64_t>(row.id));
    count.executeStep();
    if (count.getColumn(0).getInt() > 0)
      throw Refused{fmt::format("“{}” has runs, which would be lost; void them or keep it.", row.name)};
    SQLite::Statement remove(database, fmt::format("DELETE FROM {} WHERE id = ?", table));
    remove.bind(1, static_cast<int64_t>(row.id));
    remove.exec();
  }
}

void putSetup(SQLite::Database& database, int64_t study, Setup& setup) {
  SQLite::Statement put(database,
                        "INSERT INTO setup (id, study, name, parts, conditions, levels) VALUES (?, ?, ?, ?, ?, ?) "
                        "ON CONFLICT(id) DO UPDATE SET name = excluded.name, parts = excluded.parts, "
                        "conditions = excluded.conditions, levels = excluded.levels");
  bindId(put, 1, setup.id);
  put.bind(2, study);
  put.bind(3, setup.name);
  put.bind(4, setup.parts.dump());
  put.bind(5, setup.conditions.dump());
  put.bind(6, setup.levels.dump());
  put.exec();
  if (setup.id == 0) setup.id = database.getLastInsertRowid();
}

void putLoad(SQLite::Database& database, int64_t study, Load& load) {
  SQLite::Statement put(database,
                        "INSERT INTO load (id, study, name, spec) VALUES (?, ?, ?, ?) "
                        "ON CONFLICT(id) DO UPDATE SET name = excluded.name, spec = excluded.spec");
  bindId(put, 1, load.id);
  put.bind(2, study);
  put.bind(3, load.name);
  put.bind(4, load.spec.dump());
  put.exec();
  if (load.id == 0) load.id = database.getLastInsertRowid();
}

template <typename Row>
std::string twiceNamed(const std::vector<Row>& rows) {
  for (size_t i = 0; i < rows.size(); ++i) {
    for (size_t k = i + 1; k < rows.size(); ++k) {
      if (rows[i].name == rows[k].name) return rows[i].name;
    }
  }
  return {};
}

Status checkNames(const Study& study) {
  if (study.name.empty()) return Error::badInput("A study needs a name.");
  for (const auto& twice : {twiceNamed(study.setups), twiceNamed(study.loads)}) {
    if (!twice.empty())
      return Error::badInput(fmt::format("“{}” is there twice in {}; give one another name.", twice, study.name));
  }
  const auto isNameless = [](const auto& row) { return row.name.empty(); };
  if (std::any_of(study.setups.begin(), study.setups.end(), isNameless))
    return Error::badInput("A setup needs a name.");
  if (std::any_of(study.loads.begin(), study.loads.end(), isNameless)) return Error::badInput("A load needs a name.");
  return {};
}

}  // namespace

Result<Study> Book::putStudy(const Study& before, Study after) {
  if (Status named = checkNames(after); !named) return named.error();
  return guarded<Study>("write", m_path, [&]() -> Result<Study> {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement sameName(*m_database, "SELECT 1 FROM study WHERE name = ? AND id != ?");
    sameName.bind(1, after.name);
    sameName.bind(2, static_cast<int64_t>(after.id));
    if (sameName.executeStep())
      return Error::badInput(fmt::format("There is a study “{}” already; give this one another name.", after.name));
    sameName.reset();
    SQLite::Statement put(*m_database,
                          "INSERT INTO study (id, name, question, plan, created) VALUES (?, ?, ?, ?, ?) "
                          "ON CONFLICT(id) DO UPDATE SET name = excluded.name, question = excluded.question, "
                          "plan = excluded.plan");
    bindId(put, 1, after.id);
    put.bind(2, after.name);
    put.bind(3, after.question);
    put.bind(4, after.plan.dump());
    put.bind(5, isoTimeNow());
    put.exec();
    if (after.id == 0) after.id = m_database->getLastInsertRowid();
    try {
      removeRows(*m_database, "setup", before.setups, after.setups);
      removeRows(*m_database, "load", before.loads, after.loads);
    } catch (const Refused& refused) {
      return Error::badInput(refused.why);
    }
    for (Setup& setup : after.setups) putSetup(*m_database, after.id, setup);
    for (Load& load : after.loads) putLoad(*m_database, after.id, load);
    transaction.commit();
    syncCommitted(*m_database);
    return after;
  });
}

Status Book::removeStudy(long long id) {
  const auto all = runs();
  const auto known = studies();
  if (!all) return all.error();
  if (!known) return known.error();
  for (const Study& study : *known) {
    if (study.id != id) continue;
    const bool hasRuns =
        std::any_of(all->begin(), all->end(), [&](const RunSummary& run) { return run.info.study == study.name; });
    if (hasRuns) return Error::badInput(fmt::format("The study “{}” has runs, which would be lost.", study.name));
  }
  return guardedStatus("write", m_path, [&] {
    SQLite::Statement remove(*m_database, "DELETE FROM study WHERE id = ?");
    remove.bind(1, static_cast<int64_t>(id));
    remove.exec();
  });
}

Status Book::voidRun(const std::string& run, const std::string& reason) {
  return guardedStatus("write", m_path, [&] {
    SQLite::Statement update(*m_database,
                             "UPDATE run SET extra = CASE WHEN outcome = 'void' THEN extra ELSE "
                             "json_set(extra, '$.before_void', json_object('outcome', outcome, 'reason', reason)) END, "
                             "outcome = 'void', reason = ? WHERE id = ?");
    update.bind(1, reason);
    update.bind(2, run);
    update.exec();
  });
}

Status Book::restoreRun(const std::string& run) {
  return guardedStatus("write", m_path, [&] {
    SQLite::Statement update(
        *m_database,
        "UPDATE run SET outcome = json_extract(extra, '$.before_void.outcome'), "
        "reason = json_extract(extra, '$.before_void.reason'), "
        "extra = json_remove(extra, '$.before_void') "
        "WHERE id = ? AND outcome = 'void' AND json_extract(extra, '$.before_void.outcome') IS NOT NULL");
    update.bind(1, run);
    update.exec();
  });
}

}  // namespace ash
