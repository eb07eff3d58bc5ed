// SPDX-License-Identifier: GPL-3.0-or-later
// What is known of a chip by its driver (docs/readings.md), devices that sleep, supplies in words.
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>

#include "readings/kernel/device_sleep.h"
#include "readings/kernel/hwmon_drivers.h"
#include "readings/kernel/powercap_zones.h"
#include "readings/kernel/supply_words.h"
#include "tests/support/temp_folder.h"

using namespace ash;
namespace fs = std::filesystem;

namespace {

void write(const fs::path& file, const std::string& text) {
  fs::create_directories(file.parent_path());
  std::ofstream(file) << text << '\n';
}

}  // namespace

TEST_CASE("aDriverIsKnownByItsNameOrByItsFamily") {
  struct Row {
    const char* driver;
    double paceS, refreshS;
  };
  // Documentation/hwmon: coretemp.rst, nct6775.rst, it87.rst, jc42.rst; a command to the drive once a second or two.
  for (const Row& row : {Row{"coretemp", 0, 1}, Row{"nct6799", 0, 1.5}, Row{"it8689", 0, 1.5}, Row{"w83627ehf", 0, 1.5},
                         Row{"nvme", 1, 1}, Row{"drivetemp", 2, 0}, Row{"spd5118", 1, 1}, Row{"iwlwifi_1", 1, 1},
                         Row{"k10temp", 0, 0}, Row{"nct", 0, 0}, Row{"", 0, 0}, Row{"asus_wmi_sensors", 0, 0}}) {
    INFO(row.driver);
    CHECK(hwmonDriver(row.driver).paceS == row.paceS);
    CHECK(hwmonDriver(row.driver).refreshS == row.refreshS);
  }
}

TEST_CASE("whatALimitMeansHangsOnTheDriver") {
  // coretemp.rst: crit is TjMax; fam15h_power.rst: power1_crit is the rated power.
  CHECK(hwmonDriver("coretemp").slowsAtCritical);
  CHECK(hwmonDriver("amdgpu").slowsAtCritical);
  CHECK_FALSE(hwmonDriver("k10temp").slowsAtCritical);
  CHECK(hwmonDriver("fam15h_power").criticalIsRated);
  CHECK_FALSE(hwmonDriver("coretemp").criticalIsRated);
  CHECK(hwmonDriver("amdgpu").fanEnableIsManual);
  CHECK_FALSE(hwmonDriver("nct6799").fanEnableIsManual);
  CHECK(hwmonDriver("jc42").place == ChipPlace::ModuleSlot);
  CHECK(hwmonDriver("nvme").place == ChipPlace::DriveSerial);
  CHECK(hwmonDriver("it8689").place == ChipPlace::Address);
}

TEST_CASE("aDeviceWithoutAStatusNeverSleeps") {
  const TempFolder folder;
  const fs::path card = folder.path("card"), plain = folder.path("plain");
  fs::create_directories(plain);
  write(card / "power/runtime_status", "suspended");
  CHECK(isAsleep(card));
  REQUIRE(sleepFileOf(card));
  CHECK(*sleepFileOf(card) == (card / "power/runtime_status").string());
  for (const char* awake : {"active", "resuming", "error", ""}) {
    write(card / "power/runtime_status", awake);
    CHECK_FALSE(isAsleep(card));
  }
  CHECK_FALSE(isAsleep(plain));
  CHECK_FALSE(sleepFileOf(plain));
}

TEST_CASE("aSupplyTellsWhatItIsAndWhoseItIs") {
  const TempFolder folder;
  const fs::path supply = folder.path("BAT0");
  write(supply / "type", "Battery");
  write(supply / "present", "1");
  write(supply / "status", "Discharging");
  CHECK(supplyTypeOf(supply) == SupplyType::Battery);
  CHECK(isDischarging(supply));
  CHECK_FALSE(isMissing(supply));
  CHECK_FALSE(isOfPeripheral(supply));
  write(supply / "present", "0");
  write(supply / "status", "Not charging");
  write(supply / "scope", "Device");
  write(supply / "type", "Wireless");
  CHECK(isMissing(supply));
  CHECK_FALSE(isDischarging(supply));
  CHECK(isOfPeripheral(supply));
  CHECK(supplyTypeOf(supply) == SupplyType::Other);
  CHECK(supplyTypeOf(supply).text() == "Wireless");
  // Nothing that is there says it is missing.
  CHECK_FALSE(isMissing(folder.path("AC")));
}

TEST_CASE("powerLimitsAreCalledAsTheAnalysisCallsThem") {
  CHECK(powerLimitName("long_term") == "sustained");
  CHECK(powerLimitName("short_term") == "short");
  CHECK(powerLimitName("peak_power") == "peak");
  CHECK(powerLimitName("of_a_later_kernel") == "of_a_later_kernel");
}
