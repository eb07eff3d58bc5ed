// SPDX-License-Identifier: GPL-3.0-or-later
// The forecast of settling while a simulated bench warms up: where it was, how wide its interval, how often it held the
// truth. Usage: forecast_path [BENCH SETUP]
#include <fmt/format.h>

#include <cmath>

#include "runner/settling_watch.h"
#include "sim/bench.h"

using namespace ash;

namespace {

struct Soak {
  const char* bench;
  const char* setup;
  double lengthS;
};

void follow(const Soak& soak, bool isLoud, int& held, int& asked, double& error) {
  auto spec = *sim::loadBench(soak.bench, soak.setup);
  spec.room.driftK = 0;
  for (unsigned seed = 1; seed <= (isLoud ? 1u : 6u); ++seed) {
    sim::Bench bench(spec, seed);
    bench.setLoad("vector", 1);
    auto ahead = bench;
    ahead.advanceTo(40 * soak.lengthS);
    const double truth = ahead.nodeC(0) - ahead.roomC();
    SettlingWatch watch(SettlingWatch::Settings{spec.sensors.at(0).step, {}, 10, 0});
    int next = 1;
    for (double t = 0.5; t <= soak.lengthS; t += 0.5) {
      bench.advanceTo(t);
      watch.take({t, bench.sense(0), bench.roomC(), bench.powerW(0)});
      const SettlingVerdict& now = watch.verdict();
      const double finalC = truth + bench.roomC();
      if (isLoud && std::fmod(t, soak.lengthS / 25) < 0.5) {
        fmt::print(
            "{:6.0f} s  {:.2f} [{:.2f} {:.2f}] for {:.2f}, left {:.2f} for {:.2f}, settled {}, taus {:.0f}, {:.1f} W\n",
            t, now.forecast, now.forecastLow, now.forecastHigh, finalC, now.remainingK, finalC - bench.nodeC(0),
            now.isSettled, fmt::join(now.timeConstantsS, " "), bench.powerW(0));
      }
      if (t < next * soak.lengthS / 4 || next > 3) continue;
      ++next;
      ++asked;
      held += now.forecastLow - 0.1 <= finalC && finalC <= now.forecastHigh + 0.1;
      error += std::abs(now.forecast - finalC);
      if (!isLoud && !(now.forecastLow - 0.1 <= finalC && finalC <= now.forecastHigh + 0.1))
        fmt::print("  {} {} seed {} at {:.0f} s: {:.2f} [{:.2f} {:.2f}] for {:.2f}\n", soak.bench, soak.setup, seed, t,
                   now.forecast, now.forecastLow, now.forecastHigh, finalC);
    }
  }
}

}  // namespace

int main(int count, char** arguments) {
  int held = 0, asked = 0;
  double error = 0;
  if (count > 2) {
    follow({arguments[1], arguments[2], count > 3 ? std::atof(arguments[3]) : 2400.0}, true, held, asked, error);
  } else {
    for (const Soak& soak :
         {Soak{"larch12", "solid", 1800}, Soak{"larch12", "mesh", 1800}, Soak{"larch12", "mesh-filter", 1800},
          Soak{"larch12", "teasel", 1800}, Soak{"larch12", "plover", 1800}, Soak{"wren", "", 5400}}) {
      if (!sim::loadBench(soak.bench, soak.setup)) {
        fmt::print("no {} {}\n", soak.bench, soak.setup);
        continue;
      }
      follow(soak, false, held, asked, error);
    }
  }
  fmt::print("held {} of {}, mean error {:.2f} K\n", held, asked, error / std::max(1, asked));
}
