// SPDX-License-Identifier: GPL-3.0-or-later
// A stand-in machine and a simulated bench offer every knob that their devices have, and turning one acts on both
// alike.
#include <algorithm>
#include <catch2/catch.hpp>

#include "knobs/find_knobs.h"
#include "knobs/turner.h"
#include "runner/sim_knobs.h"
#include "sim/stand_in_machine.h"
#include "tests/support/temp_folder.h"

using namespace ash;

namespace {

// The ids of the list in docs/knobs.md, as far as larch12 has the device.
const std::vector<std::string> kAllKnobs = {
    "cpu.boost",      "cpu.clock.least", "cpu.clock.most", "cpu.governor",   "cpu.power.limit", "cpu.power.limit.short",
    "cpu.preference", "fan.cpu.duty",    "fan.rear.duty",  "gpu.clock.most", "gpu.power.limit"};

std::vector<std::string> idsOf(const std::vector<Knob>& knobs) {
  std::vector<std::string> ids;
  for (const Knob& knob : knobs) ids.push_back(knob.id);
  std::sort(ids.begin(), ids.end());
  return ids;
}

const Knob& knobOf(const std::vector<Knob>& knobs, const std::string& id) {
  const auto found = std::find_if(knobs.begin(), knobs.end(), [&](const Knob& knob) { return knob.id == id; });
  INFO(id);
  REQUIRE(found != knobs.end());
  return *found;
}

// A stand-in machine whose journal lies beside it.
struct Machine : tests::TempFolder {
  Machine() {
    setenv("XDG_STATE_HOME", path("state").c_str(), 1);
    setenv("XDG_RUNTIME_DIR", path().c_str(), 1);
    auto made = sim::StandInMachine::create(root(), *sim::loadBench("larch12", "mesh"), 1);
    if (!made) FAIL(made.error().message);
    standIn = std::move(*made);
  }
  std::string root() const { return path("root"); }
  std::unique_ptr<sim::StandInMachine> standIn;
};

}  // namespace

TEST_CASE("everyKnobOfTheListIsThereOnBoth") {
  const Machine machine;
  const auto onMachine = findKnobs(machine.root());
  const auto onBench = knobsOf(machine.standIn->bench());
  const auto ofMachine = idsOf(onMachine), ofBench = idsOf(onBench);
  CHECK(std::includes(ofMachine.begin(), ofMachine.end(), kAllKnobs.begin(), kAllKnobs.end()));
  CHECK(std::includes(ofBench.begin(), ofBench.end(), kAllKnobs.begin(), kAllKnobs.end()));
  for (const std::string& id : kAllKnobs) {
    INFO(id);
    const Knob &there = knobOf(onMachine, id), &here = knobOf(onBench, id);
    CHECK(there.isTurnable());
    CHECK(there.unit == here.unit);
    CHECK(there.choice == here.choice);
    if (there.isNumber()) CHECK(*there.value == Approx(*here.value).margin(0.5));
  }
  // The range of the bench's short limit, by the kernel's own file.
  CHECK(knobOf(onMachine, "cpu.power.limit").most == 120);
  CHECK(knobOf(onMachine, "cpu.power.limit.short").most == 120);
  CHECK(knobOf(onMachine, "gpu.power.limit").byDefault == 115);
  CHECK(knobOf(onMachine, "gpu.power.limit").most == 142);
}

TEST_CASE("aFanWithACurveHasItsModeOnBoth") {
  Machine machine;
  sim::BenchSpec spec = *sim::loadBench("larch12", "mesh");
  spec.fans[0].curveNode = 0;
  spec.fans[0].dutyCurve.points = {{30, 30}, {90, 100}};
  const auto standIn = sim::StandInMachine::create(machine.path("curve"), spec, 1);
  REQUIRE(standIn);
  CHECK(knobOf(findKnobs(machine.path("curve")), "fan.cpu.mode").choice == "automatic");
  CHECK(knobOf(knobsOf((*standIn)->bench()), "fan.cpu.mode").choice == "automatic");
}

