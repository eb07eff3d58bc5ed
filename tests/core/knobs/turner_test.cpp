// SPDX-License-Identifier: GPL-3.0-or-later
// Knobs of a tree that looks like a machine: found with their ranges, turned within them, and always put back.
#include <sys/wait.h>
#include <unistd.h>
#include <catch2/catch.hpp>

#include "knobs/find_knobs.h"
#include "knobs/turner.h"
#include "tests/support/knob_tree.h"

using namespace ash;
using namespace ash::tests;

namespace {

const Knob& knobCalled(const std::vector<Knob>& knobs, const std::string& id) {
  const auto found = std::find_if(knobs.begin(), knobs.end(), [&](const Knob& knob) { return knob.id == id; });
  INFO(id);
  REQUIRE(found != knobs.end());
  return *found;
}

Turner opened(const KnobTree& machine, TurnedBy by = TurnedBy::Run) {
  auto turner = Turner::open(machine.path(), by);
  if (!turner) FAIL(turner.error().message);
  return std::move(*turner);
}

Result<Turned> turn(Turner& turner, const std::string& id, const std::string& value, const std::string& root = {}) {
  return turner.turn(id, value, [&] { return root.empty() ? NearLimit() : nearestToLimit(root); });
}

}  // namespace

TEST_CASE("knobsAreFoundWithTheirRangesAndChoices") {
  const KnobTree machine;
  const auto knobs = findKnobs(machine.path());
  const Knob& limit = knobCalled(knobs, "cpu.power.limit");
  CHECK(limit.value == 88);
  CHECK(limit.most == 120);
  CHECK(limit.unit == "W");
  CHECK(limit.files == std::vector<std::string>{KnobTree::kLimit});
  CHECK(limit.isTurnable());
  // A most of 0 is one that is not known.
  CHECK_FALSE(knobCalled(knobs, "cpu.power.limit.short").most);
  const Knob& clock = knobCalled(knobs, "cpu.clock.most");
  CHECK(clock.value == 5100);
  CHECK(clock.least == 800);
  CHECK(clock.most == 5100);
  CHECK(clock.byDefault == 5100);
  CHECK(clock.files.size() == 4);
  CHECK(knobCalled(knobs, "cpu.clock.least").value == 800);
  CHECK(knobCalled(knobs, "cpu.boost").choice == "on");
  // Words that every policy knows.
  const Knob& governor = knobCalled(knobs, "cpu.governor");
  CHECK(governor.choice == "schedutil");
  REQUIRE(governor.choices.size() == 2);
  CHECK(governor.choices[0].word == "performance");
  const Knob& graphics = knobCalled(knobs, "gpu.power.limit");
  CHECK(graphics.least == 90);
  CHECK(graphics.most == 200);
  CHECK(graphics.byDefault == 180);
  const Json json = knobToJson(graphics);
  CHECK(json["turnable"] == true);
  CHECK(json["why_not"].is_null());
  CHECK(json["choices"].is_null());
  CHECK(json["value"] == 180.0);
  size_t duties = 0;
  for (const Knob& knob : knobs) duties += knob.id.starts_with("fan.") && knob.id.ends_with(".duty");
  CHECK(duties == 2);
}

TEST_CASE("aKnobIsTurnedReadBackAndPutBack") {
  const KnobTree machine;
  const auto before = machine.all();
  {
    Turner turner = opened(machine);
    const auto turned = turn(turner, "cpu.power.limit", "65 W");
    REQUIRE(turned);
    CHECK(turned->isAsAsked);
    CHECK(turnedWords(*turned) == "cpu.power.limit: 65 W");
    CHECK(machine.limit() == "65000000");
    REQUIRE(turn(turner, "cpu.power.limit", "45.5"));
    CHECK(machine.limit() == "45500000");
    // Each cluster within its own range.
    REQUIRE(turn(turner, "cpu.clock.most", "4500"));
    CHECK(machine.at("sys/devices/system/cpu/cpufreq/policy0/scaling_max_freq") == "4500000");
    CHECK(machine.at("sys/devices/system/cpu/cpufreq/policy3/scaling_max_freq") == "3900000");
    REQUIRE(turn(turner, "cpu.clock.most", "3000"));
    REQUIRE(turn(turner, "cpu.governor", "performance"));
    REQUIRE(turn(turner, "cpu.boost", "off"));
    CHECK(machine.at("sys/devices/system/cpu/cpufreq/policy3/scaling_max_freq") == "3000000");
    CHECK(machine.at("sys/devices/system/cpu/cpufreq/boost") == "0");
    CHECK(turner.restore(false).empty());
    CHECK(turner.turned().empty());
  }
  CHECK(machine.all() == before);
  CHECK(putBackLeft(machine.path()).empty());
}

