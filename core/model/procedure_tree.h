// SPDX-License-Identifier: GPL-3.0-or-later
// A procedure as it is written: phases, and groups of them that stand once and run several times.
#pragma once

#include <vector>

#include "model/procedure.h"

namespace ash {

struct StepNode {
  Phase phase;                      ///< where it is no group
  size_t times = 0;                 ///< of a group; 0 = a phase
  std::vector<KnobSetting> before;  ///< of a group: turned once before it
  std::vector<StepNode> inner;      ///< of a group

  bool isGroup() const { return times > 0; }
};
using StepTree = std::vector<StepNode>;

StepTree treeOf(const Procedure& procedure);
/// Groups unfolded.
Procedure procedureOf(const StepTree& tree);

}  // namespace ash
