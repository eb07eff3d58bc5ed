// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/phases/phases.h"

#include <algorithm>
#include <cmath>

namespace ash {
namespace {

std::vector<PhaseSpan> detectPhases(const RunLog& run, const Activity& activity) {
  const Log& log = run.log;
  if (log.timeS.empty()) return {};
  const double firstS = log.timeS.front();
  const double endS = log.timeS.back() + medianInterval(log.timeS);
  const auto parts = loadParts(activity, log);
  if (parts.empty()) {
    if (activity.kind == Activity::Kind::Unknown) return {};
    return {{PhaseKind::Idle, firstS, endS, false}};
  }
  std::vector<PhaseSpan> phases;
  const double startS = parts.front().startS, restS = parts.back().endS;
  if (startS > firstS) phases.push_back({PhaseKind::Idle, firstS, startS, false});
  phases.push_back({PhaseKind::Soak, startS, restS, false});
  if (restS <= log.timeS.back()) phases.push_back({PhaseKind::Cool, restS, endS, false});
  return phases;
}

}  // namespace

std::vector<PhaseSpan> phasesOf(const RunLog& run, const Activity& activity) {
  if (run.facts.phases.empty()) return detectPhases(run, activity);
  std::vector<PhaseSpan> phases = run.facts.phases;
  std::sort(phases.begin(), phases.end(), [](const PhaseSpan& a, const PhaseSpan& b) { return a.startS < b.startS; });
  return phases;
}

std::optional<TimeSpan> loadPhase(const RunLog& run, const std::vector<PhaseSpan>& phases, const Activity& activity) {
  std::optional<TimeSpan> load;
  for (const PhaseSpan& phase : phases) {
    if (!isUnderLoad(phase.kind)) continue;
    if (!load) load = TimeSpan{phase.startS, phase.endS};
    load->endS = std::max(load->endS, phase.endS);
  }
  if (!load || run.log.timeS.empty()) return std::nullopt;
  // The first sample at or after the given start, so that every figure begins on a sample.
  const auto& times = run.log.timeS;
  const auto first = std::lower_bound(times.begin(), times.end(), load->startS - 1e-9);
  if (first == times.end()) return std::nullopt;
  load->startS = std::max(*first, load->startS);
  if (!phases.front().isGiven || activity.kind != Activity::Kind::Changing) return load;
  // A soak without load is allowed and is no load phase: look whether anything was ever busy inside.
  const bool anyBusy = std::any_of(activity.busy.begin(), activity.busy.end(), [&](const TimeSpan& span) {
    return span.startS < load->endS && span.endS > load->startS;
  });
  return anyBusy ? load : std::nullopt;
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
