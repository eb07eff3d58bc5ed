// SPDX-License-Identifier: GPL-3.0-or-later
// The list of runs, what became of interrupted ones, events, void, and the check of the whole file.
#include <fmt/format.h>
#include <sqlite3.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>
#include <set>

#include "book/beside.h"
#include "book/block_codec.h"
#include "book/book.h"
#include "book/event_row.h"
#include "book/sql_guard.h"
#include "model/text.h"
#include "system/process_identity.h"

namespace ash {

void insertEvent(SQLite::Database& database, const std::string& run, const Event& event) {
  SQLite::Statement insert(database,
                           "INSERT INTO event (run, at_s, kind, text, role, value, value_high, extra) "
                           "VALUES (?, ?, ?, ?, ?, ?, ?, ?)");
  insert.bind(1, run);
  if (std::isfinite(event.atS)) insert.bind(2, event.atS);
  insert.bind(3, std::string(event.kind.text()));
  insert.bind(4, event.text);
  if (!event.role.empty()) insert.bind(5, event.role.text());
  if (std::isfinite(event.value)) insert.bind(6, event.value);
  if (std::isfinite(event.valueHigh)) insert.bind(7, event.valueHigh);
  insert.bind(8, jsonText(event.extra));
  insert.exec();
}

std::string reservePath(const std::string& book, const std::string& run) { return book + "-reserve-" + run; }

namespace {

struct Extent {
  long long samples = 0;
  double lastS = kMissing;
  std::string key;  // another one when other samples are there
};

constexpr const char* kRunColumns =
    "SELECT run.id, study.name, setup.name, load.name, run.repeat, run.outcome, run.reason, run.started, "
    "run.procedure, "
    "run.interval_s, run.watched, run.machine, run.bench, run.conditions, run.unwatched, run.recorder_boot, "
    "run.recorder_pid, run.recorder_start "
    "FROM run JOIN setup ON setup.id = run.setup JOIN load ON load.id = run.load JOIN study ON study.id = setup.study ";

// What a run that nobody closed has become.
void tellInterrupted(const ProcessIdentity& recorder, RunInfo& info) {
  if (info.outcome != Outcome::Running) return;
  switch (stateOf(recorder)) {
    case ProcessState::Alive:
      return;
    case ProcessState::Gone:
      info.outcome = Outcome::RecorderDied;
      info.reason = fmt::format("The recorder (process {}) ended without closing the run.", recorder.pid);
      return;
    case ProcessState::OtherBoot:
      info.outcome = Outcome::MachineWentDown;
      info.reason = "The machine was started anew while the run was going on.";
      return;
  }
}

RunInfo readInfo(SQLite::Statement& row) {
  RunInfo info;
  info.id = textAt(row, 0);
  info.study = textAt(row, 1);
  info.setup = textAt(row, 2);
  info.load = textAt(row, 3);
  info.repeat = row.getColumn(4).getInt();
  info.outcome = outcomeFromText(row.getColumn(5).getString()).value_or(Outcome::RecorderDied);
  info.reason = textAt(row, 6);
  info.started = textAt(row, 7);
  if (const auto procedure = parsePhases(row.getColumn(8).getString())) info.procedure = *procedure;
  info.intervalS = row.getColumn(9).getDouble();
  if (!(info.intervalS > 0 && info.intervalS < 1e6)) info.intervalS = 0.5;
  info.watched = textAt(row, 10);
  info.machine = parseObject(row.getColumn(11).getString());
  info.bench = parseObject(row.getColumn(12).getString());
  info.conditions = parseObject(row.getColumn(13).getString());
  info.unwatchedReason = textAt(row, 14);
  info.recorderPid = row.getColumn(16).getInt();
  tellInterrupted({row.getColumn(15).getString(), row.getColumn(16).getInt(),
                   static_cast<unsigned long long>(row.getColumn(17).getInt64())},
                  info);
  return info;
}

// Sources of another clock, by run and number: they make a run neither longer nor denser.
std::set<std::pair<std::string, int>> besideSources(SQLite::Database& database) {
  std::set<std::pair<std::string, int>> all;
  SQLite::Statement rows(
      database,
      "SELECT run.id, source.number, source.id, run.extra FROM run JOIN source ON source.run = run.id "
      "WHERE CASE WHEN json_valid(run.extra) THEN json_type(run.extra, '$.beside') END = 'array'");
  while (rows.executeStep()) {
    const auto beside = besideOf(parseObject(rows.getColumn(3).getString()));
    const std::string name = textAt(rows, 2);
    if (std::any_of(beside.begin(), beside.end(), [&](const auto& one) { return one.first == name; }))
      all.emplace(rows.getColumn(0).getString(), rows.getColumn(1).getInt());
  }
  return all;
}

std::map<std::string, Extent> extents(SQLite::Database& database, const std::string& onlyRun) {
  std::map<std::string, Extent> all;
  const auto beside = besideSources(database);
  const std::string where = onlyRun.empty() ? "" : "WHERE run = ? ";
  SQLite::Statement rows(database,
                         "SELECT run, SUM(sweeps), MAX(last_s), source FROM block " + where + "GROUP BY run, source");
  if (!onlyRun.empty()) rows.bind(1, onlyRun);
  while (rows.executeStep()) {
    Extent& extent = all[rows.getColumn(0).getString()];
    const double lastS = rows.getColumn(2).getDouble();
    extent.key += fmt::format("{}:{}:{};", rows.getColumn(3).getInt(), rows.getColumn(1).getInt64(), lastS);
    if (beside.contains({rows.getColumn(0).getString(), rows.getColumn(3).getInt()})) continue;
    extent.samples = std::max<long long>(extent.samples, rows.getColumn(1).getInt64());
    if (!(extent.lastS >= lastS)) extent.lastS = lastS;
  }
  return all;
}

std::vector<RunSummary> readSummaries(SQLite::Database& database, const std::string& onlyRun) {
  const auto extent = extents(database, onlyRun);
  std::vector<RunSummary> runs;
  SQLite::Statement rows(database,
                         std::string(kRunColumns) + (onlyRun.empty() ? "ORDER BY run.rowid" : "WHERE run.id = ?"));
  if (!onlyRun.empty()) rows.bind(1, onlyRun);
  while (rows.executeStep()) {
    RunSummary summary{readInfo(rows), 0, kMissing, {}};
    if (const auto found = extent.find(summary.info.id); found != extent.end()) {
      summary.sampleCount = found->second.samples;
      summary.lastSampleS = found->second.lastS;
      summary.samplesKey = found->second.key;
    }
    runs.push_back(std::move(summary));
  }
  return runs;
}

void checkBlocks(SQLite::Database& database, std::vector<std::string>& faults) {
  SQLite::Statement rows(
      database,
      "SELECT block.run, block.source, block.number, sweeps, times, samples, checksum, "
      "(SELECT COUNT(*) FROM reading WHERE reading.run = block.run AND reading.source = block.source) "
      "FROM block ORDER BY block.run, block.source, block.number");
  std::map<std::pair<std::string, int>, double> lastTime;
  while (rows.executeStep()) {
    const std::string run = rows.getColumn(0).getString();
    const int source = rows.getColumn(1).getInt();
    const std::string where = fmt::format("Run {}, source {}, block {}", run, source, rows.getColumn(2).getInt());
    const std::string times = rows.getColumn(4).getString();
    const std::string samples = rows.getColumn(5).getString();
    const auto sweeps = static_cast<size_t>(rows.getColumn(3).getInt64());
    const auto columns = static_cast<size_t>(rows.getColumn(7).getInt64());
    if (times.size() != sweeps * sizeof(double) || samples.size() != sweeps * columns * sizeof(double)) {
      faults.push_back(where + ": its size does not fit its number of sweeps.");
      continue;
    }
    if (blockChecksum(times.data(), times.size(), samples.data(), samples.size()) !=
        static_cast<uint32_t>(rows.getColumn(6).getInt64())) {
      faults.push_back(where + ": its checksum is wrong.");
      continue;
    }
    for (const double t : unpackDoubles(times.data(), times.size())) {
      const auto place = std::make_pair(run, source);
      if (lastTime.contains(place) && t <= lastTime[place]) {
        faults.push_back(fmt::format("{}: the time {:.3f} s does not come after the one before.", where, t));
        break;
      }
      lastTime[place] = t;
    }
  }
}

}  // namespace

Result<std::vector<RunSummary>> Book::runs() const {
  return guarded<std::vector<RunSummary>>(
      "read", m_path, [&]() -> Result<std::vector<RunSummary>> { return readSummaries(*m_database, ""); });
}

Result<RunSummary> Book::run(const std::string& id) const {
  return guarded<RunSummary>("read", m_path, [&]() -> Result<RunSummary> {
    auto found = readSummaries(*m_database, id);
    if (id.empty() || found.size() != 1) {
      return Error::badInput(
          fmt::format("There is no run {} in {}; `ashg book info {}` lists them.", id, m_path, m_path));
    }
    return found.front();
  });
}

Status Book::addEvent(const std::string& run, const Event& event) {
  return guardedStatus("write", m_path, [&] {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    insertEvent(*m_database, run, event);
    if (event.kind == EventKind::Fail) {
      // What only an eye saw fails a run that the checks let pass.
      SQLite::Statement update(
          *m_database, "UPDATE run SET outcome = 'load failed', reason = ? WHERE id = ? AND outcome = 'completed'");
      update.bind(1, event.text);
      update.bind(2, run);
      update.exec();
    }
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
  });
}

Result<std::vector<RunSummary>> Book::interrupted() const {
  return guarded<std::vector<RunSummary>>("read", m_path, [&]() -> Result<std::vector<RunSummary>> {
    std::vector<std::string> open;
    SQLite::Statement rows(*m_database, "SELECT id FROM run WHERE outcome = 'running'");
    while (rows.executeStep()) open.push_back(rows.getColumn(0).getString());
    std::vector<RunSummary> found;
    for (const std::string& id : open) {
      for (RunSummary& run : readSummaries(*m_database, id)) {
        if (run.info.outcome != Outcome::Running) found.push_back(std::move(run));
      }
    }
    return found;
  });
}

Status Book::close(const RunInfo& info) {
  return guardedStatus("write", m_path, [&] {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement update(*m_database,
                             "UPDATE run SET outcome = ?, reason = ? WHERE id = ? AND outcome = 'running'");
    update.bind(1, std::string(outcomeText(info.outcome)));
    update.bind(2, info.reason);
    update.bind(3, info.id);
    update.exec();
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
    if (isPlainId(info.id)) std::remove(reservePath(m_path, info.id).c_str());
  });
}

Result<std::vector<std::string>> Book::check() const {
  return guarded<std::vector<std::string>>("check", m_path, [&]() -> Result<std::vector<std::string>> {
    std::vector<std::string> faults;
    SQLite::Statement integrity(*m_database, "PRAGMA integrity_check");
    while (integrity.executeStep()) {
      const std::string line = integrity.getColumn(0).getString();
      if (line != "ok") faults.push_back("SQLite: " + line);
    }
    SQLite::Statement keys(*m_database, "PRAGMA foreign_key_check");
    while (keys.executeStep())
      faults.push_back("A row of table " + keys.getColumn(0).getString() + " belongs to nothing.");
    if (faults.empty()) checkBlocks(*m_database, faults);
    const auto kept = attachments();
    for (size_t i = 0; kept && i < kept->size(); ++i) {
      if (const auto bytes = attachmentBytes((*kept)[i].id); !bytes) faults.push_back(bytes.error().message);
    }
    return faults;
  });
}

}  // namespace ash
