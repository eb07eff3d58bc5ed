// SPDX-License-Identifier: GPL-3.0-or-later
// Soaks that end when they have settled, recorded on simulated benches whose end is known: how far the truth was when
// they ended, how often they ended by themselves, how long they took, and whether the analysis of the same run agrees.
// Usage: soak_rounds [SEEDS [BENCH [STEP [INTERVAL]]]]
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <map>

#include "analysis/analyze.h"
#include "book/book.h"
#include "runner/run_recorder.h"
#include "runner/sim_bench.h"
#include "sim/bench.h"

using namespace ash;

namespace {

namespace fs = std::filesystem;

struct Node {
  double jPerK, wPerK;  // to the next; the last one to the room
};

/// A chain of masses from the die to the room, under a device that draws `sustainedW` and for a while `shortW`.
struct BenchKind {
  const char* name;
  std::vector<Node> chain;
  double sustainedW, shortW;
  double noiseK;
  double driftK, rampKPerH;
};

const std::vector<BenchKind>& benchKinds() {
  static const std::vector<BenchKind> kinds = {
      {"quick cooler", {{14, 4.4}, {120, 3.5}}, 88, 120, 0.2, 0, 0},
      {"quick, no boost", {{14, 4.4}, {250, 4.0}}, 88, 88, 0.2, 0.25, 0},
      {"two stages", {{14, 4.4}, {340, 4.0}, {1500, 4.5}}, 88, 120, 0.2, 0.25, 0},
      {"heavy sink", {{14, 4.4}, {2600, 3.2}}, 65, 88, 0.1, 0.25, 0},
      {"heavy sink, calm", {{14, 4.4}, {2600, 3.2}}, 65, 88, 0, 0, 0},
      {"heavy coolant", {{20, 5.0}, {200, 8.0}, {4200, 7.0}}, 120, 160, 0.3, 0.25, 0.4},
      {"slow case", {{14, 4.4}, {340, 4.5}, {60, 9.0}, {9000, 9.0}}, 88, 120, 0.2, 0, 0},
      {"fanless", {{8, 1.5}, {900, 0.62}}, 15, 25, 0, 0, 0.3},
      {"fanless, twice the metal", {{8, 1.5}, {1800, 0.62}}, 15, 25, 0, 0, 0.3},
      {"fanless, noisy", {{8, 1.5}, {600, 0.5}}, 15, 15, 0.3, 0.3, 0},
      {"graphics card", {{40, 7.0}, {420, 5.0}, {700, 7.0}}, 140, 170, 0, 0.25, 0},
      {"small drive", {{30, 0.9}, {70, 0.35}}, 6, 6, 0.1, 0.25, 0},
      {"warm room", {{14, 4.4}, {340, 4.0}, {1500, 4.5}}, 88, 120, 0.2, 0, 1.5},
  };
  return kinds;
}

sim::BenchSpec specOf(const BenchKind& kind, double stepK) {
  Json bench = {{"bench", 1}, {"name", kind.name}, {"about", ""}, {"step_s", 0.1}, {"control_s", 0.1}};
  bench["room"] = {
      {"start_c", 22}, {"ramp_k_per_h", kind.rampKPerH}, {"drift_k", kind.driftK}, {"drift_period_s", 5400}};
  const double idleW = kind.sustainedW / 10;
  double above = 0;
  for (size_t i = kind.chain.size(); i-- > 0;) {
    above += idleW / kind.chain[i].wPerK;
    const std::string name = fmt::format("n{}", i);
    bench["nodes"][name] = {{"j_per_k", kind.chain[i].jPerK}, {"start_above_room_k", above}};
    const std::string next = i + 1 == kind.chain.size() ? "room" : fmt::format("n{}", i + 1);
    bench["links"]["l" + name] = {{"between", {name, next}}, {"w_per_k", kind.chain[i].wPerK}};
  }
  bench["devices"]["cpu"] = {{"node", "n0"},
                             {"units", 4},
                             {"min_mhz", 400},
                             {"max_mhz", 4000},
                             {"volts_at_mhz", {{400, 0.6}, {4000, 1.2}}},
                             {"w_per_ghz_v2", kind.sustainedW / 14},
                             {"idle_w", idleW},
                             {"leak_w", kind.sustainedW / 20},
                             {"leak_at_c", 60},
                             {"leak_k", 50},
                             {"throttle_c", 110},
                             {"critical_c", 120},
                             {"sustained_w", kind.sustainedW},
                             {"short_w", kind.shortW},
                             {"power_window_s", 28}};
  bench["loads"]["vector"]["cpu"] = 1.0;
  bench["sensors"]["cpu.temp"] = {
      {"of", "temp"}, {"node", "n0"}, {"lag_s", 0.4}, {"step", stepK}, {"noise", kind.noiseK}};
  bench["sensors"]["cpu.power"] = {{"of", "power"}, {"device", "cpu"}, {"step", 0.01}, {"noise", 0.1}};
  bench["sensors"]["cpu.clock"] = {{"of", "clock"}, {"device", "cpu"}, {"step", 1}, {"noise", 5}};
  bench["sensors"]["room.temp"] = {{"of", "room"}, {"lag_s", 20}, {"step", 0.1}, {"noise", 0.03}};
  auto spec = sim::parseBench(bench.dump(), "", kind.name);
  if (!spec) {
    fmt::print(stderr, "{}\n", spec.error().message);
    std::exit(1);
  }
  return std::move(*spec);
}

/// Where it ends over a room that stays, and when under load half a kelvin is left.
struct TrueEnd {
  double overRoomK = 0, halfKelvinS = 0;
};

TrueEnd trueEnd(sim::BenchSpec spec) {
  spec.room.driftK = spec.room.rampKPerH = 0;
  sim::Bench ahead(spec, 1);
  ahead.setLoad("vector", 1);
  std::vector<double> path;
  for (double t = 60; t <= 40 * 3600; t += 60) {
    ahead.advanceTo(t);
    path.push_back(ahead.nodeC(static_cast<size_t>(spec.devices[0].node)));
  }
  TrueEnd end{path.back() - ahead.roomC(), 0};
  for (size_t i = path.size(); i-- > 0;) {
    if (std::abs(path[i] - path.back()) < 0.5) continue;
    end.halfKelvinS = 60 * static_cast<double>(i + 2);
    break;
  }
  return end;
}

struct Ended {
  bool byItself = false, isSettled = false;  // the recorder's word, the analysis' word
  double soakS = 0, missingK = 0, forecast = kMissing, low = kMissing, high = kMissing, finalC = kMissing;
};

Ended recordOne(const BenchKind& kind, double stepK, double intervalS, unsigned seed, const TrueEnd& end,
                const fs::path& folder) {
  const std::string book = (folder / "soak.ashbook").string();
  for (const char* tail : {"", "-wal", "-shm"}) fs::remove(book + tail);
  RunPlan plan;
  plan.bookPath = book;
  plan.study = "s";
  plan.setup = "x";
  plan.intervalS = intervalS;
  plan.procedure = *parsePhases("idle 5min, soak settled 5min..240min, measure 10min, cool 1min");
  const sim::BenchSpec spec = specOf(kind, stepK);
  SimRunBench bench({spec, kind.name, seed}, 1e6);
  RunRecorder recorder(plan, bench);
  const auto result = recorder.run([](const RunProgress&) {});
  if (!result) {
    fmt::print(stderr, "{}\n", result.error().message);
    std::exit(1);
  }
  const RunLog log = *Book::open(book, BookAccess::ReadOnly)->readRun(result->runId);
  Ended ended;
  double startS = 0, endS = 0;
  for (const PhaseSpan& phase : log.facts.phases) {
    if (phase.kind != PhaseKind::Soak) continue;
    startS = phase.startS;
    endS = phase.endS;
  }
  for (const Event& event : log.facts.events) {
    if (event.text.find("ended: settled") != std::string::npos) ended.byItself = true;
  }
  ended.soakS = endS - startS;
  sim::Bench again(spec, seed);
  again.advanceTo(startS);
  again.setLoad("vector", 1);
  again.advanceTo(endS);
  ended.finalC = end.overRoomK + again.roomC();
  ended.missingK = ended.finalC - again.nodeC(static_cast<size_t>(spec.devices[0].node));
  const Figures figures = analyzeRun(log);
  if (const auto* channel = figures.channel("cpu.temp"); channel != nullptr && channel->settled) {
    ended.isSettled = channel->settled->isSettled;
    ended.forecast = channel->settled->forecast;
    ended.low = channel->settled->forecastLow;
    ended.high = channel->settled->forecastHigh;
  }
  return ended;
}

struct Tally {
  int runs = 0, ended = 0, wrong = 0, torn = 0, unsettled = 0, held = 0;
  double minutes = 0, needed = 0;
  void add(const Ended& run, double stepK, const TrueEnd& end) {
    ++runs;
    ended += run.byItself;
    wrong += run.byItself && std::abs(run.missingK) > 0.7 * std::max(1.0, stepK);
    torn += run.byItself && !run.isSettled;
    unsettled += !run.isSettled && std::abs(run.missingK) < 0.3;
    held += run.low - 0.1 <= run.finalC && run.finalC <= run.high + 0.1;
    minutes += run.soakS / 60;
    needed += end.halfKelvinS / 60;
  }
  void print(const std::string& name) const {
    fmt::print(
        "{:26} {:3} runs: ended by itself {:3}, wrong {:2}, torn {:2}, settled but not said {:2}, forecast held {:3}, "
        "minutes {:5.1f} (half a kelvin left after {:5.1f})\n",
        name, runs, ended, wrong, torn, unsettled, held, minutes / std::max(1, runs), needed / std::max(1, runs));
    std::fflush(stdout);
  }
};

}  // namespace

