// SPDX-License-Identifier: GPL-3.0-or-later
// Many logs with known truth through the whole analysis: how often each figure is right. Usage: truth_rounds [ROUNDS]
// [SCENARIO [SEED]]
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <map>

#include "analysis/analyze.h"
#include "tests/support/truth_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

struct Tally {
  int asked = 0, right = 0;
  void add(bool isRight) {
    ++asked;
    right += isRight;
  }
};

struct Sheet {
  std::map<std::string, Tally> checks;
  std::vector<double> width, error, milliseconds;
  bool isLoud = false;
  void check(const std::string& name, bool isRight, const std::string& told) {
    checks[name].add(isRight);
    if (isLoud && !isRight) fmt::print("    {}: {}\n", name, told);
  }
};

// Held at its limit: what it delivers settles.
void judgeHeld(const Truth& truth, const SettlingVerdict& verdict, Sheet& sheet) {
  sheet.check("held is told", !verdict.held.empty(), "");
  if (verdict.held.empty() || std::isnan(truth.heldW)) return;
  const HeldForecast& power = verdict.held.front();
  const std::string told =
      fmt::format("{} {:.2f} [{:.2f} {:.2f}] for {:.2f}; left {:.2f} % for {:.2f} %, worst {:.2f}", power.channel,
                  power.value, power.low, power.high, truth.heldW, power.remainingPercent, truth.heldRemainingPercent,
                  verdict.worstRemainingPercent);
  sheet.check("held near", std::abs(power.value / truth.heldW - 1) < 0.015, told);
  if (std::abs(truth.heldRemainingPercent) < 0.2) sheet.check("held settled", verdict.isSettled, told);
  if (truth.heldRemainingPercent > 0.8) sheet.check("held not settled", !verdict.isSettled, told);
}

