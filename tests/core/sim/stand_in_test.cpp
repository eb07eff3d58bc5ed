// SPDX-License-Identifier: GPL-3.0-or-later
// The stand-in machine's files, read as a kernel's.
#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>
#include <thread>

#include "readings/linux_machine.h"
#include "sim/stand_in_machine.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::sim;

namespace {

std::unique_ptr<StandInMachine> make(const std::string& folder, const std::string& bench = "larch12") {
  auto machine = StandInMachine::create(folder, *loadBench(bench, "mesh"), 1);
  if (!machine) FAIL(machine.error().message);
  return std::move(*machine);
}

double valueOf(LinuxMachine& machine, const std::string& role, const Reading** reading = nullptr) {
  for (auto& source : machine.sources) {
    const Sweep sweep = source->sweep();
    for (size_t i = 0; i < sweep.values.size(); ++i) {
      if (source->info().readings[i].role != role && source->info().readings[i].name != role) continue;
      if (reading != nullptr) *reading = &source->info().readings[i];
      return sweep.values[i];
    }
  }
  return kMissing;
}

}  // namespace

TEST_CASE("theLinuxSourceReadsTheBenchAgain") {
  const tests::TempFolder folder;
  auto standIn = make(folder.path("root"));
  LinuxMachine machine = openLinuxMachine(folder.path("root"));
  REQUIRE(standIn->update(300, "vector", 1));
  const Bench& bench = standIn->bench();
  CHECK(valueOf(machine, "cpu.temp") == Approx(bench.nodeC(0)).margin(1.5));
  CHECK(valueOf(machine, "cpu.clock") == Approx(bench.clockMhz(0)).margin(30));
  CHECK(valueOf(machine, "room.temp") == Approx(bench.roomC()).margin(0.3));
  CHECK(valueOf(machine, "fan.cpu") == Approx(bench.fanRpm(0)).margin(15));
  CHECK(valueOf(machine, "wall.power") == Approx(bench.wallPowerW()).margin(3));
}

TEST_CASE("limitsComeThroughTheKernelsFiles") {
  const tests::TempFolder folder;
  auto standIn = make(folder.path("root"));
  LinuxMachine machine = openLinuxMachine(folder.path("root"));
  const Reading* reading = nullptr;
  valueOf(machine, "cpu.temp", &reading);
  CHECK(reading->limits.at("throttle") == 95);
  CHECK(reading->limits.at("critical") == 105);
  valueOf(machine, "gpu.temp", &reading);
  CHECK(reading->limits.at("throttle") == 90);
  CHECK(reading->limits.at("emergency") == 105);
  valueOf(machine, "cpu.power", &reading);
  CHECK(reading->limits.at("sustained") == 88);
}

TEST_CASE("itWarmsUnderLoadAndCoolsWithout") {
  const tests::TempFolder folder;
  auto standIn = make(folder.path("root"));
  LinuxMachine machine = openLinuxMachine(folder.path("root"));
  const double rest = valueOf(machine, "cpu.temp");
  REQUIRE(standIn->update(200, "vector", 1));
  const double hot = valueOf(machine, "cpu.temp");
  CHECK(hot > rest + 25);
  REQUIRE(standIn->update(260, "", 0));
  CHECK(valueOf(machine, "cpu.temp") < hot - 10);
  // Half of the machine's CPUs are half of its activity; an unknown kind heats as vector does.
  REQUIRE(standIn->update(300, "something new", 0.5));
  CHECK(standIn->bench().activity(0) == Approx(0.5));
}

TEST_CASE("loadOfTheProcessorIsInItsTicks") {
  const tests::TempFolder folder;
  auto standIn = make(folder.path("root"), "wren");
  LinuxMachine machine = openLinuxMachine(folder.path("root"));
  REQUIRE(standIn->update(10, "vector", 0.75));
  valueOf(machine, "cpu.load");
  REQUIRE(standIn->update(30, "vector", 0.75));
  CHECK(valueOf(machine, "cpu.load") == Approx(75).margin(0.5));
}

TEST_CASE("aReaderNeverSeesHalfANumber") {
  const tests::TempFolder folder;
  auto number = NumberFile::create(folder.path("a/b/n"));
  REQUIRE(number);
  for (const long long value : {85000LL, 9000LL, -62000LL, 0LL, 123456789LL}) {
    REQUIRE((*number)->write(value));
    const std::string text = tests::readFile(folder.path("a/b/n"));
    CHECK(text.size() == 15);
    CHECK(std::stoll(text) == value);
  }
}

TEST_CASE("anOldStandInIsReplacedAndOtherFoldersAreLeftAlone") {
  const tests::TempFolder folder;
  { make(folder.path("root")); }
  { make(folder.path("root"), "wren"); }
  CHECK_FALSE(std::filesystem::exists(folder.path("root/sys/devices/pci0000:00/0000:01:00.0")));
  folder.write("mine/file", "x");
  const auto refused = StandInMachine::create(folder.path("mine"), *loadBench("wren", ""), 1);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message.find("is not empty and no stand-in machine") != std::string::npos);
}

