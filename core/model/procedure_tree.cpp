// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/procedure_tree.h"

#include <algorithm>

namespace ash {
namespace {

std::vector<KnobSetting> settingsOf(const Phase& phase, size_t from, size_t to) {
  return {phase.settings.begin() + static_cast<std::ptrdiff_t>(from),
          phase.settings.begin() + static_cast<std::ptrdiff_t>(to)};
}

// Phases [from, to), with the first `groups` of its groups as far as they lie within; those behind are outside of those
// before. `written` = settings of the first phase that stand already before it.
StepTree treeOf(const Procedure& procedure, size_t from, size_t to, size_t groups, size_t written) {
  StepTree tree;
  for (size_t i = from; i < to;) {
    const Phase& phase = procedure.phases[i];
    const size_t had = i == from ? std::min(written, phase.settings.size()) : 0;
    // The outermost group that begins here.
    size_t g = groups;
    while (g > 0) {
      const PhaseGroup& group = procedure.groups[g - 1];
      if (group.first == i && group.length > 0 && group.first + group.length * group.times <= to) break;
      --g;
    }
    StepNode& node = tree.emplace_back();
    if (g == 0) {
      node.phase = phase;
      node.phase.settings = settingsOf(phase, had, phase.settings.size());
      ++i;
      continue;
    }
    const PhaseGroup& group = procedure.groups[g - 1];
    // What its second time does not repeat was set before it.
    const size_t again = group.times > 1 ? procedure.phases[i + group.length].settings.size() : phase.settings.size();
    const size_t once = std::max(had, phase.settings.size() - std::min(again, phase.settings.size()));
    node.times = group.times;
    node.before = settingsOf(phase, had, once);
    node.inner = treeOf(procedure, i, i + group.length, g - 1, once);
    i += group.length * group.times;
  }
  return tree;
}

}  // namespace

StepTree treeOf(const Procedure& procedure) {
  return treeOf(procedure, 0, procedure.phases.size(), procedure.groups.size(), 0);
}

Procedure procedureOf(const StepTree& tree) {
  Procedure all;
  for (const StepNode& node : tree) {
    Procedure once;
    if (node.isGroup())
      once = procedureOf(node.inner);
    else
      once.phases = {node.phase};
    const size_t at = all.phases.size(), length = once.phases.size();
    for (PhaseGroup group : once.groups) {
      group.first += at;
      all.groups.push_back(group);
    }
    for (size_t time = 0; time < std::max<size_t>(1, node.times); ++time)
      all.phases.insert(all.phases.end(), once.phases.begin(), once.phases.end());
    if (node.isGroup()) all.groups.push_back({at, length, node.times});
    auto& first = all.phases[at].settings;
    first.insert(first.begin(), node.before.begin(), node.before.end());
  }
  return all;
}

}  // namespace ash
