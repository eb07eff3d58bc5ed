// SPDX-License-Identifier: GPL-3.0-or-later
// projection_rounds [BENCHES] [FIRST SEED]: runs on drawn benches, carried over to another room, power or fan speed and
// held against where the bench really ends: how often within the interval, and how often it throttled by the chance
// told.
#include <fmt/format.h>

#include <array>
#include <cmath>
#include <cstdlib>

#include "analysis/analyze.h"
#include "tests/support/projection_bench.h"

namespace {

using namespace ash;
using namespace ash::tests;

struct Covered {
  int asked = 0, inside = 0;
  double half = 0;
  void add(const Estimate& told, double truth) {
    ++asked;
    inside += told.low <= truth && truth <= told.high;
    half += (told.high - told.low) / 2;
  }
  void tell(const char* what, const char* unit) const {
    fmt::print("{:<28} {} of {} within, {:.1f} %; half an interval {:.2f} {} on average\n", what, inside, asked,
               100.0 * inside / std::max(asked, 1), half / std::max(asked, 1), unit);
  }
};

struct Chance {
  int asked = 0, held = 0;
  double told = 0;
};

struct Tally {
  Covered temperature, room, power, fan, clock;
  std::array<Chance, 5> chances;
  int untold = 0;

  void judge(unsigned seed) {
    DrawnBench bench(seed);
    const RunLog run = bench.run();
    const ProjectionQuestion asked = bench.question();
    const auto all = projectRun(run, analyzeRun(run), asked);
    if (all.empty()) {
      ++untold;
      return;
    }
    const Projection& told = all[0];
    const DrawnBench::Truth truth = bench.truth(asked);
    temperature.add(told.temperatureC, truth.freeC);
    (asked.fanRpm ? fan : asked.powerW ? power : room).add(told.temperatureC, truth.freeC);
    if (truth.isHeld && told.heldMhz) clock.add(*told.heldMhz, truth.mhz);
    Chance& chance = chances[std::min<size_t>(4, static_cast<size_t>(*told.throttleChance * 5))];
    ++chance.asked;
    chance.held += truth.isHeld;
    chance.told += *told.throttleChance;
  }
};

}  // namespace

int main(int argc, char** argv) {
  const int benches = argc > 1 ? std::atoi(argv[1]) : 400;
  const int first = argc > 2 ? std::atoi(argv[2]) : 10000;
  Tally tally;
  for (int i = 0; i < benches; ++i) tally.judge(static_cast<unsigned>(first + i));
  tally.temperature.tell("temperature", "K");
  tally.room.tell("  another room", "K");
  tally.power.tell("  another power", "K");
  tally.fan.tell("  another fan speed", "K");
  tally.clock.tell("clock held at the limit", "MHz");
  for (const Chance& chance : tally.chances) {
    if (chance.asked > 0)
      fmt::print("told {:.2f}: throttled in {} of {}\n", chance.told / chance.asked, chance.held, chance.asked);
  }
  if (tally.untold > 0) fmt::print("{} not projected\n", tally.untold);
  return 0;
}
