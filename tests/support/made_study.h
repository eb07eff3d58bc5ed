// SPDX-License-Identifier: GPL-3.0-or-later
// A study whose truth is known by formula: setups that differ in what they do with 80 W.
#pragma once

#include <fmt/format.h>

#include <functional>
#include <string>
#include <vector>

#include "analysis/analyze.h"
#include "tests/support/known_logs.h"
#include "tests/support/made_report.h"

namespace ash::tests {

struct Made {
  const char* setup;
  double overRoomK = 50;
  Json conditions = Json::object();
  double noiseDba = kMissing, watts = 80;
  int repeats = 1;
  double scatterK = 0.2;  ///< between repeats, either way
  double tauS = 40;
  std::function<void(LogMaker&)> more = nullptr;  ///< what else is in the log
};

// 80 W over a room of 22 °C, a limit of 95 °C: 50 K over room are 0.625 K/W, and 45 °C the hottest room.
inline AnalyzedRun madeRunOf(const Made& made, int repeat) {
  WarmUp warm;
  warm.restK = 8;
  warm.riseK = made.overRoomK - warm.restK + made.scatterK * (repeat - (made.repeats - 1) / 2.0);
  warm.tauS = made.tauS;
  warm.noiseK = 0.02;
  LogMaker maker(900, 1);
  maker.add("cpu.temp", warm.function()).add("room.temp", [](double) { return 22.0; });
  maker.add("cpu.power", [&](double t) { return t < 60 ? 10.0 : made.watts; });
  if (std::isfinite(made.noiseDba)) maker.add("noise", [&](double) { return made.noiseDba; });
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 600).phase(PhaseKind::Measure, 600, 900);
  if (made.more) made.more(maker);
  maker.run.name = fmt::format("{}-{}", made.setup, repeat + 1);
  maker.run.facts.setup = made.setup;
  maker.run.facts.load = "All cores";
  maker.run.facts.conditions = made.conditions;
  maker.run.facts.limits["cpu.temp"]["throttle"] = 95;
  AnalyzedRun run{maker.run, {}};
  run.figures = analyzeRun(run.run);
  return run;
}

inline StudyReport madeStudy(const std::vector<Made>& all, const StudyPlan& plan) {
  Study study;
  study.name = "Made";
  study.loads = {{"All cores", Json::object()}};
  std::vector<AnalyzedRun> runs;
  for (const Made& made : all) {
    study.setups.push_back({made.setup, Json::object(), made.conditions, Json::object()});
    for (int repeat = 0; repeat < made.repeats; ++repeat) runs.push_back(madeRunOf(made, repeat));
  }
  return madeReport(study, plan, runs);
}

}  // namespace ash::tests
