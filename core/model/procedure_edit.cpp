// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/procedure_edit.h"

#include <fmt/format.h>

#include <algorithm>

#include "model/phase_end_text.h"
#include "model/procedure_tree.h"

namespace ash {
namespace {

/// Where a step stands: in which list, and at which place of it.
struct Found {
  StepTree* list = nullptr;
  size_t at = 0;
};

Found findStep(StepTree& nodes, size_t& step) {
  for (size_t i = 0; i < nodes.size(); ++i) {
    if (!nodes[i].isGroup()) {
      if (step == 0) return {&nodes, i};
      --step;
    } else if (const Found found = findStep(nodes[i].inner, step); found.list != nullptr) {
      return found;
    }
  }
  return {};
}

void dropEmpty(StepTree& nodes) {
  for (StepNode& node : nodes) dropEmpty(node.inner);
  std::erase_if(nodes, [](const StepNode& node) { return node.isGroup() && node.inner.empty(); });
}

size_t stepCount(const StepNode& node) {
  if (!node.isGroup()) return 1;
  size_t count = 0;
  for (const StepNode& one : node.inner) count += stepCount(one);
  return count;
}

template <typename Change>
Result<Procedure> changed(const Procedure& procedure, size_t step, Change change) {
  StepTree nodes = treeOf(procedure);
  const Found found = findStep(nodes, step);
  if (found.list == nullptr) return Error::badInput("There is no such step.");
  change(*found.list, static_cast<std::ptrdiff_t>(found.at));
  dropEmpty(nodes);
  if (nodes.empty()) return Error::badInput("A procedure has at least one step.");
  Procedure after = procedureOf(nodes);
  if (after.phases.size() > kMostPhases)
    return Error::badInput(fmt::format("With its groups unfolded the procedure has more than {} phases.", kMostPhases));
  return after;
}

}  // namespace

Result<Procedure> withoutStep(const Procedure& procedure, size_t step) {
  return changed(procedure, step, [](StepTree& list, std::ptrdiff_t at) { list.erase(list.begin() + at); });
}

Result<MovedStep> withStepMoved(const Procedure& procedure, size_t step, bool isLater) {
  size_t at = step;
  auto moved = changed(procedure, step, [&](StepTree& list, std::ptrdiff_t from) {
    const std::ptrdiff_t to = from + (isLater ? 1 : -1);
    if (to < 0 || to >= static_cast<std::ptrdiff_t>(list.size())) return;
    StepNode& other = list[static_cast<size_t>(to)];
    at = isLater ? step + stepCount(other) : step - stepCount(other);
    std::swap(list[static_cast<size_t>(from)], other);
  });
  if (!moved) return moved.error();
  return MovedStep{std::move(*moved), at};
}

Result<Procedure> withStepBehind(const Procedure& procedure, size_t step, const Phase& added) {
  return changed(procedure, step, [&](StepTree& list, std::ptrdiff_t at) {
    StepNode node;
    node.phase = added;
    list.insert(list.begin() + at + 1, std::move(node));
  });
}

std::string writtenStepText(const Procedure& procedure, size_t step) {
  const auto written = asWritten(procedure);
  if (step >= written.size()) return {};
  const Phase& phase = procedure.phases[written[step].index];
  return fmt::format("{} {}", phaseKindText(phase.kind), phaseEndText(phase.end));
}

}  // namespace ash
