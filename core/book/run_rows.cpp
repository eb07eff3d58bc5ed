// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/run_rows.h"

#include <fmt/format.h>

#include "book/block_codec.h"
#include "book/reading_json.h"
#include "book/sql_guard.h"
#include "system/clock.h"
#include "system/process_identity.h"

namespace ash {
namespace {

int64_t idOf(SQLite::Database& database, const char* table, int64_t study, const std::string& name) {
  SQLite::Statement find(database, fmt::format("SELECT id FROM {} WHERE study = ? AND name = ?", table));
  find.bind(1, study);
  find.bind(2, name);
  return find.executeStep() ? find.getColumn(0).getInt64() : 0;
}

int nextRepeat(SQLite::Database& database, int64_t setup, int64_t load) {
  SQLite::Statement find(database, "SELECT COALESCE(MAX(repeat), 0) + 1 FROM run WHERE setup = ? AND load = ?");
  find.bind(1, setup);
  find.bind(2, load);
  find.executeStep();
  return find.getColumn(0).getInt();
}

int64_t findId(SQLite::Database& database, const char* table, const std::string& study, const std::string& name) {
  SQLite::Statement find(database, fmt::format("SELECT {0}.id FROM {0} JOIN study ON study.id = {0}.study "
                                               "WHERE study.name = ? AND {0}.name = ?",
                                               table));
  find.bind(1, study);
  find.bind(2, name);
  return find.executeStep() ? find.getColumn(0).getInt64() : 0;
}

}  // namespace

void insertPlace(SQLite::Database& database, const std::string& study, const Setup& setup, const Load& load) {
  bool isNew = false;
  SQLite::Statement newStudy(database, "INSERT OR IGNORE INTO study (name, created) VALUES (?, ?)");
  newStudy.bind(1, study);
  newStudy.bind(2, isoTimeNow());
  isNew |= newStudy.exec() > 0;
  SQLite::Statement find(database, "SELECT id FROM study WHERE name = ?");
  find.bind(1, study);
  find.executeStep();
  const int64_t id = find.getColumn(0).getInt64();
  if (idOf(database, "setup", id, setup.name) == 0) {
    SQLite::Statement insert(database,
                             "INSERT INTO setup (study, name, parts, conditions, levels) VALUES (?, ?, ?, ?, ?)");
    insert.bind(1, id);
    insert.bind(2, setup.name);
    insert.bind(3, jsonText(setup.parts));
    insert.bind(4, jsonText(setup.conditions));
    insert.bind(5, jsonText(setup.levels));
    isNew |= insert.exec() > 0;
  }
  if (idOf(database, "load", id, load.name) == 0) {
    SQLite::Statement insert(database, "INSERT INTO load (study, name, spec) VALUES (?, ?, ?)");
    insert.bind(1, id);
    insert.bind(2, load.name);
    insert.bind(3, jsonText(load.spec));
    isNew |= insert.exec() > 0;
  }
  if (isNew) countEdit(database);
}

void insertRun(SQLite::Database& database, RunInfo& info) {
  const int64_t setup = findId(database, "setup", info.study, info.setup);
  const int64_t load = findId(database, "load", info.study, info.load);
  info.repeat = nextRepeat(database, setup, load);
  const ProcessIdentity self = thisProcess();
  SQLite::Statement insert(
      database,
      "INSERT INTO run (id, setup, load, repeat, outcome, started, procedure, interval_s, watched, machine, "
      "bench, conditions, unwatched, recorder_boot, recorder_pid, recorder_start, extra) "
      "VALUES (?, ?, ?, ?, 'running', ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
  insert.bind(1, info.id);
  insert.bind(2, setup);
  insert.bind(3, load);
  insert.bind(4, info.repeat);
  insert.bind(5, info.started);
  insert.bind(6, phasesText(info.procedure));
  insert.bind(7, info.intervalS);
  insert.bind(8, info.watched);
  insert.bind(9, jsonText(info.machine));
  insert.bind(10, jsonText(info.bench));
  insert.bind(11, jsonText(info.conditions));
  if (!info.unwatchedReason.empty()) insert.bind(12, info.unwatchedReason);
  insert.bind(13, self.bootId);
  insert.bind(14, self.pid);
  insert.bind(15, static_cast<int64_t>(self.startTicks));
  insert.bind(16, jsonText(info.loadSpec.empty() ? Json::object() : Json{{kLoadOfRun, info.loadSpec}}));
  insert.exec();
}

void insertSources(SQLite::Database& database, const std::string& run, const std::vector<SourceInfo>& sources,
                   int first) {
  SQLite::Statement source(database, "INSERT INTO source (run, number, id) VALUES (?, ?, ?)");
  SQLite::Statement reading(
      database, "INSERT INTO reading (run, source, number, name, role, unit, about) VALUES (?, ?, ?, ?, ?, ?, ?)");
  for (int s = 0; s < static_cast<int>(sources.size()); ++s) {
    source.bind(1, run);
    source.bind(2, first + s);
    source.bind(3, sources[s].id);
    source.exec();
    source.reset();
    for (int r = 0; r < static_cast<int>(sources[s].readings.size()); ++r) {
      const Reading& about = sources[s].readings[r];
      reading.bind(1, run);
      reading.bind(2, first + s);
      reading.bind(3, r);
      reading.bind(4, about.name);
      if (about.role.empty())
        reading.bind(5);
      else
        reading.bind(5, about.role.text());
      reading.bind(6, about.unit);
      reading.bind(7, jsonText(readingToJson(about)));
      reading.exec();
      reading.reset();
    }
  }
}

void insertBlock(SQLite::Database& database, const std::string& run, int source, int number, const SampleBlock& block) {
  SQLite::Statement insert(database,
                           "INSERT INTO block (run, source, number, first_s, last_s, sweeps, times, samples, checksum) "
                           "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)");
  const std::string times = packDoubles(block.timeS);
  const std::string samples = packDoubles(block.values);
  insert.bind(1, run);
  insert.bind(2, source);
  insert.bind(3, number);
  insert.bind(4, block.timeS.front());
  insert.bind(5, block.timeS.back());
  insert.bind(6, static_cast<int64_t>(block.rowCount()));
  insert.bind(7, times.data(), static_cast<int>(times.size()));
  insert.bind(8, samples.data(), static_cast<int>(samples.size()));
  insert.bind(9, static_cast<int64_t>(blockChecksum(times.data(), times.size(), samples.data(), samples.size())));
  insert.exec();
}

}  // namespace ash
