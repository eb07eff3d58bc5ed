// SPDX-License-Identifier: GPL-3.0-or-later
// Graphics, drives, links, memory: found, told apart, not woken.
#include <sys/stat.h>

#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>
#include <thread>

#include "readings/gauges/plausible.h"
#include "readings/kernel/drives.h"
#include "readings/kernel/gpu_metrics.h"
#include "readings/kernel/memory_use.h"
#include "readings/kernel/pci_links.h"
#include "readings/watch/device_watch.h"
#include "tests/support/fake_root.h"

using namespace ash;
using namespace ash::tests;

namespace {

// A table as the driver fills it: size, format, content revision, then fields of zeros.
std::string metricsTable(size_t size, int format, int revision) {
  std::string table(size, '\0');
  table[0] = static_cast<char>(size & 0xFF);
  table[1] = static_cast<char>(size >> 8);
  table[2] = static_cast<char>(format);
  table[3] = static_cast<char>(revision);
  return table;
}

void addCard(FakeRoot& root, const std::string& place) {
  root.files("sys/devices/" + place, {{"gpu_busy_percent", "98"},
                                      {"mem_info_vram_used", "9663676416"},
                                      {"mem_info_vram_total", "17163091968"},
                                      {"product_name", "Basalt RG 7700"}});
  root.files("sys/devices/" + place + "/drm/card1", {{"dev", "226:1"}});
  root.link("sys/devices/" + place + "/drm/card1/device", "sys/devices/" + place);
  root.link("sys/class/drm/card1", "sys/devices/" + place + "/drm/card1");
  root.files("sys/class/drm/card1-DP-1", {{"status", "connected"}});
}

}  // namespace

TEST_CASE("throttleBitsAreReadFromTablesThatAreKnown") {
  std::string table = metricsTable(120, 1, 3);
  table[112] = 1;       // bit 0: PPT0
  table[116] = 1 << 4;  // bit 36: hotspot
  const auto bits = parseGpuThrottle(table);
  REQUIRE(bits);
  CHECK(bits->bits == 0x1000000001ULL);
  CHECK(bits->areChipIndependent);
  CHECK(gpuThrottleWords(bits->bits) == std::vector<std::string>{"power (PPT0)", "hotspot temperature"});
  std::string older = metricsTable(96, 1, 1);
  older[68] = 4;
  CHECK(parseGpuThrottle(older)->bits == 4);
  CHECK_FALSE(parseGpuThrottle(older)->areChipIndependent);
  CHECK_FALSE(parseGpuThrottle(metricsTable(120, 9, 9)));
  CHECK_FALSE(parseGpuThrottle(table.substr(0, 119)));
  CHECK_FALSE(parseGpuThrottle(""));
  for (size_t i = 112; i < 120; ++i) table[i] = '\xFF';  // the field is not filled
  CHECK_FALSE(parseGpuThrottle(table));
}

TEST_CASE("aCardIsReadAndASleepingOneIsNotWoken") {
  FakeRoot root;
  const std::string place = "pci0000:00/0000:0c:00.0";
  addCard(root, place);
  root.chip(1, place, "amdgpu");
  root.attribute("temp1_input", "58000\n");
  root.attribute("temp1_label", "edge\n");
  root.files("sys/devices/" + place, {{"power/runtime_status", "suspended"}});
  const LinuxMachine machine = openLinuxMachine(root.path());
  const FoundReading asleep = find(machine, "gpu.load");
  REQUIRE(asleep.reading);
  CHECK(std::isnan(asleep.value));
  CHECK(asleep.why == "the device is asleep and is not woken for it");
  CHECK(std::isnan(find(machine, "gpu.temp").value));
  root.files("sys/devices/" + place, {{"power/runtime_status", "active"}});
  CHECK(find(machine, "gpu.load").value == 98);
  CHECK(find(machine, "gpu.temp").value == 58);
  CHECK(find(machine, "GPU memory in use").value == Approx(9216));
  CHECK(find(machine, "GPU memory in use").reading->limits.at("max") == Approx(17163091968 / 1048576.0));
  CHECK(find(machine, "gpu.load").reading->device == "Basalt RG 7700");
}

