// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/ladder_knob.h"

#include <fmt/format.h>

#include <algorithm>

#include "helper/hands.h"
#include "model/knob_condition.h"
#include "model/text.h"
#include "runner/planned_run.h"
#include "runner/sim_knobs.h"
#include "sim/bench_spec.h"

namespace ash {

Result<std::vector<Knob>> knobsFor(const std::string& bookPath, const LadderAsk& ask) {
  const std::string sim = valueIn(ask.bench, "sim", "");
  if (sim.empty()) return knobsHere(valueIn(ask.bench, "root", ""));
  const auto place = findPlace(bookPath, ask.study, ask.setup, ask.load);
  if (!place) return place.error();
  auto spec = sim::loadBench(sim, ask.setup, place->conditions);
  if (!spec) return spec.error();
  return knobsOf(sim::Bench(std::move(*spec), 1));
}

Result<std::vector<Knob>> knobsOfSetup(const Setup& setup, const std::string& sim, const std::string& root) {
  if (sim.empty()) return knobsHere(root);
  Json conditions = setup.conditions;
  for (const KnobCondition& one : knobConditions(setup.conditions)) conditions.erase(one.field);
  auto spec = sim::loadBench(sim, setup.name, conditions);
  if (!spec) return spec.error();
  return knobsOf(sim::Bench(std::move(*spec), 1));
}

Status checkLadderKnob(const std::string& bookPath, LadderAsk& ask) {
  if (!isKnobId(ask.knob)) {
    ask.unit = ownKnob(ask.knob).unit;
    if (isOwnKnob(ask.knob) && isUtf8(ask.knob) && withoutControls(ask.knob) == ask.knob) return {};
    return Error::badInput(fmt::format(
        "There is no knob \"{}\"; `ashg knobs` lists them, and one that you turn by hand is written \"name, unit\".",
        withoutControls(asUtf8(ask.knob))));
  }
  const auto knobs = knobsFor(bookPath, ask);
  if (!knobs) return knobs.error();
  const auto knob = std::find_if(knobs->begin(), knobs->end(), [&](const Knob& one) { return one.id == ask.knob; });
  if (knob == knobs->end())
    return Error::badInput(fmt::format("There is no knob \"{}\" here; `ashg knobs` lists them.", ask.knob));
  if (!knob->isTurnable()) return Error::environment(knob->whyNot);
  if (!knob->isNumber())
    return Error::badInput(fmt::format("{} takes words and no numbers; a ladder needs steps.", ask.knob));
  ask.unit = knob->unit;
  for (const double value : {ask.from, ask.to}) {
    if (const auto target = targetOf(*knob, fmt::format("{}", value)); !target) return target.error();
  }
  return {};
}

}  // namespace ash
