// SPDX-License-Identifier: GPL-3.0-or-later
// What stands at an axis: round ticks, labels that fit.
#include <catch2/catch.hpp>

#include "report/drawing/label_text.h"
#include "report/drawing/ticks.h"

using namespace ash;

TEST_CASE("ticksAreRound") {
  CHECK(niceTicks(0, 100, 5) == std::vector<double>{0, 20, 40, 60, 80, 100});
  CHECK(niceTicks(11, 19, 4) == std::vector<double>{12, 14, 16, 18});
  CHECK(niceTicks(5, 5, 4).empty());
  CHECK(minuteTicks(0, 61, 5) == std::vector<double>{0, 15, 30, 45, 60});
  CHECK(minuteTicks(0, 2.2, 5) == std::vector<double>{0, 0.5, 1, 1.5, 2});
  CHECK(minuteTicks(0, 700, 6) == std::vector<double>{0, 120, 240, 360, 480, 600});
}

TEST_CASE("labelsAreBrokenBetweenWordsAndCutBetweenCharacters") {
  CHECK(brokenLabel("Mesh", 12, 140, 2) == std::vector<std::string>{"Mesh"});
  const auto two = brokenLabel("The tall cooler with two fans", 12, 110, 2);
  REQUIRE(two.size() == 2);
  CHECK(two[0] == "The tall cooler");
  CHECK(two[1] == "with two fans");
  const auto cut = brokenLabel("Äöüßéñ Äöüßéñ Äöüßéñ Äöüßéñ Äöüßéñ Äöüßéñ", 12, 60, 2);
  REQUIRE(cut.size() == 2);
  CHECK(cut[1].find("…") != std::string::npos);
  for (const std::string& line : cut) CHECK(widthAtMost(line, 12) <= 60);
  // Rungs of a ladder are told apart by their ends.
  const std::string rung = brokenLabel("The mixing box in the rack, 105 W", 12, 120, 1).front();
  CHECK(rung.starts_with("The mix"));
  CHECK(rung.ends_with(" 105 W"));
  CHECK(rung.find("…") != std::string::npos);
  // What is no UTF-8 is still text.
  CHECK(brokenLabel("\xff\xfe\x80", 12, 200, 1).size() == 1);
  CHECK(widthAtMost("WWWW", 10) > widthAtMost("iiii", 10));
}