TEST_CASE("anI915CardTellsClocksReasonsAndSleep") {
  FakeRoot root;
  const std::string card = "sys/devices/pci0000:00/0000:00:02.0/drm/card0";
  root.files(card + "/gt/gt0", {{"rps_act_freq_mhz", "1250"},
                                {"rps_cur_freq_mhz", "1300"},
                                {"rps_max_freq_mhz", "1450"},
                                {"rps_min_freq_mhz", "100"},
                                {"rc6_residency_ms", "1000"},
                                {"throttle_reason_pl1", "1"},
                                {"throttle_reason_status", "1"}});
  root.files(card, {{"gt_act_freq_mhz", "1250"}});
  root.link(card + "/device", "sys/devices/pci0000:00/0000:00:02.0");
  root.link("sys/class/drm/card0", card);
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "gpu.clock").value == 1250);
  CHECK(find(machine, "gpu.clock").reading->limits.at("max") == 1450);
  CHECK(find(machine, "GPU throttled: pl1").value == 1);
  CHECK_FALSE(find(machine, card + "/gt_act_freq_mhz").reading);  // the older name of the same
  find(machine, "gpu.load");
  const auto t0 = std::chrono::steady_clock::now();
  std::this_thread::sleep_for(std::chrono::milliseconds(200));
  root.files(card + "/gt/gt0", {{"rc6_residency_ms", "1050"}});
  const double awake = find(machine, "gpu.load").value;
  const double passedMs = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - t0).count();
  CHECK(awake == Approx(100 * (1 - 50 / passedMs)).margin(4));
}

TEST_CASE("anXeCardIsReadTileByTile") {
  FakeRoot root;
  const std::string device = "sys/devices/pci0000:00/0000:03:00.0";
  for (int gt = 0; gt < 2; ++gt)
    root.files(device + "/tile0/gt" + std::to_string(gt) + "/freq0", {{"act_freq", gt == 0 ? "2400" : "1200"},
                                                                      {"max_freq", "2850"},
                                                                      {"throttle/status", "0"},
                                                                      {"throttle/reason_pl1", "0"}});
  root.files(device + "/drm/card0", {{"dev", "226:0"}});
  root.link(device + "/drm/card0/device", device);
  root.link("sys/class/drm/card0", device + "/drm/card0");
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "gpu.clock").value == 2400);
  CHECK(find(machine, "GPU actual clock 0.1").value == 1200);
  CHECK(find(machine, "GPU throttled: pl1").value == 0);
}

TEST_CASE("drivesTellWhatTheyReadAndWrite") {
  FakeRoot root;
  for (const char* drive : {"sda", "sdb"}) {
    const std::string folder = std::string("sys/devices/ata/") + drive;
    root.files(folder, {{"model", "Sablewave Brick 8TB"}, {"wwid", std::string("naa.500") + drive}});
    root.link(std::string("sys/devices/ata/") + drive + "/block/" + drive + "/device", folder);
    root.link(std::string("sys/block/") + drive, folder + "/block/" + drive);
  }
  const auto stats = [&](long long readSectors, long long writtenSectors) {
    root.write("proc/diskstats", "   7  0 loop0 1 0 9 0 1 0 9 0 0 5 0\n   8  0 sda 100 0 " +
                                     std::to_string(readSectors) + " 10 50 0 " + std::to_string(writtenSectors) +
                                     " 20 0 4000 0\n   8  1 sda1 1 0 8 1 1 0 8 1 0 1 1\n"
                                     "   8 16 sdb 1 0 1 1 1 0 1 1 0 1 1\n");
  };
  stats(1000, 4294967000LL);
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK_FALSE(find(machine, "loop0 read").reading);
  CHECK_FALSE(find(machine, "sda1 read").reading);
  CHECK(std::isnan(find(machine, "storage.read").value));
  std::this_thread::sleep_for(std::chrono::milliseconds(100));
  const auto t0 = std::chrono::steady_clock::now();
  stats(3000, 704);  // 2000 sectors read; 1000 written over the 32-bit wrap
  const auto source = machine.sources.front();
  const Sweep sweep = source->sweep();
  CHECK(std::chrono::steady_clock::now() - t0 < std::chrono::seconds(1));
  CHECK(sweep.values[0] / sweep.values[1] == Approx(2));
  CHECK(sweep.values[0] < 2000 * 512e-6 / 0.1 + 0.1);
  // Two drives of one model are told apart, and stay themselves whatever letter they get.
  CHECK(find(machine, "drive:Sablewave Brick 8TB:naa.500sdb/read").reading->device ==
        "Sablewave Brick 8TB (serial …0sdb)");
  CHECK(find(machine, "storage2.read").reading->path == "proc/diskstats#sdb.read");
}

