// SPDX-License-Identifier: GPL-3.0-or-later
// Phases that can be read can be written and read again as the same, and they end.
#include "runner/phase_machine.h"

#include "tests/fuzz/fuzz.h"

using namespace ash;

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const auto procedure = parsePhases(fuzz::textOf(data, size));
  if (!procedure) {
    fuzz::mustHold(!procedure.error().message.empty());
    return 0;
  }
  const std::string text = phasesText(*procedure);
  const auto again = parsePhases(text);
  fuzz::mustHold(static_cast<bool>(again));
  fuzz::mustHold(phasesText(*again) == text);
  PhaseMachine machine(*procedure, 0.5);
  double left = machine.longestRunLeftS(0);
  fuzz::mustHold(left >= 0);
  double t = 0;
  for (size_t i = 0; i < procedure->phases.size(); ++i) {
    PhaseMachine::Moment moment;
    moment.timeS = t;
    machine.take(moment);
    machine.endPhaseNow();
    moment.timeS = t += 1;
    if (!machine.isFinished()) machine.take(moment);
  }
  return 0;
}
