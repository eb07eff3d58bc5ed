// SPDX-License-Identifier: GPL-3.0-or-later
// How a machine is set, read back; what changes, comes and goes while a run goes on.
#include <catch2/catch.hpp>
#include <thread>

#include "readings/watch/background_watch.h"
#include "readings/watch/device_watch.h"
#include "readings/watch/machine_settings.h"
#include "tests/support/fake_root.h"

using namespace ash;
using namespace ash::tests;

namespace {

void addMachine(FakeRoot& root) {
  for (int cpu = 0; cpu < 4; ++cpu)
    root.cpu(cpu, 0, cpu, "4700000",
             {{"scaling_governor", "powersave"},
              {"energy_performance_preference", "balance_power"},
              {"scaling_max_freq", "4700000"}});
  root.files("sys/devices/system/cpu/intel_pstate", {{"no_turbo", "0"}});
  root.files("sys/firmware/acpi", {{"platform_profile", "balanced"}});
  root.powerZone("package-0", "intel-rapl/intel-rapl:0",
                 {{"energy_uj", "1"},
                  {"constraint_0_name", "long_term"},
                  {"constraint_0_power_limit_uw", "45000000"},
                  {"constraint_0_time_window_us", "28000000"}});
  root.chip(0, "platform/nct6775.656", "nct6798");
  for (const auto& [name, text] : Files{{"pwm1", "128"},
                                        {"pwm1_enable", "1"},
                                        {"pwm1_mode", "1"},
                                        {"pwm2", "90"},
                                        {"pwm2_enable", "5"},
                                        {"pwm2_auto_point1_temp", "40000"},
                                        {"pwm2_auto_point1_pwm", "76"},
                                        {"pwm2_auto_point2_temp", "60000"},
                                        {"pwm2_auto_point2_pwm", "255"},
                                        {"temp1_input", "34000"},
                                        {"temp1_label", "SYSTIN"},
                                        {"temp1_max_alarm", "0"},
                                        {"fan1_input", "800"},
                                        {"fan1_alarm", "1"}})
    root.attribute(name, text + "\n");
  root.files("sys/class/dmi/id", {{"bios_version", "F14c"}});
  root.files("proc/sys/kernel", {{"osrelease", "6.8.4-tower"}, {"hostname", "larch"}});
}

// Numbers are set with a narrow space before their unit.
std::string plain(std::string text) {
  for (size_t at = text.find("\u202F"); at != std::string::npos; at = text.find("\u202F")) text.replace(at, 3, " ");
  return text;
}

const std::string kLimit = "sys/devices/virtual/powercap/intel-rapl/intel-rapl:0/constraint_0_power_limit_uw";

}  // namespace

TEST_CASE("settingsAreReadBack") {
  FakeRoot root;
  addMachine(root);
  const Json settings = settingsToJson(readMachineSettings(root.path()));
  CHECK(settings["cpu.governor"] == "powersave");
  CHECK(settings["cpu.energy_preference"] == "balance_power");
  CHECK(settings["cpu.clock_max_mhz"] == 4700);
  CHECK(settings["cpu.boost"] == "on");
  CHECK(settings["platform_profile"] == "balanced");
  CHECK(settings["power_limit.package-0.sustained_w"] == 45);
  CHECK(settings["power_limit.package-0.sustained_window_s"] == 28);
  CHECK(settings["fan.nct6798.pwm1.mode"] == "by hand");
  CHECK(settings["fan.nct6798.pwm1.duty_percent"] == 50);
  CHECK(settings["fan.nct6798.pwm2.mode"] == "automatic (5)");
  CHECK(settings["fan.nct6798.pwm2.curve"] == "40 °C 30 %, 60 °C 100 %");
  CHECK_FALSE(settings.contains("fan.nct6798.pwm2.duty_percent"));  // it moves by itself
  CHECK(settings["firmware"] == "F14c");
  CHECK(settings["kernel"] == "6.8.4-tower");
}

TEST_CASE("policiesThatDifferAreToldWithTheirCpus") {
  FakeRoot root;
  addMachine(root);
  root.files("sys/devices/system/cpu/cpufreq/policy3", {{"scaling_governor", "performance"}});
  CHECK(settingsToJson(readMachineSettings(root.path()))["cpu.governor"] == "powersave (CPU 0-2), performance (CPU 3)");
}

