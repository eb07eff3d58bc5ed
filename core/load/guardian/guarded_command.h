// SPDX-License-Identifier: GPL-3.0-or-later
// A line for /bin/sh that runs below a guardian: everything that it starts ends with it, or with whoever started it.
#pragma once

#include <sys/types.h>

#include <optional>
#include <string>

#include "load/guardian/guardian.h"
#include "model/result.h"

namespace ash {

/// Where the guardian's program is: beside this one, else in ../libexec/ash-gauge. Empty when it is not there.
std::string guardianProgram();

/// The guardian at work, with the command's output and the guardian's words; both descriptors do not block. A plain
/// value: whoever has it closes and ends it.
struct GuardedCommand {
  pid_t guardian = 0;
  int output = -1, socket = -1;
  std::string words;  ///< of the guardian, not yet whole
  double beganS = 0;  ///< CLOCK_MONOTONIC
  std::optional<GuardianWord> ended;

  static Result<GuardedCommand> start(const GuardianOrder& order);
  /// Takes what the guardian has said by now.
  void takeWords();
  void closeOutput();
  /// Ends the command and all that hides by ending its guardian, and waits for that, kGuardianPatienceS at most. True
  /// when the guardian is gone.
  bool end();
};

}  // namespace ash
