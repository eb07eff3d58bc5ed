// SPDX-License-Identifier: GPL-3.0-or-later
// Readiness for the next run, from what a look at the machine has told.
#include "runner/readiness.h"

#include <catch2/catch.hpp>

#include "readings/kernel/hwmon_chips.h"
#include "readings/linux_machine.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using tests::TempFolder;

namespace {

struct ReadinessPlace : TempFolder {
  ReadinessPlace() { setenv("XDG_RUNTIME_DIR", path().c_str(), 1); }
  std::vector<ReadinessCheck> look(const std::optional<MachineNow>& machine, double restC = kMissing,
                                   const StudyPlan& plan = {}) const {
    return readinessOf(plan, path("b.ashbook"), restC, machine);
  }
};

MachineNow machine(double processorC = 34, double loadPercent = 1) {
  MachineNow now;
  now.readings = 12;
  now.processorC = processorC;
  now.loadPercent = loadPercent;
  now.roomC = 22.5;
  return now;
}

const ReadinessCheck& checkNamed(const std::vector<ReadinessCheck>& checks, const std::string& name) {
  for (const ReadinessCheck& check : checks) {
    if (check.name == name) return check;
  }
  FAIL("no check " << name);
  return checks.front();
}

}  // namespace

TEST_CASE("otherLoadIsToldOnceItIsKnown") {
  const ReadinessPlace place;
  CHECK(checkNamed(place.look(machine(34, kMissing)), "Other load").isGood);
  const auto busy = checkNamed(place.look(machine(34, 6)), "Other load");
  CHECK_FALSE(busy.isGood);
  CHECK(busy.found == "6\u202F%");
  CHECK_FALSE(busy.remedy.empty());
  CHECK(checkNamed(place.look(machine(34, 1)), "Other load").isGood);
}

TEST_CASE("aMachineThatIsStillWarmIsSaidToBe") {
  const ReadinessPlace place;
  const auto warm = checkNamed(place.look(machine(41.5), 34), "Processor temperature");
  CHECK_FALSE(warm.isGood);
  CHECK(warm.remedy.find("7.5\u202FK above rest") != std::string::npos);
  CHECK(checkNamed(place.look(machine(35), 34), "Processor temperature").isGood);
}

TEST_CASE("aMachineWithoutSensorsSaysWhatFollows") {
  const ReadinessPlace place;
  MachineNow bare;
  const auto checks = place.look(bare);
  CHECK_FALSE(checkNamed(checks, "Readings").isGood);
  CHECK_FALSE(checkNamed(checks, "Processor temperature").isGood);
  CHECK_FALSE(checkNamed(checks, "Room").isGood);
  CHECK(checkNamed(checks, "Space for the log").isGood);
  StudyPlan typed;
  typed.byHand = {{"room.temp", "", OwedReading::When::AtRest}};
  CHECK(checkNamed(place.look(bare, kMissing, typed), "Room").isGood);
  // Before anybody has looked nothing is said to be wrong.
  for (const ReadinessCheck& check : place.look(std::nullopt)) CHECK(check.isGood);
}

TEST_CASE("aRoomOutOfItsToleranceIsARemark") {
  const ReadinessPlace place;
  StudyPlan plan;
  plan.held = {{"room_c", 20.0, 1.0}};
  CHECK_FALSE(checkNamed(place.look(machine(), kMissing, plan), "Room").isGood);
  plan.held = {{"room_c", 22.0, 1.0}};
  CHECK(checkNamed(place.look(machine(), kMissing, plan), "Room").isGood);
}

TEST_CASE("onBatteryIsARemarkAndOnMainsIsNot") {
  const ReadinessPlace place;
  MachineNow now = machine();
  now.isOnBattery = true;
  CHECK_FALSE(checkNamed(place.look(now), "Power").isGood);
  now.isOnBattery = false;
  CHECK(checkNamed(place.look(now), "Power").isGood);
  // A run-down wants it the other way round.
  StudyPlan plan;
  plan.phases = "idle 1min, measure battery empty";
  const ReadinessCheck mains = checkNamed(place.look(now, kMissing, plan), "Power");
  CHECK_FALSE(mains.isGood);
  CHECK(mains.remedy == "The procedure runs the battery down; unplug the mains first.");
  now.isOnBattery = true;
  CHECK(checkNamed(place.look(now, kMissing, plan), "Power").isGood);
}

TEST_CASE("aSimulatedBenchHasNothingToWaitFor") {
  const ReadinessPlace place;
  StudyPlan plan;
  plan.bench = "larch12";
  for (const ReadinessCheck& check : place.look(std::nullopt, 34, plan)) CHECK(check.isGood);
}

TEST_CASE("aDeviceThatDidNotAnswerIsNotAskedAgain") {
  const TempFolder folder;
  folder.write("sys/class/hwmon/hwmon0/name", "k10temp\n");
  folder.write("sys/class/hwmon/hwmon0/temp1_input", "40000\n");
  std::vector<SkippedReading> skipped;
  const std::string what = hwmonFinders(folder.path(), skipped).at(0).what;
  const auto hasTemperature = [&](const LinuxMachine& machine) {
    for (const auto& source : machine.sources) {
      for (const Reading& reading : source->info().readings) {
        if (reading.quantity == Quantity::Temperature) return true;
      }
    }
    return false;
  };
  CHECK(hasTemperature(openLinuxMachine(folder.path())));
  const LinuxMachine again = openLinuxMachine(folder.path(), {}, {what});
  CHECK_FALSE(hasTemperature(again));
  CHECK(again.hung == std::vector<std::string>{what});
  REQUIRE_FALSE(again.skipped.empty());
  CHECK(again.skipped.back().why == "does not answer: a read of it did not come back");
}
