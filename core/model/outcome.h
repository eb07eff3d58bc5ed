// SPDX-License-Identifier: GPL-3.0-or-later
// How a run ended.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace ash {

enum class Outcome {
  Running,
  Completed,
  StoppedByRule,
  StoppedByHand,
  LoadFailed,
  MachineWentDown,
  RecorderDied,
  Void,
  TakenIn,  ///< a log of another program: how it ended nobody told
};

/// True for a run that reached its end as far as anybody told: its figures stand for its setup.
bool ranWhole(Outcome outcome);

/// The words of the contract, e.g. "stopped by a rule".
std::string_view outcomeText(Outcome outcome);
std::optional<Outcome> outcomeFromText(std::string_view text);

}  // namespace ash
