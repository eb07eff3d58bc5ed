// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/decision/decision.h"

#include <algorithm>
#include <map>

#include "analysis/comparison/ladder.h"
#include "analysis/decision/sequential.h"
#include "model/role.h"

namespace ash {
namespace {

bool counts(const AnalyzedRun& run) {
  const auto& outcome = run.run.facts.outcome;
  return !outcome || ranWhole(*outcome);
}

bool hasFigure(const Comparison& comparison, const Figure& figure) {
  return std::any_of(comparison.rows.begin(), comparison.rows.end(),
                     [&](const ComparisonRow& row) { return row.metrics.contains(figure); });
}

// The first so many repeats of every setup.
std::vector<const AnalyzedRun*> firstRounds(const std::vector<const AnalyzedRun*>& runs, int rounds) {
  std::map<std::string, int> taken;
  std::vector<const AnalyzedRun*> first;
  for (const AnalyzedRun* run : runs) {
    if (counts(*run) && taken[run->run.facts.setup]++ < rounds) first.push_back(run);
  }
  return first;
}

std::string setupOf(const std::vector<const AnalyzedRun*>& runs, const std::string& name) {
  for (const AnalyzedRun* run : runs) {
    if (run->run.name == name) return run->run.facts.setup;
  }
  return runs.empty() ? std::string() : runs.front()->run.facts.setup;
}

std::vector<SetupDecision> undecided(const std::vector<const AnalyzedRun*>& runs, const std::string& reference) {
  std::vector<SetupDecision> all;
  for (const AnalyzedRun* run : runs) {
    if (!counts(*run) || run->run.facts.setup == reference) continue;
    auto found = std::find_if(all.begin(), all.end(),
                              [&](const SetupDecision& one) { return one.setup == run->run.facts.setup; });
    if (found == all.end())
      found = all.insert(all.end(), SetupDecision{run->run.facts.setup, 0, true, Verdict::None, {}});
    ++found->rounds;
  }
  return all;
}

bool decides(const MetricRow& row, double margin) {
  switch (row.verdict) {
    case Verdict::Better:
    case Verdict::Worse:
    case Verdict::Higher:
    case Verdict::Lower:
      return !row.isAssumed;
    case Verdict::WithinMargin:
      return margin > 0 && !row.isAssumed;
    default:
      return false;
  }
}

// One look, after so many rounds.
void look(const Comparison& comparison, const Figure& figure, double margin, int rounds,
          std::vector<SetupDecision>& decisions) {
  for (SetupDecision& decision : decisions) {
    if (!decision.isOpen || decision.rounds < rounds) continue;
    const auto row = std::find_if(comparison.rows.begin(), comparison.rows.end(),
                                  [&](const ComparisonRow& one) { return one.setup == decision.setup; });
    if (row == comparison.rows.end()) continue;
    const auto found = row->metrics.find(figure);
    if (found == row->metrics.end()) continue;
    decision.verdict = found->second.verdict;
    decision.reason = found->second.reason;
    if (!decides(found->second, margin)) continue;
    decision.isOpen = false;
    decision.rounds = rounds;
  }
}

}  // namespace

std::vector<SetupDecision> decisionsOf(const std::vector<const AnalyzedRun*>& runs, const CompareOptions& options,
                                       const Figure& figure, int mostRounds) {
  const std::string reference = setupOf(runs, options.reference);
  std::vector<SetupDecision> decisions = undecided(runs, reference);
  CompareOptions own = options;
  own.metrics = {figure};
  const auto margin = options.margins.find(figure);
  const double marginOf = margin != options.margins.end() ? margin->second
                          : figure.isTemperature()        ? options.temperatureMargin.value_or(0)
                                                          : 0;
  const auto ofReference = std::count_if(runs.begin(), runs.end(), [&](const AnalyzedRun* run) {
    return counts(*run) && run->run.facts.setup == reference;
  });
  for (int rounds = 2; rounds <= std::min<long>(mostRounds, ofReference); ++rounds) {
    const auto first = firstRounds(runs, rounds);
    own.reference = firstRunOf(first, reference);
    if (const auto comparison = compareRuns(first, own)) look(*comparison, figure, marginOf, rounds, decisions);
  }
  for (SetupDecision& decision : decisions)
    decision.isOpen &= std::min<long>(decision.rounds, ofReference) < mostRounds;
  return decisions;
}

std::vector<SetupDecision> decisionsOf(const Study& study, const StudyPlan& plan,
                                       const std::vector<const AnalyzedRun*>& runsOfLoad) {
  CompareOptions options = compareOptionsOf(plan, study.setups.size());
  options.reference = firstRunOf(runsOfLoad, referenceSetup(study, plan));
  if (options.reference.empty()) return {};
  const auto comparison = compareRuns(runsOfLoad, options);
  if (!comparison) return {};
  return decisionsOf(runsOfLoad, options, leadingFigure(plan, runsOfLoad, *comparison), plan.repeats);
}

std::vector<DecidedCell> decidedCells(const Study& study, const std::string& reference, const std::string& load,
                                      const std::vector<SetupDecision>& decisions) {
  std::vector<DecidedCell> cells;
  for (const SetupDecision& decision : decisions) {
    if (!decision.isOpen) cells.push_back({decision.setup, load});
  }
  const bool areAll = std::all_of(study.setups.begin(), study.setups.end(), [&](const Setup& setup) {
    return setup.name == reference ||
           std::find(cells.begin(), cells.end(), DecidedCell{setup.name, load}) != cells.end();
  });
  if (areAll && !cells.empty()) cells.push_back({reference, load});
  return cells;
}

CompareOptions compareOptionsOf(const StudyPlan& plan, size_t setups) {
  CompareOptions options;
  options.temperatureMargin = plan.marginK;
  options.temperatureRepeatability = plan.repeatabilityK;
  if (const auto equal = parseEqualBy(plan.equal)) options.equal = *equal;
  if (plan.isUntilDecided) {
    const double error = errorOfEach(static_cast<int>(setups) - 1);
    options.confidenceByRepeats = confidenceByRounds(plan.repeats, error);
  }
  return options;
}

Figure leadingFigure(const StudyPlan& plan, const std::vector<const AnalyzedRun*>& runs, const Comparison& comparison) {
  if (!plan.figure.empty() && hasFigure(comparison, plan.figure)) return plan.figure;
  // One task done in two ways: its heat does not go the same way.
  const bool areTwoWays = std::any_of(comparison.rows.begin(), comparison.rows.end(),
                                      [](const ComparisonRow& row) { return !row.way.empty(); });
  if (areTwoWays && hasFigure(comparison, FigureId::TaskTime)) return FigureId::TaskTime;
  for (const AnalyzedRun* run : runs) {
    const Device device = Role(run->figures.watched).device();
    if (device.empty()) continue;
    for (const FigureId id : {FigureId::OverRoom, FigureId::Temperature}) {
      if (hasFigure(comparison, {device, id})) return {device, id};
    }
  }
  return FigureId::WorkRate;
}

std::string firstRunOf(const std::vector<const AnalyzedRun*>& runs, const std::string& setup) {
  std::string first;
  for (const AnalyzedRun* run : runs) {
    if (run->run.facts.setup != setup || run->run.facts.outcome == Outcome::Void) continue;
    if (ranWhole(run->run.facts.outcome.value_or(Outcome::TakenIn))) return run->run.name;
    if (first.empty()) first = run->run.name;
  }
  return first;
}

}  // namespace ash