TEST_CASE("askedAndDeliveredAreHeldAgainstEachOther") {
  FakeRoot root;
  addMachine(root);
  const auto settings = readMachineSettings(root.path());
  CHECK(notAsAsked({{"power_limit_w", 45}, {"governor", "powersave"}, {"boost", true}, {"fan_duty", 50}}, settings)
            .empty());
  CHECK(plain(notAsAsked({{"power_limit_w", 88}}, settings).at(0)) ==
        "Asked for a power limit of 88 W; the machine has 45 W.");
  CHECK(notAsAsked({{"governor", "performance"}}, settings) ==
        std::vector<std::string>{"Asked for the governor of performance; the machine has powersave."});
  CHECK(notAsAsked({{"boost", false}}, settings).size() == 1);
  CHECK(notAsAsked({{"paste", "grey"}}, settings).empty());
}

TEST_CASE("aChangeDuringTheRunIsAnEvent") {
  FakeRoot root;
  addMachine(root);
  SettingsWatch watch(root.path());
  watch.setAsked({{"power_limit_w", 45}});
  watch.begin();
  CHECK(watch.take().empty());
  root.write(kLimit, "23000000\n");
  const auto events = watch.take();
  REQUIRE(events.size() == 1);
  CHECK(events[0].kind == EventKind::Change);
  CHECK(plain(events[0].text) ==
        "Power limit (sustained) of package-0 went from 45 W to 23 W. Asked for a power limit of 45 W; the machine has "
        "23 W.");
  CHECK(events[0].extra["before"] == 45);
  CHECK(watch.take().empty());
  const Event end = watch.atEnd();
  CHECK(plain(end.text) ==
        "The machine's settings at the end differ. Power limit (sustained) of package-0: 45 W at the start, 23 W at "
        "the end.");
  CHECK(end.extra["settings"]["power_limit.package-0.sustained_w"] == 23);
  root.write(kLimit, "45000000\n");
  CHECK(watch.take().size() == 1);
  CHECK(watch.atEnd().text == "The machine's settings at the end are those of the start.");
}

TEST_CASE("anAlarmOfTheChipIsToldWhenItComesOn") {
  FakeRoot root;
  addMachine(root);
  ChipAlarms alarms(root.path());
  alarms.begin();
  CHECK(alarms.take().empty());  // fan1_alarm was on before
  root.attribute("temp1_max_alarm", "1\n");
  const auto events = alarms.take();
  REQUIRE(events.size() == 1);
  CHECK(events[0].text == "The chip's own alarm came on: SYSTIN of nct6798 (max limit).");
  CHECK(alarms.take().empty());
  root.attribute("temp1_max_alarm", "0\n");
  CHECK(alarms.take().empty());
  root.attribute("temp1_max_alarm", "1\n");
  CHECK(alarms.take().size() == 1);
}

TEST_CASE("whatIsPluggedInDuringARunIsTold") {
  FakeRoot root;
  addMachine(root);
  NewDevices devices(root.path());
  devices.begin();
  CHECK(devices.take().empty());
  root.chip(7, "usb1/1-2", "usb_stick");
  const auto events = devices.take();
  REQUIRE(events.size() == 1);
  CHECK(events[0].text == "usb_stick was plugged in; its readings begin with the next run.");
  CHECK(devices.take().empty());
  // The same device under another number is no new one.
  std::filesystem::remove(root.path("sys/class/hwmon/hwmon7"));
  std::filesystem::rename(root.path("sys/devices/usb1/1-2/hwmon/hwmon7"),
                          root.path("sys/devices/usb1/1-2/hwmon/hwmon9"));
  root.link("sys/class/hwmon/hwmon9", "sys/devices/usb1/1-2/hwmon/hwmon9");
  CHECK(devices.take().empty());
}

TEST_CASE("theWatchTellsFromItsOwnThread") {
  FakeRoot root;
  addMachine(root);
  BackgroundWatch watch(root.path(), Json::object());
  std::this_thread::sleep_for(std::chrono::milliseconds(200));  // it has looked at the start
  root.attribute("temp1_max_alarm", "1\n");
  std::vector<Event> events;
  for (int i = 0; i < 100 && events.empty(); ++i) {
    std::this_thread::sleep_for(std::chrono::milliseconds(30));
    events = watch.take(false);
  }
  REQUIRE_FALSE(events.empty());
  CHECK(events[0].extra["source"] == "alarm");
  bool tellsSettings = false;
  for (const Event& event : watch.take(true)) tellsSettings |= event.kind == EventKind::Settings;
  CHECK(tellsSettings);
}
