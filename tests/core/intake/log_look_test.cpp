// SPDX-License-Identifier: GPL-3.0-or-later
// What is shown of a log before it is taken in: its first lines with what was understood in place, its columns as
// lanes.
#include <catch2/catch.hpp>
#include <cmath>

#include "intake/log_look.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

LogLook lookedAt(const std::string& text, const ImportWishes& wishes = {}) {
  const TempFolder folder;
  auto look = lookAtLog(folder.write("log.csv", text), wishes);
  REQUIRE(look);
  return std::move(*look);
}

// The marked parts of a line, as they stand in it.
std::vector<std::pair<std::string, HeadMarkKind>> marksOf(const LogLook& look, size_t line) {
  std::vector<std::pair<std::string, HeadMarkKind>> parts;
  for (const HeadLine& one : look.facts.head) {
    if (one.line != line) continue;
    for (const HeadMark& mark : one.marks)
      parts.emplace_back(one.text.substr(mark.from, mark.to - mark.from), mark.kind);
  }
  return parts;
}

using Marks = std::vector<std::pair<std::string, HeadMarkKind>>;

}  // namespace

TEST_CASE("whatWasUnderstoodIsMarkedInItsPlace") {
  const LogLook look = lookedAt(
      "Bench of mine\nZeit;CPU [°C];Lüfter (1/min);Modus\n04.05.2026 19:04:00;41,5;900;rest\n04.05.2026 "
      "19:04:01;n/a?;901;rest\n"
      "04.05.2026 19:04:02;43,25;902;rest\n04.05.2026 19:04:03;43,25;902;rest\n");
  CHECK(marksOf(look, 1) == Marks{{"Bench of mine", HeadMarkKind::LeftOut}});
  CHECK(marksOf(look, 2) ==
        Marks{{"Zeit", HeadMarkKind::Time}, {"°C", HeadMarkKind::Unit}, {"1/min", HeadMarkKind::Unit}});
  CHECK(marksOf(look, 3) == Marks{{"04.05.2026 19:04:00", HeadMarkKind::Time}, {",", HeadMarkKind::Decimal}});
  CHECK(marksOf(look, 4) == Marks{{"04.05.2026 19:04:01", HeadMarkKind::Time}, {"n/a?", HeadMarkKind::Refused}});
}

TEST_CASE("aRowOfUnitsIsMarkedAndNothingOfAQuotedCellIsMarkedAskew") {
  const LogLook look = lookedAt("time,\"power, wall\"\ns,W\n0,\"1.5\"\n1,\"2.5\"\n2,\"3.5\"\n");
  CHECK(marksOf(look, 2) == Marks{{"s,W", HeadMarkKind::Unit}});
  // Every mark stands for what it says: no part of a quoted cell is taken for a time or a unit.
  for (const HeadLine& line : look.facts.head) {
    for (const HeadMark& mark : line.marks) CHECK(mark.to <= line.text.size());
  }
  CHECK(marksOf(look, 3) == Marks{{"0", HeadMarkKind::Time}, {".", HeadMarkKind::Decimal}});
}

TEST_CASE("aLongLineIsCutBetweenCharactersAndControlsAreBlanks") {
  std::string text = "time,a\n0,1\n1,2\n";
  for (int i = 0; i < 400; ++i) text = (i == 0 ? std::string("\x01") : std::string("é")) + text;
  const LogLook look = lookedAt(text);
  const HeadLine& first = look.facts.head.front();
  CHECK(first.text.size() <= 400);
  CHECK(first.text.find('\x01') == std::string::npos);
  CHECK((static_cast<unsigned char>(first.text.back()) != 0xC3));  // half of an "é"
}

TEST_CASE("aLaneHasLimitedStepsAndLosesNoSpike") {
  std::string text = "time,CPU [°C],Power [W]\n";
  for (int i = 0; i < 50'000; ++i)
    text += std::to_string(i) + (i == 31'417 ? ",99" : i == 2'718 ? ",-5" : ",40") + (i % 1000 == 7 ? ",\n" : ",80\n");
  const LogLook look = lookedAt(text);
  REQUIRE(look.lanes.size() == 2);
  const LaneShape& lane = look.lanes.front();
  CHECK(lane.title == "cpu.temp");
  CHECK(lane.timeS.size() > 500);
  CHECK(lane.timeS.size() <= 1200);
  CHECK(lane.timeS.front() == 0);
  double low = INFINITY, high = -INFINITY;
  for (size_t i = 0; i < lane.timeS.size(); ++i) {
    low = std::min(low, lane.low[i]);
    if (lane.high[i] > high) high = lane.high[i];
    if (lane.high[i] == 99) {
      CHECK(lane.timeS[i] <= 31'417);
      CHECK((i + 1 == lane.timeS.size() || lane.timeS[i + 1] > 31'417));
    }
  }
  CHECK(low == -5);
  CHECK(high == 99);
}

TEST_CASE("aStepWithoutAValueIsAGap") {
  const LaneShape lane = laneOf({0, 1, 2, 3}, {1, NAN, 3, 4}, "x");
  REQUIRE(lane.timeS.size() == 4);
  CHECK(std::isnan(lane.low[1]));
  CHECK(std::isnan(lane.high[1]));
  CHECK(lane.high[3] == 4);
}