TEST_CASE("whatAKnobCannotBeIsRefusedAndNothingIsTurned") {
  const KnobTree machine;
  const auto before = machine.all();
  Turner turner = opened(machine);
  const auto refusal = [&](const char* id, const char* value) {
    const auto turned = turn(turner, id, value);
    INFO(id << " " << value);
    REQUIRE_FALSE(turned);
    return turned.error().message;
  };
  CHECK(refusal("gpu.power.limit", "60").find("goes from 90 W to 200 W") != std::string::npos);
  CHECK(refusal("gpu.power.limit", "201").find("goes from 90 W to 200 W") != std::string::npos);
  CHECK(refusal("cpu.power.limit", "-5").find("120 W") != std::string::npos);
  CHECK(refusal("cpu.power.limit", "0").find("120 W") != std::string::npos);
  CHECK(refusal("cpu.power.limit", "much").find("takes a number") != std::string::npos);
  CHECK(refusal("cpu.power.limit", "nan").find("takes a number") != std::string::npos);
  CHECK(refusal("cpu.power.limit", "1e99").find("120 W") != std::string::npos);
  CHECK(refusal("cpu.governor", "powersave").find("performance, schedutil") != std::string::npos);
  CHECK(refusal("cpu.governor", "../../x").find("takes one of") != std::string::npos);
  CHECK(refusal("../../etc/passwd", "1").find("no knob") != std::string::npos);
  CHECK(machine.all() == before);
  CHECK(turner.turned().empty());
  // The lowest clock never stands above the highest, on the way there and back.
  REQUIRE(turn(turner, "cpu.clock.least", "3000"));
  CHECK(refusal("cpu.clock.most", "2000").find("while cpu.clock.least is 3000 MHz") != std::string::npos);
  REQUIRE(turn(turner, "cpu.clock.most", "3500"));
  CHECK(refusal("cpu.clock.least", "3600").find("while cpu.clock.most is 3500 MHz") != std::string::npos);
  CHECK(turner.restore(false).empty());
  CHECK(machine.all() == before);
}

TEST_CASE("theValueBeforeIsOnDiskBeforeAnythingIsTurned") {
  const KnobTree machine;
  // The state's folder cannot be made: nothing may be turned then.
  machine.write("state", "no folder");
  const auto refused = Turner::open(machine.path(), TurnedBy::Run);
  CHECK_FALSE(refused);
  CHECK(machine.limit() == "88000000");
}

TEST_CASE("aFanIsDrivenByHandAndGoesBackToWhatDroveIt") {
  const KnobTree machine;
  const std::string folder = "sys/devices/platform/nct6775.656/hwmon/hwmon1/";
  Turner turner = opened(machine);
  std::vector<std::string> duties;
  for (const Knob& knob : turner.knobs()) {
    if (knob.id.ends_with(".duty")) duties.push_back(knob.id);
  }
  REQUIRE(duties.size() == 2);
  for (const std::string& duty : duties) REQUIRE(turn(turner, duty, "80"));
  CHECK(machine.at(folder + "pwm1") == "204");  // 80 % of 255
  CHECK(machine.at(folder + "pwm1_enable") == "1");
  CHECK(turner.hasTurnedFans());
  CHECK(turner.releaseFans().empty());
  CHECK(machine.at(folder + "pwm1_enable") == "5");
  CHECK(machine.at(folder + "pwm1") == "204");  // the driver's own again: many refuse to have it written
  CHECK(machine.at(folder + "pwm2_enable") == "1");
  CHECK(machine.at(folder + "pwm2") == "200");
  CHECK_FALSE(turner.hasTurnedFans());
}

TEST_CASE("aFanThatWasDrivenByHandHasItsDutyAgainWithItsMode") {
  const KnobTree machine;
  const std::string folder = "sys/devices/platform/nct6775.656/hwmon/hwmon1/";
  Turner turner = opened(machine);
  for (const Knob& knob : turner.knobs()) {
    if (knob.isFan && !knob.isNumber() && knob.choice == "manual") REQUIRE(turn(turner, knob.id, "full"));
  }
  CHECK(machine.at(folder + "pwm2_enable") == "0");
  machine.write(folder + "pwm2", "255\n");  // as its driver does
  CHECK(turner.restore(false).empty());
  CHECK(machine.at(folder + "pwm2_enable") == "1");
  CHECK(machine.at(folder + "pwm2") == "200");
}

