// SPDX-License-Identifier: GPL-3.0-or-later
// Ladders on the simulated bench: what carries a step out, and the model's own answer, found by brute force.
#pragma once

#include <deque>

#include "book/book.h"
#include "ladder/climb.h"
#include "ladder/search.h"
#include "runner/planned_run.h"
#include "runner/run_recorder.h"
#include "runner/sim_bench.h"

namespace ash::tests {

/// A ladder of power limits on larch12 until heat holds the clock.
inline LadderAsk powerLadder(const std::string& setup, double from, double to, double step) {
  LadderAsk ask;
  ask.study = "How far?";
  ask.setup = setup;
  ask.load = "vector";
  ask.knob = "cpu.power.limit";
  ask.unit = "W";
  ask.from = from;
  ask.to = to;
  ask.step = step;
  ask.until = {*parseLadderRule("throttled > 2% of 60s")};
  ask.rest = {PhaseKind::Idle, EndsAfter{60}};
  ask.hold = {PhaseKind::Soak, EndsAfter{600}};
  return ask;
}

/// Keeps the ladder's setup with conditions under which its limit lies within the range.
inline Status keepSetup(const std::string& bookPath, const std::string& setup, const Json& conditions) {
  auto book = Book::openOrCreate(bookPath);
  if (!book) return book.error();
  Study study;
  study.name = "How far?";
  study.setups = {{setup, Json::object(), conditions}};
  const auto kept = book->putStudy({}, study);
  return kept ? Status() : kept.error();
}

/// Slow fans and a warm room: each of the bench's setups with what makes its limit an inner one.
inline const std::vector<std::pair<std::string, Json>>& warmSetups() {
  static const std::vector<std::pair<std::string, Json>> kAll = {{"Solid", {{"fan_duty", 40}, {"room_c", 28}}},
                                                                 {"Mesh", {{"fan_duty", 25}, {"room_c", 32}}},
                                                                 {"Plover", {{"fan_duty", 45}, {"room_c", 30}}}};
  return kAll;
}

/// Records each step on a bench of its own, as `ashg ladder` does by `ashg run`.
inline LadderHands simHands(const std::string& bookPath, uint64_t seed, double& benchS) {
  LadderHands hands;
  hands.isAsked = [] { return false; };
  hands.tell = [](const Ladder&) {};
  hands.carryOut = [=, &benchS](const LadderRun& run) -> Status {
    const auto place = findPlace(bookPath, "How far?", run.setup, run.load);
    if (!place) return place.error();
    SimRunBench bench({*sim::loadBench("larch12", run.setup, place->conditions), "larch12", seed + run.number}, 1e9);
    RunPlan plan;
    plan.bookPath = bookPath;
    plan.runId = run.runId;
    plan.study = "How far?";
    plan.setup = run.setup;
    plan.procedure = *parsePhases(run.phases);
    plan.intervalS = 1;
    for (const std::string& rule : run.rules) plan.rules.push_back(*parseStopRule(rule));
    if (Status arranged = arrangeKnobs(place->conditions, plan, bench); !arranged) return arranged;
    RunRecorder recorder(std::move(plan), bench);
    const auto result = recorder.run([](const RunProgress&) {});
    if (!result) return result.error();
    const auto kept = Book::open(bookPath, BookAccess::ReadOnly)->run(run.runId);
    if (kept) benchS += kept->lastSampleS;
    return {};
  };
  return hands;
}

/// The highest limit (W) of a grid that heat does not hold back in ten minutes from a rest of one: the model is asked
/// for every one of them, without recorder, noise of sensors, or rule. More than 2 % of a minute are too much.
inline std::optional<double> highestByForce(const std::string& setup, const Json& conditions, double from, double to,
                                            double step) {
  std::optional<double> best;
  for (double watts = from; watts <= to + 1e-9; watts += step) {
    Json now = conditions;
    now["power_limit_w"] = watts;
    sim::Bench bench(*sim::loadBench("larch12", setup, now), 1);
    bench.advanceTo(60);
    bench.setLoad("vector", 1);
    std::deque<double> heldS;
    double most = 0;
    for (int t = 61; t <= 660; ++t) {
      bench.advanceTo(t);
      heldS.push_back(bench.heatS(0));
      if (heldS.size() > 61) heldS.pop_front();
      most = std::max(most, (heldS.back() - heldS.front()) / 60);
    }
    if (most > 0.02) return best;
    best = watts;
  }
  return best;
}

}  // namespace ash::tests
