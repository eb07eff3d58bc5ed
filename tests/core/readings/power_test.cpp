// SPDX-License-Identifier: GPL-3.0-or-later
// Power made of counters that wrap, batteries that tell current and voltage only, limits, packages.
#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>
#include <thread>

#include "readings/gauges/gauge.h"
#include "tests/support/fake_root.h"

using namespace ash;
using namespace ash::tests;

namespace {

const Files kPackage = {{"energy_uj", "65200000000"},
                        {"max_energy_range_uj", "65532610987"},
                        {"constraint_0_name", "long_term"},
                        {"constraint_0_power_limit_uw", "28000000"},
                        {"constraint_0_time_window_us", "27983872"},
                        {"constraint_1_name", "short_term"},
                        {"constraint_1_power_limit_uw", "64000000"}};

}  // namespace

TEST_CASE("aCounterGoesOnOverItsWrapAndItsRateIsGrowthOverTime") {
  Counter counter(100, 20);
  counter.take(90, 0, 0);
  CHECK(counter.total() == 90);
  CHECK(std::isnan(counter.rate()));
  counter.take(96, 2, 0);
  CHECK(counter.rate() == Approx(3));
  counter.take(2, 4, 0);  // 100 came and went: 4 up to it and 2 beyond
  CHECK(counter.rate() == Approx(3));
  CHECK(counter.total() == Approx(102));
}

TEST_CASE("aRateNeedsFiftyMilliseconds") {
  Counter counter(0, 0);
  counter.take(0, 0, 0);
  counter.take(1, 0.01, 0);
  CHECK(std::isnan(counter.rate()));
  counter.take(6, 0.06, 0);  // over the whole time since the last rate, nothing lost
  CHECK(counter.rate() == Approx(100));
}

TEST_CASE("whatMayBeAResetASleepOrASecondWrapGivesNoRate") {
  SECTION("a counter without a range that falls was reset") {
    Counter counter(0, 1000);
    counter.take(500, 0, 0);
    counter.take(3, 1, 0);
    CHECK(std::isnan(counter.rate()));
    counter.take(13, 2, 0);
    CHECK(counter.rate() == Approx(10));
    CHECK(counter.total() == Approx(510));
  }
  SECTION("more than anything can draw") {
    Counter counter(1e6, 1000);
    counter.take(500000, 0, 0);
    counter.take(0, 1, 0);  // as a wrap it would be 500 kW
    CHECK(std::isnan(counter.rate()));
  }
  SECTION("the machine slept") {
    Counter counter(1e6, 1000);
    counter.take(0, 0, 0);
    counter.take(100, 60, 50);
    CHECK(std::isnan(counter.rate()));
  }
  SECTION("time enough for two wraps") {
    Counter counter(100, 10);
    counter.take(0, 0, 0);
    counter.take(50, 15, 0);
    CHECK(std::isnan(counter.rate()));
  }
}

TEST_CASE("aPackagesPowerComesFromItsCounterAlsoWhenItWraps") {
  FakeRoot root;
  root.powerZone("package-0", "intel-rapl/intel-rapl:0", kPackage);
  const LinuxMachine machine = openLinuxMachine(root.path());
  const FoundReading energy = find(machine, "cpu.energy");
  CHECK(energy.value == Approx(65200));
  const auto t0 = std::chrono::steady_clock::now();
  CHECK(std::isnan(find(machine, "cpu.power").value));
  std::this_thread::sleep_for(std::chrono::milliseconds(200));
  // 332.610988 J up to the wrap and 7.389012 J beyond it: 340 J would be too much for 0.2 s, so count less.
  root.write("sys/devices/virtual/powercap/intel-rapl/intel-rapl:0/energy_uj", "65210000000\n");
  const double watts = find(machine, "cpu.power").value;
  const double passedS = std::chrono::duration<double>(std::chrono::steady_clock::now() - t0).count();
  CHECK(watts == Approx(10 / passedS).epsilon(0.1));
  CHECK(find(machine, "cpu.power").reading->limits.at("sustained") == 28);
  CHECK(find(machine, "cpu.power").reading->limits.at("short") == 64);
  CHECK(find(machine, "cpu.power").reading->limits.at("sustained_window_s") == Approx(27.983872));
  CHECK(find(machine, "cpu.power.limit").value == 28);
  root.write("sys/devices/virtual/powercap/intel-rapl/intel-rapl:0/constraint_0_power_limit_uw", "23000000\n");
  CHECK(find(machine, "cpu.power.limit").value == 23);
}

