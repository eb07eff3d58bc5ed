// SPDX-License-Identifier: GPL-3.0-or-later
// Readiness of a machine, on trees that look like one.
#include "runner/readiness.h"

#include <catch2/catch.hpp>

#include "tests/support/temp_folder.h"

using namespace ash;
using tests::TempFolder;

namespace {

struct Machine : TempFolder {
  Machine() {
    setenv("XDG_RUNTIME_DIR", path().c_str(), 1);
    stat(1000, 9000);
  }
  void stat(int busy, int idle) const {
    write("proc/stat", "cpu  " + std::to_string(busy) + " 0 0 " + std::to_string(idle) + " 0 0 0 0\n");
  }
  void processor(int milliCelsius) const {
    write("sys/class/hwmon/hwmon0/name", "k10temp\n");
    write("sys/class/hwmon/hwmon0/temp1_label", "Tctl\n");
    write("sys/class/hwmon/hwmon0/temp1_input", std::to_string(milliCelsius) + "\n");
  }
  std::string book() const { return path("b.ashbook"); }
};

const ReadinessCheck& find(const std::vector<ReadinessCheck>& checks, const std::string& name) {
  for (const ReadinessCheck& check : checks) {
    if (check.name == name) return check;
  }
  FAIL("no check " << name);
  return checks.front();
}

}  // namespace

TEST_CASE("otherLoadIsToldBetweenTwoLooks") {
  const Machine machine;
  machine.processor(34000);
  Readiness readiness(machine.path());
  CHECK(find(readiness.look({}, machine.book(), kMissing), "Other load").isGood);
  machine.stat(1006, 9094);  // 6 of 100 ticks
  const auto busy = find(readiness.look({}, machine.book(), kMissing), "Other load");
  CHECK_FALSE(busy.isGood);
  CHECK(busy.found == "6\u202F%");
  CHECK_FALSE(busy.remedy.empty());
  machine.stat(1007, 9193);
  CHECK(find(readiness.look({}, machine.book(), kMissing), "Other load").isGood);
}

TEST_CASE("aMachineThatIsStillWarmIsSaidToBe") {
  const Machine machine;
  machine.processor(41500);
  Readiness readiness(machine.path());
  const auto warm = find(readiness.look({}, machine.book(), 34.0), "Processor temperature");
  CHECK_FALSE(warm.isGood);
  CHECK(warm.remedy.find("7.5\u202FK above rest") != std::string::npos);
  machine.processor(35000);
  CHECK(find(readiness.look({}, machine.book(), 34.0), "Processor temperature").isGood);
}

TEST_CASE("aMachineWithoutSensorsSaysWhatFollows") {
  const Machine machine;
  Readiness readiness(machine.path());
  const auto checks = readiness.look({}, machine.book(), kMissing);
  CHECK_FALSE(find(checks, "Processor temperature").isGood);
  CHECK_FALSE(find(checks, "Room").isGood);
  CHECK(find(checks, "Space for the log").isGood);
  StudyPlan typed;
  typed.byHand = {{"room.temp", "", OwedReading::When::AtRest}};
  CHECK(find(readiness.look(typed, machine.book(), kMissing), "Room").isGood);
}

TEST_CASE("onBatteryIsARemarkAndOnMainsIsNot") {
  const Machine machine;
  machine.write("sys/class/power_supply/BAT0/type", "Battery\n");
  machine.write("sys/class/power_supply/AC/type", "Mains\n");
  machine.write("sys/class/power_supply/AC/online", "0\n");
  Readiness readiness(machine.path());
  CHECK_FALSE(find(readiness.look({}, machine.book(), kMissing), "Power").isGood);
  machine.write("sys/class/power_supply/AC/online", "1\n");
  CHECK(find(readiness.look({}, machine.book(), kMissing), "Power").isGood);
}

TEST_CASE("aSimulatedBenchHasNothingToWaitFor") {
  const Machine machine;
  StudyPlan plan;
  plan.bench = "larch12";
  Readiness readiness(machine.path());
  for (const ReadinessCheck& check : readiness.look(plan, machine.book(), 34)) CHECK(check.isGood);
}
