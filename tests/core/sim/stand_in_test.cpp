// SPDX-License-Identifier: GPL-3.0-or-later
// The stand-in machine's files, read as a kernel's.
#include <catch2/catch.hpp>
#include <cmath>

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
      if (source->info().readings[i].role != role) continue;
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
  CHECK(valueOf(machine, "cpu.power") == Approx(bench.powerW(0)).margin(1.5));
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
  CHECK(reading->limits.at("critical") == 105);
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