// What each does to the clocks of processor and graphics under a load of both, and what is left of it when it is put
// back: the stand-in machine by its files, the simulated bench by itself.
TEST_CASE("turningAKnobActsOnBothAlikeAndGoesBack") {
  struct Case {
    const char *knob, *value;
  };
  const Case one =
      GENERATE(Case{"cpu.boost", "off"}, Case{"cpu.clock.least", "3000"}, Case{"cpu.clock.most", "2600"},
               Case{"cpu.governor", "performance"}, Case{"cpu.governor", "powersave"}, Case{"cpu.power.limit", "45"},
               Case{"cpu.power.limit.short", "50"}, Case{"cpu.preference", "power"}, Case{"gpu.clock.most", "1500"},
               Case{"gpu.power.limit", "70"});
  INFO(one.knob << " " << one.value);
  Machine machine;
  sim::Bench bench(*sim::loadBench("larch12", "mesh"), 1), asItWas(*sim::loadBench("larch12", "mesh"), 1);
  {
    auto turner = Turner::open(machine.root(), TurnedBy::Run);
    REQUIRE(turner);
    const auto turned = turner->turn(one.knob, one.value, [] { return NearLimit(); });
    REQUIRE(turned);
    CHECK(turned->isAsAsked);
    REQUIRE(turnKnob(bench, {one.knob, one.value}));
    REQUIRE(machine.standIn->update(30, "", 0));
    bench.advanceTo(30);
    asItWas.advanceTo(30);
    const double restMhz = machine.standIn->bench().clockMhz(0);
    CHECK(restMhz == bench.clockMhz(0));
    REQUIRE(machine.standIn->update(200, "mixed", 1));
    for (sim::Bench* other : {&bench, &asItWas}) {
      other->setLoad("mixed", 1);
      other->advanceTo(200);
    }
    const sim::Bench& there = machine.standIn->bench();
    for (const size_t device : {0, 1}) {
      CHECK(there.clockMhz(device) == bench.clockMhz(device));
      CHECK(there.powerW(device) == Approx(bench.powerW(device)).margin(1e-6));
    }
    const bool hasActed =
        restMhz != 1200 || bench.clockMhz(0) != asItWas.clockMhz(0) || bench.clockMhz(1) != asItWas.clockMhz(1);
    CHECK(hasActed);
    CHECK(turner->restore(true).empty());
  }
  REQUIRE(machine.standIn->update(201, "mixed", 1));
  const auto after = findKnobs(machine.root());
  const sim::Bench fresh(*sim::loadBench("larch12", "mesh"), 1);
  const auto before = knobsOf(fresh);
  for (const std::string& id : kAllKnobs) {
    INFO(id);
    const Knob &now = knobOf(after, id), &then = knobOf(before, id);
    CHECK(now.choice == then.choice);
    if (now.isNumber()) CHECK(*now.value == Approx(*then.value).margin(0.5));
  }
}

TEST_CASE("whatNoProcessorCanIsLeftAsItWas") {
  Machine machine;
  const std::string policy = "root/sys/devices/system/cpu/cpufreq/policy0/";
  machine.write(policy + "scaling_governor", "warp\n");
  machine.write(policy + "scaling_min_freq", "9999999\n");
  REQUIRE(machine.standIn->update(1, "", 0));
  CHECK(tests::readFile(machine.path(policy + "scaling_governor")) == "schedutil\n");
  // As cpufreq does: never above the highest.
  CHECK(tests::readFile(machine.path(policy + "scaling_min_freq")) == "5100000\n");
  machine.write(policy + "scaling_max_freq", "2000000\n");
  REQUIRE(machine.standIn->update(2, "", 0));
  CHECK(tests::readFile(machine.path(policy + "scaling_min_freq")) == "2000000\n");
}