TEST_CASE("linesOfDiskstatsThatAreCutAreLeftOut") {
  CHECK(parseDriveCounts("8 0 sda 1 2 3\n\nx\n").empty());
  const auto rows = parseDriveCounts(" 259 0 nvme0n1 1 2 33 4 5 6 77 8 0 99 11 0 0 0 0 1 1\n");
  REQUIRE(rows.size() == 1);
  CHECK(rows[0].sectorsRead == 33);
  CHECK(rows[0].sectorsWritten == 77);
  CHECK(rows[0].busyMs == 99);
}

TEST_CASE("twoMemoryModulesAreTwo") {
  FakeRoot root;
  for (int i = 0; i < 2; ++i) {
    root.chip(i, "pci0000:00/0000:00:14.0/i2c-1/1-005" + std::to_string(2 + i), "jc42");
    root.attribute("temp1_input", i == 0 ? "46250\n" : "47750\n");
  }
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "memory.temp").value == 46.25);
  CHECK(find(machine, "memory2.temp").value == 47.75);
  CHECK(find(machine, "memory.temp").reading->device != find(machine, "memory2.temp").reading->device);
}

TEST_CASE("linksOfCardsAndDrivesAreTold") {
  FakeRoot root;
  const std::string device = "sys/devices/pci0000:00/0000:0c:00.0";
  root.files(device, {{"class", "0x030000"},
                      {"current_link_speed", "8.0 GT/s PCIe"},
                      {"current_link_width", "8"},
                      {"max_link_speed", "16.0 GT/s PCIe"},
                      {"max_link_width", "16"}});
  root.link("sys/bus/pci/devices/0000:0c:00.0", device);
  const std::string bridge = "sys/devices/pci0000:00/0000:00:01.0";
  root.files(bridge, {{"class", "0x060400"}, {"current_link_speed", "8.0 GT/s PCIe"}, {"current_link_width", "4"}});
  root.link("sys/bus/pci/devices/0000:00:01.0", bridge);
  const std::string dead = "sys/devices/pci0000:00/0000:0d:00.0";
  root.files(dead, {{"class", "0x010802"}, {"current_link_speed", "Unknown"}, {"current_link_width", "0"}});
  root.link("sys/bus/pci/devices/0000:0d:00.0", dead);
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "PCIe link width").value == 8);
  CHECK(find(machine, "PCIe link width").reading->limits.at("max") == 16);
  CHECK(find(machine, "PCIe link speed").value == 8);
  CHECK_FALSE(find(machine, bridge + "/current_link_width").reading);
  CHECK(whySkipped(machine, "0000:0d:00.0/current_link_speed") == "\"Unknown\" is no speed");
  CHECK(whySkipped(machine, "0000:0d:00.0/current_link_width") == "the link has no lanes");
  CHECK(parseLinkSpeed("16.0 GT/s PCIe\n") == 16);
  CHECK(std::isnan(parseLinkSpeed("fast")));
  CHECK(pciPlace("/sys/devices/pci0000:00/0000:00:01.1/0000:0c:00.0/hwmon") == "slot 0c:00.0");
  CHECK(pciPlace("/sys/devices/platform/board.0").empty());
}

TEST_CASE("memoryInUseIsTotalLessAvailable") {
  const MemoryUse use = parseMemoryUse("MemTotal:       32768000 kB\nMemFree: 1 kB\nMemAvailable:   21504000 kB\n");
  CHECK(use.usedMib == Approx((32768000 - 21504000) / 1024.0));
  CHECK(use.totalMib == 32000);
  CHECK(std::isnan(parseMemoryUse("MemTotal: 1 kB\n").usedMib));
  CHECK(parsePressureTotalUs("some avg10=4.20 avg60=2.10 avg300=1.00 total=1234567\nfull avg10=0\n") == 1234567);
  CHECK(std::isnan(parsePressureTotalUs("full total=3\n")));
}

