// SPDX-License-Identifier: GPL-3.0-or-later
// What noise and money are worth to a person, in kelvin, and who is first then.
#include "report/answer/weighing.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "tests/support/made_study.h"

using namespace ash;
using namespace ash::tests;

namespace {

Json pricedAt(double price) { return {{"price", price}, {"currency", "EUR"}}; }

// Warm and quiet, cool and loud, in between but dear: by warmth alone Loud is first.
StudyReport threeCoolers() {
  StudyPlan plan;
  plan.reference = "Quiet";
  return madeStudy({{.setup = "Quiet", .overRoomK = 60, .conditions = pricedAt(30), .noiseDba = 30, .repeats = 3},
                    {.setup = "Loud", .overRoomK = 48, .conditions = pricedAt(40), .noiseDba = 40, .repeats = 3},
                    {.setup = "Dear", .overRoomK = 52, .conditions = pricedAt(130), .noiseDba = 33, .repeats = 3}},
                   plan);
}

std::vector<std::string> namesOf(const Weighing& weighing) {
  std::vector<std::string> names;
  for (const WeighedSetup& one : weighing.order) names.push_back(one.setup);
  return names;
}

}  // namespace

TEST_CASE("whatNothingElseIsWorthIsRankedByWarmth") {
  const StudyReport report = threeCoolers();
  const Weighing weighing = weigh(report, report.loads.front(), {});
  CHECK(namesOf(weighing) == std::vector<std::string>{"Loud", "Dear", "Quiet"});
  CHECK(weighing.level.empty());
  for (const WeighedSetup& one : weighing.order) CHECK(one.totalK() == one.temperatureK);
}

TEST_CASE("aDecibelThatIsWorthMuchPutsTheQuietFirst") {
  const StudyReport report = threeCoolers();
  // Loud 48 + 2·10 = 68, Dear 52 + 2·3 = 58, Quiet 60 + 0 = 60.
  const Weighing two = weigh(report, report.loads.front(), {2, 0});
  CHECK(namesOf(two) == std::vector<std::string>{"Dear", "Quiet", "Loud"});
  CHECK(two.order.front().noiseK == Approx(6).margin(0.01));
  CHECK(two.order.back().totalK() == Approx(68).margin(0.3));
  // At 3 K a decibel: Dear 52 + 9, Quiet 60.
  CHECK(namesOf(weigh(report, report.loads.front(), {3, 0})).front() == "Quiet");
}

TEST_CASE("moneyCountsOverTheCheapest") {
  const StudyReport report = threeCoolers();
  // 0.1 K a euro: Quiet 60, Loud 48 + 1, Dear 52 + 10.
  const Weighing weighing = weigh(report, report.loads.front(), {0, 0.1});
  CHECK(namesOf(weighing) == std::vector<std::string>{"Loud", "Quiet", "Dear"});
  CHECK(weighing.order.back().priceK == Approx(10).margin(1e-9));
  CHECK(weighing.order.front().priceK == Approx(1).margin(1e-9));
}

TEST_CASE("whereTheOrderTurnsIsTold") {
  const StudyReport report = threeCoolers();
  const Weighing weighing = weigh(report, report.loads.front(), {});
  // Loud meets Dear where 48 + 40 w = 52 + 33 w, Dear meets Quiet where 52 + 33 w = 60 + 30 w.
  REQUIRE(weighing.byNoise.size() == 3);
  CHECK(weighing.byNoise[0].first == "Loud");
  CHECK(weighing.byNoise[0].at == 0);
  CHECK(weighing.byNoise[1].first == "Dear");
  CHECK(weighing.byNoise[1].at == Approx(4.0 / 7).margin(0.05));
  CHECK(weighing.byNoise[2].first == "Quiet");
  CHECK(weighing.byNoise[2].at == Approx(8.0 / 3).margin(0.1));
  // Loud meets Quiet where 48 + 40 w = 60 + 30 w; Dear is never first.
  REQUIRE(weighing.byPrice.size() == 2);
  CHECK(weighing.byPrice[1].first == "Quiet");
  CHECK(weighing.byPrice[1].at == Approx(1.2).margin(0.05));
}

