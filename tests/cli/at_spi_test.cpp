// SPDX-License-Identifier: GPL-3.0-or-later
// The window as a screen reader meets it: the program itself, on a display that nobody sees, walked over a real
// accessibility bus.
#include "tests/support/at_spi.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <optional>
#include <set>

#include "tests/support/program.h"

using namespace ash;
using namespace ash::tests;

namespace {

// What a person can do something with. A cell without words is blank, and said to be, with its column.
bool needsAName(const Told& one) {
  static const std::set<std::string> kParts = {"filler",       "panel",   "scroll pane", "viewport",
                                               "layered pane", "frame",   "scroll bar",  "application",
                                               "separator",    "unknown", "cell"};
  return one.canBeFocused() && !kParts.contains(one.role);
}

std::string listOf(const std::vector<Told>& all) {
  std::string text;
  for (const Told& one : all) text += one.role + " “" + one.name + "” " + one.description.substr(0, 60) + "\n";
  return text;
}

}  // namespace

TEST_CASE("aScreenReaderMeetsEveryStationWithNothingUnnamed") {
  const Bench bench;
  for (const char* setup : {"Mesh", "Solid"})
    REQUIRE(bench
                .ashg(std::string("run --book b.ashbook --study s --load vector --sim larch12 --speed 2000 --phases "
                                  "'idle 1min, soak 8min, measure 3min, cool 1min' --setup ") +
                      setup)
                .status == 0);
  const PrivateBus session;
  REQUIRE(session.isUp());
  const UnseenDisplay display("1280x800");
  REQUIRE(display.isUp());
  AccessibilityBus reader;
  REQUIRE(reader.isUp());
  setenv("QT_LINUX_ACCESSIBILITY_ALWAYS_ON", "1", 1);
  setenv("QT_QPA_PLATFORM", "xcb", 1);
  const std::string program = ASHG_PROGRAM;
  const Child window({program.substr(0, program.rfind('/')) + "/ash-gauge", bench.path("b.ashbook")});
  const auto root = reader.program(30);
  REQUIRE(root);
  std::set<std::string> before;
  for (const char* station : {"Watch", "Traces", "Standings", "Write-up", "Plan"}) {
    INFO(station);
    std::vector<Told> shown;
    const auto button = [&] {
      shown = reader.showing(*root);
      const auto found = std::find_if(shown.begin(), shown.end(), [&](const Told& one) {
        return one.name == station && one.role.find("button") != std::string::npos;
      });
      return found == shown.end() ? std::optional<Told>() : *found;
    };
    std::optional<Told> pressed;
    REQUIRE(Bench::waitUntil([&] { return (pressed = button()).has_value(); }, 30));
    REQUIRE(reader.press(*pressed));
    // The station is there once it shows things that were not there before.
    const auto newOnes = [&] {
      const auto now = button();
      std::set<std::string> names;
      for (const Told& one : shown) names.insert(one.role + " " + one.name);
      const auto isNew = [&](const std::string& one) { return !before.contains(one); };
      const auto count = std::count_if(names.begin(), names.end(), isNew);
      if (!now || !now->isChecked() || count < 5) return false;
      before = names;
      return true;
    };
    REQUIRE(Bench::waitUntil(newOnes, 30));
    CHECK(shown.size() > 20);
    std::vector<Told> unnamed;
    std::copy_if(shown.begin(), shown.end(), std::back_inserter(unnamed),
                 [](const Told& one) { return needsAName(one) && one.name.empty(); });
    CHECK(listOf(unnamed) == "");
    if (station != std::string("Traces")) continue;
    // One choice of several: it is checked without a click, and must be followed all the same.
    shown = reader.showing(*root);
    const auto planes =
        std::find_if(shown.begin(), shown.end(), [](const Told& one) { return one.name == "Show: planes"; });
    REQUIRE(planes != shown.end());
    REQUIRE(reader.press(*planes));
    const auto isNew = [&](const Told& one) { return !before.contains(one.role + " " + one.name); };
    const auto isFollowed = [&] {
      shown = reader.showing(*root);
      return std::any_of(shown.begin(), shown.end(), isNew);
    };
    CHECK(Bench::waitUntil(isFollowed, 20));
  }
}
