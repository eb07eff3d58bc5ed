// SPDX-License-Identifier: GPL-3.0-or-later
// A run out of the book: samples of all sources on one time axis, and all that is known beside them.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>

#include "book/beside.h"
#include "book/block_codec.h"
#include "book/book.h"
#include "book/one_axis.h"
#include "book/reading_json.h"
#include "book/run_rows.h"
#include "book/sql_guard.h"
#include "model/study_plan.h"

namespace ash {
namespace {

// Rows of a block to the ends of the columns. SQLite's bytes may lie anywhere, so each value is copied as bytes.
void appendRows(const char* bytes, size_t rows, SourceSamples& into) {
  const size_t columns = into.columns.size();
  for (size_t c = 0; c < columns; ++c) {
    std::vector<double>& column = into.columns[c];
    const size_t before = column.size();
    column.resize(before + rows);
    for (size_t row = 0; row < rows; ++row)
      std::memcpy(&column[before + row], bytes + (row * columns + c) * sizeof(double), sizeof(double));
  }
}

// So that columns need not be moved while they grow.
void reserveColumns(SQLite::Database& database, const std::string& run, std::vector<SourceSamples>& sources) {
  SQLite::Statement sizes(database, "SELECT source, sum(length(samples)) FROM block WHERE run = ? GROUP BY source");
  sizes.bind(1, run);
  while (sizes.executeStep()) {
    const auto source = static_cast<size_t>(sizes.getColumn(0).getInt());
    if (source >= sources.size() || sources[source].columns.empty()) continue;
    const auto values = static_cast<size_t>(sizes.getColumn(1).getInt64()) / sizeof(double);
    const size_t rows = values / sources[source].columns.size();  // no more than the file itself holds
    sources[source].timeS.reserve(rows);
    for (auto& column : sources[source].columns) column.reserve(rows);
  }
}

/// A block that is no longer what was written, or never was what it says.
struct DamagedBlock {
  size_t source = 0;
  double firstS = 0, lastS = 0;
};

bool areRising(const std::vector<double>& stamps, double afterS) {
  for (const double t : stamps) {
    if (!std::isfinite(t) || !(t > afterS)) return false;
    afterS = t;
  }
  return true;
}

// Adds a block to its source; false when it cannot be trusted: another size, a wrong checksum, times that do not rise.
bool takeBlock(SQLite::Statement& row, SourceSamples& into) {
  const SQLite::Column times = row.getColumn(1), samples = row.getColumn(2);
  const auto timesSize = static_cast<size_t>(times.getBytes()), samplesSize = static_cast<size_t>(samples.getBytes());
  const auto* bytes = static_cast<const char*>(samples.getBlob());
  if (timesSize % sizeof(double) != 0 || samplesSize != timesSize * into.columns.size()) return false;
  const uint32_t checksum = blockChecksum(times.getBlob(), timesSize, bytes, samplesSize);
  if (checksum != static_cast<uint32_t>(row.getColumn(3).getInt64())) return false;
  const auto stamps = unpackDoubles(times.getBlob(), timesSize);
  if (!areRising(stamps, into.timeS.empty() ? -INFINITY : into.timeS.back())) return false;
  into.timeS.insert(into.timeS.end(), stamps.begin(), stamps.end());
  appendRows(bytes, stamps.size(), into);
  return true;
}

std::vector<SourceSamples> readSources(SQLite::Database& database, const std::string& run, double afterS,
                                       std::vector<DamagedBlock>& damaged) {
  std::vector<SourceSamples> sources;
  SQLite::Statement readings(database,
                             "SELECT source, role, unit, about FROM reading WHERE run = ? ORDER BY source, number");
  readings.bind(1, run);
  while (readings.executeStep()) {
    const auto source = static_cast<size_t>(readings.getColumn(0).getInt());
    if (source > 100'000) continue;
    if (sources.size() <= source) sources.resize(source + 1);
    sources[source].readings.push_back(
        readingFromJson(parseObject(readings.getColumn(3).getString()), textAt(readings, 1), textAt(readings, 2)));
    sources[source].columns.emplace_back();
  }
  if (!std::isfinite(afterS)) reserveColumns(database, run, sources);
  SQLite::Statement blocks(
      database,
      "SELECT source, times, samples, checksum, first_s, last_s FROM block WHERE run = ? AND last_s > ? "
      "ORDER BY source, number");
  blocks.bind(1, run);
  blocks.bind(2, std::isfinite(afterS) ? afterS : -1e300);
  while (blocks.executeStep()) {
    const auto source = static_cast<size_t>(blocks.getColumn(0).getInt());
    if (source >= sources.size()) continue;
    if (!takeBlock(blocks, sources[source]))
      damaged.push_back({source, blocks.getColumn(4).getDouble(), blocks.getColumn(5).getDouble()});
  }
  return sources;
}

// Which sources are logs of another clock.
void markBeside(SQLite::Database& database, const std::string& run, std::vector<SourceSamples>& sources) {
  SQLite::Statement extra(database, "SELECT extra FROM run WHERE id = ?");
  extra.bind(1, run);
  if (!extra.executeStep()) return;
  const auto beside = besideOf(parseQuietly(extra.getColumn(0).getString()));
  if (beside.empty()) return;
  SQLite::Statement rows(database, "SELECT number, id FROM source WHERE run = ?");
  rows.bind(1, run);
  while (rows.executeStep()) {
    const auto number = static_cast<size_t>(rows.getColumn(0).getInt());
    const std::string name = textAt(rows, 1);
    if (number >= sources.size()) continue;
    sources[number].isBeside =
        std::any_of(beside.begin(), beside.end(), [&](const auto& one) { return one.first == name; });
  }
}

// What is stated of the readings themselves: limits, accuracy, place.
void addStated(const std::vector<SourceSamples>& sources, RunFacts& facts) {
  for (const SourceSamples& source : sources) {
    for (const Reading& reading : source.readings) {
      if (reading.role.empty()) continue;
      if (!reading.limits.empty()) facts.limits[reading.role.text()] = reading.limits;
      if (reading.accuracy > 0 || reading.accuracyPercent > 0)
        facts.accuracies[reading.role.text()] = {reading.accuracy, reading.accuracyPercent, reading.device};
      if (!reading.place.empty()) facts.places[reading.role.text()] = reading.place;
    }
  }
}

void readPhases(SQLite::Database& database, const std::string& run, double lastS, RunFacts& facts) {
  SQLite::Statement rows(database, "SELECT kind, start_s, end_s FROM phase WHERE run = ? ORDER BY number");
  rows.bind(1, run);
  while (rows.executeStep()) {
    const auto kind = phaseKindFromText(rows.getColumn(0).getString());
    if (!kind) continue;
    const double start = rows.getColumn(1).getDouble();
    // A phase without an end was cut off: it lasted up to the last sample.
    const double end = rows.getColumn(2).isNull() ? std::max(start, lastS) : rows.getColumn(2).getDouble();
    facts.phases.push_back({*kind, start, end, true});
  }
}

// Passes and a task that was done are kept as events and read as what they are.
void takeOfLoad(const Event& event, RunFacts& facts) {
  if (event.kind == EventKind::Pass) {
    Pass pass{valueIn(event.extra, "start_s", kMissing),
              valueIn(event.extra, "end_s", kMissing),
              valueIn(event.extra, "score", kMissing),
              {}};
    const Json scores = valueIn(event.extra, "scores", Json::object());
    for (const auto& [name, score] : scores.items()) {
      if (score.is_number()) pass.scores[name] = score.get<double>();
    }
    if (pass.endS > pass.startS) facts.passes.push_back(std::move(pass));
  }
  if (event.kind == EventKind::Work) {
    RunFacts::Work work{valueIn(event.extra, "units", kMissing), valueIn(event.extra, "unit", ""),
                        valueIn(event.extra, "done_s", kMissing)};
    if (work.units > 0) facts.work = std::move(work);
  }
}

void readEvents(SQLite::Database& database, const std::string& run, RunLog& log) {
  SQLite::Statement rows(
      database, "SELECT at_s, kind, text, role, value, value_high, extra FROM event WHERE run = ? ORDER BY at_s, id");
  rows.bind(1, run);
  while (rows.executeStep()) {
    Event event;
    const auto number = [&](int column) {
      return rows.getColumn(column).isNull() ? kMissing : rows.getColumn(column).getDouble();
    };
    event.atS = number(0);
    event.kind = EventKind::fromText(textAt(rows, 1));
    event.text = textAt(rows, 2);
    event.role = textAt(rows, 3);
    event.value = number(4);
    event.valueHigh = number(5);
    event.extra = parseObject(rows.getColumn(6).getString());
    if (event.kind == EventKind::Problem) {
      log.log.problems.push_back({ProblemKind::fromText(valueIn(event.extra, "kind", "recorder")), event.role.text(),
                                  event.atS, event.atS, event.text});
    } else {
      takeOfLoad(event, log.facts);
      log.facts.events.push_back(std::move(event));
    }
  }
}

// What is missing of the samples, and why.
void tellDamage(const std::vector<DamagedBlock>& damaged, const std::vector<SourceSamples>& sources, Log& log) {
  for (const DamagedBlock& block : damaged) {
    const auto& readings = sources[block.source].readings;
    const std::string what = readings.empty()                  ? fmt::format("source {}", block.source)
                             : readings.front().device.empty() ? readings.front().column()
                                                               : readings.front().device;
    log.problems.push_back(
        {ProblemKind::Damaged, readings.empty() ? "" : readings.front().column(), block.firstS, block.lastS,
         fmt::format("The samples of {} from {:.1f} s to {:.1f} s are no longer what was written into the book (wrong "
                     "checksum): they are missing here.",
                     what, block.firstS, block.lastS)});
  }
}

// What kind of load it was: its name is the reviewer's own, and a setup may have carried it out in a way of its own.
void addLoadKind(SQLite::Database& database, const RunInfo& info, RunFacts& facts) {
  SQLite::Statement own(database, "SELECT extra FROM run WHERE id = ?");
  own.bind(1, info.id);
  if (own.executeStep())
    facts.loadSpec = valueIn(parseQuietly(own.getColumn(0).getString()), kLoadOfRun, Json::object());
  if (!facts.loadSpec.is_object()) facts.loadSpec = Json::object();
  if (!facts.loadSpec.empty()) {
    facts.loadKind = LoadKind::fromText(valueIn(facts.loadSpec, "kind", std::string()));
    return;
  }
  SQLite::Statement rows(database,
                         "SELECT load.spec FROM load JOIN study ON study.id = load.study "
                         "WHERE study.name = ? AND load.name = ?");
  rows.bind(1, info.study);
  rows.bind(2, info.load);
  if (rows.executeStep())
    facts.loadKind = LoadKind::fromText(valueIn(parseObject(rows.getColumn(0).getString()), "kind", std::string()));
}

void addSetup(SQLite::Database& database, const RunInfo& info, RunFacts& facts) {
  SQLite::Statement rows(database,
                         "SELECT setup.conditions, study.plan FROM setup JOIN study ON study.id = setup.study "
                         "WHERE study.name = ? AND setup.name = ?");
  rows.bind(1, info.study);
  rows.bind(2, info.setup);
  if (!rows.executeStep()) return;
  facts.conditions = parseObject(rows.getColumn(0).getString());
  if (!facts.conditions.is_object()) facts.conditions = Json::object();
  for (const auto& [field, value] : info.conditions.items()) facts.conditions[field] = value;
  const Json plan = parseObject(rows.getColumn(1).getString());
  for (const OwedReading& owed : planFromJson(plan).byHand) {
    const bool isStated = owed.plusMinus > 0 || owed.percent > 0;
    if (isStated && !facts.accuracies.contains(owed.role.text()))
      facts.accuracies[owed.role.text()] = {owed.plusMinus, owed.percent, ""};
  }
  const auto underTest = plan.find("under_test");
  if (underTest == plan.end() || !underTest->is_array()) return;
  for (const Json& field : *underTest) {
    if (field.is_string()) facts.underTest.push_back(field.get<std::string>());
  }
}

}  // namespace

Result<RunLog> Book::readRun(const std::string& id) const { return readRunAfter(id, kMissing); }

Result<RunLog> Book::readRunAfter(const std::string& id, double afterS) const {
  auto summary = run(id);
  if (!summary) return summary.error();
  return guarded<RunLog>("read", m_path, [&]() -> Result<RunLog> {
    const RunInfo& info = summary->info;
    RunLog run;
    run.name = id;
    std::vector<DamagedBlock> damaged;
    auto sources = readSources(*m_database, id, afterS, damaged);
    markBeside(*m_database, id, sources);
    run.log.timeS = mergedAxis(sources, info.intervalS, afterS);
    for (SourceSamples& source : sources) appendSource(source, info.intervalS, run.log);
    tellDamage(damaged, sources, run.log);
    run.facts.setup = info.setup;
    run.facts.load = info.load;
    run.facts.started = info.started;
    if (info.outcome != Outcome::TakenIn) run.facts.outcome = info.outcome;
    run.facts.reason = info.reason;
    run.facts.watched = info.watched;
    run.facts.machine = info.machine;
    run.facts.bench = info.bench;
    if (!info.procedure.phases.empty()) run.facts.procedure = phasesText(info.procedure);
    addStated(sources, run.facts);
    addSetup(*m_database, info, run.facts);
    addLoadKind(*m_database, info, run.facts);
    readPhases(*m_database, id, run.log.timeS.empty() ? 0 : run.log.timeS.back(), run.facts);
    readEvents(*m_database, id, run);
    return run;
  });
}

}  // namespace ash
