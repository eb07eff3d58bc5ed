// SPDX-License-Identifier: GPL-3.0-or-later
// Which runs take part in a comparison, and which of them are repeats of one another.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/comparison/taking_part.h"

namespace ash {
namespace {

std::string setupOf(const RunLog& run) { return run.facts.setup.empty() ? run.name : run.facts.setup; }

std::vector<Pool> poolRuns(const std::vector<const AnalyzedRun*>& runs, Comparison& comparison) {
  std::vector<Pool> pools;
  for (const AnalyzedRun* each : runs) {
    const AnalyzedRun& run = *each;
    if (run.run.facts.outcome == Outcome::Void) {
      comparison.checks.push_back({Severity::Info,
                                   {run.run.name},
                                   CheckKind::Void,
                                   fmt::format("{} is void{} and takes no part.", run.run.name,
                                               run.run.facts.reason.empty() ? "" : " (" + run.run.facts.reason + ")")});
      continue;
    }
    const std::string setup = setupOf(run.run);
    const auto pool = std::find_if(pools.begin(), pools.end(),
                                   [&](const Pool& p) { return p.setup == setup && p.load == run.run.facts.load; });
    if (pool != pools.end())
      pool->runs.push_back(&run);
    else
      pools.push_back({setup, run.run.facts.load, {&run}});
  }
  return pools;
}

// A repeat that was cut short has another window than those that were not: it takes no part where there are such.
void leaveOutCutShort(std::vector<Pool>& pools, Comparison& comparison) {
  for (Pool& pool : pools) {
    const auto isDone = [](const AnalyzedRun* run) { return didComplete(*run); };
    if (std::none_of(pool.runs.begin(), pool.runs.end(), isDone)) continue;
    for (const AnalyzedRun* run : pool.runs) {
      if (didComplete(*run)) continue;
      comparison.checks.push_back({Severity::Warn,
                                   {run->run.name},
                                   CheckKind::Outcome,
                                   fmt::format("A repeat of {} did not complete ({}) and takes no part.", pool.setup,
                                               outcomeText(*run->run.facts.outcome))});
    }
    std::erase_if(pool.runs, [](const AnalyzedRun* run) { return !didComplete(*run); });
  }
}

// A repeat that was far from where it would have ended says something else than those that were there.
void leaveOutUnsettled(std::vector<Pool>& pools, Comparison& comparison) {
  constexpr double kFarK = 1;
  for (Pool& pool : pools) {
    const auto isFar = [](const AnalyzedRun* run) { return std::abs(leftOf(*run)) > kFarK; };
    if (std::all_of(pool.runs.begin(), pool.runs.end(), isFar)) continue;
    for (const AnalyzedRun* run : pool.runs) {
      if (!isFar(run)) continue;
      comparison.checks.push_back({Severity::Warn,
                                   {run->run.name},
                                   CheckKind::Settling,
                                   fmt::format("{}, a repeat of {}, had not settled and takes no part: run it longer.",
                                               run->run.name, pool.setup)});
    }
    std::erase_if(pool.runs, isFar);
  }
}

bool areSame(const std::vector<double>& a, const std::vector<double>& b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                    [](double x, double y) { return x == y || (std::isnan(x) && std::isnan(y)); });
}

bool haveSameSamples(const Log& a, const Log& b) {
  if (a.timeS.empty() || a.channels.size() != b.channels.size() || !areSame(a.timeS, b.timeS)) return false;
  for (size_t c = 0; c < a.channels.size(); ++c) {
    if (a.channels[c].name != b.channels[c].name || !areSame(a.channels[c].values, b.channels[c].values)) return false;
  }
  return true;
}

// A copy of a run, or the same simulation from the same seed, is no repeat: it would make the scatter look like none.
void countCopiesOnce(std::vector<Pool>& pools, Comparison& comparison) {
  for (Pool& pool : pools) {
    std::vector<const AnalyzedRun*> kept;
    for (const AnalyzedRun* run : pool.runs) {
      const auto original = std::find_if(kept.begin(), kept.end(), [run](const AnalyzedRun* other) {
        return haveSameSamples(run->run.log, other->run.log);
      });
      if (original == kept.end()) {
        kept.push_back(run);
        continue;
      }
      comparison.checks.push_back(
          {Severity::Warn,
           {(*original)->run.name, run->run.name},
           CheckKind::Repeat,
           fmt::format("{} has the same samples as {}: they count as one run, for a copy is no repeat.", run->run.name,
                       (*original)->run.name)});
    }
    pool.runs = std::move(kept);
  }
}

}  // namespace

double leftOf(const AnalyzedRun& run) {
  const ChannelFigures* watched = run.figures.channel(run.figures.watched);
  if (watched == nullptr || !watched->settled || watched->settled->isSettled || !run.figures.load) return 0;
  const double left = watched->settled->remainingK;
  return std::isfinite(left) && left != 0 ? left : 1;
}

std::vector<Pool> takePart(const std::vector<const AnalyzedRun*>& runs, Comparison& comparison) {
  std::vector<Pool> pools = poolRuns(runs, comparison);
  countCopiesOnce(pools, comparison);
  leaveOutCutShort(pools, comparison);
  leaveOutUnsettled(pools, comparison);
  return pools;
}

}  // namespace ash
