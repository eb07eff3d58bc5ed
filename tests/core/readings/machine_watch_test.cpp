// SPDX-License-Identifier: GPL-3.0-or-later
// What the kernel tells beside readings: its log, its throttle counters, the battery.
#include "readings/watch/machine_watch.h"

#include <catch2/catch.hpp>
#include <fstream>

#include "tests/support/temp_folder.h"

using namespace ash;
using tests::TempFolder;

namespace {

// What is told at the end, without the settings that are always told then (settings_test.cpp).
std::vector<Event> takeLast(MachineWatch& watch) {
  auto events = watch.take(true);
  std::erase_if(events, [](const Event& event) { return event.kind == EventKind::Settings; });
  return events;
}

void append(const TempFolder& folder, const std::string& file, const std::string& text) {
  std::ofstream(folder.path(file), std::ios::app | std::ios::binary) << text;
}

void writeCpu(const TempFolder& folder, int cpu, int package, int core, int coreCount, int packageCount) {
  const std::string at = "sys/devices/system/cpu/cpu" + std::to_string(cpu);
  folder.write(at + "/topology/physical_package_id", std::to_string(package) + "\n");
  folder.write(at + "/topology/core_id", std::to_string(core) + "\n");
  folder.write(at + "/thermal_throttle/core_throttle_count", std::to_string(coreCount) + "\n");
  folder.write(at + "/thermal_throttle/package_throttle_count", std::to_string(packageCount) + "\n");
}

void writeBattery(const TempFolder& folder, const std::string& status, int percent) {
  const std::string at = "sys/class/power_supply/BAT0/";
  folder.write(at + "type", "Battery\n");
  folder.write(at + "status", status + "\n");
  folder.write(at + "capacity", std::to_string(percent) + "\n");
}

}  // namespace

TEST_CASE("aKernelRecordIsItsTextAndItsTime") {
  const auto record = parseKernelRecord("3,1024,5140900,-;mce: [Hardware Error]: Machine check events logged");
  REQUIRE(record);
  CHECK(record->atS == Approx(5.1409));
  CHECK(record->text == "mce: [Hardware Error]: Machine check events logged");
  // A program's own line (facility 1), a continuation, and what is no record.
  CHECK_FALSE(parseKernelRecord("14,1025,5140900,-;mce: [Hardware Error]: not at all"));
  CHECK_FALSE(parseKernelRecord(" SUBSYSTEM=pci"));
  CHECK_FALSE(parseKernelRecord(""));
  CHECK_FALSE(parseKernelRecord("3,1024"));
  CHECK_FALSE(parseKernelRecord("x,y,z,-;text"));
  CHECK(parseKernelRecord("3,1,2,-;a\x1b[31mb")->text == "a [31mb");
}

TEST_CASE("failuresAreToldByTheKernelsOwnWords") {
  CHECK(failureIn("mce: [Hardware Error]: CPU 3: Machine Check: 0 Bank 5: bea0000000000108") == "machine check");
  CHECK(failureIn("EDAC MC0: 1 CE memory read error on CPU_SrcID#0 (channel:0 slot:1)") == "memory error");
  CHECK(failureIn("pcieport 0000:00:1c.0: PCIe Bus Error: severity=Corrected, type=Physical Layer") == "bus error");
  CHECK(failureIn("pcieport 0000:00:01.0: AER: Corrected error received: 0000:01:00.0") == "bus error");
  CHECK(failureIn("i915 0000:00:02.0: [drm] GPU HANG: ecode 12:1:85dffffb") == "graphics reset");
  CHECK(failureIn("amdgpu 0000:03:00.0: amdgpu: GPU reset begin!") == "graphics reset");
  CHECK(failureIn("[drm:amdgpu_job_timedout [amdgpu]] *ERROR* ring gfx_0.0.0 timeout, signaled seq=1") ==
        "graphics reset");
  CHECK(failureIn("blk_update_request: I/O error, dev sda, sector 12345 op 0x0:(READ)") == "drive error");
  CHECK(failureIn("nvme nvme0: I/O 22 QID 3 timeout, aborting") == "drive error");
  CHECK(failureIn("ata3.00: failed command: READ FPDMA QUEUED") == "drive error");
  CHECK(failureIn("CPU2: Core temperature above threshold, cpu clock throttled (total events = 1)") == "heat");
  CHECK(failureIn("Out of memory: Killed process 4711 (ashg) total-vm:1kB") == "no memory");
  CHECK(failureIn("hwmon hwmon1: Undervoltage detected!") == "supply voltage");
  for (const char* harmless : {"usb 1-1: new high-speed USB device", "EXT4-fs (sda1): mounted filesystem",
                               "nvme nvme0: 16/0/0 default/read/poll queues", "ata1: SATA link up 6.0 Gbps",
                               "[drm] Initialized i915", "EDAC MC: Ver: 3.0.0"}) {
    INFO(harmless);
    CHECK(failureIn(harmless).empty());
  }
}

