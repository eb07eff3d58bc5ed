// SPDX-License-Identifier: GPL-3.0-or-later
// The helper without its bus: what it takes, whom it obeys, and what goes back when a caller goes.
#include "helper/turn_service.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "tests/support/knob_tree.h"

using namespace ash;
using namespace ash::tests;

namespace {

TurnAsk asks(const std::string& knob, double number, TurnedBy by = TurnedBy::Run) { return {by, knob, number}; }

constexpr char kGovernor[] = "sys/devices/system/cpu/cpufreq/policy0/scaling_governor";

}  // namespace

TEST_CASE("theHelperTakesANumberOrWhichWord") {
  const KnobTree machine;
  TurnService service(machine.path());
  const auto limit = service.turn(":1.7", asks("cpu.power.limit", 65));
  REQUIRE(limit);
  CHECK(limit->readBack == "65");
  CHECK(machine.limit() == "65000000");
  // Words are the kernel's own, in its order: performance, schedutil.
  REQUIRE(service.turn(":1.7", asks("cpu.governor", 0)));
  CHECK(machine.at(kGovernor) == "performance");
  CHECK(service.check(asks("cpu.power.limit", 65)).value() == "Processor power limit, sustained");
  CHECK(service.putBack(":1.7").empty());
  CHECK(machine.limit() == "88000000");
  CHECK(machine.at(kGovernor) == "schedutil");
}

