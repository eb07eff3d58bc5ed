// SPDX-License-Identifier: GPL-3.0-or-later
// What the charts of a study say and show, of logs that are known by formula.
#include "report/charts/study_charts.h"

#include <catch2/catch.hpp>

#include "model/number_text.h"
#include "report/page_blocks.h"
#include "tests/support/made_study.h"

using namespace ash;
using namespace ash::tests;

namespace {

Json priced(double price) { return {{"price", price}, {"currency", "EUR"}}; }

const PlanePlot& planeOf(const std::optional<Chart>& chart) {
  REQUIRE(chart);
  return std::get<PlanePlot>(chart->plot);
}
const RankPlot& rankOf(const std::optional<Chart>& chart) {
  REQUIRE(chart);
  return std::get<RankPlot>(chart->plot);
}

}  // namespace

TEST_CASE("theTitleOfTheRankingSaysWhoIsAheadByHowMuch") {
  const StudyReport report =
      madeStudy({{"Solid", 50, Json::object(), kMissing, 80, 3}, {"Mesh", 44, Json::object(), kMissing, 80, 3}}, {});
  const auto chart = rankChart(report, report.loads[0]);
  REQUIRE(chart);
  CHECK(chart->finding == "Mesh runs 6.0\u202FK cooler than Solid");
  CHECK(chart->what == "CPU over room, All cores, with 95 % intervals; limit marked");
  CHECK(chart->source.starts_with("Made · 6 runs of 2 setups"));
  const RankPlot& plot = rankOf(chart);
  REQUIRE(plot.setups.size() == 2);
  CHECK(plot.setups[0].label == "Mesh");
  CHECK(plot.setups[0].value == Approx(44).margin(0.1));
  CHECK(plot.setups[0].repeats.size() == 3);
  // 95 °C over a room of 22 °C.
  CHECK(plot.setups[0].limit.value_or(0) == Approx(73).margin(0.1));
  const StudyReport alike =
      madeStudy({{"Solid", 50, Json::object(), kMissing, 80, 3}, {"Mesh", 50.05, Json::object(), kMissing, 80, 3}}, {});
  CHECK(rankChart(alike, alike.loads[0])->finding == "Mesh and Solid are not shown to differ");
  const StudyReport one = madeStudy({{"Solid", 50}}, {});
  CHECK(rankChart(one, one.loads[0])->finding.starts_with("Solid: 50.0\u202FK"));
  // Of three the first is held against the second, whichever is the reference.
  StudyPlan plan;
  plan.reference = "Foam";
  const StudyReport three = madeStudy({{"Solid", 50}, {"Mesh", 44}, {"Foam", 62}}, plan);
  CHECK(rankChart(three, three.loads[0])->finding == "Mesh runs 6.0\u202FK cooler than Solid, the first two of 3");
}

TEST_CASE("aFigureWithoutWordsOfItsOwnIsNamedInTheTitle") {
  const StudyReport report =
      madeStudy({{"Slow", 50, Json::object(), kMissing, 100}, {"Thrifty", 44, Json::object(), kMissing, 60}}, {});
  const auto chart = rankChart(report, report.loads[0], Figure(DeviceKind::Cpu, FigureId::Power), "watts");
  REQUIRE(chart);
  CHECK(chart->finding == "CPU power: Thrifty 60.0\u202FW, 40.0\u202FW less than Slow");
  CHECK_FALSE(rankChart(report, report.loads[0], Figure(FigureId::Noise), "noise"));
}

TEST_CASE("theWarmUpSaysWhatItComesToAndWhatIsNotThereYet") {
  const StudyReport report = madeStudy({{"Quick", 44}, {"Heavy", 60, Json::object(), kMissing, 80, 1, 0.2, 900}}, {});
  const auto chart = warmUpChart(report, report.loads[0]);
  const PlanePlot& plot = planeOf(chart);
  CHECK(chart->finding.find("Quick settles at 44.0\u202FK over room") != std::string::npos);
  CHECK(chart->finding.find("Heavy is still warming up at ") != std::string::npos);
  REQUIRE(plot.lines.size() == 2);
  // From shortly before the load at 60 s to its end at 900 s.
  CHECK(plot.lines[0].x.front() == Approx(-0.06 * 840).margin(2));
  CHECK(plot.lines[0].x.back() == Approx(840).margin(2));
  CHECK(plot.lines[0].y.back() == Approx(44).margin(0.1));
  // The windows of both are those of the measure phase, 600 s to 900 s.
  REQUIRE(plot.windows.size() == 1);
  CHECK(plot.windows[0].startS == Approx(540).margin(1));
  CHECK(plot.windows[0].endS == Approx(840).margin(1));
}

