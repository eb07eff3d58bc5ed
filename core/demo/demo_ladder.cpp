// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/demo_ladder.h"

#include <fmt/format.h>

#include "demo/studio_clock.h"
#include "ladder/climb.h"
#include "model/study_plan.h"
#include "runner/planned_run.h"
#include "runner/sim_bench.h"

namespace ash {
namespace {

constexpr char kStudy[] = "How low can the mixing box go?", kBench[] = "larch12", kLoad[] = "All cores";

Study studyOf(const LadderAsk& ask) {
  StudyPlan plan;
  plan.repeats = 1;
  plan.phases = phasesText({{ask.rest, ask.hold}});
  plan.held = {{"room_c", 22.0, 1.0}, {"fan_duty", 60, 1}, {"panel", "mesh", kMissing}};
  plan.underTest = {"power_limit_w"};
  plan.figure = "work_per_joule";
  plan.bench = kBench;
  Study study;
  study.name = kStudy;
  study.question = "What is the lowest power limit at which the mixing box still does three quarters of its work?";
  study.plan = planToJson(plan);
  study.setups = {{ask.setup,
                   {{"cooler", "Teasel"}},
                   {{"fan_mode", "fixed"}, {"fan_duty", 60}, {"power_limit_w", 105}, {"panel", "mesh"}}}};
  study.loads = {{kLoad, {{"kind", "vector"}, {"threads", 0}, {"duty", 100}}}};
  return study;
}

LadderAsk askOf() {
  LadderAsk ask;
  ask.study = kStudy;
  ask.setup = "Mixing box";
  ask.load = kLoad;
  ask.knob = "cpu.power.limit";
  ask.unit = "W";
  ask.from = 105;
  ask.to = 45;
  ask.step = 10;
  ask.until = {OfFirst{"work.rate", true, 75}};
  ask.rest = {PhaseKind::Cool, EndsBelow{40, 60, 1200}};
  ask.hold = {PhaseKind::Soak, EndsAfter{900}};
  ask.confirmS = 1800;
  ask.bench = {{"sim", kBench}, {"seed", 1}};
  return ask;
}

// Records a step, and advances the studio's clock by it.
Status record(const std::string& bookPath, const LadderRun& run, StudioClock& clock) {
  const auto place = findPlace(bookPath, kStudy, run.setup, run.load);
  if (!place) return place.error();
  auto spec = sim::loadBench(kBench, run.setup, place->conditions);
  if (!spec) return spec.error();
  const auto procedure = parsePhases(run.phases);
  if (!procedure) return procedure.error();
  auto load = loadFromJson(run.load, place->loadSpec);
  if (!load) return load.error();
  const uint64_t seed = 4001 + run.number;
  varyMounting(*spec, seed);
  SimRunBench bench({std::move(*spec), kBench, seed}, kAsFastAsItGoes);
  RunPlan plan;
  plan.bookPath = bookPath;
  plan.runId = run.runId;
  plan.study = kStudy;
  plan.setup = run.setup;
  plan.loadName = run.load;
  plan.load = std::move(*load);
  plan.started = clock.text();
  plan.procedure = *procedure;
  if (Status arranged = arrangeKnobs(place->conditions, plan, bench); !arranged) return arranged;
  RunRecorder recorder(std::move(plan), bench);
  double lastS = 0;
  const auto result = recorder.run([&](const RunProgress& now) { lastS = now.timeS; });
  if (!result) return result.error();
  clock.advance(lastS + 60);
  return {};
}

}  // namespace

Status recordDemoLadder(const std::string& bookPath, const std::function<void()>& onRun) {
  StudioClock clock("2026-10-13T10:00:00+02:00");
  const LadderAsk ask = askOf();
  {
    auto book = Book::open(bookPath, BookAccess::ReadWrite);
    if (!book) return book.error();
    if (auto kept = book->putStudy({}, studyOf(ask)); !kept) return kept.error();
  }
  auto ladder = beginLadder(bookPath, ask, "low", clock.text());
  if (!ladder) return ladder.error();
  int count = 0;
  LadderHands hands;
  hands.newId = [&] { return fmt::format("low-{:02}", ++count); };
  hands.tell = [](const Ladder&) {};
  hands.isAsked = [] { return false; };
  hands.carryOut = [&](const LadderRun& run) -> Status {
    Status done = record(bookPath, run, clock);
    if (done) onRun();
    return done;
  };
  const auto climbed = climb(bookPath, std::move(*ladder), hands);
  return climbed ? Status() : climbed.error();
}

}  // namespace ash
