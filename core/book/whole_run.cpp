// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/whole_run.h"
#include "book/whole_files.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

#include "book/block_codec.h"
#include "book/book.h"
#include "book/made_book.h"
#include "book/run_rows.h"
#include "book/sql_guard.h"
#include "book/whole_files.h"
#include "model/number_text.h"

namespace ash {
namespace {

constexpr std::array kTextColumns = {"id", "outcome", "started", "procedure", "watched"};
constexpr std::array kMaybeTextColumns = {"reason", "unwatched"};
constexpr std::array kJsonColumns = {"machine", "bench", "conditions", "extra"};

Json textOrNull(const SQLite::Column& column) {
  return column.isNull() ? Json(nullptr) : Json(asUtf8(column.getString()));
}
Json numberOrNullOf(const SQLite::Column& column) { return column.isNull() ? Json(nullptr) : Json(column.getDouble()); }

// The columns of one row by their names: texts, and objects where they hold JSON.
Json rowOf(SQLite::Statement& row) {
  Json all = Json::object();
  for (int i = 0; i < row.getColumnCount(); ++i) {
    const SQLite::Column column = row.getColumn(i);
    const std::string name = column.getName();
    const bool isJson = std::find_if(kJsonColumns.begin(), kJsonColumns.end(),
                                     [&](const char* one) { return name == one; }) != kJsonColumns.end() ||
                        name == "parts" || name == "levels" || name == "spec" || name == "plan";
    if (isJson)
      all[name] = parseObject(column.getString());
    else if (column.isInteger())
      all[name] = column.getInt64();
    else if (column.isFloat())
      all[name] = column.getDouble();
    else
      all[name] = textOrNull(column);
  }
  return all;
}

Json oneRow(SQLite::Database& database, const std::string& query, const std::string& run) {
  SQLite::Statement row(database, query);
  row.bind(1, run);
  return row.executeStep() ? rowOf(row) : Json(nullptr);
}

bool takeBlocks(SQLite::Database& database, const std::string& run, std::vector<WholeSource>& sources) {
  SQLite::Statement rows(database,
                         "SELECT source, times, samples, checksum FROM block WHERE run = ? ORDER BY source, number");
  rows.bind(1, run);
  while (rows.executeStep()) {
    const auto number = static_cast<size_t>(rows.getColumn(0).getInt());
    const SQLite::Column times = rows.getColumn(1), samples = rows.getColumn(2);
    const auto timesB = static_cast<size_t>(times.getBytes()), samplesB = static_cast<size_t>(samples.getBytes());
    if (number >= sources.size() || samplesB != timesB * sources[number].columns.size()) return false;
    if (blockChecksum(times.getBlob(), timesB, samples.getBlob(), samplesB) !=
        static_cast<uint32_t>(rows.getColumn(3).getInt64()))
      return false;
    WholeSource& source = sources[number];
    const auto t = unpackDoubles(times.getBlob(), timesB), v = unpackDoubles(samples.getBlob(), samplesB);
    source.timeS.insert(source.timeS.end(), t.begin(), t.end());
    for (size_t row = 0; row < t.size(); ++row) {
      for (size_t c = 0; c < source.columns.size(); ++c)
        source.columns[c].push_back(v[row * source.columns.size() + c]);
    }
  }
  return true;
}

std::vector<WholeSource> sourcesOf(SQLite::Database& database, const std::string& run) {
  std::vector<WholeSource> sources;
  SQLite::Statement rows(database, "SELECT id FROM source WHERE run = ? ORDER BY number");
  rows.bind(1, run);
  while (rows.executeStep()) sources.push_back({asUtf8(rows.getColumn(0).getString()), Json::array(), {}, {}});
  SQLite::Statement readings(
      database, "SELECT source, name, role, unit, about FROM reading WHERE run = ? ORDER BY source, number");
  readings.bind(1, run);
  while (readings.executeStep()) {
    const auto number = static_cast<size_t>(readings.getColumn(0).getInt());
    if (number >= sources.size()) continue;
    sources[number].readings.push_back({{"name", asUtf8(readings.getColumn(1).getString())},
                                        {"role", textOrNull(readings.getColumn(2))},
                                        {"unit", asUtf8(readings.getColumn(3).getString())},
                                        {"about", parseObject(readings.getColumn(4).getString())}});
    sources[number].columns.emplace_back();
  }
  return sources;
}

void bindText(SQLite::Statement& to, int place, const Json& value) {
  if (value.is_string())
    to.bind(place, value.get<std::string>());
  else
    to.bind(place);
}
void bindNumber(SQLite::Statement& to, int place, const Json& value) {
  if (value.is_number())
    to.bind(place, value.get<double>());
  else
    to.bind(place);
}

// What a study, setup or load says, to see whether one that is there says the same.
Json saidOf(SQLite::Database& database, const std::string& table, const std::string& columns, int64_t study,
            const std::string& name) {
  SQLite::Statement row(database, fmt::format("SELECT {} FROM {} WHERE study = ? AND name = ?", columns, table));
  row.bind(1, study);
  row.bind(2, name);
  return row.executeStep() ? rowOf(row) : Json(nullptr);
}

// The id of a setup or load that says so, made where there is none; another of that name keeps it.
int64_t placeOf(SQLite::Database& database, const std::string& table, const std::vector<std::string>& fields,
                int64_t study, const Json& said) {
  std::string name = valueIn(said, "name", std::string());
  const std::string own = name, columns = fmt::format("{}", fmt::join(fields, ", "));
  Json wanted = Json::object();
  for (const std::string& field : fields) wanted[field] = valueIn(said, field.c_str(), Json::object());
  for (int number = 2;; ++number) {
    const Json there = saidOf(database, table, columns, study, name);
    if (there.is_null()) {
      SQLite::Statement insert(database, fmt::format("INSERT INTO {} (study, name, {}) VALUES (?, ?{})", table, columns,
                                                     fields.size() == 1 ? ", ?" : ", ?, ?, ?"));
      insert.bind(1, study);
      insert.bind(2, name);
      for (size_t i = 0; i < fields.size(); ++i) insert.bind(static_cast<int>(3 + i), jsonText(wanted[fields[i]]));
      insert.exec();
    } else if (there != wanted) {
      name = fmt::format("{} ({})", own, number);
      continue;
    }
    SQLite::Statement find(database, fmt::format("SELECT id FROM {} WHERE study = ? AND name = ?", table));
    find.bind(1, study);
    find.bind(2, name);
    find.executeStep();
    return find.getColumn(0).getInt64();
  }
}

int64_t studyOf(SQLite::Database& database, const Json& said) {
  const std::string name = valueIn(said, "name", std::string());
  SQLite::Statement insert(database, "INSERT OR IGNORE INTO study (name, question, plan, created) VALUES (?, ?, ?, ?)");
  insert.bind(1, name);
  insert.bind(2, valueIn(said, "question", std::string()));
  insert.bind(3, jsonText(valueIn(said, "plan", Json::object())));
  insert.bind(4, valueIn(said, "created", std::string()));
  insert.exec();
  SQLite::Statement find(database, "SELECT id FROM study WHERE name = ?");
  find.bind(1, name);
  find.executeStep();
  return find.getColumn(0).getInt64();
}

void insertRow(SQLite::Database& database, const Json& row, int64_t setup, int64_t load) {
  SQLite::Statement insert(
      database,
      "INSERT INTO run (id, outcome, started, procedure, watched, reason, unwatched, machine, bench, "
      "conditions, extra, repeat, interval_s, setup, load) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
  int place = 0;
  for (const char* column : kTextColumns) insert.bind(++place, valueIn(row, column, std::string()));
  for (const char* column : kMaybeTextColumns) bindText(insert, ++place, valueIn(row, column, Json()));
  for (const char* column : kJsonColumns) insert.bind(++place, jsonText(valueIn(row, column, Json::object())));
  insert.bind(++place, valueIn(row, "repeat", 1));
  insert.bind(++place, valueIn(row, "interval_s", 0.5));
  insert.bind(++place, setup);
  insert.bind(++place, load);
  insert.exec();
}

void insertSource(SQLite::Database& database, const std::string& run, int number, const WholeSource& source) {
  SQLite::Statement insert(database, "INSERT INTO source (run, number, id) VALUES (?, ?, ?)");
  insert.bind(1, run);
  insert.bind(2, number);
  insert.bind(3, source.id);
  insert.exec();
  int place = 0;
  for (const Json& reading : source.readings) {
    SQLite::Statement row(
        database, "INSERT INTO reading (run, source, number, name, role, unit, about) VALUES (?, ?, ?, ?, ?, ?, ?)");
    row.bind(1, run);
    row.bind(2, number);
    row.bind(3, place++);
    row.bind(4, valueIn(reading, "name", std::string()));
    bindText(row, 5, valueIn(reading, "role", Json()));
    row.bind(6, valueIn(reading, "unit", std::string()));
    row.bind(7, jsonText(valueIn(reading, "about", Json::object())));
    row.exec();
  }
  int block = 0;
  for (size_t from = 0; from < source.timeS.size(); from += kSweepsOfABlock) {
    SampleBlock some;
    some.source = number;
    some.columnCount = source.columns.size();
    const size_t to = std::min(from + kSweepsOfABlock, source.timeS.size());
    for (size_t row = from; row < to; ++row) {
      some.timeS.push_back(source.timeS[row]);
      for (const auto& column : source.columns) some.values.push_back(column[row]);
    }
    insertBlock(database, run, number, block++, some);
  }
}

void insertPhasesAndEvents(SQLite::Database& database, const std::string& id, const WholeRun& run) {
  int number = 0;
  for (const Json& phase : run.phases) {
    SQLite::Statement insert(database, "INSERT INTO phase (run, number, kind, start_s, end_s) VALUES (?, ?, ?, ?, ?)");
    insert.bind(1, id);
    insert.bind(2, number++);
    insert.bind(3, valueIn(phase, "kind", std::string()));
    insert.bind(4, valueIn(phase, "start_s", 0.0));
    bindNumber(insert, 5, valueIn(phase, "end_s", Json()));
    insert.exec();
  }
  for (const Json& event : run.events) {
    SQLite::Statement insert(
        database,
        "INSERT INTO event (run, at_s, kind, text, role, value, value_high, extra) VALUES (?, ?, ?, ?, ?, ?, ?, ?)");
    insert.bind(1, id);
    bindNumber(insert, 2, valueIn(event, "at_s", Json()));
    insert.bind(3, valueIn(event, "kind", std::string()));
    insert.bind(4, valueIn(event, "text", std::string()));
    bindText(insert, 5, valueIn(event, "role", Json()));
    bindNumber(insert, 6, valueIn(event, "value", Json()));
    bindNumber(insert, 7, valueIn(event, "value_high", Json()));
    insert.bind(8, jsonText(valueIn(event, "extra", Json::object())));
    insert.exec();
  }
}

void insertWhole(SQLite::Database& database, const WholeRun& run) {
  const std::string id = valueIn(run.row, "id", std::string());
  const int64_t study = studyOf(database, valueIn(run.row, "study", Json::object()));
  const int64_t setup =
      placeOf(database, "setup", {"parts", "conditions", "levels"}, study, valueIn(run.row, "setup", Json::object()));
  const int64_t load = placeOf(database, "load", {"spec"}, study, valueIn(run.row, "load", Json::object()));
  insertRow(database, run.row, setup, load);
  for (size_t s = 0; s < run.sources.size(); ++s) insertSource(database, id, static_cast<int>(s), run.sources[s]);
  insertPhasesAndEvents(database, id, run);
  insertWholeFiles(database, id, setup, run.files);
}

}  // namespace

Result<WholeRun> readWholeRun(const std::string& bookPath, const std::string& run) {
  const auto book = Book::open(bookPath, BookAccess::ReadOnly);
  if (!book) return book.error();
  const auto summary = book->run(run);
  if (!summary) return summary.error();
  if (summary->info.outcome == Outcome::Running) return Error::badInput(fmt::format("Run {} still goes on.", run));
  return guarded<WholeRun>("read", bookPath, [&]() -> Result<WholeRun> {
    SQLite::Database database(bookPath, SQLite::OPEN_READONLY, 10'000);
    WholeRun whole;
    whole.row =
        oneRow(database,
               "SELECT id, outcome, started, procedure, watched, reason, unwatched, machine, bench, conditions, "
               "extra, repeat, interval_s FROM run WHERE id = ?",
               run);
    // One that nobody closed is told as what became of it.
    whole.row["outcome"] = outcomeText(summary->info.outcome);
    if (!summary->info.reason.empty()) whole.row["reason"] = summary->info.reason;
    const std::string of =
        " FROM run JOIN setup ON setup.id = run.setup JOIN load ON load.id = run.load JOIN study ON "
        "study.id = setup.study WHERE run.id = ?";
    whole.row["study"] = oneRow(database, "SELECT study.name, study.question, study.plan, study.created" + of, run);
    whole.row["setup"] = oneRow(database, "SELECT setup.name, setup.parts, setup.conditions, setup.levels" + of, run);
    whole.row["load"] = oneRow(database, "SELECT load.name, load.spec" + of, run);
    whole.sources = sourcesOf(database, run);
    if (!takeBlocks(database, run, whole.sources))
      return Error::environment(
          fmt::format("Samples of run {} are damaged; `ashg book recover` saves what can be read.", run));
    SQLite::Statement phases(database, "SELECT kind, start_s, end_s FROM phase WHERE run = ? ORDER BY number");
    phases.bind(1, run);
    while (phases.executeStep())
      whole.phases.push_back({{"kind", phases.getColumn(0).getString()},
                              {"start_s", phases.getColumn(1).getDouble()},
                              {"end_s", numberOrNullOf(phases.getColumn(2))}});
    SQLite::Statement events(
        database, "SELECT at_s, kind, text, role, value, value_high, extra FROM event WHERE run = ? ORDER BY at_s, id");
    events.bind(1, run);
    while (events.executeStep())
      whole.events.push_back({{"at_s", numberOrNullOf(events.getColumn(0))},
                              {"kind", asUtf8(events.getColumn(1).getString())},
                              {"text", asUtf8(events.getColumn(2).getString())},
                              {"role", textOrNull(events.getColumn(3))},
                              {"value", numberOrNullOf(events.getColumn(4))},
                              {"value_high", numberOrNullOf(events.getColumn(5))},
                              {"extra", parseObject(events.getColumn(6).getString())}});
    whole.files = wholeFilesOf(database, run);
    if (const std::string why = refusalOf(whole.files); !why.empty())
      return Error::environment(fmt::format("Run {} {}; take it off (`ashg attach --off`).", run, why));
    return whole;
  });
}

Status writeWholeRuns(const std::string& bookPath, const std::vector<WholeRun>& runs) {
  auto made = MadeBook::orOpen(bookPath);
  if (!made) return made.error();
  const auto book = Book::open(bookPath, BookAccess::ReadOnly);
  for (const WholeRun& run : runs) {
    const std::string id = valueIn(run.row, "id", std::string());
    std::string why;
    if (!isPlainId(id)) why = "A run of the package has no id that could be one.";
    for (const char* place : {"study", "setup", "load"}) {
      const bool isNamed = !valueIn(valueIn(run.row, place, Json::object()), "name", std::string()).empty();
      if (why.empty() && !isNamed) why = fmt::format("Run {} of the package has no {}.", id, place);
    }
    if (const std::string files = refusalOf(run.files); why.empty() && !files.empty())
      why = fmt::format("Run {} of the package {}.", id, files);
    if (why.empty() && book && book->run(id)) why = fmt::format("{} has run {} already.", bookPath, id);
    if (why.empty()) continue;
    made->remove();
    return Error::badInput(why);
  }
  Status written = guardedStatus("write", bookPath, [&] {
    SQLite::Database database(bookPath, SQLite::OPEN_READWRITE, 10'000);
    database.exec("PRAGMA foreign_keys = ON");
    SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
    for (const WholeRun& run : runs) insertWhole(database, run);
    countEdit(database);
    transaction.commit();
  });
  if (!written) made->remove();
  return written;
}

}  // namespace ash