TEST_CASE("onlyWhatTheKernelSaysDuringTheRunBecomesItsEvents") {
  const TempFolder folder;
  folder.write("dev/kmsg", "3,1,100,-;mce: [Hardware Error]: long ago\n");
  MachineWatch watch(folder.path());
  CHECK(watch.kernelLogState() == "read");
  watch.begin();
  CHECK(takeLast(watch).empty());
  append(folder, "dev/kmsg", "6,2,200,-;usb 1-1: new device\n3,3,300,-;nvme nvme0: I/O 22 QID 3 timeout, ab");
  CHECK(takeLast(watch).empty());  // the line is not yet whole
  append(folder, "dev/kmsg", "orting\n");
  const auto events = takeLast(watch);
  REQUIRE(events.size() == 1);
  CHECK(events[0].kind == EventKind::Fault);
  CHECK(events[0].text == "The kernel tells of a drive error: nvme nvme0: I/O 22 QID 3 timeout, aborting");
  CHECK(events[0].extra["failure"] == "drive error");
}

TEST_CASE("aFloodOfErrorsIsCountedAndNotAllKept") {
  const TempFolder folder;
  folder.write("dev/kmsg", "");
  MachineWatch watch(folder.path());
  watch.begin();
  for (int i = 0; i < 60; ++i) append(folder, "dev/kmsg", "3,1,1,-;pcieport: PCIe Bus Error: severity=Corrected\n");
  const auto events = takeLast(watch);
  REQUIRE(events.size() == 21);
  CHECK(events.back().text == "The kernel told of 40 more such failures (bus error) in this run.");
}

TEST_CASE("noKernelLogIsSaidAndNoTrouble") {
  const TempFolder folder;
  MachineWatch watch(folder.path());
  CHECK(watch.kernelLogState() == "not there");
  watch.begin();
  CHECK(takeLast(watch).empty());
}

TEST_CASE("throttleCountersAreCountedOncePerCoreAndPackage") {
  const TempFolder folder;
  CHECK_FALSE(readThrottleCounts(folder.path()));
  // Two cores with two siblings each, one package: siblings repeat their core, all repeat the package.
  writeCpu(folder, 0, 0, 0, 10, 5);
  writeCpu(folder, 1, 0, 1, 20, 5);
  writeCpu(folder, 2, 0, 0, 10, 5);
  writeCpu(folder, 3, 0, 1, 20, 5);
  const auto counts = readThrottleCounts(folder.path());
  REQUIRE(counts);
  CHECK(counts->ofCores == 30);
  CHECK(counts->ofPackages == 5);
  MachineWatch watch(folder.path());
  watch.begin();
  writeCpu(folder, 1, 0, 1, 27, 6);
  writeCpu(folder, 3, 0, 1, 27, 6);
  const auto events = takeLast(watch);
  REQUIRE(events.size() == 1);
  CHECK(events[0].kind == EventKind::Counter);
  CHECK(events[0].text == "The processor counted throttling by heat 7 times in its cores and 1 times as a whole.");
  CHECK(events[0].extra["cores"]["before"] == 30);
  CHECK(events[0].extra["cores"]["after"] == 37);
}

TEST_CASE("goingOnBatteryAndItsLastPercentsAreToldOnce") {
  const TempFolder folder;
  writeBattery(folder, "Full", 100);
  MachineWatch watch(folder.path());
  watch.begin();
  CHECK(takeLast(watch).empty());
  writeBattery(folder, "Discharging", 60);
  auto events = takeLast(watch);
  REQUIRE(events.size() == 1);
  CHECK(events[0].text == "The machine went from mains to battery.");
  writeBattery(folder, "Discharging", 4);
  events = takeLast(watch);
  REQUIRE_FALSE(events.empty());
  CHECK(events.back().text == "The battery is at 4 %.");
  CHECK(events.back().extra["percent"] == 4);
  CHECK(takeLast(watch).empty());
  writeBattery(folder, "Charging", 5);
  CHECK(takeLast(watch).front().text == "The machine is on mains again.");
}

TEST_CASE("aMouseIsNoBatteryOfTheMachine") {
  const TempFolder folder;
  writeBattery(folder, "Discharging", 3);
  folder.write("sys/class/power_supply/BAT0/scope", "Device\n");
  CHECK_FALSE(readSupply(folder.path()).hasBattery);
}

TEST_CASE("theKernelsWordOnAKilledRecorderIsFound") {
  const TempFolder folder;
  folder.write("dev/kmsg",
               "6,1,1,-;start\n3,2,2,-;Out of memory: Killed process 4711 (ashg) total-vm:9kB\n"
               "3,3,3,-;Out of memory: Killed process 47 (other)\n");
  CHECK(killForMemory(folder.path(), 4711).find("Killed process 4711 (ashg)") != std::string::npos);
  CHECK(killForMemory(folder.path(), 471).empty());
  CHECK(killForMemory(folder.path("nowhere"), 4711).empty());
}
