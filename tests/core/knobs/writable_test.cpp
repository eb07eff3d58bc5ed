// SPDX-License-Identifier: GPL-3.0-or-later
// What is ever written of a machine: the list, its page in docs/security.md, and all that is not on it.
#include "knobs/writable.h"

#include <catch2/catch.hpp>
#include <fstream>

#include "knobs/turner.h"
#include "tests/support/knob_tree.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("everyKnobsFilesAreOnTheListAndNothingBesideThem") {
  const KnobTree machine;
  for (const Knob& knob : findKnobs(machine.path())) {
    INFO(knob.id);
    for (const std::string& file : knob.files) CHECK(isWritableFile(file));
    if (!knob.modeFile.empty()) CHECK(isWritableFile(knob.modeFile));
  }
  for (const char* file :
       {"", "etc/passwd", "/sys/class/hwmon/hwmon0/pwm1", "sys/class/hwmon/hwmon0/../../../../etc/pwm1",
        "sys//hwmon0/pwm1", "sys/class/hwmon/hwmon0/pwm1_auto_point1_pwm", "sys/class/hwmon/hwmon0/pwm17",
        "sys/class/hwmon/hwmon0/temp1_crit", "sys/class/hwmon/pwm1", "sys/devices/system/cpu/cpu0/online",
        "sys/power/state", "proc/sysrq-trigger", "sys/devices/system/cpu/cpufreq/policy0/scaling_setspeed",
        "sys/class/powercap/intel-rapl:0/enabled", "sys/class/powercap/intel-rapl:0/constraint_0_power_limit_uw/x",
        "sys/a/hwmon0\n/pwm1", "dev/hwmon0/pwm1", "sys/devices/system/cpu/cpufreq/policy0/./scaling_governor"}) {
    INFO(file);
    CHECK_FALSE(isWritableFile(file));
  }
  CHECK_FALSE(isWritableFile("sys/" + std::string(600, 'a') + "/hwmon0/pwm1"));
  CHECK_FALSE(isWritableFile(std::string("sys/a/hwmon0/pwm1\0", 18)));
}

TEST_CASE("aJournalThatNamesAnotherFileWritesNothing") {
  KnobTree machine;
  machine.write("etc/important", "as it was\n");
  {
    auto turner = Turner::open(machine.path(), TurnedBy::Run);
    REQUIRE(turner);
    REQUIRE(turner->turn("cpu.power.limit", "60", [] { return NearLimit(); }));
  }
  // Somebody has put a file of his own into the journal.
  for (const auto& entry : std::filesystem::directory_iterator(machine.path("state/ash-gauge"))) {
    if (entry.path().extension() != ".json") continue;
    std::string text = readFile(entry.path());
    const size_t at = text.find(KnobTree::kLimit);
    REQUIRE(at != std::string::npos);
    text.replace(at, std::string(KnobTree::kLimit).size(), "etc/important");
    std::ofstream(entry.path()) << text;
  }
  auto turner = Turner::open(machine.path(), TurnedBy::Run);
  REQUIRE(turner);
  CHECK(turner->restore(false).size() == 1);
  CHECK(machine.at("etc/important") == "as it was");
}

TEST_CASE("theListOfTheSecurityPageIsTheListOfTheProgram") {
  const std::string page = readFile(std::string(PROJECT_FOLDER) + "/docs/security.md");
  size_t rows = 0;
  for (const WritableFile& one : writableFiles()) {
    INFO(one.name);
    CHECK(page.find("| `/" + std::string(one.below) + "…/" + one.folder + "/" + one.name + "` | " + one.what + " |") !=
          std::string::npos);
  }
  for (size_t at = page.find("| `/sys/"); at != std::string::npos; at = page.find("| `/sys/", at + 1)) ++rows;
  CHECK(rows == writableFiles().size());
}