TEST_CASE("nothingOfPowercapIsCountedTwice") {
  FakeRoot root;
  root.powerZone("package-0", "intel-rapl/intel-rapl:0", kPackage);
  root.powerZone("core", "intel-rapl/intel-rapl:0/intel-rapl:0:0",
                 {{"energy_uj", "41"}, {"max_energy_range_uj", "65532610987"}});
  root.powerZone("package-0", "intel-rapl-mmio/intel-rapl-mmio:0", kPackage);
  root.powerZone("psys", "intel-rapl/intel-rapl:1", kPackage);
  const LinuxMachine machine = openLinuxMachine(root.path());
  int packages = 0;
  for (const auto& source : machine.sources) {
    for (const Reading& reading : source->info().readings) packages += reading.role == "cpu.power" ? 1 : 0;
  }
  CHECK(packages == 1);
  CHECK(whySkipped(machine, "intel-rapl-mmio:0/energy_uj") == "a second way to the counter of package-0");
  REQUIRE(find(machine, "powercap:package-0/core:power").reading);
  CHECK(find(machine, "powercap:package-0/core:power").reading->role.empty());
  CHECK(find(machine, "powercap:psys:power").reading->role.empty());
}

TEST_CASE("packagesAreNumberedByTheirNameNotByTheirOrder") {
  FakeRoot root;
  root.powerZone("package-1", "intel-rapl/intel-rapl:0",
                 {{"energy_uj", "1000000"}, {"max_energy_range_uj", "99999999"}});
  root.powerZone("package-0", "intel-rapl/intel-rapl:1",
                 {{"energy_uj", "2000000"}, {"max_energy_range_uj", "99999999"}});
  for (int socket = 0; socket < 2; ++socket) {
    root.chip(5 - socket, "platform/coretemp." + std::to_string(socket), "coretemp");
    root.attribute("temp1_label", "Package id " + std::to_string(socket) + "\n");
    root.attribute("temp1_input", socket == 0 ? "50000\n" : "60000\n");
  }
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "cpu.energy").value == 2);
  CHECK(find(machine, "cpu2.energy").value == 1);
  CHECK(find(machine, "cpu.temp").value == 50);
  CHECK(find(machine, "cpu2.temp").value == 60);
}

TEST_CASE("aTabletWithCurrentAndVoltageOnlyHasPower") {
  FakeRoot root;
  const std::string battery = "sys/class/power_supply/bq27";
  root.files(battery, {{"type", "Battery"},
                       {"status", "Discharging"},
                       {"capacity", "71"},
                       {"current_now", "1250000"},
                       {"voltage_now", "3800000"},
                       {"charge_now", "4100000"},
                       {"charge_full", "6000000"},
                       {"temp", "312"}});
  const LinuxMachine machine = openLinuxMachine(root.path());
  // P = I · V: 1.25 A · 3.8 V.
  CHECK(find(machine, "battery.power").value == Approx(4.75));
  CHECK(find(machine, "Battery power (signed)").value == Approx(-4.75));
  CHECK(find(machine, "battery.charge").value == 71);
  CHECK(find(machine, "Charge left").value == Approx(4.1));
  CHECK(find(machine, "Charge left").reading->unit == "Ah");
  CHECK(find(machine, "Charge left").reading->limits.at("max") == 6);
  CHECK(find(machine, "Battery temperature").value == Approx(31.2));
  // A driver that follows the rule gives a negative current; the magnitude is the same.
  root.write(battery + "/current_now", "-1250000\n");
  CHECK(find(machine, "battery.power").value == Approx(4.75));
  root.write(battery + "/status", "Charging\n");
  CHECK(find(machine, "battery.power").value == Approx(-4.75));
  // Neither in nor out, unsigned: it says nothing of the load.
  root.write(battery + "/status", "Not charging\n");
  root.write(battery + "/current_now", "10000\n");
  CHECK(std::isnan(find(machine, "battery.power").value));
}

TEST_CASE("aMousesBatteryIsNoneOfTheMachine") {
  FakeRoot root;
  root.files("sys/class/power_supply/hid-mouse", {{"type", "Battery"}, {"scope", "Device"}, {"capacity", "40"}});
  root.files("sys/class/power_supply/BAT1", {{"type", "Battery"}, {"present", "0"}, {"capacity", "0"}});
  root.files("sys/class/power_supply/AC", {{"type", "Mains"}, {"online", "1"}});
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK_FALSE(find(machine, "battery.charge").reading);
  CHECK(whySkipped(machine, "BAT1") == "no battery is in its place");
  CHECK(find(machine, "AC online").value == 1);
  CHECK(find(machine, "AC online").reading->unit == "bool");
}

TEST_CASE("aCardWithAnEnergyCounterOnlyHasPower") {
  FakeRoot root;
  root.chip(2, "pci0000:00/0000:03:00.0", "i915");
  root.attribute("energy1_input", "5000000\n");
  root.attribute("power1_max", "120000000\n");
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "gpu.energy").value == 5);
  std::this_thread::sleep_for(std::chrono::milliseconds(100));
  root.attribute("energy1_input", "9000000\n");
  const FoundReading power = find(machine, "gpu.power");
  CHECK(power.value > 20);
  CHECK(power.value <= 40.5);
  CHECK(power.reading->limits.at("max") == 120);
  // A limit is no reading.
  CHECK_FALSE(find(machine, "sys/devices/pci0000:00/0000:03:00.0/hwmon/hwmon2/power1_max").reading);
}