// A setup whose room nobody knows has no line over room, which is said.
TEST_CASE("aSetupWithoutARoomIsNotLeftOutInSilence") {
  Made bare{"Bare"};
  bare.more = [](LogMaker& maker) {
    std::erase_if(maker.run.log.channels, [](const Channel& one) { return one.name == "room.temp"; });
  };
  const StudyReport report = madeStudy({{"Solid", 50}, bare}, {});
  const auto chart = warmUpChart(report, report.loads[0]);
  CHECK(planeOf(chart).lines.size() == 1);
  CHECK(chart->what.ends_with("; its room not known: Bare"));
  // Where nobody's is known all are drawn as they were read.
  const StudyReport none = madeStudy({bare}, {});
  CHECK(planeOf(warmUpChart(none, none.loads[0])).y.title == "°C");
}

TEST_CASE("aBandSpansAllRunsAndTheLineIsTheLongest") {
  StudyReport report = madeStudy({{"Mesh", 44, Json::object(), kMissing, 80, 3, 2.0}}, {});
  const auto chart = warmUpChart(report, report.loads[0]);
  const PlotLine& line = planeOf(chart).lines.at(0);
  // Repeats of 42, 44 and 46 K.
  CHECK(line.low.back() == Approx(42).margin(0.2));
  CHECK(line.high.back() == Approx(46).margin(0.2));
}

TEST_CASE("thePowerChartShowsTheLimitInForceAndWhatIsHeld") {
  Made solid{"Solid"};
  solid.more = [](LogMaker& maker) {
    maker.add("cpu.power.limit", [](double t) { return t < 100 ? 120.0 : 80.0; });
    for (double& watts : maker.run.log.channels[2].values) watts = watts > 50 ? 80 : watts;
    for (size_t i = 60; i < 100; ++i) maker.run.log.channels[2].values[i] = 120;
  };
  const StudyReport report = madeStudy({solid}, {});
  const auto chart = powerChart(report, report.loads[0]);
  const PlanePlot& plot = planeOf(chart);
  CHECK(chart->finding == "Solid holds 80\u202FW, after 120\u202FW at first");
  CHECK(chart->what.find("dotted: the limit in force") != std::string::npos);
  REQUIRE(plot.lines.size() == 2);
  CHECK(plot.lines[1].stroke == PlotLine::Stroke::Limit);
  CHECK(plot.lines[1].y.front() == 120);
  CHECK(plot.lines[1].y.back() == 80);
  CHECK(plot.y.hasZero);
  // Without one nothing is said of it.
  const StudyReport bare = madeStudy({{"Solid"}, {"Mesh"}}, {});
  CHECK(powerChart(bare, bare.loads[0])->finding == "Both hold 80\u202FW");
  CHECK(powerChart(bare, bare.loads[0])->what.find("limit") == std::string::npos);
}

TEST_CASE("clockGoesWithTemperatureFromLightToFull") {
  const auto clocked = [](const char* name, double lastMhz) {
    Made made{name};
    made.more = [lastMhz](LogMaker& maker) {
      maker.add("cpu.clock", [lastMhz](double t) { return t < 480 ? 4000.0 : lastMhz; });
    };
    return made;
  };
  const StudyReport report = madeStudy({clocked("Solid", 3600), clocked("Mesh", 4000)}, {});
  const auto chart = clockChart(report, report.loads[0]);
  const PlanePlot& plot = planeOf(chart);
  CHECK(chart->finding == "Mesh ends fastest, 4000\u202FMHz at 72\u202F°C; Solid slowest, 3600\u202FMHz at 72\u202F°C");
  REQUIRE(plot.lines.size() == 2);
  CHECK(plot.lines[0].stroke == PlotLine::Stroke::Trail);
  CHECK(plot.lines[0].y.front() == 4000);
  CHECK(plot.lines[0].x.back() == Approx(72).margin(0.1));
  const StudyReport alike = madeStudy({clocked("Solid", 3999), clocked("Mesh", 4000)}, {});
  CHECK(clockChart(alike, alike.loads[0])->finding == "Both end at the same clock, about 4000\u202FMHz");
  const StudyReport unclocked = madeStudy({{"Solid"}}, {});
  CHECK_FALSE(clockChart(unclocked, unclocked.loads[0]));
}

