// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/procedure.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "model/text.h"

namespace ash {
namespace {

struct KindRow {
  PhaseKind kind;
  std::string_view text, words;
};
constexpr std::array kKinds = {
    KindRow{PhaseKind::Idle, "idle", "Rest"},          KindRow{PhaseKind::Soak, "soak", "Soak"},
    KindRow{PhaseKind::Measure, "measure", "Measure"}, KindRow{PhaseKind::Cool, "cool", "Recover"},
    KindRow{PhaseKind::Pass, "pass", "Passes"},        KindRow{PhaseKind::Pause, "pause", "Pause"}};

constexpr double kReckonedPauseS = 180, kReckonedWorkS = 900, kReckonedRunDownS = 4 * 3600;

/// How a phase ends, in words.
struct EndWords {
  std::string operator()(const EndsAfter& end) const { return durationWords(end.seconds); }
  std::string operator()(const EndsWhenSettled& end) const {
    return fmt::format("until settled, {} to {}", durationWords(end.leastS), durationWords(end.mostS));
  }
  std::string operator()(const EndsBelow& end) const {
    if (end.leastS > 0)
      return fmt::format("to {:g} °C, {} to {}", end.celsius, durationWords(end.leastS), durationWords(end.mostS));
    return fmt::format("to {:g} °C, at most {}", end.celsius, durationWords(end.mostS));
  }
  std::string operator()(const EndsAbove& end) const {
    return fmt::format("above {:g} °C, at most {}", end.celsius, durationWords(end.mostS));
  }
  std::string operator()(const EndsAtCharge& end) const {
    return end.percent > 0
               ? fmt::format("until the battery is at {:g} %, at most {}", end.percent, durationWords(end.mostS))
               : fmt::format("until the battery is empty, at most {}", durationWords(end.mostS));
  }
  std::string operator()(const EndsWithWork& end) const {
    return fmt::format("until {:g} of work are done", end.units);
  }
  std::string operator()(const EndsAfterPasses& end) const {
    return end.count == 1 ? "one pass" : fmt::format("{} passes", end.count);
  }
  std::string operator()(const EndsByAnswer& end) const {
    return std::isfinite(end.mostS) ? fmt::format("until answered, at most {}", durationWords(end.mostS))
                                    : "until answered";
  }
};

struct LongestS {
  double operator()(const EndsAfter& end) const { return end.seconds; }
  double operator()(const EndsWhenSettled& end) const { return end.mostS; }
  double operator()(const EndsBelow& end) const { return end.mostS; }
  double operator()(const EndsAbove& end) const { return end.mostS; }
  double operator()(const EndsAtCharge& end) const { return end.mostS; }
  double operator()(const EndsWithWork&) const { return kNoMost; }
  double operator()(const EndsAfterPasses&) const { return kNoMost; }
  double operator()(const EndsByAnswer& end) const { return end.mostS; }
};

}  // namespace

std::string_view phaseKindText(PhaseKind kind) { return kKinds[static_cast<size_t>(kind)].text; }
std::string_view phaseKindWords(PhaseKind kind) { return kKinds[static_cast<size_t>(kind)].words; }

std::optional<PhaseKind> phaseKindFromText(std::string_view text) {
  for (const KindRow& row : kKinds) {
    if (row.text == text) return row.kind;
  }
  return std::nullopt;
}

bool isUnderLoad(PhaseKind kind) {
  return kind == PhaseKind::Soak || kind == PhaseKind::Measure || kind == PhaseKind::Pass;
}

bool isUnderLoad(const Procedure& procedure, size_t index) {
  while (index > 0 && procedure.phases[index].kind == PhaseKind::Pause) --index;
  return isUnderLoad(procedure.phases[index].kind);
}

std::vector<WrittenPhase> asWritten(const Procedure& procedure) {
  std::vector<WrittenPhase> written;
  for (size_t i = 0; i < procedure.phases.size(); ++i) {
    WrittenPhase one{i, 1};
    bool isAgain = false;
    for (const PhaseGroup& group : procedure.groups) {
      if (i < group.first || i >= group.first + group.length * group.times) continue;
      isAgain |= i >= group.first + group.length;
      one.times *= group.times;
    }
    if (!isAgain) written.push_back(one);
  }
  return written;
}

bool runsBatteryDown(const Procedure& procedure) {
  return std::any_of(procedure.phases.begin(), procedure.phases.end(),
                     [](const Phase& phase) { return std::holds_alternative<EndsAtCharge>(phase.end); });
}

bool needsAPerson(const Procedure& procedure) {
  return std::any_of(procedure.phases.begin(), procedure.phases.end(), [](const Phase& phase) {
    return phase.kind == PhaseKind::Pause && !std::isfinite(longestPhaseS(phase));
  });
}

std::string phaseEndWords(const Phase& phase) { return std::visit(EndWords{}, phase.end); }

std::string phaseWords(const Phase& phase) {
  const std::string kind(phaseKindWords(phase.kind));
  if (const auto* answer = std::get_if<EndsByAnswer>(&phase.end))
    return fmt::format("{}: {}, {}", kind, answer->words, phaseEndWords(phase));
  return fmt::format("{} {}", kind, phaseEndWords(phase));
}

double longestPhaseS(const Phase& phase) { return std::visit(LongestS{}, phase.end); }

double reckonedPhaseS(const Phase& phase) {
  const double longestS = longestPhaseS(phase);
  if (std::holds_alternative<EndsAtCharge>(phase.end)) return std::min(longestS, kReckonedRunDownS);
  if (std::isfinite(longestS)) return longestS;
  return phase.kind == PhaseKind::Pause ? kReckonedPauseS : kReckonedWorkS;
}

double reckonedS(const Procedure& procedure) {
  double sumS = 0;
  for (const Phase& phase : procedure.phases) sumS += reckonedPhaseS(phase);
  return sumS;
}

}  // namespace ash
