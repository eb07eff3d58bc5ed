// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/outcome.h"

#include <array>
#include <utility>

namespace ash {
namespace {
constexpr std::array<std::pair<Outcome, std::string_view>, 9> kOutcomes = {{
    {Outcome::Running, "running"},
    {Outcome::Completed, "completed"},
    {Outcome::StoppedByRule, "stopped by a rule"},
    {Outcome::StoppedByHand, "stopped by hand"},
    {Outcome::LoadFailed, "load failed"},
    {Outcome::MachineWentDown, "machine went down"},
    {Outcome::RecorderDied, "recorder died"},
    {Outcome::Void, "void"},
    {Outcome::TakenIn, "taken in"},
}};
}  // namespace

bool ranWhole(Outcome outcome) { return outcome == Outcome::Completed || outcome == Outcome::TakenIn; }

std::string_view outcomeText(Outcome outcome) {
  for (const auto& [value, text] : kOutcomes) {
    if (value == outcome) return text;
  }
  return "running";
}

std::optional<Outcome> outcomeFromText(std::string_view text) {
  for (const auto& [value, words] : kOutcomes) {
    if (words == text) return value;
  }
  return std::nullopt;
}

}  // namespace ash