TEST_CASE("noiseAgainstWarmthSaysWhoIsAheadInBoth") {
  const auto finding = [](const std::vector<Made>& all) {
    const StudyReport report = madeStudy(all, {});
    const auto chart = noiseChart(report, report.loads[0]);
    return chart ? chart->finding : std::string();
  };
  const Json none = Json::object();
  CHECK(finding({{"Solid", 50, none, 36}, {"Mesh", 44, none, 38}}) ==
        "Neither is ahead of another in both noise and warmth");
  CHECK(finding({{"Solid", 50, none, 38}, {"Mesh", 44, none, 36}}) ==
        "No other is ahead of Mesh in both noise and warmth");
  CHECK(finding({{"Solid", 50, none, 38}, {"Mesh", 44, none, 36}, {"Open", 40, none, 39}}) ==
        "No other is ahead of Mesh and Open in both noise and warmth");
  CHECK(finding({{"Solid", 50, none, 36}}).empty());
}

TEST_CASE("aLadderSaysWhichRungIsTheFurthestThatHolds") {
  StudyPlan plan;
  plan.underTest = {"power_limit_w"};
  const auto rung = [](const char* name, double limitW, double overRoomK) {
    return Made{name, overRoomK, {{"power_limit_w", limitW}}, kMissing, limitW};
  };
  const StudyReport report = madeStudy({rung("88 W", 88, 62), rung("45 W", 45, 31), rung("105 W", 105, 74)}, plan);
  const auto chart = ladderChart(report, report.loads[0]);
  const PlanePlot& plot = planeOf(chart);
  CHECK(chart->finding == "88 W is the furthest that holds");
  CHECK(plot.x.title == "Power limit, W");
  REQUIRE(plot.points.size() == 3);
  for (const PlotPoint& point : plot.points) {
    INFO(point.x);
    // 95 °C less 22 °C and what lies over room.
    const double overRoomK = point.x == 45 ? 31 : point.x == 88 ? 62 : 74;
    CHECK(point.y == Approx(73 - overRoomK).margin(0.1));
    CHECK(point.isHollow == (point.x == 105));
  }
  // One rung is no ladder.
  const StudyReport one = madeStudy({rung("45 W", 45, 31)}, plan);
  CHECK_FALSE(ladderChart(one, one.loads[0]));
}

TEST_CASE("aKelvinHasAPriceWhereOneIsPaid") {
  const StudyReport report =
      madeStudy({{"Solid", 50, priced(30), kMissing, 80, 3}, {"Mesh", 44, priced(48), kMissing, 80, 3}}, {});
  const auto chart = priceChart(report, report.loads[0]);
  const RankPlot& plot = rankOf(chart);
  REQUIRE(plot.setups.size() == 1);
  CHECK(plot.setups[0].value == Approx(18 / 6.0).epsilon(0.01));
  const MetricRow& cooler = report.loads[0].comparison.rows[1].metrics.at("cpu.over_ambient_k");
  CHECK(plot.setups[0].low == Approx(18 / -cooler.differenceLow));
  CHECK(plot.setups[0].high == Approx(18 / -cooler.differenceHigh));
  CHECK(chart->finding.starts_with("A kelvin less than Solid costs "));
  // What is cheaper and cooler costs nothing.
  const StudyReport gift = madeStudy({{"Solid", 50, priced(48)}, {"Mesh", 44, priced(30)}}, {});
  CHECK_FALSE(priceChart(gift, gift.loads[0]));
}

TEST_CASE("passesSayWhatIsLostFromTheFirst") {
  const auto passing = [](const char* name, double lossPerPass) {
    Made made{name};
    made.more = [lossPerPass](LogMaker& maker) {
      for (int i = 0; i < 6; ++i)
        maker.run.facts.passes.push_back({60.0 + 140 * i, 200.0 + 140 * i, 1000 - lossPerPass * std::min(i, 4), {}});
    };
    return made;
  };
  const StudyReport report = madeStudy({passing("Solid", 25), passing("Mesh", 0)}, {});
  const auto chart = passesChart(report, report.loads[0]);
  const PlanePlot& plot = planeOf(chart);
  // The last two of six are 900 each.
  CHECK(chart->finding == "Solid loses 10.0\u202F% on its first score; Mesh keeps its first score");
  REQUIRE(plot.lines.size() == 2);
  CHECK(plot.lines[0].x == std::vector<double>{1, 2, 3, 4, 5, 6});
  CHECK(plot.lines[0].y == std::vector<double>{1000, 975, 950, 925, 900, 900});
}