TEST_CASE("itsEnergyCounterWrapsAndIsRightAllTheSame") {
  const tests::TempFolder folder;
  auto standIn = make(folder.path("root"));
  LinuxMachine machine = openLinuxMachine(folder.path("root"));
  const double beforeJ = valueOf(machine, "cpu.energy");
  CHECK(beforeJ == Approx(kStandInEnergyStartUj / 1e6));
  const double drawnBeforeJ = standIn->bench().energyJ(0);
  // The counter has 400 J left; 20 s of load at some 90 W and more need several times that.
  for (int s = 1; s <= 20; ++s) {
    REQUIRE(standIn->update(s, "vector", 1));
    std::this_thread::sleep_for(std::chrono::milliseconds(150));  // the reader's own second: 1500 W are too many for it
    valueOf(machine, "cpu.energy");
  }
  const double drawnJ = standIn->bench().energyJ(0) - drawnBeforeJ;
  CHECK(drawnJ > 500);
  CHECK(tests::readFile(folder.path("root/sys/class/powercap/intel-rapl:0/energy_uj")).size() < 20);
  CHECK(std::stoll(tests::readFile(folder.path("root/sys/class/powercap/intel-rapl:0/energy_uj"))) <
        kStandInEnergyStartUj);
  CHECK(valueOf(machine, "cpu.energy") - beforeJ == Approx(drawnJ).epsilon(0.005));
}

TEST_CASE("itsKnobsAct") {
  const tests::TempFolder folder;
  auto standIn = make(folder.path("root"));
  const auto write = [&](const std::string& file, const std::string& text) {
    folder.write("root/" + file, text + "\n");
  };
  const std::string limit = "sys/class/powercap/intel-rapl:0/constraint_0_power_limit_uw";
  SECTION("a power limit") {
    write(limit, "40000000");
    REQUIRE(standIn->update(120, "vector", 1));
    CHECK(standIn->bench().powerW(0) == Approx(40).margin(1));
    write(limit, "1");  // lower than firmware lets it be
    REQUIRE(standIn->update(121, "vector", 1));
    CHECK(tests::readFile(folder.path("root/" + limit)) == "3000000\n");
  }
  SECTION("a fan by hand, and back") {
    LinuxMachine machine = openLinuxMachine(folder.path("root"));
    std::string pwm;
    for (const auto& source : machine.sources) {
      for (const Reading& reading : source->info().readings) pwm = reading.role == "fan.cpu.duty" ? reading.path : pwm;
    }
    REQUIRE_FALSE(pwm.empty());
    write(pwm + "_enable", "1");
    REQUIRE(standIn->update(1, "", 0));
    write(pwm, "255");
    REQUIRE(standIn->update(20, "", 0));
    CHECK(standIn->bench().fanDutyPercent(0) == Approx(100));
    CHECK(standIn->bench().fanRpm(0) == Approx(standIn->bench().spec().fans[0].maxRpm).epsilon(0.01));
    CHECK(valueOf(machine, "fan.cpu.duty") == Approx(100));
  }
  SECTION("a clock") {
    write("sys/devices/system/cpu/cpufreq/policy3/scaling_max_freq", "2000000");
    REQUIRE(standIn->update(60, "vector", 1));
    CHECK(standIn->bench().clockMhz(0) <= 2000);
    CHECK(tests::readFile(folder.path("root/sys/devices/system/cpu/cpufreq/policy0/scaling_max_freq")) == "2000000\n");
  }
}

TEST_CASE("itsCountersTellOfHeat") {
  const tests::TempFolder folder;
  BenchSpec spec = *loadBench("larch12", "mesh");
  spec.devices[0].throttleC = 55;
  auto made = StandInMachine::create(folder.path("root"), std::move(spec), 1);
  auto standIn = std::move(*made);
  LinuxMachine machine = openLinuxMachine(folder.path("root"));
  CHECK(valueOf(machine, "Package 0") == 0);
  REQUIRE(standIn->update(300, "vector", 1));
  REQUIRE(standIn->bench().heldBy(0) == HeldBy::Heat);
  CHECK(valueOf(machine, "Package 0") >= 1);
  CHECK(valueOf(machine, "Processor") == 1);  // the cooling device
  CHECK(standIn->bench().heatS(0) > 100);
}

TEST_CASE("aStandInWithABatteryRunsDown") {
  const tests::TempFolder folder;
  auto made = StandInMachine::create(folder.path("root"), *loadBench("wren", ""), 1);
  auto standIn = std::move(*made);
  LinuxMachine machine = openLinuxMachine(folder.path("root"));
  CHECK(valueOf(machine, "battery.charge") == 100);
  for (int minute = 1; minute <= 60; ++minute) REQUIRE(standIn->update(60 * minute, "vector", 1));
  const double watts = standIn->bench().wallPowerW();
  CHECK(valueOf(machine, "battery.power") == Approx(watts).margin(0.01));
  // An hour at that power out of 52 Wh.
  CHECK(valueOf(machine, "Energy left") == Approx(52 - watts).margin(0.05 * watts));
}