TEST_CASE("whoLacksWhatIsWorthSomethingIsLeftOutAndNamed") {
  StudyPlan plan;
  plan.reference = "Silent";
  const StudyReport report = madeStudy({{.setup = "Silent", .overRoomK = 60, .repeats = 2},
                                        {.setup = "Fan", .overRoomK = 50, .noiseDba = 35, .repeats = 2}},
                                       plan);
  CHECK(weigh(report, report.loads.front(), {}).leftOut.empty());
  const Weighing weighing = weigh(report, report.loads.front(), {1, 0});
  CHECK(weighing.leftOut == std::vector<std::string>{"Silent"});
  CHECK(namesOf(weighing) == std::vector<std::string>{"Fan"});
  // A worth below zero is none.
  CHECK(weigh(report, report.loads.front(), {-1, -5}).order.size() == 2);
}

TEST_CASE("setupsWhoseIntervalsMeetAreLevel") {
  StudyPlan plan;
  plan.reference = "One";
  const StudyReport report = madeStudy({{.setup = "One", .overRoomK = 50.2, .repeats = 2, .scatterK = 2},
                                        {.setup = "Other", .overRoomK = 50, .repeats = 2, .scatterK = 2}},
                                       plan);
  const Weighing weighing = weigh(report, report.loads.front(), {});
  REQUIRE(weighing.order.size() == 2);
  CHECK(weighing.level == std::vector<std::string>{weighing.order[1].setup});
}

TEST_CASE("aNoiseWhoseIntervalIsNotKnownShowsNobodyAhead") {
  StudyReport report = threeCoolers();
  for (ComparisonRow& row : report.loads.front().comparison.rows) {
    MetricRow& noise = row.metrics.at(Figure(FigureId::Noise));
    noise.ciLow = noise.ciHigh = kMissing;
  }
  const Weighing two = weigh(report, report.loads.front(), {2, 0});
  CHECK(two.order.front().setup == "Dear");
  CHECK(two.level.size() == 2);
  CHECK(std::isnan(two.order.front().halfK));
  // By warmth alone it does not enter.
  CHECK(weigh(report, report.loads.front(), {}).level.empty());
}

TEST_CASE("withoutARoomTheCoolestCountsAsZero") {
  StudyReport report = threeCoolers();
  for (ComparisonRow& row : report.loads.front().comparison.rows)
    row.metrics.erase(Figure(DeviceKind::Cpu, FigureId::OverRoom));
  const Weighing weighing = weigh(report, report.loads.front(), {});
  CHECK(weighing.temperature == Figure(DeviceKind::Cpu, FigureId::Temperature));
  REQUIRE(weighing.order.size() == 3);
  CHECK(weighing.order.front().temperatureK == 0);
  CHECK(weighing.order.back().temperatureK == Approx(12).margin(0.3));
}

TEST_CASE("aFirstThatIsABoundIsAheadOfNobody") {
  const StudyReport known = threeCoolers();
  Comparison comparison = known.loads.front().comparison;
  for (ComparisonRow& row : comparison.rows) {
    if (row.setup == "Loud") row.metrics.at(Figure(DeviceKind::Cpu, FigureId::OverRoom)).bound = Bound::AtLeast;
  }
  const Weighing weighing = weigh(known, {"All cores", comparison, {}, {}}, {});
  CHECK(weighing.order.front().isAtLeast);
  CHECK(weighing.level == std::vector<std::string>{"Dear", "Quiet"});
}

TEST_CASE("theLeastOfStraightLinesIsTheirLowerEnvelope") {
  // Held against the least at each of many places.
  const std::vector<WorthLine> lines = {{5, 1}, {1, 3}, {2, 2}, {9, 0}, {1, 4}, {4, 1.5}};
  const auto turns = leastAlong(lines, 10);
  for (double at = 0.01; at < 10; at += 0.0173) {
    size_t told = 0;
    for (const auto& [from, who] : turns) told = from <= at ? who : told;
    double least = INFINITY;
    for (const WorthLine& line : lines) least = std::min(least, line.fixed + at * line.slope);
    CHECK(lines[told].fixed + at * lines[told].slope == Approx(least).margin(1e-9));
  }
  CHECK(leastAlong({}, 10).empty());
  CHECK(leastAlong({{1, 1}, {1, 1}}, 10).size() == 1);
}
