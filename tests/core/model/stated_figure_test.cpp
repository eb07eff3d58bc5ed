// SPDX-License-Identifier: GPL-3.0-or-later
// What was expected is dated, and with a result in the book nothing of it is lost.
#include "model/stated_figure.h"

#include <catch2/catch.hpp>

#include "model/study_plan.h"

using namespace ash;

namespace {

StatedFigure expected(double low, double high, const std::string& when) {
  StatedFigure one;
  one.setup = "Mesh";
  one.figure = "cpu.over_ambient_k";
  one.low = low;
  one.high = high;
  one.written = when;
  return one;
}

}  // namespace

TEST_CASE("beforeAResultAnExpectationIsChangedWithoutATrace") {
  std::vector<StatedFigure> all;
  state(all, expected(44, 48, "2026-11-01T10:00:00+01:00"), false);
  state(all, expected(45, 50, "2026-11-02T10:00:00+01:00"), false);
  REQUIRE(all.size() == 1);
  CHECK(all[0].low == 45);
  CHECK(all[0].before.empty());
  CHECK(all[0].written == "2026-11-02T10:00:00+01:00");
  takeBack(all, 0, "2026-11-03T10:00:00+01:00", false);
  CHECK(all.empty());
}

TEST_CASE("afterAResultWhatWasSaidBeforeStaysToBeSeen") {
  std::vector<StatedFigure> all;
  state(all, expected(44, 48, "2026-11-01T10:00:00Z"), false);
  state(all, expected(46, 47, "2026-11-05T10:00:00Z"), true);
  REQUIRE(all[0].before.size() == 1);
  CHECK(all[0].before[0] == StatedBefore{44, 48, "2026-11-05T10:00:00Z"});
  CHECK(all[0].written == "2026-11-01T10:00:00Z");
  // The runs may be gone from the book by then: what was shown is shown.
  state(all, expected(30, 31, "2026-11-06T10:00:00Z"), false);
  CHECK(all[0].before.size() == 2);
  takeBack(all, 0, "2026-11-07T10:00:00Z", true);
  REQUIRE(all.size() == 1);
  CHECK(all[0].takenBack == "2026-11-07T10:00:00Z");
  // Said anew: that it had been taken back is part of its story.
  state(all, expected(30, 31, "2026-11-08T10:00:00Z"), true);
  CHECK(all[0].takenBack.empty());
  CHECK(all[0].before.size() == 3);
  CHECK(all[0].before[2].until == "2026-11-07T10:00:00Z");
}

TEST_CASE("theSameWordsTwiceChangeNothing") {
  std::vector<StatedFigure> all;
  state(all, expected(44, 48, "2026-11-01T10:00:00Z"), true);
  state(all, expected(44, 48, "2026-11-09T10:00:00Z"), true);
  CHECK(all[0].before.empty());
  CHECK(all[0].written == "2026-11-01T10:00:00Z");
}

TEST_CASE("claimsOfTwoPeopleAndTwoLoadsStandBesideEachOther") {
  std::vector<StatedFigure> all;
  for (const char* by : {"the maker", "another tester"}) {
    for (const char* load : {"", "All cores"}) {
      StatedFigure one = expected(45, 45, "2026-11-01T10:00:00Z");
      one.kind = StatedKind::Claimed;
      one.by = by;
      one.load = load;
      state(all, one, false);
    }
  }
  CHECK(all.size() == 4);
}

TEST_CASE("aPlanKeepsWhatWasStatedAndLeavesOutWhatIsNone") {
  StudyPlan plan;
  state(plan.stated, expected(44, 48, "2026-11-01T10:00:00Z"), false);
  state(plan.stated, expected(45, 46, "2026-11-02T10:00:00Z"), true);
  const StudyPlan again = planFromJson(planToJson(plan));
  CHECK(again.stated == plan.stated);
  CHECK_FALSE(planToJson(StudyPlan()).contains("stated"));
  const Json hostile = {
      {"stated",
       {5,
        {{"kind", "expected"}},
        {{"kind", "measured"}, {"setup", "a"}, {"figure", "b"}, {"low", 1}, {"high", 2}},
        {{"kind", "claimed"}, {"setup", "a"}, {"figure", "b"}, {"low", 3}, {"high", 2}},
        {{"kind", "claimed"}, {"setup", "a"}, {"figure", "b"}, {"low", "x"}, {"high", nullptr}},
        {{"kind", "claimed"}, {"by", "c"}, {"setup", "a"}, {"figure", "b"}, {"low", 1}, {"high", 2}}}}};
  REQUIRE(planFromJson(hostile).stated.size() == 1);
  CHECK(planFromJson(hostile).stated[0].by == "c");
}

TEST_CASE("anUndoDoesNotUnsayWhatHasAResult") {
  const auto hasResult = [](const StatedFigure& one) { return one.setup == "Mesh"; };
  StatedFigure other = expected(1, 2, "2026-11-01T10:00:00Z");
  other.setup = "Solid";  // nothing of it is measured
  std::vector<StatedFigure> now = {expected(44, 48, "2026-11-01T10:00:00Z"), other}, then;
  keepTraces(now, then, "2026-11-05T10:00:00Z", hasResult);
  REQUIRE(then.size() == 1);
  CHECK(then[0].setup == "Mesh");
  CHECK(then[0].takenBack == "2026-11-05T10:00:00Z");
  // A change that is undone: both stand in its story, the one before it and the one that was undone.
  now = {expected(44, 48, "2026-11-01T10:00:00Z")};
  state(now, expected(50, 52, "2026-11-03T10:00:00Z"), true);
  then = {expected(44, 48, "2026-11-01T10:00:00Z")};
  keepTraces(now, then, "2026-11-05T10:00:00Z", hasResult);
  REQUIRE(then.size() == 1);
  CHECK(then[0].low == 44);
  REQUIRE(then[0].before.size() == 2);
  CHECK(then[0].before[0] == StatedBefore{44, 48, "2026-11-03T10:00:00Z"});
  CHECK(then[0].before[1] == StatedBefore{50, 52, "2026-11-05T10:00:00Z"});
  // Where nothing of it changes, nothing is added.
  std::vector<StatedFigure> same = then;
  keepTraces(then, same, "2026-11-06T10:00:00Z", hasResult);
  CHECK(same == then);
}
