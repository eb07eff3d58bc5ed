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
  Unknown,  ///< of a log that was taken in: nobody told
};

/// The words of the contract, e.g. "stopped by a rule".
std::string_view outcomeText(Outcome outcome);
std::optional<Outcome> outcomeFromText(std::string_view text);

}  // namespace ash
