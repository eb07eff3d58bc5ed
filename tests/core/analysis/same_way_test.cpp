// SPDX-License-Identifier: GPL-3.0-or-later
// One task done by the processor and by the graphics: held against each other by time, power and energy, and not by
// temperatures of what worked in one of them only.
#include "analysis/comparison/same_way.h"

#include <algorithm>
#include <catch2/catch.hpp>

#include "analysis/decision/decision.h"
#include "tests/support/made_runs.h"

using namespace ash;
using namespace ash::tests;

namespace {

AnalyzedRun mixdown(const std::string& setup, int number, const Json& spec, DeviceKind worked, double seconds,
                    double cpuK, double gpuK) {
  AnalyzedRun run = madeRun(setup + std::to_string(number), setup, cpuK + 0.05 * number);
  addOverRoom(run, "gpu.temp", gpuK + 0.05 * number);
  addOverRoom(run, "case.temp", 9 + 0.05 * number);
  addMean(run, "cpu.power", Quantity::Power, worked == DeviceKind::Cpu ? 88 + number : 22 + number, 0.1);
  run.run.facts.load = "Mixdown";
  run.run.facts.loadSpec = spec;
  run.run.facts.work = RunFacts::Work{900, "", seconds + number};
  run.figures.worked = worked;
  return run;
}

std::vector<AnalyzedRun> bothWays(const Json& first, const Json& second) {
  std::vector<AnalyzedRun> runs;
  for (int i = 0; i < 3; ++i) runs.push_back(mixdown("Cores", i, first, DeviceKind::Cpu, 600, 44, 8));
  for (int i = 0; i < 3; ++i) runs.push_back(mixdown("Card", i, second, DeviceKind::Gpu, 200, 12, 41));
  return runs;
}

const Json kCores = {{"kind", "integer"}, {"work", 900}}, kCard = {{"kind", "graphics"}, {"work", 900}};

const ComparisonCheck* checkOf(const Comparison& comparison, CheckKind kind) {
  const auto found = std::find_if(comparison.checks.begin(), comparison.checks.end(),
                                  [&](const ComparisonCheck& check) { return check.kind == kind; });
  return found == comparison.checks.end() ? nullptr : &*found;
}

}  // namespace

TEST_CASE("temperaturesOfAPartThatWorkedInOneWayOnlyAreNotCompared") {
  const Comparison comparison = *compareRuns(bothWays(kCores, kCard), {});
  const ComparisonRow& card = comparison.rows[1];
  CHECK(card.metrics.at("cpu.over_ambient_k").verdict == Verdict::NotComparable);
  CHECK(card.metrics.at("gpu.over_ambient_k").verdict == Verdict::NotComparable);
  CHECK(card.metrics.at("cpu.over_ambient_k").reason ==
        "The graphics did the work here, the processor there: the heat goes another way.");
  // What all the heat goes into, what it took, and what it cost.
  CHECK(card.metrics.at("case.over_ambient_k").verdict != Verdict::NotComparable);
  CHECK(card.metrics.at("task_s").verdict == Verdict::Better);
  CHECK(card.metrics.at("task_s").ratio == Approx(201.0 / 601.0));
  CHECK(card.metrics.at("cpu.power").verdict == Verdict::Lower);
  CHECK(card.way == "graphics");
  CHECK(card.referenceWay == "integer");
  const ComparisonCheck* told = checkOf(comparison, CheckKind::Load);
  REQUIRE(told != nullptr);
  CHECK(told->severity == Severity::Info);
  CHECK(
      told->text ==
      "Mixdown was carried out in two ways: integer and graphics; that both do the same task is the study's own word.");
}

