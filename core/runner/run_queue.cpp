// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/run_queue.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include "analysis/analyze.h"
#include "analysis/decision/decision.h"
#include "model/entry_line.h"
#include "model/owed_readings.h"

namespace ash {
namespace {

const Setup* findSetup(const Study& study, const std::string& name) {
  const auto found =
      std::find_if(study.setups.begin(), study.setups.end(), [&](const Setup& setup) { return setup.name == name; });
  return found == study.setups.end() ? nullptr : &*found;
}

// What the runs of a study tell about which of its cells need no more of them.
Result<std::vector<DecidedCell>> cellsDecided(const Book& book, const Study& study, const StudyPlan& plan,
                                              const std::vector<RunSummary>& runs) {
  std::vector<DecidedCell> all;
  const std::string reference = referenceSetup(study, plan);
  for (const Load& load : study.loads) {
    std::vector<AnalyzedRun> analyzed;
    for (const RunSummary& run : runs) {
      if (run.info.study != study.name || run.info.load != load.name || run.info.outcome != Outcome::Completed)
        continue;
      auto log = book.readRun(run.info.id);
      if (!log) return log.error();
      analyzed.push_back({std::move(*log), {}});
      analyzed.back().figures = analyzeRun(analyzed.back().run);
    }
    std::vector<const AnalyzedRun*> ofLoad;
    for (const AnalyzedRun& run : analyzed) ofLoad.push_back(&run);
    const auto cells = decidedCells(study, reference, load.name, decisionsOf(study, plan, ofLoad));
    all.insert(all.end(), cells.begin(), cells.end());
  }
  return all;
}

}  // namespace

Result<QueuedRun> nextInQueue(const Book& book, const std::string& name, bool turnsPowerLimit, QueueOrder order) {
  const auto study = book.study(name);
  if (!study) return study.error();
  const auto runs = book.runs();
  if (!runs) return runs.error();
  if (study->setups.empty() || study->loads.empty())
    return Error::badInput(fmt::format("The study \"{}\" has no setup or no load yet; add them first.", name));
  QueuedRun next;
  next.plan = planFromJson(study->plan);
  auto toDo = runsToDo(*study, next.plan.repeats, *runs);
  if (next.plan.isUntilDecided && !toDo.empty()) {
    const auto decided = cellsDecided(book, *study, next.plan, *runs);
    if (!decided) return decided.error();
    const size_t planned = toDo.size();
    toDo = withoutDecided(std::move(toDo), *decided);
    next.saved = planned - toDo.size();
  }
  next.left = toDo.size();
  if (toDo.empty()) return next;
  next.run = toDo.front();
  if (!next.plan.bench.empty()) return next;
  const Setup* last = nullptr;
  for (const RunSummary& run : *runs) {
    if (run.info.study == name) last = findSetup(*study, run.info.setup);
  }
  const auto changesFor = [&](const PlannedRun& run) {
    const Setup* wanted = findSetup(*study, run.setup);
    return wanted == nullptr ? std::vector<std::string>() : changesByHand(last, *wanted, turnsPowerLimit);
  };
  next.byHand = changesFor(*next.run);
  if (order == QueueOrder::AsPlanned || next.byHand.empty()) return next;
  for (const PlannedRun& run : toDo) {
    if (run.repeat != toDo.front().repeat) break;
    if (!changesFor(run).empty()) continue;
    next.waiting = std::exchange(next.run, run);
    next.waitsFor = std::exchange(next.byHand, {});
    break;
  }
  return next;
}

// Roles that an instrument told until the end.
std::set<std::string> measuredAtEnd(const Log& log, const Json& bench) {
  const std::set<std::string> told = toldByInstruments(bench);
  std::set<std::string> roles;
  for (const Channel& channel : log.channels) {
    const bool isTold =
        std::any_of(channel.values.begin(), channel.values.end(), [](double v) { return std::isfinite(v); });
    if (told.contains(channel.role.text()) && isTold) roles.insert(channel.role.text());
  }
  return roles;
}

std::vector<OwedReading> owedBy(const StudyPlan& plan, const RunFacts& facts, const std::set<std::string>& measured) {
  double loadS = kMissing;
  for (const PhaseSpan& phase : facts.phases) {
    if (isUnderLoad(phase.kind) && !std::isfinite(loadS)) loadS = phase.startS;
  }
  return stillToTake(plan.byHand, facts.events, facts.phases, loadS, measured);
}

Result<std::vector<OwedReading>> owedBy(const Book& book, const RunSummary& run, const StudyPlan& plan) {
  if (run.info.outcome != Outcome::Completed || plan.byHand.empty()) return std::vector<OwedReading>();
  // Events and phases, and of the samples the end only.
  constexpr double kEndS = 60;
  const auto end = book.readRunAfter(run.info.id, run.lastSampleS - kEndS);
  if (!end) return end.error();
  return owedBy(plan, end->facts, measuredAtEnd(end->log, run.info.bench));
}

std::string openWords(size_t owed) { return owed == 0 ? std::string() : fmt::format("open, {} still to take", owed); }

}  // namespace ash
