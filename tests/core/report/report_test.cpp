// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>

#include "report/study_report.h"
#include "report/svg_chart.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

AnalyzedRun runOf(const std::string& name, const std::string& setup, double riseK) {
  WarmUp warm;
  warm.riseK = riseK;
  warm.tauS = 40;
  LogMaker maker(720, 1);
  maker.add("cpu.temp", warm.function()).add("room.temp", [](double) { return 22.0; }).add("cpu.power", [](double t) {
    return t < 60 ? 10.0 : 80.0;
  });
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 500).phase(PhaseKind::Measure, 500, 720);
  maker.run.name = name;
  maker.run.facts.setup = setup;
  maker.run.facts.load = "vector";
  AnalyzedRun run{maker.run, {}};
  run.figures = analyzeRun(run.run);
  return run;
}

StudyReport sidePanel() {
  StudyReport report;
  report.study.name = "Which side panel?";
  report.study.setups = {{"solid", Json::object(), {{"panel", "solid"}}, Json::object()},
                         {"mesh <1>", Json::object(), Json::object(), Json::object()}};
  report.runs = {runOf("r1", "solid", 50), runOf("r2", "mesh <1>", 44)};
  for (const AnalyzedRun& run : report.runs) {
    RunSummary summary;
    summary.info.id = run.run.name;
    summary.info.setup = run.run.facts.setup;
    summary.info.load = "vector";
    summary.info.outcome = Outcome::Completed;
    report.summaries.push_back(summary);
  }
  report.comparison = *compareRuns(report.runs, {});
  return report;
}

bool contains(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

}  // namespace

TEST_CASE("theAnswerSaysWhatDiffersByHowMuchAndHowSure") {
  const std::string answer = answerText(sidePanel());
  // 12 K at rest + 50 K of rise, against 44.
  CHECK(contains(answer, "CPU over room of solid: 62.0\u202FK ± "));
  CHECK(contains(answer, "mesh <1> is 6.0\u202FK lower than solid ("));
  CHECK(contains(answer, "): better."));
}

TEST_CASE("thePageStandsAloneAndHoldsEveryPart") {
  const std::string page = htmlPage(sidePanel());
  for (const char* part : {"<h2>Figures</h2>", "<h2>Warm-up</h2>", "<svg", "<h2>Method</h2>", "<h2>Conditions</h2>",
                           "<h2>Caveats</h2>", "<h2>Runs</h2>", "95 % intervals"}) {
    INFO(part);
    CHECK(contains(page, part));
  }
  CHECK_FALSE(contains(page, "src="));
  CHECK_FALSE(contains(page, "href="));
  CHECK(page == htmlPage(sidePanel()));
}

TEST_CASE("namesOfPeopleCannotBreakThePage") {
  const std::string page = htmlPage(sidePanel());
  CHECK(contains(page, "mesh &lt;1&gt;"));
  CHECK_FALSE(contains(page, "mesh <1>"));
  CHECK(escaped("<a b=\"c\" d='e'>&") == "&lt;a b=&quot;c&quot; d=&#39;e&#39;&gt;&amp;");
}

TEST_CASE("everyFigureCanBeTracedToItsRunAndDefinition") {
  const StudyReport report = sidePanel();
  const std::string page = htmlPage(report);
  const double value = report.comparison.rows[1].metrics.at("cpu.over_ambient_k").value;
  const std::string place = "data-run=\"r2\" data-metric=\"cpu.over_ambient_k\" data-value=\"";
  REQUIRE(contains(page, place));
  CHECK(std::stod(page.substr(page.find(place) + place.size())) == Approx(value).epsilon(1e-12));
  CHECK(contains(page, "Temperature minus room temperature, mean of the window. Runs r2."));
}

TEST_CASE("caveatsComeFromProblemsAndChecks") {
  StudyReport report = sidePanel();
  CHECK(contains(htmlPage(report), "<p>None was found.</p>"));
  report.runs[0].figures.problems.push_back({"gap", "cpu.temp", 1, 2, "A gap."});
  report.comparison.checks.push_back({"warn", {"r1", "r2"}, "room", "The room was 20.0 °C and 25.0 °C."});
  const std::string page = htmlPage(report);
  CHECK(contains(page, "<li>solid (r1): A gap.</li>"));
  CHECK(page.find("The room was 20.0") < page.find("A gap."));
}

TEST_CASE("ticksAreRound") {
  CHECK(niceTicks(0, 100, 5) == std::vector<double>{0, 20, 40, 60, 80, 100});
  CHECK(niceTicks(11, 19, 4) == std::vector<double>{12, 14, 16, 18});
  CHECK(niceTicks(5, 5, 4).empty());
}

TEST_CASE("aChartKeepsThePeakOfManySamples") {
  ChartSpec chart;
  ChartLine line;
  for (int i = 0; i < 100'000; ++i) {
    line.series.t.push_back(i);
    line.series.v.push_back(i == 54'321 ? 99.0 : 50.0);
  }
  chart.lines = {line};
  const std::string svg = svgLineChart(chart);
  CHECK(svg.size() < 60'000);
  // The peak is drawn at the top of the frame: value 99 of a range 47.06 to 101.94 over 266 px below y 34.
  CHECK(contains(svg, " 48.2"));
}