void judge(const TruthLog& made, Sheet& sheet) {
  const auto begin = std::chrono::steady_clock::now();
  const Figures figures = analyzeRun(made.run);
  const std::chrono::duration<double, std::milli> took = std::chrono::steady_clock::now() - begin;
  sheet.milliseconds.push_back(took.count());
  const Truth& truth = made.truth;
  std::map<std::string, int> kinds;
  for (const Problem& problem : figures.problems) ++kinds[std::string(problem.kind.text())];
  for (const char* kind : {"spike", "gap"})
    sheet.check(kind, (kinds[kind] > 0) == (truth.planted.count(kind) > 0), fmt::format("{} found", kinds[kind]));
  for (const char* kind :
       {"stuck", "excursion", "saturated", "unit_suspected", "sources_disagree", "fan_moved", "missing_room"})
    sheet.check("false problem", kinds[kind] == 0 || truth.planted.count(kind) > 0, kind);
  const bool isRoomMoving = truth.planted.count("room_moved") > 0;
  if (truth.hasLoad) {
    if (truth.planted.count("room_moved a little") == 0)
      sheet.check("room_moved", (kinds["room_moved"] > 0) == isRoomMoving, "");
    sheet.check("started_warm", (kinds["started_warm"] > 0) == (truth.planted.count("started_warm") > 0),
                fmt::format("idle {} load {} warm {}", truth.loadStartS, truth.loadEndS - truth.loadStartS,
                            kinds["started_warm"]));
    sheet.check("background_load", (kinds["background_load"] > 0) == (truth.planted.count("background_load") > 0), "");
    sheet.check("short_run", (kinds["short_run"] > 0) == (truth.loadEndS - truth.loadStartS < 60), "");
  }
  sheet.check("load or none", figures.load.has_value() == truth.hasLoad, "");
  if (!figures.load || !truth.hasLoad) return;
  const double interval = figures.intervalS;
  sheet.check("load start", std::abs(figures.load->startS - truth.loadStartS) <= 2 * interval,
              fmt::format("{} for {}", figures.load->startS, truth.loadStartS));
  sheet.check("load end", std::abs(figures.load->endS - truth.loadEndS) <= 2 * interval,
              fmt::format("{} for {}", figures.load->endS, truth.loadEndS));
  const auto* channel = figures.channel("cpu.temp");
  if (channel == nullptr || !channel->settled) return;
  const SettlingVerdict& verdict = *channel->settled;
  const double within = std::max(0.5, channel->step);
  const double left = std::max(std::abs(truth.remainingK), std::abs(truth.trendK));
  const std::string told = fmt::format(
      "forecast {:.2f} [{:.2f} {:.2f}] for {:.2f}; left {:.2f} for {:.2f}, trend {:.2f}; taus {:.0f} for {:.0f}; load "
      "{:.0f} s, step {}, interval {}",
      verdict.forecast, verdict.forecastLow, verdict.forecastHigh, truth.finalC, verdict.remainingK, truth.remainingK,
      truth.trendK, fmt::join(verdict.timeConstantsS, " "), fmt::join(truth.tausS, " "), figures.load->lengthS(),
      channel->step, interval);
  if (truth.isGoverned) {
    judgeHeld(truth, verdict, sheet);
  } else {
    if (left < 0.4 * within) sheet.check("settled", verdict.isSettled, told);
    if (left > 1.6 * within) sheet.check("not settled", !verdict.isSettled, told);
  }
  const double slack = 0.1 + channel->step / 2;
  sheet.check("forecast inside",
              verdict.forecastLow - slack <= truth.finalC && truth.finalC <= verdict.forecastHigh + slack, told);
  sheet.check("forecast near",
              std::abs(verdict.forecast - truth.finalC) <= std::max(1.0, 0.25 * std::abs(truth.remainingK)) + slack,
              told);
  sheet.width.push_back(verdict.forecastHigh - verdict.forecastLow);
  sheet.error.push_back(std::abs(verdict.forecast - truth.finalC));
  if (!truth.isGoverned && truth.remainingK < 0.3 * within && !verdict.timeConstantsS.empty()) {
    const double slow = verdict.timeConstantsS.back();
    sheet.check("slow tau", std::abs(slow / truth.tausS.back() - 1) < 0.25, told);
  }
  if (std::isfinite(truth.settledAtS) && verdict.isSettled && !truth.isGoverned && left < 0.4 * within &&
      channel->step < 0.5) {
    const double tolerance = std::max({0.25 * (truth.settledAtS - truth.loadStartS), 4 * interval, 10.0});
    sheet.check("settled at", std::abs(verdict.atS - truth.settledAtS) <= tolerance,
                fmt::format("{:.0f} for {:.0f}; {}", verdict.atS, truth.settledAtS, told));
  }
}

double middle(std::vector<double> values) {
  if (values.empty()) return 0;
  std::nth_element(values.begin(), values.begin() + long(values.size() / 2), values.end());
  return values[values.size() / 2];
}

}  // namespace

int main(int count, char** arguments) {
  const int rounds = count > 1 ? std::atoi(arguments[1]) : 60;
  const std::string only = count > 2 ? arguments[2] : "";
  Tally all;
  for (const std::string& scenario : truthScenarios()) {
    if (!only.empty() && only != scenario) continue;
    Sheet sheet;
    sheet.isLoud = !only.empty();
    for (int seed = 1; seed <= rounds; ++seed) {
      if (count > 3 && seed != std::atoi(arguments[3])) continue;
      if (sheet.isLoud) fmt::print("  {}\n", seed);
      judge(makeTruthLog(scenario, static_cast<unsigned>(seed)), sheet);
    }
    fmt::print("{:16} width {:.2f} K, error {:.2f} K, {:.1f} ms;", scenario, middle(sheet.width), middle(sheet.error),
               middle(sheet.milliseconds));
    for (const auto& [name, tally] : sheet.checks) {
      all.asked += tally.asked;
      all.right += tally.right;
      if (tally.right < tally.asked) fmt::print(" {} {}/{};", name, tally.right, tally.asked);
    }
    fmt::print("\n");
  }
  fmt::print("all: {} of {}, {:.2f} %\n", all.right, all.asked, 100.0 * all.right / std::max(1, all.asked));
}
