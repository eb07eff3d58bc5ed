// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated bench against closed forms.
#include <catch2/catch.hpp>
#include <cmath>

#include "sim/bench.h"
#include "sim/noise.h"
#include "sim/sim_source.h"

using namespace ash;
using namespace ash::sim;

namespace {

/// One node of capacity C, one link of G to a room at 20 °C, a device of constant power: no leakage, no limits.
BenchSpec oneNode(double capacity, double conductance, double watts, double stepS) {
  const std::string text = R"({"bench":1,"name":"one","step_s":)" + std::to_string(stepS) + R"(,"room":{"start_c":20},
    "nodes":{"n":{"j_per_k":)" +
                           std::to_string(capacity) + R"(}},
    "links":{"l":{"between":["n","room"],"w_per_k":)" +
                           std::to_string(conductance) + R"(}},
    "devices":{"cpu":{"node":"n","min_mhz":1000,"max_mhz":1000,"volts_at_mhz":[[1000,1.0]],"w_per_ghz_v2":)" +
                           std::to_string(watts) + R"(}},
    "loads":{"vector":{"cpu":1}}, "sensors":{"cpu.temp":{"of":"temp","node":"n"}}})";
  auto spec = parseBench(text, "", "test");
  REQUIRE(spec);
  return *spec;
}

BenchSpec quietLarch(double stepS, double throttleC) {
  auto spec = loadBench("larch12", "solid");
  REQUIRE(spec);
  spec->stepS = stepS;
  for (DeviceSpec& device : spec->devices) device.throttleC = throttleC;
  for (SensorSpec& sensor : spec->sensors) sensor.noiseSd = 0;
  return *spec;
}

double imbalance(const Bench& bench) {
  const EnergyBalance energy = bench.energy();
  return std::abs(energy.inJ - energy.toRoomJ - energy.storedJ) / energy.inJ;
}

}  // namespace

TEST_CASE("oneNodeFollowsItsStepResponse") {
  // T(t) = T_room + P/G · (1 − exp(−t·G/C))
  Bench bench(oneNode(200, 2, 50, 0.1), 1);
  bench.setLoad("vector", 1);
  for (const double t : {10.0, 100.0, 250.0, 1000.0}) {
    bench.advanceTo(t);
    CHECK(bench.nodeC(0) == Approx(20 + 25 * (1 - std::exp(-t / 100))).margin(1e-5));
  }
}

TEST_CASE("stiffNodesStayStable") {
  // A time constant of 1 ms under a step of 100 ms: the step must be cut by itself.
  Bench bench(oneNode(0.002, 2, 50, 0.1), 1);
  bench.setLoad("vector", 1);
  bench.advanceTo(5);
  CHECK(bench.nodeC(0) == Approx(45).margin(1e-6));
}

TEST_CASE("energyIsConserved") {
  for (const char* load : {"vector", "mixed"}) {
    Bench bench(*loadBench("larch12", "mesh"), 7);
    bench.advanceTo(60);
    bench.setLoad(load, 1);
    bench.advanceTo(1500);
    bench.clearLoad();
    bench.advanceTo(1800);
    INFO(load);
    CHECK(imbalance(bench) < 1e-9);
    CHECK(bench.energy().inJ > 1e5);
  }
}

TEST_CASE("halvingTheStepChangesNoTemperature") {
  Bench coarse(quietLarch(0.1, 500), 1), fine(quietLarch(0.05, 500), 1);
  for (Bench* bench : {&coarse, &fine}) bench->setLoad("mixed", 1);
  double worst = 0;
  for (double t = 10; t <= 1800; t += 10) {
    coarse.advanceTo(t);
    fine.advanceTo(t);
    for (size_t n = 0; n < coarse.spec().nodes.size(); ++n)
      worst = std::max(worst, std::abs(coarse.nodeC(n) - fine.nodeC(n)));
  }
  CHECK(worst < 0.05);
}

TEST_CASE("underThrottlingTheMeansOverManyCyclesAgree") {
  Bench coarse(quietLarch(0.1, 80), 1), fine(quietLarch(0.05, 80), 1);
  double meanCoarse = 0, meanFine = 0;
  int count = 0;
  for (Bench* bench : {&coarse, &fine}) bench->setLoad("mixed", 1);
  for (double t = 0.1; t <= 3000; t += 0.1) {
    coarse.advanceTo(t);
    fine.advanceTo(t);
    if (t < 1800) continue;
    meanCoarse += coarse.nodeC(0);
    meanFine += fine.nodeC(0);
    ++count;
  }
  CHECK(meanCoarse / count == Approx(meanFine / count).margin(0.05));
  CHECK(coarse.heldBy(0) == HeldBy::Heat);
  // The governor holds the die between its limit and its hysteresis below it.
  CHECK(meanCoarse / count < 80.5);
  CHECK(meanCoarse / count > 78);
}

TEST_CASE("samplesDependOnTheSeedAndNotOnHowTimeIsCut") {
  const auto spec = *loadBench("larch12", "solid");
  Bench one(spec, 5), other(spec, 5), third(spec, 6);
  for (Bench* bench : {&one, &other, &third}) bench->setLoad("vector", 1);
  SimSource first(one), second(other), differs(third);
  one.advanceTo(100);
  for (double t = 0; t <= 100; t += 0.3) other.advanceTo(t);
  other.advanceTo(100);
  third.advanceTo(100);
  CHECK(first.sweep().values == second.sweep().values);
  CHECK(first.sweep().values != differs.sweep().values);
}

TEST_CASE("theSustainedPowerLimitIsHeldAfterTheBoost") {
  Bench bench(*loadBench("larch12", "mesh"), 1);
  bench.advanceTo(60);
  bench.setLoad("vector", 1);
  bench.advanceTo(65);
  CHECK(bench.powerW(0) == Approx(120).margin(0.5));
  bench.advanceTo(300);
  CHECK(bench.powerW(0) == Approx(88).margin(0.1));
  CHECK(bench.heldBy(0) == HeldBy::Power);
}

TEST_CASE("aSecondFanOfTheSameLevelAddsThreeDecibel") {
  auto spec = *loadBench("larch12", "solid");
  spec.noiseFloorDba = -100;
  for (FanSpec& fan : spec.fans) {
    fan.fixedDutyPercent = 100;
    fan.noiseAtMaxDba = 40;
  }
  CHECK(Bench(spec, 1).noiseDba() == Approx(40 + 10 * std::log10(2.0)).margin(1e-6));
  // Half the speed: 50 log10(0.5) = −15.05 dB.
  spec.fans[1].noiseAtMaxDba = 0;
  spec.fans[0].fixedDutyPercent = 50;
  CHECK(Bench(spec, 1).noiseDba() == Approx(40 - 15.0515).margin(1e-3));
}

TEST_CASE("aFanCurveFollowsItsNodeWithHysteresis") {
  auto spec = oneNode(10, 2, 50, 0.05);
  FanSpec fan;
  fan.name = "f";
  fan.maxRpm = 2000;
  fan.curveNode = 0;
  fan.dutyCurve.points = {{30, 30}, {40, 80}};
  spec.fans.push_back(fan);
  Bench bench(spec, 1);
  CHECK(bench.fanDutyPercent(0) == Approx(30));
  bench.setLoad("vector", 1);
  bench.advanceTo(200);  // settles at 45 °C
  CHECK(bench.fanDutyPercent(0) == Approx(80));
  CHECK(bench.fanRpm(0) == Approx(1600).margin(1));
}

TEST_CASE("noiseHasMeanZeroAndUnitVariance") {
  double sum = 0, squares = 0;
  const int n = 20000;
  for (int i = 0; i < n; ++i) {
    const double x = normalNoise(3, 1, static_cast<uint64_t>(i));
    sum += x;
    squares += x * x;
  }
  CHECK(sum / n == Approx(0).margin(0.03));
  CHECK(squares / n == Approx(1).margin(0.05));
}

TEST_CASE("aWrongBenchIsRefusedWithItsField") {
  const auto message = [](const std::string& text) {
    const auto spec = parseBench(text, "", "b.json");
    return spec ? std::string("accepted") : spec.error().message;
  };
  CHECK(message("[]").find("b.json is no JSON object") == 0);
  CHECK(message(R"({"bench":2,"nodes":{}})").find("\"bench\" must be 1") != std::string::npos);
  CHECK(message(R"({"bench":1,"name":"x","nodes":{"n":{"j_per_k":-1}}})").find("nodes.n.j_per_k") != std::string::npos);
  CHECK(message(R"({"bench":1,"name":"x","nodes":{"n":{"j_per_k":1}},"links":{"l":{"between":["n","attic"]}}})")
            .find("links.l.between") != std::string::npos);
  CHECK(loadBench("no such bench", "").error().message.find("larch12") != std::string::npos);
  // A part of another kind is refused, not passed over: nobody would see that the bench has the usual room.
  const auto larch = [](const std::string& key, const Json& value) {
    Json bench = Json::parse(shippedBenchText("larch12"));
    bench[key] = value;
    return bench.dump();
  };
  CHECK(message(larch("name", "mine")) == "accepted");
  CHECK(message(larch("room", nullptr)) == "accepted");
  for (const char* part : {"room", "wall", "conditions"}) {
    CHECK(message(larch(part, "warm")) ==
          std::string("b.json: \"") + part + "\" must be an object. See docs/bench-format.md.");
  }
  CHECK(message(larch("room", {{"start_c", "warm"}})).find("\"room.start_c\" must be a number") != std::string::npos);
  CHECK(message(larch("fans", Json::array())).find("\"fans\" must be an object with") != std::string::npos);
  CHECK(message(larch("about", 7)).find("\"about\" must be a text") != std::string::npos);
}

TEST_CASE("aSetupPatchesTheBench") {
  const auto solid = *loadBench("larch12", "solid");
  const auto mesh = *loadBench("larch12", "mesh");
  CHECK(mesh.knowsSetup);
  CHECK_FALSE(loadBench("larch12", "unheard of")->knowsSetup);
  CHECK(mesh.conditions["panel"] == "mesh");
  Bench a(solid, 1), b(mesh, 1);
  for (Bench* bench : {&a, &b}) {
    bench->setLoad("vector", 1);
    bench->advanceTo(1200);
  }
  CHECK(b.nodeC(0) < a.nodeC(0) - 3);
}
