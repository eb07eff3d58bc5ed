// SPDX-License-Identifier: GPL-3.0-or-later
// Ladders of power limits on the simulated bench against the model's own answer, found by brute force: three setups, so
// many seeds, by steps and by halves, and the bench's time that each took against walking every step.
// ladder_rounds [SEEDS] [STEP in W]
#include <fmt/format.h>

#include <cstdlib>

#include "tests/support/sim_ladder.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

struct Round {
  double held = kMissing, benchS = 0;
  size_t runs = 0;
};

Result<Round> climbed(const std::string& setup, const Json& conditions, double step, LadderSearch search,
                      uint64_t seed) {
  const TempFolder place;
  const std::string book = place.path("b.ashbook");
  if (Status kept = keepSetup(book, setup, conditions); !kept) return kept.error();
  LadderAsk ask = powerLadder(setup, 60, 120, step);
  ask.search = search;
  auto ladder = beginLadder(book, ask);
  if (!ladder) return ladder.error();
  Round round;
  const auto done = climb(book, *ladder, simHands(book, seed, round.benchS));
  if (!done) return done.error();
  if (const auto holds = boundsOf(*done).holds) round.held = ask.valueAt(*holds);
  round.runs = done->steps.size();
  return round;
}

}  // namespace

int main(int argc, char** argv) {
  const TempFolder folders;
  setenv("XDG_RUNTIME_DIR", folders.path().c_str(), 1);
  setenv("XDG_CONFIG_HOME", folders.path().c_str(), 1);
  const int seeds = argc > 1 ? std::atoi(argv[1]) : 5;
  const double step = argc > 2 ? std::atof(argv[2]) : 5;
  int within = 0, all = 0;
  double benchS[2] = {0, 0};
  for (const auto& [setup, conditions] : warmSetups()) {
    const auto byForce = highestByForce(setup, conditions, 60, 120, step);
    fmt::print("{}: by force {} W\n", setup, byForce.value_or(kMissing));
    for (int seed = 1; seed <= seeds; ++seed) {
      for (const LadderSearch search : {LadderSearch::Steps, LadderSearch::Halving}) {
        const auto round = climbed(setup, conditions, step, search, static_cast<uint64_t>(seed) * 1000);
        if (!round) {
          fmt::print("{}\n", round.error().message);
          return 1;
        }
        const bool isHit = byForce && std::abs(round->held - *byForce) <= step + 1e-9;
        within += isHit;
        ++all;
        benchS[search == LadderSearch::Halving ? 1 : 0] += round->benchS;
        fmt::print("  seed {} {}: {} W in {} runs, {:.0f} min{}\n", seed, ladderSearchText(search), round->held,
                   round->runs, round->benchS / 60, isHit ? "" : "  MISSED");
      }
    }
  }
  const double everyStepS = 3 * seeds * ((120 - 60) / step + 1) * 660;
  fmt::print("within a step: {} of {}; time against every step: by steps {:.2f}, by halves {:.2f}\n", within, all,
             benchS[0] / everyStepS, benchS[1] / everyStepS);
  return within == all ? 0 : 1;
}