TEST_CASE("whatTheHelperCannotTakeIsRefusedAndTurnsNothing") {
  const KnobTree machine;
  const auto before = machine.all();
  TurnService service(machine.path());
  for (const auto& [knob, number] : std::vector<std::pair<std::string, double>>{{"", 1},
                                                                                {"nothing", 1},
                                                                                {"cpu.power.limit", NAN},
                                                                                {"cpu.power.limit", INFINITY},
                                                                                {"cpu.power.limit", -5},
                                                                                {"cpu.power.limit", 121},
                                                                                {"cpu.governor", 2},
                                                                                {"cpu.governor", 0.5},
                                                                                {"cpu.governor", -1},
                                                                                {"cpu.governor", 1e300},
                                                                                {"../../etc/passwd", 1},
                                                                                {KnobTree::kLimit, 1},
                                                                                {"cpu.power.limit\n", 60},
                                                                                {std::string(100'000, 'a'), 1}}) {
    INFO(knob.substr(0, 40) << " " << number);
    const auto checked = service.check(asks(knob, number));
    CHECK_FALSE(checked);
    const auto turned = service.turn(":1.7", asks(knob, number));
    REQUIRE_FALSE(turned);
    CHECK(turned.error().kind == ErrorKind::BadInput);
    CHECK(turned.error().message.size() < 200);
  }
  CHECK(machine.all() == before);
  CHECK(service.holder().empty());
}

TEST_CASE("whatACallerHasTurnedGoesBackWhenHeGoesAndAnothersDoesNot") {
  const KnobTree machine;
  const auto before = machine.all();
  TurnService service(machine.path());
  REQUIRE(service.turn(":1.7", asks("cpu.power.limit", 65)));
  REQUIRE(service.turn(":1.7", asks("cpu.clock.most", 3000)));
  const auto second = service.turn(":1.8", asks("cpu.power.limit", 40));
  REQUIRE_FALSE(second);
  CHECK(second.error().kind == ErrorKind::Environment);
  CHECK_FALSE(service.turn(":1.8", asks("cpu.power.limit", 40, TurnedBy::Hand)));
  // Somebody else's going, or his wish to have things put back, changes nothing.
  service.callerIsGone(":1.8");
  CHECK(service.putBack(":1.8").empty());
  CHECK(service.releaseFans(":1.8").empty());
  CHECK(machine.limit() == "65000000");
  service.callerIsGone(":1.7");
  CHECK(machine.all() == before);
  CHECK(service.holder().empty());
  REQUIRE(service.turn(":1.8", asks("cpu.power.limit", 40)));
  CHECK(service.holder() == ":1.8");
}

TEST_CASE("whatIsSetByHandOutlivesItsCallerUntilItIsRestored") {
  const KnobTree machine;
  const auto before = machine.all();
  TurnService service(machine.path());
  REQUIRE(service.turn(":1.7", asks("cpu.power.limit", 70, TurnedBy::Hand)));
  service.callerIsGone(":1.7");
  CHECK(machine.limit() == "70000000");
  // A run puts it back to what was set, not to what was before.
  REQUIRE(service.turn(":1.9", asks("cpu.power.limit", 50)));
  CHECK_FALSE(service.restore());
  service.callerIsGone(":1.9");
  CHECK(machine.limit() == "70000000");
  CHECK(service.hasTurned());
  const auto back = service.restore();
  REQUIRE(back);
  CHECK(back->files == 1);
  CHECK(back->troubles.empty());
  CHECK(machine.all() == before);
  CHECK_FALSE(service.hasTurned());
}

TEST_CASE("theHelperLooksItselfHowHotItIs") {
  KnobTree machine;
  TurnService service(machine.path());
  const auto knobs = findKnobs(machine.path());
  const auto fan =
      std::find_if(knobs.begin(), knobs.end(), [](const Knob& one) { return one.isFan && one.isNumber(); });
  REQUIRE(fan != knobs.end());
  const std::string mode = fan->modeFile;
  const std::string driven = machine.at(mode);
  REQUIRE(service.turn(":1.7", asks(fan->id, 30)));
  CHECK(machine.at(mode) == "1");
  CHECK(service.hasFansToGuard());
  service.guardFans();
  CHECK(machine.at(mode) == "1");
  // 4 K below the critical limit of 100 °C.
  machine.attribute("temp1_input", "96000\n");
  service.guardFans();
  CHECK(machine.at(mode) == driven);
  CHECK_FALSE(service.hasFansToGuard());
  const auto again = service.turn(":1.7", asks(fan->id, 20));
  REQUIRE_FALSE(again);
  CHECK(again.error().message.find("4.0 K below its critical limit") != std::string::npos);
}

TEST_CASE("whateverCallersDoInWhateverOrderAllGoesBack") {
  const KnobTree machine;
  const auto before = machine.all();
  const auto knobs = findKnobs(machine.path());
  for (const unsigned seed : {1U, 2U}) {
    std::mt19937 random(seed);
    const auto below = [&](size_t count) { return std::uniform_int_distribution<size_t>(0, count - 1)(random); };
    TurnService service(machine.path());
    for (int i = 0; i < 25; ++i) {
      const std::string caller = ":1." + std::to_string(below(3));
      const Knob& knob = knobs[below(knobs.size())];
      const double number = knob.isNumber() ? knob.least.value_or(1) + static_cast<double>(below(60))
                                            : static_cast<double>(below(knob.choices.size() + 1));
      switch (below(5)) {
        case 0:
          service.callerIsGone(caller);
          break;
        case 1:
          static_cast<void>(service.putBack(caller));
          break;
        case 2:
          static_cast<void>(service.releaseFans(caller));
          break;
        default:
          static_cast<void>(service.turn(caller, asks(knob.id, number, below(4) == 0 ? TurnedBy::Hand : TurnedBy::Run))
                                .
                                operator bool());
      }
    }
    for (const char* caller : {":1.0", ":1.1", ":1.2"}) service.callerIsGone(caller);
    const auto back = service.restore();
    REQUIRE(back);
    CHECK(back->troubles.empty());
    // A fan that drives itself again chooses its own duty; this tree keeps what was written last.
    auto after = machine.all();
    for (const Knob& knob : knobs) {
      if (knob.isFan && knob.isNumber()) after[knob.files.front()] = before.at(knob.files.front());
    }
    CHECK(after == before);
  }
}
