// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/phases/phases.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "analysis/phases/loads.h"

namespace ash {
namespace {

constexpr double kMuchShorter = 0.1;  // than the longest load
constexpr size_t kFewestInWindow = 8;

std::vector<PhaseSpan> detectPhases(const RunLog& run, const Activity& activity, const SeriesView& watched) {
  const Log& log = run.log;
  if (log.timeS.empty()) return {};
  const double firstS = log.timeS.front();
  const double endS = log.timeS.back() + medianInterval(log.timeS);
  const std::vector<LoadParts> loads = loadsIn(activity, log, watched, run.facts.passes);
  if (loads.empty()) {
    if (activity.kind == Activity::Kind::Unknown) return {};
    return {{PhaseKind::Idle, firstS, endS, false}};
  }
  std::vector<PhaseSpan> phases;
  double restS = firstS;
  for (const LoadParts& load : loads) {
    if (load.front().startS > restS)
      phases.push_back({phases.empty() ? PhaseKind::Idle : PhaseKind::Cool, restS, load.front().startS, false});
    restS = load.back().endS;
    phases.push_back({PhaseKind::Soak, load.front().startS, restS, false});
  }
  if (restS <= log.timeS.back()) phases.push_back({PhaseKind::Cool, restS, endS, false});
  return phases;
}

bool hasWindow(const TimeSpan& load, double longestS, const std::vector<double>& times) {
  const auto first = std::lower_bound(times.begin(), times.end(), load.startS - 1e-9);
  const auto last = std::lower_bound(first, times.end(), load.endS - 1e-9);
  return static_cast<size_t>(last - first) >= kFewestInWindow && load.lengthS() >= kMuchShorter * longestS;
}

}  // namespace

std::vector<PhaseSpan> phasesOf(const RunLog& run, const Activity& activity, const SeriesView& watched) {
  if (run.facts.phases.empty()) return detectPhases(run, activity, watched);
  std::vector<PhaseSpan> phases = run.facts.phases;
  std::sort(phases.begin(), phases.end(), [](const PhaseSpan& a, const PhaseSpan& b) { return a.startS < b.startS; });
  return phases;
}

std::vector<TimeSpan> loadPhases(const RunLog& run, const std::vector<PhaseSpan>& phases, const Activity& activity) {
  std::vector<TimeSpan> loads;
  bool isNew = true;
  PhaseKind before = PhaseKind::Idle;
  for (const PhaseSpan& phase : phases) {
    const PhaseKind last = std::exchange(before, phase.kind);
    if (phase.kind == PhaseKind::Pause) {
      // The load goes on through it, but for one whose passes were made.
      if (!isNew && last != PhaseKind::Pass) loads.back().endS = std::max(loads.back().endS, phase.endS);
    } else if (!isUnderLoad(phase.kind)) {
      isNew = true;
    } else if (std::exchange(isNew, false)) {
      loads.push_back({phase.startS, phase.endS});
    } else {
      loads.back().endS = std::max(loads.back().endS, phase.endS);
    }
  }
  const auto& times = run.log.timeS;
  const auto isNone = [&](TimeSpan& load) {
    // The first sample at or after the given start, so that every figure begins on a sample.
    const auto first = std::lower_bound(times.begin(), times.end(), load.startS - 1e-9);
    if (first == times.end()) return true;
    load.startS = std::max(*first, load.startS);
    if (!phases.front().isGiven || activity.kind != Activity::Kind::Changing) return false;
    // A soak without load is allowed and is no load phase: look whether anything was ever busy inside.
    return std::none_of(activity.busy.begin(), activity.busy.end(),
                        [&](const TimeSpan& span) { return span.startS < load.endS && span.endS > load.startS; });
  };
  std::vector<TimeSpan> real;
  for (TimeSpan& load : loads) {
    if (!isNone(load)) real.push_back(load);
  }
  return real;
}

size_t lastWithWindow(const std::vector<TimeSpan>& loads, const std::vector<double>& times) {
  double longestS = 0;
  for (const TimeSpan& load : loads) longestS = std::max(longestS, load.lengthS());
  for (size_t i = loads.size(); i > 0; --i) {
    if (hasWindow(loads[i - 1], longestS, times)) return i - 1;
  }
  return loads.empty() ? 0 : loads.size() - 1;
}

std::vector<TimeSpan> busyWithin(const Activity& activity, const Log& log, const TimeSpan& load) {
  std::vector<TimeSpan> parts;
  const double interval = medianInterval(log.timeS);
  for (const TimeSpan& span : activity.busy) {
    const TimeSpan inside{std::max(span.startS, load.startS), std::min(span.endS, load.endS)};
    if (inside.lengthS() <= 0) continue;
    if (!parts.empty() && inside.startS - parts.back().endS <= 2 * interval + 1e-9)
      parts.back().endS = inside.endS;
    else
      parts.push_back(inside);
  }
  return parts;
}

std::optional<TimeSpan> idlePhase(const std::vector<PhaseSpan>& phases) {
  for (const PhaseSpan& phase : phases) {
    if (phase.kind == PhaseKind::Idle) return TimeSpan{phase.startS, phase.endS};
  }
  return std::nullopt;
}

}  // namespace ash
