// SPDX-License-Identifier: GPL-3.0-or-later
// A repeat apart from its siblings: pointed at where a mount was bad, not where repeats merely scatter.
#include <catch2/catch.hpp>
#include <random>

#include "tests/support/made_runs.h"

using namespace ash;
using namespace ash::tests;

namespace {

struct Studies {
  int setups = 3, repeats = 3;
  double sd = 0.3;
  double badByK = 0;  // of one repeat of the second setup
};

// The share of 500 studies in which something is pointed at, and in which it is the bad one.
std::pair<double, double> pointedAt(const Studies& kind, std::mt19937_64& random) {
  constexpr int kStudies = 500;
  std::normal_distribution<double> scatter(0, kind.sd);
  int any = 0, right = 0;
  for (int study = 0; study < kStudies; ++study) {
    std::vector<AnalyzedRun> runs;
    const int bad = std::uniform_int_distribution<int>(0, kind.repeats - 1)(random);
    for (int setup = 0; setup < kind.setups; ++setup) {
      for (int repeat = 0; repeat < kind.repeats; ++repeat) {
        const double more = setup == 1 && repeat == bad ? kind.badByK : 0;
        const std::string name = "s" + std::to_string(setup);
        runs.push_back(madeRun(name + "-" + std::to_string(repeat), name, 50 - 4 * setup + more + scatter(random)));
        runs.back().run.facts.conditions["mount"] = repeat;  // each was mounted anew
      }
    }
    CompareOptions options;
    options.metrics = {"cpu.over_ambient_k"};
    bool isAny = false, isRight = false;
    const Comparison comparison = *compareRuns(runs, options);
    for (const ComparisonCheck& check : comparison.checks) {
      if (check.kind != CheckKind::Remount && check.kind != CheckKind::Repeat) continue;
      isAny = true;
      isRight |= check.between.front() == "s1-" + std::to_string(bad);
    }
    any += isAny;
    right += isRight;
  }
  return {double(any) / kStudies, double(right) / kStudies};
}

}  // namespace

TEST_CASE("honestRepeatsAreSeldomPointedAt") {
  std::mt19937_64 random(10);
  for (const int repeats : {2, 3, 5}) {
    for (const double sd : {0.1, 0.25, 0.5, 0.8}) {
      const auto [any, right] = pointedAt({3, repeats, sd, 0}, random);
      CAPTURE(repeats, sd, any);
      // 3 % asked for; three standard errors of 500 studies are 2.3 %.
      CHECK(any <= 0.03 + 0.023);
    }
  }
}

TEST_CASE("aBadMountIsFoundAmongHonestOnes") {
  // A contact of 0.1 K/W at 88 W that is worse by 30 % makes 2.6 K, by half 4.4 K.
  std::mt19937_64 random(11);
  for (const int repeats : {3, 4}) {
    for (const double sd : {0.1, 0.25}) {
      const auto [any, right] = pointedAt({3, repeats, sd, 2.6}, random);
      CAPTURE(repeats, sd, any, right);
      CHECK(right >= 0.9);
    }
    const auto [any, right] = pointedAt({2, repeats, 0.35, 4.4}, random);
    CAPTURE(repeats, any, right);
    CHECK(right >= 0.9);
  }
}