TEST_CASE("whatAPersonHasSetStaysWhenARunPutsItsOwnBack") {
  const KnobTree machine;
  {
    Turner person = opened(machine, TurnedBy::Hand);
    REQUIRE(turn(person, "cpu.power.limit", "70"));
  }
  // A run does not take it for something left over.
  CHECK(putBackLeft(machine.path()).empty());
  CHECK(machine.limit() == "70000000");
  {
    Turner run = opened(machine);
    REQUIRE(turn(run, "cpu.power.limit", "50"));
    REQUIRE(turn(run, "cpu.boost", "off"));
    CHECK(run.restore(false).empty());
  }
  CHECK(machine.limit() == "70000000");
  Turner person = opened(machine, TurnedBy::Hand);
  CHECK(person.restore(true).empty());
  CHECK(machine.limit() == "88000000");
  CHECK(person.turned().empty());
}

TEST_CASE("aJournalThatNamesOtherFilesWritesNothing") {
  const KnobTree machine;
  {
    Turner turner = opened(machine);
    REQUIRE(turn(turner, "cpu.boost", "off"));
  }
  machine.write("secret", "untouched");
  std::string journal;
  for (const auto& entry : std::filesystem::directory_iterator(machine.path("state/ash-gauge"))) {
    if (entry.path().extension() == ".json") journal = entry.path();
  }
  REQUIRE_FALSE(journal.empty());
  Json kept = Json::parse(readFile(journal));
  kept["turned"] = {{{"knob", "cpu.boost"}, {"file", "secret"}, {"before", "1"}},
                    {{"knob", "cpu.boost"}, {"file", "../../etc/motd"}, {"before", "1"}},
                    {{"knob", "cpu.boost"}, {"file", kept["turned"][0]["file"]}, {"before", "1; rm -rf"}}};
  machine.write(journal.substr(machine.path().size() + 1), kept.dump());
  Turner turner = opened(machine);
  CHECK(turner.restore(false).size() == 3);
  CHECK(machine.at("secret") == "untouched");
  CHECK(machine.at("sys/devices/system/cpu/cpufreq/boost") == "0");
}

TEST_CASE("noFanIsTurnedDownNearACriticalLimit") {
  const KnobTree machine("96000");
  Turner turner = opened(machine);
  for (const Knob& knob : turner.knobs()) {
    if (!knob.id.ends_with(".duty")) continue;
    const auto slower = turn(turner, knob.id, "20", machine.path());
    REQUIRE_FALSE(slower);
    CHECK(slower.error().message.find("4.0 K below its critical limit") != std::string::npos);
    CHECK(turn(turner, knob.id, "100", machine.path()));  // faster is always allowed
  }
  CHECK(turner.restore(false).empty());
}

TEST_CASE("anotherProcessWaitsAndWhatADeadOneLeftIsPutBack") {
  const KnobTree machine;
  const auto before = machine.all();
  const pid_t child = fork();
  REQUIRE(child >= 0);
  if (child == 0) {
    auto turner = Turner::open(machine.path(), TurnedBy::Run);
    const bool isTurned = turner && turn(*turner, "cpu.power.limit", "30") && turn(*turner, "cpu.boost", "off") &&
                          turn(*turner, "cpu.clock.most", "2000");
    // Gone without a word, as by kill -9.
    _exit(isTurned ? 0 : 1);
  }
  int status = 1;
  waitpid(child, &status, 0);
  REQUIRE(status == 0);
  CHECK(machine.limit() == "30000000");
  {
    Turner holder = opened(machine);
    CHECK_FALSE(Turner::open(machine.path(), TurnedBy::Run));
    CHECK(holder.turned().size() == 1 + 1 + 4);
  }
  CHECK(putBackLeft(machine.path()) ==
        "What an earlier run had left turned was put back: cpu.power.limit, cpu.boost, cpu.clock.most.");
  CHECK(machine.all() == before);
  CHECK(putBackLeft(machine.path()).empty());
}

TEST_CASE("anAnswerThatDiffersIsToldAndADeviceThatIsGoneIsKeptInTheJournal") {
  const KnobTree machine;
  Turner turner = opened(machine);
  Turned turned{"cpu.power.limit", "W", "45", "23", false};
  CHECK(turnedWords(turned) == "cpu.power.limit: asked 45 W, got 23 W");
  REQUIRE(turn(turner, "gpu.power.limit", "100"));
  const std::string cap = machine.path("sys/devices/pci0000:00/0000:00:01.0/0000:01:00.0/hwmon/hwmon0/power1_cap");
  std::filesystem::remove(cap);
  const auto troubles = turner.restore(false);
  REQUIRE(troubles.size() == 1);
  CHECK(troubles[0].find("gpu.power.limit did not go back to 180000000") == 0);
  CHECK(turner.turned().size() == 1);
}
