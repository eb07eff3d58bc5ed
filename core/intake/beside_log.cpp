// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/beside_log.h"

#include <fmt/format.h>

#include <filesystem>

#include "book/beside.h"
#include "book/book.h"
#include "intake/import_reading.h"
#include "intake/shared_shape.h"
#include "intake/take_in.h"
#include "model/accuracy_text.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kMostValues = 20'000'000;
constexpr double kShareOfReading = 0.5;  // of the time, where the clock has to be found as well

/// Keeps all that is read.
class HeldLog : public LogSink {
 public:
  Status begin(const LogFacts& facts, const std::vector<PlannedColumn>& kept) override {
    m_file = facts.file;
    planned = kept;
    columns.resize(kept.size());
    return {};
  }
  Status row(double atS, const std::vector<double>& values) override {
    if (timeS.size() * (columns.size() + 1) >= kMostValues)
      return Error::badInput(
          fmt::format("{} is too long to stand beside a run; take in the part that belongs to it.", m_file));
    timeS.push_back(atS);
    for (size_t c = 0; c < columns.size(); ++c) columns[c].push_back(values[c]);
    return {};
  }
  Status event(const Event& event) override {
    events.push_back(event);
    return {};
  }

  std::vector<PlannedColumn> planned;
  std::vector<double> timeS;
  std::vector<std::vector<double>> columns;
  std::vector<Event> events;

 private:
  std::string m_file;
};

std::vector<LooseReading> looseReadings(const HeldLog& log) {
  std::vector<LooseReading> readings;
  for (size_t c = 0; c < log.planned.size(); ++c) {
    const PlannedColumn& column = log.planned[c];
    LooseReading reading{column.title(), column.role, column.unit.quantity, {}};
    for (size_t row = 0; row < log.timeS.size(); ++row) {
      if (std::isnan(log.columns[c][row])) continue;
      reading.series.t.push_back(log.timeS[row]);
      reading.series.v.push_back(log.columns[c][row]);
    }
    readings.push_back(std::move(reading));
  }
  return readings;
}

// What is said of a column is found by its name or its role.
const std::string* saidOf(const std::map<std::string, std::string>& said, const PlannedColumn& column) {
  for (const std::string& name : {column.name, column.role.text()}) {
    if (const auto found = said.find(name); !name.empty() && found != said.end()) return &found->second;
  }
  return nullptr;
}

Status checkNamed(const std::map<std::string, std::string>& said, const char* option, const HeldLog& log) {
  for (const auto& one : said) {
    const std::string& name = one.first;
    const bool isThere = std::any_of(log.planned.begin(), log.planned.end(), [&](const PlannedColumn& column) {
      return column.name == name || column.role.text() == name;
    });
    if (!isThere) return Error::badInput(fmt::format("{}: there is no column \"{}\".", option, withoutControls(name)));
  }
  return {};
}

Result<SourceInfo> sourceOf(const std::string& path, const HeldLog& log, const BesideWishes& wishes) {
  if (Status named = checkNamed(wishes.accuracy, "--accuracy", log); !named) return named.error();
  if (Status named = checkNamed(wishes.place, "--place", log); !named) return named.error();
  SourceInfo source;
  source.id = withoutControls(asUtf8(std::filesystem::path(path).filename().string()));
  for (const PlannedColumn& column : log.planned) {
    Reading reading = readingOf(column);
    reading.device = source.id;
    if (const std::string* place = saidOf(wishes.place, column)) reading.place = *place;
    if (const std::string* text = saidOf(wishes.accuracy, column)) {
      const auto stated = parseAccuracy(*text, reading.quantity);
      if (!stated) return Error::badInput(fmt::format("--accuracy \"{}\": {}", column.name, stated.error().message));
      reading.accuracy = stated->plusMinus;
      reading.accuracyPercent = stated->percent;
    }
    source.readings.push_back(std::move(reading));
  }
  return source;
}

Json howOf(const TakenBeside& taken) {
  Json how = besideToJson(taken);
  how.erase("source");
  return how;
}

// The log on the run's clock.
BesideLog placed(HeldLog log, const ClockOffset& offset, SourceInfo source) {
  const auto onRun = [&](double t) { return offset.offsetS + t * (1 + offset.driftPpm.value_or(0) * 1e-6); };
  BesideLog beside{std::move(source), std::move(log.timeS), std::move(log.columns), std::move(log.events), {}};
  for (double& t : beside.timeS) t = onRun(t);
  for (Event& event : beside.events) event.atS = onRun(event.atS);
  return beside;
}