// A round of the one is no frame of the other: rates of work are not compared, and whether both are one task is the
// word of whoever gave them one name, whatever their numbers are.
TEST_CASE("unitsOfWorkOfTwoKindsAreNotTheSame") {
  std::vector<AnalyzedRun> runs = bothWays(kCores, {{"kind", "graphics"}, {"work", 40}});
  for (AnalyzedRun& run : runs) {
    if (run.run.facts.setup == "Card") run.run.facts.work->units = 40;
    addMean(run, "work.rate", Quantity::Rate, run.run.facts.setup == "Card" ? 0.2 : 1.5, 0.001);
    run.figures.efficiency.workPerJoule = run.run.facts.setup == "Card" ? 0.01 : 0.02;
    run.figures.efficiency.powerRole = "cpu.power";
  }
  const Comparison comparison = *compareRuns(runs, {});
  const ComparisonRow& card = comparison.rows[1];
  CHECK(card.metrics.at("task_s").verdict == Verdict::Better);
  CHECK(card.metrics.at("work.rate").verdict == Verdict::NotComparable);
  CHECK(card.metrics.at("work_per_joule").verdict == Verdict::NotComparable);
  CHECK(card.metrics.at("work.rate").reason ==
        "A unit of work of graphics is none of integer: compare time and energy.");
  CHECK(card.way == "graphics, work 40");
  CHECK(checkOf(comparison, CheckKind::Load)->severity == Severity::Info);
  // One of them did not come to the end of its task.
  for (AnalyzedRun& run : runs) {
    if (run.run.facts.setup == "Card") run.run.facts.work.reset();
  }
  CHECK(checkOf(*compareRuns(runs, {}), CheckKind::Load)->severity == Severity::Warn);
  // Of one kind the numbers decide.
  runs = bothWays({{"kind", "integer"}, {"work", 900}}, {{"kind", "integer"}, {"work", 1800}});
  for (AnalyzedRun& run : runs) {
    if (run.run.facts.setup == "Card") run.run.facts.work->units = 1800;
  }
  CHECK(checkOf(*compareRuns(runs, {}), CheckKind::Load)->severity == Severity::Warn);
}

TEST_CASE("theSameWayIsComparedInAll") {
  std::vector<AnalyzedRun> runs = bothWays(kCores, kCores);
  const Comparison comparison = *compareRuns(runs, {});
  CHECK(comparison.rows[1].metrics.at("cpu.over_ambient_k").verdict == Verdict::Better);
  CHECK(comparison.rows[1].way.empty());
  CHECK(checkOf(comparison, CheckKind::Load) == nullptr);
  // What was not kept of an older run is not told apart.
  for (AnalyzedRun& run : runs) run.run.facts.loadSpec = Json::object();
  CHECK(compareRuns(runs, {})->rows[1].way.empty());
}

TEST_CASE("twoWaysWithoutEqualWorkAreWarnedOf") {
  std::vector<AnalyzedRun> runs = bothWays({{"kind", "vector"}, {"threads", 8}}, {{"kind", "vector"}, {"threads", 6}});
  for (AnalyzedRun& run : runs) {
    run.run.facts.work.reset();
    run.figures.worked = DeviceKind::Cpu;
  }
  const Comparison comparison = *compareRuns(runs, {});
  const ComparisonCheck* told = checkOf(comparison, CheckKind::Load);
  REQUIRE(told != nullptr);
  CHECK(told->severity == Severity::Warn);
  CHECK(told->text ==
        "Mixdown was carried out in two ways: vector, threads 8 and vector, threads 6; no equal work is known, so only "
        "rates can be held against each other.");
  // One part did both: its temperatures are compared.
  CHECK(comparison.rows[1].metrics.at("cpu.over_ambient_k").verdict == Verdict::Better);
}

TEST_CASE("aStudyOfTwoWaysLeadsWithTheTime") {
  const std::vector<AnalyzedRun> runs = bothWays(kCores, kCard);
  std::vector<const AnalyzedRun*> all;
  for (const AnalyzedRun& run : runs) all.push_back(&run);
  CHECK(leadingFigure(StudyPlan(), all, *compareRuns(runs, {})) == Figure(FigureId::TaskTime));
  const std::vector<AnalyzedRun> alike = bothWays(kCores, kCores);
  all.clear();
  for (const AnalyzedRun& run : alike) all.push_back(&run);
  CHECK(leadingFigure(StudyPlan(), all, *compareRuns(alike, {})) == Figure("cpu.over_ambient_k"));
}

TEST_CASE("aLongLineIsTakenInAFewWords") {
  AnalyzedRun a =
      mixdown("a", 1, {{"kind", "command"}, {"command", "render " + std::string(80, 'x')}}, DeviceKind::Cpu, 1, 1, 1);
  const AnalyzedRun b = mixdown("b", 1, kCores, DeviceKind::Cpu, 1, 1, 1);
  CHECK(wayText(a, b) == "render " + std::string(53, 'x') + "…");
  a.run.facts.loadSpec["command"] = std::string(59, 'x') + "é…";
  CHECK(wayText(a, b) == std::string(59, 'x') + "…");
}
