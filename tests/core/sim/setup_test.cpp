// SPDX-License-Identifier: GPL-3.0-or-later
// Which setup of a bench is meant, and what stated conditions change on it.
#include <catch2/catch.hpp>

#include "sim/bench_spec.h"

using namespace ash;

TEST_CASE("aSetupIsFoundByKeyByTitleAndByWhatIsStated") {
  const Json setups = {{"mesh", {{"title", "Mesh"}, {"conditions", {{"panel", "mesh"}}}}},
                       {"solid", {{"conditions", {{"panel", "solid"}}}}}};
  CHECK(sim::setupOnBench(setups, "mesh", {}) == "mesh");
  CHECK(sim::setupOnBench(setups, "Mesh", {}) == "mesh");
  CHECK(sim::setupOnBench(setups, "Mesh, copy", {{"panel", "mesh"}, {"fan_duty", 80}}) == "mesh");
  CHECK(sim::setupOnBench(setups, "cardboard", {{"panel", "cardboard"}}).empty());
  CHECK(sim::setupOnBench(setups, "cardboard", {}).empty());
}

TEST_CASE("statedFanDutyAndPowerLimitAreFollowed") {
  const auto plain = sim::loadBench("larch12", "solid");
  const auto changed =
      sim::loadBench("larch12", "solid", {{"panel", "solid"}, {"fan_duty", 90}, {"power_limit_w", 44}});
  REQUIRE(plain);
  REQUIRE(changed);
  for (const sim::FanSpec& fan : changed->fans) CHECK(fan.fixedDutyPercent == 90);
  CHECK(changed->devices[0].sustainedW == 44);
  // The short limit keeps its distance: 120 W over 88 W.
  CHECK(changed->devices[0].shortW == Approx(44.0 * 120 / 88));
  CHECK(changed->conditions["fan_duty"] == 90);
  // What is stated as the bench has it anyway changes nothing.
  const auto same = sim::loadBench("larch12", "solid", plain->conditions);
  for (size_t i = 0; i < plain->fans.size(); ++i)
    CHECK(same->fans[i].fixedDutyPercent == plain->fans[i].fixedDutyPercent);
}