// The clock of a log beside a run, as wished for or as found.
Status placeClock(const std::string& path, const RunLog& run, const HeldLog& log, const BesideWishes& wishes,
                  const ImportProgress& progress, TakenBeside& taken) {
  if (wishes.offsetS) {
    taken.offset.offsetS = taken.offset.offsetLowS = taken.offset.offsetHighS = *wishes.offsetS;
    return {};
  }
  std::string why;
  bool goesOn = true;
  const auto shape = findSharedShape(run.log, looseReadings(log), why, [&](double share) {
    goesOn = !progress || progress(kShareOfReading + (1 - kShareOfReading) * share);
    return goesOn;
  });
  if (!goesOn) return givenUp();
  if (shape) {
    taken.offset = shape->offset;
    taken.by = {shape->ofLog, shape->ofRun};
  } else {
    taken.refusal = fmt::format("When {} began cannot be told: {}; say it with --offset.", path, why);
  }
  return {};
}

/// A log and the run it is to stand beside, both read.
struct ReadBoth {
  RunLog run;
  HeldLog log;
  SourceInfo source;
  TakenBeside taken;
};

Result<ReadBoth> readBoth(const std::string& path, const ImportWishes& wishes, const BesideWishes& beside,
                          const ImportProgress& progress) {
  const auto book = Book::open(beside.book, BookAccess::ReadOnly);
  if (!book) return book.error();
  auto run = book->readRun(beside.run);
  if (!run) return run.error();
  if (run->log.timeS.empty()) return Error::badInput(fmt::format("Run {} holds no samples.", beside.run));
  ReadBoth both;
  both.run = std::move(*run);
  auto facts = readForeignLog(path, wishes, &both.log, [&](double share) {
    return !progress || progress(beside.offsetS ? share : kShareOfReading * share);
  });
  if (!facts) return facts.error();
  auto source = sourceOf(path, both.log, beside);
  if (!source) return source.error();
  both.source = std::move(*source);
  both.taken.facts = std::move(*facts);
  for (double& t : both.log.timeS) t += both.taken.facts.ownStartS;
  for (Event& event : both.log.events) event.atS += both.taken.facts.ownStartS;
  if (Status placed = placeClock(path, both.run, both.log, beside, progress, both.taken); !placed)
    return placed.error();
  return both;
}

// What of both is drawn over each other: the pair that told the offset, else two of one quantity.
std::pair<size_t, const Channel*> pairToDraw(const ReadBoth& both) {
  std::pair<size_t, const Channel*> pair{0, nullptr};
  for (size_t c = 0; c < both.log.planned.size(); ++c) {
    for (const Channel& channel : both.run.log.channels) {
      const PlannedColumn& column = both.log.planned[c];
      const bool isTold =
          !both.taken.by.empty() && column.title() == both.taken.by.front() && channel.name == both.taken.by.back();
      if (isTold) return {c, &channel};
      if (pair.second == nullptr && channel.quantity == column.unit.quantity) pair = {c, &channel};
    }
  }
  if (pair.second == nullptr && !both.run.log.channels.empty()) pair.second = &both.run.log.channels.front();
  return pair;
}

}  // namespace

Result<BesideLook> lookBeside(const std::string& path, const ImportWishes& wishes, const BesideWishes& beside,
                              const ImportProgress& progress) {
  auto both = readBoth(path, wishes, beside, progress);
  if (!both) return both.error();
  BesideLook look;
  if (const auto [column, channel] = pairToDraw(*both); channel != nullptr && !both->log.planned.empty()) {
    look.run = laneOf(both->run.log.timeS, channel->values, channel->name);
    look.log = laneOf(both->log.timeS, both->log.columns[column], both->log.planned[column].title());
  }
  look.told = std::move(both->taken);
  return look;
}

Result<TakenBeside> takeBeside(const std::string& path, const ImportWishes& wishes, const BesideWishes& beside,
                               const ImportProgress& progress) {
  auto both = readBoth(path, wishes, beside, progress);
  if (!both) return both.error();
  TakenBeside taken = std::move(both->taken);
  if (!taken.refusal.empty()) return taken;
  BesideLog whole = placed(std::move(both->log), taken.offset, std::move(both->source));
  if (whole.timeS.back() < 0 || whole.timeS.front() > both->run.log.timeS.back())
    return Error::badInput(fmt::format("With this offset nothing of {} lies within run {}.", path, beside.run));
  whole.how = howOf(taken);
  const auto kept = putBeside(beside.book, beside.run, std::move(whole));
  if (!kept) return kept.error();
  rememberColumns(wishes.map);
  taken.source = *kept;
  return taken;
}

Json besideToJson(const TakenBeside& taken) {
  const ClockOffset& offset = taken.offset;
  return {{"source", taken.source},
          {"offset_s", offset.offsetS},
          {"offset_low_s", offset.offsetLowS},
          {"offset_high_s", offset.offsetHighS},
          {"drift_ppm", offset.driftPpm ? Json(*offset.driftPpm) : Json(nullptr)},
          {"by", taken.by}};
}

}  // namespace ash
