// SPDX-License-Identifier: GPL-3.0-or-later
// Changes of single steps of a procedure, as they are written: a step of a group is changed in all its times.
#pragma once

#include "model/procedure.h"

namespace ash {

/// Steps are counted as asWritten() lists them. Each refuses a step that is not there.
/// Without it; a group that is left empty goes with it. Refused: the last step of all.
Result<Procedure> withoutStep(const Procedure& procedure, size_t step);
/// The step stands elsewhere then.
struct MovedStep {
  Procedure procedure;
  size_t step = 0;
};
/// One place earlier or later among those that stand beside it, a group as a whole.
Result<MovedStep> withStepMoved(const Procedure& procedure, size_t step, bool isLater);
/// Another one behind it, in the same group.
Result<Procedure> withStepBehind(const Procedure& procedure, size_t step, const Phase& added);

/// "soak settled 5min..30min": the step as it stands in the text.
std::string writtenStepText(const Procedure& procedure, size_t step);

}  // namespace ash
