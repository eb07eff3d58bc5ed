// SPDX-License-Identifier: GPL-3.0-or-later
// What a person edits: studies with their setups and loads, and which runs count.
#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "book/book.h"
#include "book/sql_guard.h"
#include "model/study_plan.h"
#include "system/clock.h"

namespace ash {
namespace {

/// Thrown to leave a transaction with a sentence for the person.
struct Refused {
  std::string why;
};

[[noreturn]] void refuseMoved(const std::string& row, const std::string& field, const std::string& now) {
  throw Refused{
      fmt::format("“{}”: {} was changed elsewhere meanwhile, to {}; what you set is not kept. Look at it and "
                  "set it again if it shall be otherwise.",
                  row, field, now)};
}

void bindId(SQLite::Statement& statement, int index, long long id) {
  if (id == 0)
    statement.bind(index);
  else
    statement.bind(index, static_cast<int64_t>(id));
}

std::string mergedText(const std::string& row, const char* field, const std::string& before, const std::string& after,
                       const std::string& now) {
  if (after == before || now == after) return now;
  if (now != before) refuseMoved(row, field, now.empty() ? "nothing" : "“" + now + "”");
  return after;
}

Json valueOrNull(const Json& object, const std::string& key) {
  const auto found = object.find(key);
  return found == object.end() ? Json(nullptr) : *found;
}

// Each key is a field of its own; one that is not there is null.
Json merged(const std::string& row, const Json& before, const Json& after, Json now) {
  std::set<std::string> keys;
  for (const Json* object : {&before, &after}) {
    for (const auto& [key, value] : object->items()) keys.insert(key);
  }
  for (const std::string& key : keys) {
    const Json from = valueOrNull(before, key), to = valueOrNull(after, key), is = valueOrNull(now, key);
    if (from == to || is == to) continue;
    if (is != from) refuseMoved(row, key, jsonText(is));
    if (after.contains(key))
      now[key] = to;
    else
      now.erase(key);
  }
  return now;
}

bool isSame(const Setup& a, const Setup& b) {
  return a.name == b.name && a.parts == b.parts && a.conditions == b.conditions && a.levels == b.levels;
}
bool isSame(const Load& a, const Load& b) { return a.name == b.name && a.spec == b.spec; }

Setup merged(const Setup& before, const Setup& after, const Setup& now) {
  const std::string& row = now.name;
  return {mergedText(row, "the name", before.name, after.name, now.name),
          merged(row, before.parts, after.parts, now.parts),
          merged(row, before.conditions, after.conditions, now.conditions),
          merged(row, before.levels, after.levels, now.levels), now.id};
}
Load merged(const Load& before, const Load& after, const Load& now) {
  return {mergedText(now.name, "the name", before.name, after.name, now.name),
          merged(now.name, before.spec, after.spec, now.spec), now.id};
}

template <typename Row>
const Row* findRow(const std::vector<Row>& rows, long long id) {
  const auto found = std::find_if(rows.begin(), rows.end(), [&](const Row& row) { return row.id == id; });
  return id == 0 || found == rows.end() ? nullptr : &*found;
}

void put(SQLite::Database& database, int64_t study, const Setup& setup) {
  SQLite::Statement put(database,
                        "INSERT INTO setup (id, study, name, parts, conditions, levels) VALUES (?, ?, ?, ?, ?, ?) "
                        "ON CONFLICT(id) DO UPDATE SET name = excluded.name, parts = excluded.parts, "
                        "conditions = excluded.conditions, levels = excluded.levels");
  bindId(put, 1, setup.id);
  put.bind(2, study);
  put.bind(3, setup.name);
  put.bind(4, jsonText(setup.parts));
  put.bind(5, jsonText(setup.conditions));
  put.bind(6, jsonText(setup.levels));
  put.exec();
}

void put(SQLite::Database& database, int64_t study, const Load& load) {
  SQLite::Statement put(database,
                        "INSERT INTO load (id, study, name, spec) VALUES (?, ?, ?, ?) "
                        "ON CONFLICT(id) DO UPDATE SET name = excluded.name, spec = excluded.spec");
  bindId(put, 1, load.id);
  put.bind(2, study);
  put.bind(3, load.name);
  put.bind(4, jsonText(load.spec));
  put.exec();
}

/// Setups or loads of one study: what they were, are to be, and are now in the book.
template <typename Row>
struct Rows {
  const char* table;
  const std::vector<Row>&before, &after, &now;
};

bool hasAttachments(SQLite::Database& database, long long setup) {
  SQLite::Statement one(database, "SELECT 1 FROM attachment WHERE setup = ? LIMIT 1");
  one.bind(1, static_cast<int64_t>(setup));
  return one.executeStep();
}

// Refused while runs hang on a row, and when it is no longer what the person saw.
template <typename Row>
void removeRows(SQLite::Database& database, const Rows<Row>& rows) {
  for (const Row& row : rows.before) {
    const Row* now = findRow(rows.now, row.id);
    if (now == nullptr || findRow(rows.after, row.id) != nullptr) continue;
    SQLite::Statement count(database, fmt::format("SELECT COUNT(*) FROM run WHERE {} = ?", rows.table));
    count.bind(1, static_cast<int64_t>(row.id));
    count.executeStep();
    if (count.getColumn(0).getInt() > 0)
      throw Refused{fmt::format("“{}” has runs, which would be lost; void them or keep it.", row.name)};
    if (rows.table == std::string_view("setup") && hasAttachments(database, row.id))
      throw Refused{fmt::format("“{}” has pictures or files, which would be lost; take them off first.", row.name)};
    if (!isSame(row, *now))
      throw Refused{
          fmt::format("“{}” was changed elsewhere meanwhile, so it is not removed; look at it first.", row.name)};
    SQLite::Statement remove(database, fmt::format("DELETE FROM {} WHERE id = ?", rows.table));
    remove.bind(1, static_cast<int64_t>(row.id));
    remove.exec();
  }
}

template <typename Row>
void putRows(SQLite::Database& database, int64_t study, const Rows<Row>& rows) {
  for (const Row& row : rows.after) {
    const Row* before = findRow(rows.before, row.id);
    const Row* now = findRow(rows.now, row.id);
    if (before != nullptr && isSame(*before, row)) continue;
    if (before != nullptr && now == nullptr)
      throw Refused{fmt::format("“{}” was removed elsewhere meanwhile; what you set is not kept.", before->name)};
    // A row without a number is new; one with a number that is not there comes back by undo.
    if (before == nullptr && now != nullptr)
      throw Refused{fmt::format("There is a “{}” already; give this one another name.", now->name)};
    const Row wanted = before == nullptr ? row : merged(*before, row, *now);
    const bool isTaken = std::any_of(rows.now.begin(), rows.now.end(), [&](const Row& other) {
      return other.name == wanted.name && other.id != wanted.id &&
             (findRow(rows.before, other.id) == nullptr || findRow(rows.after, other.id) != nullptr);
    });
    if (isTaken) throw Refused{fmt::format("There is a “{}” already; give this one another name.", wanted.name)};
    put(database, study, wanted);
  }
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

// The plan as all versions write it, so that a key that is not there equals its default.
Json wholePlan(const Json& plan) { return planToJson(planFromJson(plan)); }

// The row of the study itself; its id.
int64_t putStudyRow(SQLite::Database& database, const Study& before, const Study& after, const Study* now) {
  if (after.id != 0 && now == nullptr)
    throw Refused{
        fmt::format("The study “{}” was removed elsewhere meanwhile; what you set is not kept.", before.name)};
  Study wanted = after;
  if (now != nullptr) {
    wanted.name = mergedText(now->name, "the name", before.name, after.name, now->name);
    wanted.question = mergedText(now->name, "the question", before.question, after.question, now->question);
    wanted.plan = before.plan == after.plan
                      ? now->plan
                      : merged(now->name, wholePlan(before.plan), wholePlan(after.plan), wholePlan(now->plan));
  }
  SQLite::Statement sameName(database, "SELECT 1 FROM study WHERE name = ? AND id != ?");
  sameName.bind(1, wanted.name);
  sameName.bind(2, static_cast<int64_t>(after.id));
  if (sameName.executeStep())
    throw Refused{fmt::format("There is a study “{}” already; give this one another name.", wanted.name)};
  SQLite::Statement put(database,
                        "INSERT INTO study (id, name, question, plan, created) VALUES (?, ?, ?, ?, ?) "
                        "ON CONFLICT(id) DO UPDATE SET name = excluded.name, question = excluded.question, "
                        "plan = excluded.plan");
  bindId(put, 1, after.id);
  put.bind(2, wanted.name);
  put.bind(3, wanted.question);
  put.bind(4, jsonText(wanted.plan));
  put.bind(5, isoTimeNow());
  put.exec();
  return after.id != 0 ? after.id : database.getLastInsertRowid();
}

}  // namespace

Result<Study> Book::putStudy(const Study& before, Study after) {
  if (Status named = checkNames(after); !named) return named.error();
  return guarded<Study>("write", m_path, [&]() -> Result<Study> {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    auto known = studies();
    if (!known) return known.error();
    const Study* now = findRow(*known, after.id);
    try {
      after.id = putStudyRow(*m_database, before, after, now);
      const Study nothing;
      const Study& is = now == nullptr ? nothing : *now;
      const Rows<Setup> setups{"setup", before.setups, after.setups, is.setups};
      const Rows<Load> loads{"load", before.loads, after.loads, is.loads};
      removeRows(*m_database, setups);
      removeRows(*m_database, loads);
      putRows(*m_database, after.id, setups);
      putRows(*m_database, after.id, loads);
    } catch (const Refused& refused) {
      return Error::badInput(refused.why);
    }
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
    known = studies();
    if (!known) return known.error();
    const Study* put = findRow(*known, after.id);
    return put == nullptr ? after : *put;
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
    const auto isKept = [&](const Setup& setup) { return hasAttachments(*m_database, setup.id); };
    if (m_canWrite && std::any_of(study.setups.begin(), study.setups.end(), isKept))
      return Error::badInput(
          fmt::format("The study “{}” has pictures or files, which would be lost; take them off first.", study.name));
  }
  return guardedStatus("write", m_path, [&] {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement remove(*m_database, "DELETE FROM study WHERE id = ?");
    remove.bind(1, static_cast<int64_t>(id));
    remove.exec();
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
  });
}

Status Book::voidRun(const std::string& run, const std::string& reason) {
  return guardedStatus("write", m_path, [&] {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement update(*m_database,
                             "UPDATE run SET extra = CASE WHEN outcome = 'void' THEN extra ELSE "
                             "json_set(extra, '$.before_void', json_object('outcome', outcome, 'reason', reason)) END, "
                             "outcome = 'void', reason = ? WHERE id = ?");
    update.bind(1, reason);
    update.bind(2, run);
    update.exec();
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
  });
}

Status Book::restoreRun(const std::string& run) {
  return guardedStatus("write", m_path, [&] {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement update(
        *m_database,
        "UPDATE run SET outcome = json_extract(extra, '$.before_void.outcome'), "
        "reason = json_extract(extra, '$.before_void.reason'), "
        "extra = json_remove(extra, '$.before_void') "
        "WHERE id = ? AND outcome = 'void' AND json_extract(extra, '$.before_void.outcome') IS NOT NULL");
    update.bind(1, run);
    update.exec();
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
  });
}

}  // namespace ash