int main(int count, char** arguments) {
  const int seeds = count > 1 ? std::atoi(arguments[1]) : 1;
  const std::string only = count > 2 ? arguments[2] : "";
  const double onlyStep = count > 3 ? std::atof(arguments[3]) : 0;
  const double onlyInterval = count > 4 ? std::atof(arguments[4]) : 0;
  const bool isLoud = !only.empty();
  const fs::path folder = fs::temp_directory_path() / fmt::format("soak_rounds.{}", ::getpid());
  fs::create_directories(folder);
  ::setenv("XDG_RUNTIME_DIR", folder.c_str(), 1);
  Tally all;
  std::map<std::string, Tally> by;
  for (const BenchKind& kind : benchKinds()) {
    if (isLoud && kind.name != only) continue;
    const TrueEnd end = trueEnd(specOf(kind, 0));
    Tally own;
    for (const double step : {0.125, 0.5, 1.0}) {
      for (const double interval : {0.1, 0.5, 2.0, 10.0}) {
        if ((onlyStep > 0 && step != onlyStep) || (onlyInterval > 0 && interval != onlyInterval)) continue;
        for (int seed = 1; seed <= (interval < 0.5 ? (seeds + 3) / 4 : seeds); ++seed) {
          const Ended run = recordOne(kind, step, interval, static_cast<unsigned>(seed), end, folder);
          for (Tally* tally :
               {&all, &own, &by[fmt::format("step {} K", step)], &by[fmt::format("every {} s", interval)]})
            tally->add(run, step, end);
          if (isLoud)
            fmt::print(
                "step {} every {} s seed {}: {} after {:.1f} min, {:+.2f} K to go; analysis {} {:.2f} [{:.2f} {:.2f}] "
                "for {:.2f}\n",
                step, interval, seed, run.byItself ? "settled" : "time up", run.soakS / 60, run.missingK,
                run.isSettled ? "settled" : "not settled", run.forecast, run.low, run.high, run.finalC);
        }
      }
    }
    own.print(kind.name);
  }
  for (const auto& [name, tally] : by) tally.print(name);
  all.print("all");
  fs::remove_all(folder);
}
