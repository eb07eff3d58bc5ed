// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/procedure_edit.h"

#include <fmt/format.h>

#include <algorithm>

#include "model/phase_end_text.h"

namespace ash {
namespace {

// A phase, or a group of such that runs several times. `before` is set once before a group.
struct Node {
  Phase phase;
  size_t times = 0;  // 0 = a phase
  std::vector<KnobSetting> before;
  std::vector<Node> inner;
};
using Nodes = std::vector<Node>;

// Phases [from, to) with the first `groups` of the groups as far as they lie within; outer ones stand behind inner
// ones.
Nodes nodesOf(const Procedure& procedure, size_t from, size_t to, size_t groups, size_t written) {
  Nodes nodes;
  for (size_t i = from; i < to;) {
    const Phase& phase = procedure.phases[i];
    const size_t had = i == from ? std::min(written, phase.settings.size()) : 0;
    size_t g = groups;
    while (g > 0) {
      const PhaseGroup& group = procedure.groups[g - 1];
      if (group.first == i && group.length > 0 && group.first + group.length * group.times <= to) break;
      --g;
    }
    Node node;
    if (g == 0) {
      node.phase = phase;
      node.phase.settings.erase(node.phase.settings.begin(),
                                node.phase.settings.begin() + static_cast<std::ptrdiff_t>(had));
      nodes.push_back(std::move(node));
      ++i;
      continue;
    }
    const PhaseGroup& group = procedure.groups[g - 1];
    const size_t again = group.times > 1 ? procedure.phases[i + group.length].settings.size() : phase.settings.size();
    const size_t once = std::max(had, phase.settings.size() - std::min(again, phase.settings.size()));
    node.times = group.times;
    node.before.assign(phase.settings.begin() + static_cast<std::ptrdiff_t>(had),
                       phase.settings.begin() + static_cast<std::ptrdiff_t>(once));
    node.inner = nodesOf(procedure, i, i + group.length, g - 1, once);
    nodes.push_back(std::move(node));
    i += group.length * group.times;
  }
  return nodes;
}

Procedure procedureOf(const Nodes& nodes) {
  Procedure all;
  for (const Node& node : nodes) {
    Procedure once;
    if (node.times == 0)
      once.phases = {node.phase};
    else
      once = procedureOf(node.inner);
    const size_t at = all.phases.size(), length = once.phases.size();
    for (PhaseGroup group : once.groups) {
      group.first += at;
      all.groups.push_back(group);
    }
    for (size_t time = 0; time < std::max<size_t>(1, node.times); ++time)
      all.phases.insert(all.phases.end(), once.phases.begin(), once.phases.end());
    if (node.times > 0) all.groups.push_back({at, length, node.times});
    auto& first = all.phases[at].settings;
    first.insert(first.begin(), node.before.begin(), node.before.end());
  }
  return all;
}

/// Where a step stands: in which list, and at which place of it.
struct Found {
  Nodes* list = nullptr;
  size_t at = 0;
};

Found findStep(Nodes& nodes, size_t& step) {
  for (size_t i = 0; i < nodes.size(); ++i) {
    if (nodes[i].times == 0) {
      if (step == 0) return {&nodes, i};
      --step;
    } else if (const Found found = findStep(nodes[i].inner, step); found.list != nullptr) {
      return found;
    }
  }
  return {};
}

void dropEmpty(Nodes& nodes) {
  for (Node& node : nodes) dropEmpty(node.inner);
  std::erase_if(nodes, [](const Node& node) { return node.times > 0 && node.inner.empty(); });
}

Nodes nodesOf(const Procedure& procedure) {
  return nodesOf(procedure, 0, procedure.phases.size(), procedure.groups.size(), 0);
}

template <typename Change>
Result<Procedure> changed(const Procedure& procedure, size_t step, Change change) {
  Nodes nodes = nodesOf(procedure);
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
  return changed(procedure, step, [](Nodes& list, std::ptrdiff_t at) { list.erase(list.begin() + at); });
}

Result<Procedure> withStepMoved(const Procedure& procedure, size_t step, bool isLater) {
  return changed(procedure, step, [&](Nodes& list, std::ptrdiff_t at) {
    const std::ptrdiff_t to = at + (isLater ? 1 : -1);
    if (to >= 0 && to < static_cast<std::ptrdiff_t>(list.size()))
      std::swap(list[static_cast<size_t>(at)], list[static_cast<size_t>(to)]);
  });
}

Result<Procedure> withStepBehind(const Procedure& procedure, size_t step, const Phase& added) {
  return changed(procedure, step, [&](Nodes& list, std::ptrdiff_t at) {
    Node node;
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