// A score that is a time grows when it slows down.
TEST_CASE("passesThatAreTimesTakeLonger") {
  Made slows{"Solid"};
  slows.more = [](LogMaker& maker) {
    maker.run.facts.lowerScoreIsBetter = true;
    for (int i = 0; i < 6; ++i)
      maker.run.facts.passes.push_back({60.0 + 140 * i, 200.0 + 140 * i, i < 4 ? 100.0 : 112.5, {}});
  };
  const StudyReport report = madeStudy({slows}, {});
  const auto chart = passesChart(report, report.loads[0]);
  REQUIRE(chart);
  CHECK(chart->finding == "Solid takes 12.5\u202F% longer than at first");
}

TEST_CASE("aQuestionWithATargetIsDrawnWithIt") {
  StudyPlan plan;
  plan.figure = "cpu.hottest_room_c";
  plan.asks = {QuestionKind::HoldsInRoom, 35};
  const StudyReport report = madeStudy({{"Box"}}, plan);
  const auto chart = rankChart(report, report.loads[0]);
  const RankPlot& plot = rankOf(chart);
  REQUIRE(plot.asked);
  CHECK(*plot.asked == 35);
  CHECK(plot.askedWords == "asked: 35\u202F°C");
  // 95 °C less 50 K.
  CHECK(plot.setups.at(0).value == Approx(45).margin(0.1));
  plan.asks = {QuestionKind::Open, {}};
  const StudyReport best = madeStudy({{"Box"}}, plan);
  CHECK_FALSE(rankOf(rankChart(best, best.loads[0])).asked);
}

TEST_CASE("aWhineIsNamedByItsFrequency") {
  Made whines{"Solid"};
  whines.more = [](LogMaker& maker) {
    maker.add("noise", [](double) { return 38.0; });
    for (const int hz : {500, 1000, 2000})
      maker.add("noise.band" + std::to_string(hz), [hz](double) { return 30.0 + hz / 1000.0; });
    maker.add("noise.tone1", [](double) { return 1180.0; }).add("noise.tone1.over", [](double) { return 12.0; });
  };
  const StudyReport report = madeStudy({whines}, {});
  const auto chart = spectrumChart(report, report.loads[0]);
  const PlanePlot& plot = planeOf(chart);
  CHECK(plot.x.scale == PlotAxis::Scale::Log);
  // Each band from edge to edge, a twentieth of a decade either way (IEC 61260-1), with gaps where bands are missing.
  const PlotLine& line = plot.lines.at(0);
  REQUIRE(line.x.size() == 8);
  CHECK(line.x[0] == Approx(500 / std::pow(10, 0.05)));
  CHECK(line.x[1] == Approx(500 * std::pow(10, 0.05)));
  CHECK(std::isnan(line.y[2]));
  CHECK(line.y[3] == Approx(31));
  CHECK(line.x[7] == Approx(2000 * std::pow(10, 0.05)));
  CHECK(chart->finding.find("Solid whines: 1180\u202FHz by 12\u202FdB over the noise around it") == 0);
  // 1180 Hz lies above the band at 1000 Hz: its level is not known, so no point is drawn.
  CHECK(plot.points.empty());
}

// What is left out takes nothing from the others, and each chart has a name of its own.
TEST_CASE("everyChartOfAStudyHasAnIdOfItsOwn") {
  const StudyReport report = madeStudy({{"Solid", 50, priced(30), 36}, {"Mesh", 44, priced(48), 38}}, {});
  std::set<std::string> ids;
  const std::vector<Chart> charts = studyCharts(report);
  for (const Chart& chart : charts) {
    INFO(chart.id);
    CHECK(ids.insert(chart.id).second);
    CHECK_FALSE(chart.finding.empty());
    CHECK_FALSE(chart.source.empty());
    // Who cannot see it is told more than the title.
    CHECK(chart.spoken.size() > chart.what.size());
  }
  CHECK(ids.count("answer") + ids.count("warm-up") + ids.count("noise") + ids.count("power") + ids.count("price") == 5);
  // On a page for either screen each stands twice, with ids of their own.
  const std::string page = htmlPage(report);
  for (const std::string& id : ids) {
    CHECK(page.find("id='chart-" + id + "'") != std::string::npos);
    CHECK(page.find("id='chart-" + id + "-phone'") != std::string::npos);
  }
}
