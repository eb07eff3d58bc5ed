// SPDX-License-Identifier: GPL-3.0-or-later
// What a reader must know of a run: something else that worked beside the load.
#include <catch2/catch.hpp>

#include "analysis/analyze.h"

using namespace ash;

namespace {

// Ten minutes: two of rest, eight of load at 90 W and 100 % of the processor, of which `other` is somebody else's.
RunLog makeRun(double other) {
  RunLog run;
  run.name = "run";
  Channel temp{"cpu.temp", Quantity::Temperature, "°C", {}, "cpu.temp", 0};
  Channel power{"cpu.power", Quantity::Power, "W", {}, "cpu.power", 0};
  Channel rest{"cpu.load.other", Quantity::Percent, "%", {}, "cpu.load.other", 0};
  for (int s = 0; s < 600; ++s) {
    const bool isLoaded = s >= 120;
    run.log.timeS.push_back(s);
    temp.values.push_back(isLoaded ? 80 : 40);
    power.values.push_back(isLoaded ? 90 : 10);
    rest.values.push_back(isLoaded ? other : 1);
  }
  run.log.channels = {temp, power, rest};
  run.facts.phases = {{PhaseKind::Idle, 0, 120, true}, {PhaseKind::Soak, 120, 600, true}};
  return run;
}

const Problem* findBackground(const Figures& figures) {
  for (const Problem& problem : figures.problems) {
    if (problem.kind == ProblemKind::BackgroundLoad) return &problem;
  }
  return nullptr;
}

}  // namespace

TEST_CASE("whatElseTookTheProcessorUnderLoadIsAProblem") {
  const Figures busy = analyzeRun(makeRun(12));
  const Problem* problem = findBackground(busy);
  REQUIRE(problem != nullptr);
  CHECK(problem->text ==
        "Something else took 12 % of the processor while it was under load: close it and repeat the run.");
  CHECK(problem->channel == "cpu.load.other");
  CHECK(problem->startS == 120);
  const Figures quiet = analyzeRun(makeRun(2));
  CHECK(findBackground(quiet) == nullptr);
}