TEST_CASE("endsOfScalesAndImpossibleValuesAreNone") {
  CHECK(isImpossible(Quantity::Temperature, 127000, 127));
  CHECK(isImpossible(Quantity::Temperature, -128000, -128));
  CHECK(isImpossible(Quantity::Temperature, 0, 0));
  CHECK(isImpossible(Quantity::Temperature, -62000, -62));
  CHECK(isImpossible(Quantity::FanSpeed, 65535, 65535));
  CHECK(isImpossible(Quantity::FanSpeed, -1, -1));
  CHECK(isImpossible(Quantity::Power, 4294967295LL, 4294.967295));
  CHECK(isImpossible(Quantity::Humidity, 120000, 120));
  CHECK(isImpossible(Quantity::Percent, 300, 117.6));
  CHECK_FALSE(isImpossible(Quantity::Temperature, -5000, -5));
  CHECK_FALSE(isImpossible(Quantity::Temperature, 126000, 126));
  CHECK_FALSE(isImpossible(Quantity::FanSpeed, 0, 0));
  CHECK_FALSE(isImpossible(Quantity::Voltage, -12000, -12));
  CHECK_FALSE(isImpossible(Quantity::Energy, 65532610987LL, 65532.6));
  CHECK(whyImpossible(Quantity::FanSpeed, 65535, 65535) ==
        "65535 RPM is the end of the converter's scale: most likely nothing is connected");
}

TEST_CASE("aJumpThatNoHeatMakesIsWithheldUntilItIsConfirmed") {
  const TempFolder folder;
  const std::string file = folder.write("temp1_input", "40000\n");
  FileGauge gauge(file, Quantity::Temperature, 1000);
  const auto read = [&](const char* text) {
    folder.write("temp1_input", text);
    return gauge.read(Moment{});
  };
  CHECK(read("40000\n") == 40);
  CHECK(std::isnan(read("120000\n")));
  CHECK(gauge.whyMissing() == "went from 40 to 120 at once, which no heat does");
  CHECK(read("41000\n") == 41);  // out and back: it never was
  CHECK(std::isnan(read("115000\n")));
  CHECK(read("116000\n") == 116);  // it stays there: so it is
  CHECK(read("90000\n") == 90);    // what heat can do
  CHECK(std::isnan(read("127000\n")));
  CHECK(gauge.whyMissing().find("end of the converter") != std::string::npos);
}

TEST_CASE("linksThatLeadNowhereAndFilesThatAreNoneDoNoHarm") {
  FakeRoot root;
  root.chip(0, "platform/x.0", "board");
  root.attribute("temp1_input", "40000\n");
  root.attribute("temp1_input_old", "1\n");
  root.attribute("xtemp2_input", "1\n");
  root.attribute("fan7_input", "900\n");
  root.attribute("fan7_label", "\n");
  REQUIRE(mkfifo(root.chipPath("temp3_input").c_str(), 0600) == 0);
  REQUIRE(mkfifo(root.chipPath("temp1_label").c_str(), 0600) == 0);
  std::filesystem::create_symlink("hwmon8", root.path("sys/class/hwmon/hwmon9"));
  std::filesystem::create_symlink("hwmon9", root.path("sys/class/hwmon/hwmon8"));
  std::filesystem::create_symlink("/nowhere/at/all", root.path("sys/class/hwmon/hwmon7"));
  std::filesystem::create_symlink(".", root.chipPath("loop"));
  const LinuxMachine machine = openLinuxMachine(root.path());
  CHECK(find(machine, "temp1").value == 40);
  CHECK(find(machine, "fan7").value == 900);
  CHECK(whySkipped(machine, "temp3_input").find("cannot be read") == 0);
  for (const char* link : {"hwmon7", "hwmon8", "hwmon9"}) CHECK(whySkipped(machine, link) == "the link leads nowhere");
  size_t count = 0;
  for (const auto& source : machine.sources) count += source->info().readings.size();
  CHECK(count == 2);
}
