// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/procedure.h"

#include <fmt/format.h>

#include <array>
#include <cmath>

#include "model/text.h"

namespace ash {
namespace {

struct KindRow {
  PhaseKind kind;
  std::string_view text, words;
};
constexpr std::array kKinds = {KindRow{PhaseKind::Idle, "idle", "Rest"}, KindRow{PhaseKind::Soak, "soak", "Soak"},
                               KindRow{PhaseKind::Measure, "measure", "Measure"},
                               KindRow{PhaseKind::Cool, "cool", "Recover"}};

constexpr double kLongestPhaseS = 30 * 86400.0;
constexpr std::string_view kExample = "\"idle 20s, soak settled 1min..5min, measure 1min, cool 30s\"";

Error wrongPhase(std::string_view part, std::string_view why) {
  return Error::badInput(fmt::format("Phase \"{}\": {}. Write phases like {}.", part, why, kExample));
}

std::string shortDuration(double seconds) {
  if (seconds >= 3600 && std::fmod(seconds, 3600) == 0) return fmt::format("{}h", seconds / 3600);
  if (seconds >= 60 && std::fmod(seconds, 60) == 0) return fmt::format("{}min", seconds / 60);
  return fmt::format("{}s", seconds);
}

Result<PhaseEnd> parseSettled(std::string_view part, std::string_view range) {
  const size_t dots = range.find("..");
  if (dots == std::string_view::npos) return wrongPhase(part, "'settled' needs a least and a most time, LEAST..MOST");
  const auto least = parseDurationS(range.substr(0, dots));
  const auto most = parseDurationS(range.substr(dots + 2));
  if (!least || !most) return wrongPhase(part, "its times need a number and a unit (s, min, h)");
  if (*most > kLongestPhaseS) return wrongPhase(part, "it is longer than 30 days");
  if (*most <= 0 || *least > *most) return wrongPhase(part, "the least time is longer than the most");
  return PhaseEnd(EndsWhenSettled{*least, *most});
}

Result<PhaseEnd> parseBelow(std::string_view part, PhaseKind kind, std::string_view value) {
  if (kind != PhaseKind::Cool) return wrongPhase(part, "only a cool phase can end below a temperature");
  for (const std::string_view unit : {"°C", "C"}) {
    if (value.ends_with(unit)) {
      value.remove_suffix(unit.size());
      break;
    }
  }
  const auto celsius = parseNumber(value);
  if (!celsius || std::abs(*celsius) > 500) return wrongPhase(part, "'below' needs a temperature in °C");
  return PhaseEnd(EndsBelow{*celsius, kLongestRecoverS});
}

Result<PhaseEnd> parseEnd(std::string_view part, PhaseKind kind, std::string_view text) {
  if (text.starts_with("settled")) return parseSettled(part, trimmed(text.substr(7)));
  if (text.starts_with("below")) return parseBelow(part, kind, trimmed(text.substr(5)));
  const auto seconds = parseDurationS(text);
  if (!seconds)
    return wrongPhase(part, "its end must be a time such as 30s or 5min, 'settled LEAST..MOST' or 'below T'");
  if (*seconds <= 0) return wrongPhase(part, "its time must be longer than zero");
  if (*seconds > kLongestPhaseS) return wrongPhase(part, "it is longer than 30 days");
  return PhaseEnd(EndsAfter{*seconds});
}

}  // namespace

std::string_view phaseKindText(PhaseKind kind) { return kKinds[static_cast<size_t>(kind)].text; }
std::string_view phaseKindWords(PhaseKind kind) { return kKinds[static_cast<size_t>(kind)].words; }

std::optional<PhaseKind> phaseKindFromText(std::string_view text) {
  for (const KindRow& row : kKinds) {
    if (row.text == text) return row.kind;
  }
  return std::nullopt;
}

bool isUnderLoad(PhaseKind kind) { return kind == PhaseKind::Soak || kind == PhaseKind::Measure; }

Result<Procedure> parsePhases(std::string_view text) {
  Procedure procedure;
  if (trimmed(text).empty()) return Error::badInput(fmt::format("No phases given. Write phases like {}.", kExample));
  for (const std::string_view raw : splitText(text, ',')) {
    const std::string_view part = trimmed(raw);
    const size_t blank = part.find_first_of(" \t");
    const auto kind = phaseKindFromText(part.substr(0, blank));
    if (!kind) return wrongPhase(part, "its kind must be idle, soak, measure or cool");
    if (blank == std::string_view::npos) return wrongPhase(part, "it has no end");
    auto end = parseEnd(part, *kind, trimmed(part.substr(blank)));
    if (!end) return end.error();
    procedure.phases.push_back({*kind, *end});
  }
  return procedure;
}

std::string phasesText(const Procedure& procedure) {
  std::string text;
  for (const Phase& phase : procedure.phases) {
    if (!text.empty()) text += ", ";
    text += phaseKindText(phase.kind);
    if (const auto* after = std::get_if<EndsAfter>(&phase.end)) {
      text += fmt::format(" {}", shortDuration(after->seconds));
    } else if (const auto* settled = std::get_if<EndsWhenSettled>(&phase.end)) {
      text += fmt::format(" settled {}..{}", shortDuration(settled->leastS), shortDuration(settled->mostS));
    } else if (const auto* below = std::get_if<EndsBelow>(&phase.end)) {
      text += fmt::format(" below {}", below->celsius);
    }
  }
  return text;
}

std::string phaseWords(const Phase& phase) {
  const std::string kind(phaseKindWords(phase.kind));
  if (const auto* after = std::get_if<EndsAfter>(&phase.end)) {
    return fmt::format("{} {}", kind, durationWords(after->seconds));
  }
  if (const auto* settled = std::get_if<EndsWhenSettled>(&phase.end)) {
    return fmt::format("{} until settled, {} to {}", kind, durationWords(settled->leastS),
                       durationWords(settled->mostS));
  }
  const auto& below = std::get<EndsBelow>(phase.end);
  return fmt::format("{} to {:g} °C, at most {}", kind, below.celsius, durationWords(below.mostS));
}

double longestPhaseS(const Phase& phase) {
  if (const auto* after = std::get_if<EndsAfter>(&phase.end)) return after->seconds;
  if (const auto* settled = std::get_if<EndsWhenSettled>(&phase.end)) return settled->mostS;
  return std::get<EndsBelow>(phase.end).mostS;
}

}  // namespace ash
