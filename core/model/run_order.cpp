// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/run_order.h"

#include <algorithm>
#include <map>

#include "model/condition_field.h"
#include "model/knob_condition.h"

namespace ash {
namespace {

// Fields that nobody changes by hand between two runs.
bool isAboutMoney(const std::string& field) {
  return field == fields::kPrice || field == fields::kCurrency || field == fields::kNote;
}

// Knobs of the machine that the setup's conditions name; those of a person's own need a hand.
bool isTurnedByRun(const std::string& field, const Json& value, bool turnsPowerLimit) {
  if (field == kPowerLimitField) return turnsPowerLimit;
  if (field != kKnobsField || !value.is_object()) return isKnobId(field);
  return std::all_of(value.items().begin(), value.items().end(), [](const auto& one) { return isKnobId(one.key()); });
}

}  // namespace

bool countsAsDone(Outcome outcome) {
  return ranWhole(outcome) || outcome == Outcome::StoppedByRule || outcome == Outcome::MachineWentDown;
}

std::vector<CellPlace> cellPlaces(const std::vector<Outcome>& runs, int repeats) {
  std::vector<CellPlace> places;
  const auto planned = static_cast<size_t>(std::max(1, repeats));
  std::vector<std::string> toReplace;
  size_t done = 0;
  for (size_t i = 0; i < runs.size(); ++i) {
    std::string label = std::to_string(i + 1);
    if (i >= planned && !toReplace.empty()) {
      label = toReplace.front() + "b";
      toReplace.erase(toReplace.begin());
    }
    places.push_back({label, i});
    if (runs[i] != Outcome::Running && !countsAsDone(runs[i])) toReplace.push_back(label);
    done += countsAsDone(runs[i]) || runs[i] == Outcome::Running;
  }
  for (; done < planned; ++done) {
    const size_t next = places.size();
    if (next < planned || toReplace.empty()) {
      places.push_back({std::to_string(next + 1), std::nullopt});
    } else {
      places.push_back({toReplace.front() + "b", std::nullopt});
      toReplace.erase(toReplace.begin());
    }
  }
  return places;
}

std::vector<PlannedRun> runsToDo(const Study& study, int repeats, const std::vector<RunSummary>& runs) {
  std::map<std::pair<std::string, std::string>, int> done;
  for (const RunSummary& run : runs) {
    const bool counts = countsAsDone(run.info.outcome) || run.info.outcome == Outcome::Running;
    if (run.info.study == study.name && counts) ++done[{run.info.setup, run.info.load}];
  }
  std::vector<PlannedRun> order;
  for (int repeat = 1; repeat <= repeats; ++repeat) {
    std::vector<const Setup*> setups;
    for (const Setup& setup : study.setups) setups.push_back(&setup);
    if (repeat % 2 == 0) std::reverse(setups.begin(), setups.end());
    for (const Setup* setup : setups) {
      for (const Load& load : study.loads) {
        if (done[{setup->name, load.name}] < repeat) order.push_back({setup->name, load.name, repeat});
      }
    }
  }
  return order;
}

std::vector<PlannedRun> withoutDecided(std::vector<PlannedRun> toDo, const std::vector<DecidedCell>& decided) {
  std::erase_if(toDo, [&](const PlannedRun& run) {
    return std::find(decided.begin(), decided.end(), DecidedCell{run.setup, run.load}) != decided.end();
  });
  return toDo;
}

std::vector<std::string> changesByHand(const Setup* from, const Setup& to, bool turnsPowerLimit) {
  if (from != nullptr && from->name == to.name) return {};
  if (const auto own = to.parts.find("by_hand"); own != to.parts.end() && own->is_string())
    return {own->get<std::string>()};
  std::vector<std::string> changes;
  for (const Json* part : {&to.parts, &to.conditions}) {
    const Json* before = from == nullptr ? nullptr : part == &to.parts ? &from->parts : &from->conditions;
    for (const auto& [field, value] : part->items()) {
      const bool isSame = before != nullptr && before->value(field, Json()) == value;
      if (!isSame && !isAboutMoney(field) && !isTurnedByRun(field, value, turnsPowerLimit))
        changes.push_back(fieldTitle(field) + ": " + fieldText(field, value));
    }
  }
  return changes;
}

}  // namespace ash
