// SPDX-License-Identifier: GPL-3.0-or-later
// How a simulated device is set bounds its clock: expected clocks are worked out by hand from larch12 (1200 to 5100
// MHz, without a stated base clock three quarters of the highest: 3825 MHz).
#include <catch2/catch.hpp>

#include "sim/bench.h"

using namespace ash;
using namespace ash::sim;

namespace {

// No limit of power or heat holds this processor: only its rules do.
Bench freeBench() {
  BenchSpec spec = *loadBench("larch12", "mesh");
  spec.devices[0].sustainedW = 0;
  spec.devices[0].throttleC = 1000;
  return Bench(spec, 1);
}

double clockUnderLoad(const ClockRules& rules) {
  Bench bench = freeBench();
  bench.setClockRules(0, rules);
  bench.setLoad("vector", 1);
  bench.advanceTo(1);
  return bench.clockMhz(0);
}

double clockAtRest(const ClockRules& rules) {
  Bench bench = freeBench();
  bench.setClockRules(0, rules);
  bench.advanceTo(1);
  return bench.clockMhz(0);
}

}  // namespace

TEST_CASE("boostGovernorAndPreferenceBoundTheClock") {
  ClockRules rules;
  CHECK(clockUnderLoad(rules) == 5100);
  CHECK(clockAtRest(rules) == 1200);
  SECTION("boost") {
    rules.mayBoost = false;
    CHECK(clockUnderLoad(rules) == 3825);
  }
  SECTION("preference") {
    rules.preference = Preference::BalancePower;
    CHECK(clockUnderLoad(rules) == 4462.5);
    rules.preference = Preference::Power;
    CHECK(clockUnderLoad(rules) == 3825);
  }
  SECTION("governor") {
    rules.governor = Governor::Performance;
    CHECK(clockAtRest(rules) == 5100);
    rules.governor = Governor::Powersave;
    CHECK(clockUnderLoad(rules) == 1200);
    CHECK(clockAtRest(rules) == 1200);
  }
  SECTION("highest and lowest") {
    rules.mostMhz = 3000;
    rules.leastMhz = 2000;
    CHECK(clockUnderLoad(rules) == 3000);
    CHECK(clockAtRest(rules) == 2000);
    rules.governor = Governor::Powersave;
    CHECK(clockUnderLoad(rules) == 2000);
    // What lies beyond the processor's own range is that range's end.
    rules.leastMhz = 100;
    CHECK(clockUnderLoad(rules) == 1200);
  }
}

TEST_CASE("aLowestClockHoldsNoHeatAndNoPowerBack") {
  BenchSpec spec = *loadBench("larch12", "mesh");
  Bench bench(spec, 1);
  ClockRules rules;
  rules.leastMhz = 5000;
  bench.setClockRules(0, rules);
  bench.setLoad("vector", 1);
  bench.advanceTo(300);
  CHECK(bench.clockMhz(0) < 5000);
  CHECK(bench.powerW(0) == Approx(88).margin(0.1));
}

TEST_CASE("theShortLimitIsHeldForAMomentAndBoundsTheSustainedOne") {
  Bench bench(*loadBench("larch12", "mesh"), 1);
  bench.setShortLimit(0, 100);
  bench.setLoad("vector", 1);
  bench.advanceTo(5);
  CHECK(bench.powerW(0) == Approx(100).margin(0.5));
  bench.advanceTo(300);
  CHECK(bench.powerW(0) == Approx(88).margin(0.1));
  bench.setShortLimit(0, 60);
  bench.advanceTo(400);
  CHECK(bench.powerW(0) == Approx(60).margin(0.1));
}

TEST_CASE("aBaseClockIsReadAndKeptWithinTheRange") {
  const std::string text = shippedBenchText("wren");
  const auto stated = [&](const std::string& base) {
    std::string changed = text;
    changed.replace(changed.find("\"min_mhz\""), 0, "\"base_mhz\": " + base + ", ");
    return parseBench(changed, "", "wren.json");
  };
  REQUIRE(stated("1800"));
  CHECK(stated("1800")->devices[0].baseMhz == 1800);
  CHECK(parseBench(text, "", "wren.json")->devices[0].baseMhz == Approx(0.75 * stated("1800")->devices[0].maxMhz));
  const auto refused = stated("99999");
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message.find("base_mhz") != std::string::npos);
}
