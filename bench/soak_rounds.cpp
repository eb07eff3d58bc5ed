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
#include "bench/made_benches.h"
#include "book/book.h"
#include "runner/run_recorder.h"
#include "runner/sim_bench.h"
#include "sim/bench.h"

using namespace ash;

namespace {

namespace fs = std::filesystem;

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
