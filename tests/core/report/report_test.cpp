// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <catch2/catch.hpp>
#include <set>

#include "analysis/analyze.h"
#include "model/number_text.h"
#include "report/answer/answer.h"
#include "report/page_blocks.h"
#include "tests/support/known_logs.h"
#include "tests/support/made_report.h"
#include "tests/support/words.h"

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

StudyReport sidePanel(const StudyPlan& plan = {}) {
  Study study;
  study.name = "Which side panel?";
  study.setups = {{"solid", Json::object(), {{"panel", "solid"}}, Json::object()},
                  {"mesh <1>", Json::object(), Json::object(), Json::object()}};
  study.loads = {{"vector", Json::object()}};
  return madeReport(study, plan, {runOf("r1", "solid", 50), runOf("r2", "mesh <1>", 44)});
}

bool contains(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

}  // namespace

TEST_CASE("theAnswerSaysWhatDiffersByHowMuchAndHowSure") {
  const std::string answer = answerText(sidePanel());
  // 12 K at rest + 50 K of rise, against 44.
  CHECK(contains(answer, "CPU over room of solid: 62.0\u202FK ± "));
  CHECK(contains(answer, "mesh <1> runs 6.0\u202FK cooler than solid ("));
  CHECK(contains(answer, "): better."));
}

TEST_CASE("thePageStandsAloneAndHoldsEveryPart") {
  const std::string page = htmlPage(sidePanel());
  for (const char* part : {"<h2>Result</h2>", "<h2>Warm-up</h2>", "<svg", "<h2>Method</h2>", "<h2>Conditions</h2>",
                           "<h2>Caveats</h2>", "<h2>Runs</h2>", "95 % intervals"}) {
    INFO(part);
    CHECK(contains(page, part));
  }
  CHECK_FALSE(contains(page, "src="));
  // Links lead within it.
  for (size_t at = page.find("href="); at != std::string::npos; at = page.find("href=", at + 1))
    CHECK(page.compare(at, 7, "href=\"#") == 0);
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
  const double value = report.loads[0].comparison.rows[1].metrics.at("cpu.over_ambient_k").value;
  const std::string place = "data-run=\"r2\" data-metric=\"cpu.over_ambient_k\" data-value=\"";
  REQUIRE(contains(page, place));
  CHECK(std::stod(page.substr(page.find(place) + place.size())) == Approx(value).epsilon(1e-12));
  CHECK(contains(page,
                 "Temperature minus room temperature, mean of the window. Runs r2. Window of the first: 8:20 to 12:00 "
                 "(measure phase)."));
}

TEST_CASE("caveatsComeFromProblemsAndChecks") {
  StudyReport report = sidePanel();
  CHECK(contains(htmlPage(report), "<p>None was found.</p>"));
  auto withGap = std::make_shared<AnalyzedRun>(*report.runs[0]);
  withGap->figures.problems.push_back({ProblemKind::Gap, "cpu.temp", 1, 2, "A gap."});
  report.runs[0] = withGap;
  report.loads[0].comparison.checks.push_back(
      {Severity::Warn, {"r1", "r2"}, CheckKind::Room, "The room was 20.0 °C and 25.0 °C."});
  const std::string page = htmlPage(report);
  CHECK(contains(page, "<li>solid (r1): A gap.</li>"));
  CHECK(page.find("The room was 20.0") < page.find("A gap."));
}

TEST_CASE("blocksAreLeftOutMovedAndCommentedAsThePlanSaysButNeverTheCaveats") {
  StudyPlan plan;
  plan.writeUp.leftOut = {"method", "caveats", "answer"};
  plan.writeUp.order = {"runs", "result"};
  plan.writeUp.comments["result"] = "Worth it & <cheap>.";
  const StudyReport report = sidePanel(plan);
  const std::string page = htmlPage(report);
  CHECK_FALSE(contains(page, "<h2>Method</h2>"));
  CHECK(contains(page, "<h2>Caveats</h2>"));
  CHECK(contains(page, "class=\"answer\""));
  CHECK(contains(page, "Worth it &amp; &lt;cheap&gt;."));
  CHECK(page.find("<h1>") < page.find("<h2>Runs</h2>"));
  CHECK(page.find("<h2>Runs</h2>") < page.find("<h2>Result</h2>"));
  CHECK(page.find("<h2>Result</h2>") < page.find("<h2>Warm-up</h2>"));
}

TEST_CASE("rowsAreRankedTheBestFirst") {
  const StudyReport report = sidePanel();
  const Comparison& comparison = report.loads[0].comparison;
  const auto byTemperature = ranked(comparison, "cpu.over_ambient_k");
  REQUIRE(byTemperature.size() == 2);
  CHECK(byTemperature[0]->setup == "mesh <1>");
  const auto byHeadroom = ranked(comparison, "cpu.hottest_room_c");
  for (size_t i = 1; i < byHeadroom.size(); ++i) {
    CHECK(byHeadroom[i - 1]->metrics.at("cpu.hottest_room_c").value >=
          byHeadroom[i]->metrics.at("cpu.hottest_room_c").value);
  }
  CHECK(ranked(comparison, "noise").empty());
}

TEST_CASE("differencesAreSaidInWords") {
  ComparisonRow row;
  MetricRow figure;
  figure.value = 50;
  figure.difference = -6.04;
  figure.verdict = Verdict::Better;
  row.metrics["cpu.over_ambient_k"] = figure;
  CHECK(differenceText(row, "cpu.over_ambient_k") == "6.0\u202FK cooler");
  row.metrics["cpu.over_ambient_k"].bound = Bound::AtMost;  // the true difference lies below -6.04: further from zero
  CHECK(differenceText(row, "cpu.over_ambient_k") == "at least 6.0\u202FK cooler");
  row.metrics["cpu.over_ambient_k"].verdict = Verdict::WithinMargin;
  CHECK(differenceText(row, "cpu.over_ambient_k") == "≈ 6.0\u202FK");
  row.metrics["cpu.over_ambient_k"].verdict = Verdict::TooFewRepeats;
  CHECK(differenceText(row, "cpu.over_ambient_k") == "? 6.0\u202FK");
  MetricRow& noise = row.metrics["noise"];
  noise.value = 38;
  noise.difference = 1.5;
  noise.verdict = Verdict::Worse;
  CHECK(differenceText(row, "noise") == "1.5\u202FdBA louder");
}

TEST_CASE("noTwoStudiesShareAPage") {
  std::vector<Study> studies;
  for (const char* name : {"Mesh?", "Mesh!", "mesh", "Какая панель?", "パネル", "???", "!!!", "Which side panel?"}) {
    Study study;
    study.name = name;
    studies.push_back(study);
  }
  std::set<std::string> names;
  for (const Study& study : studies) names.insert(pageFileName(study.name, studies));
  CHECK(names.size() == studies.size());
  CHECK(names.contains("mesh"));
  CHECK(names.contains("mesh-2"));
  CHECK(names.contains("Какая-панель"));
  CHECK(names.contains("which-side-panel"));
  for (const std::string& name : names) CHECK(name.find_first_of("/.?! ") == std::string::npos);
  CHECK(pageFileName("../../etc/passwd", {}) == "etc-passwd");
  CHECK(pageFileName(std::string(5000, 'x'), {}).size() <= 80);
}

TEST_CASE("aPhoneGetsAFigureABlockAndTheWarmUpBesideTheAnswer") {
  const StudyReport report = sidePanel();
  const auto wide = pageBlocks(report), narrow = pageBlocks(report, PageForm::Narrow);
  REQUIRE(wide.size() == narrow.size());
  CHECK(wide[1].id == "answer");
  CHECK(wide[2].id == "warm-up");
  CHECK(wide[3].id == "result");
  // Every figure of the wide page is in the narrow one, none beside another in a row.
  const auto count = [](const std::string& text, const std::string& part) {
    size_t found = 0;
    for (size_t at = text.find(part); at != std::string::npos; at = text.find(part, at + 1)) ++found;
    return found;
  };
  CHECK(count(wide[3].body.str(), "data-metric=") == count(narrow[3].body.str(), "data-metric="));
  // What bears on the question, and all others folded away.
  CHECK(count(wide[3].body.str(), "<table") == 2);
  CHECK(count(narrow[3].body.str(), "<table") > 5);
  CHECK(count(narrow[3].body.str(), "<th") == 0);
  // In a browser each cell names its setup, escaped.
  CHECK(contains(wide[3].body.str(), "data-setup=\"mesh &lt;1&gt;\""));
  CHECK(contains(htmlPage(report), "@media screen and (max-width:34rem)"));
}

// A figure stands once: with the question, or folded away; on paper nothing is.
TEST_CASE("theFigureThatIsAskedForComesFirstAndTheRestIsFolded") {
  const StudyReport report = sidePanel();
  const std::string body = pageBlocks(report)[3].body.str();
  const size_t fold = body.find("class=\"fold\"");
  REQUIRE(fold != std::string::npos);
  CHECK(body.find("data-metric=") == body.find("data-metric=\"cpu.over_ambient_k\""));
  CHECK(body.find("data-metric=\"cpu.temp\"") > fold);
  std::set<std::string> seen;
  size_t cells = 0;
  for (size_t at = body.find("<tr><th scope=\"row\""); at != std::string::npos;
       at = body.find("<tr><th scope=\"row\"", at + 1)) {
    const size_t from = body.find('>', at + 4) + 1;
    seen.insert(body.substr(from, body.find('<', from) - from));
    ++cells;
  }
  CHECK(cells == seen.size());
  size_t listed = 0;
  for (const MetricGroup& group : metricGroups(report.loads[0].comparison)) listed += group.metrics.size();
  CHECK(cells == listed);
  const std::string page = htmlPage(report);
  const size_t print = page.find("@media print{");
  CHECK(page.find(".folded{display:block}", print) != std::string::npos);
  CHECK(contains(page, "id=\"figures-1\"><label for=\"figures-1\">All other figures under vector: "));
}

// Differences are read by their marks and words; the interval is told to who points at it or cannot see it.
TEST_CASE("aDifferenceIsAMarkAndWordsWithItsIntervalBehind") {
  const StudyReport report = sidePanel();
  const std::string body = pageBlocks(report)[3].body.str();
  CHECK_FALSE(contains(body, "): better"));
  CHECK(contains(body, "6.0\u202FK cooler</small>"));
  const MetricRow& row = report.loads[0].comparison.rows[1].metrics.at("cpu.over_ambient_k");
  const std::string interval =
      fmt::format("{} to {}", signedText(row.differenceLow, 1), withUnit(row.differenceHigh, 1, "K"));
  CHECK(contains(body, "aria-label='(" + interval + ")'"));
  CHECK(contains(body, "title=\"95 % interval (" + interval + ")"));
}

// Who cannot see a chart is told its figures.
TEST_CASE("aChartSaysItsFiguresToWhoCannotSeeIt") {
  const StudyReport report = sidePanel();
  const auto blocks = pageBlocks(report);
  CHECK(contains(blocks[1].body.str(), "aria-label='CPU over room, vector: mesh &lt;1&gt; 56.0\u202FK"));
  CHECK(contains(blocks[1].body.str(), "; solid 62.0\u202FK"));
  CHECK(contains(blocks[2].body.str(), "over the time from load start: solid up to 62."));
}

// Whoever adds a row to the catalogue finds it in the list, under its heading, and on the page.
TEST_CASE("everyFigureOfTheCatalogueIsListedAndStandsOnThePage") {
  StudyReport report = sidePanel();
  std::vector<Figure> figures;
  for (const FigureKind& kind : figureKinds()) {
    const bool isOfFan = kind.id == FigureId::FanSpeed || kind.id == FigureId::FanWoke;
    if (!kind.isOfDevice) figures.emplace_back(kind.id);
    std::vector<Device> devices;
    if (kind.isOfDevice)
      devices = isOfFan ? std::vector<Device>{"fan.rear", "pump"} : std::vector<Device>{"cpu", "gpu2"};
    for (const Device& device : devices) figures.emplace_back(device, kind.id);
  }
  for (ComparisonRow& row : report.loads[0].comparison.rows) {
    for (const Figure& figure : figures) row.metrics[figure].value = 1;
  }
  std::set<Figure> listed;
  for (const MetricGroup& group : metricGroups(report.loads[0].comparison)) {
    for (const Figure& figure : group.metrics) {
      CHECK(listed.insert(figure).second);
      CHECK(titleOf(figure.group()) == group.title);
    }
  }
  const std::string page = htmlPage(report);
  for (const Figure& figure : figures) {
    INFO(figure.code());
    CHECK(listed.contains(figure));
    CHECK(contains(page, "data-metric=\"" + figure.code() + "\""));
  }
}

TEST_CASE("ofWhatStandsBesideTheQuestionOnlyWarmthAndHeadroomAreListed") {
  Comparison comparison;
  comparison.rows.resize(1);
  for (const char* figure : {"storage.over_ambient_k", "storage.temp", "storage.peak_c", "storage.headroom_k",
                             "memory.temp", "memory.peak_c", "surface.lid.temp", "surface.lid.over_ambient_k", "T1"})
    comparison.rows[0].metrics[figure].value = 40;
  comparison.rows[0].metrics["cpu.temp"].value = kMissing;
  std::vector<std::string> listed;
  for (const MetricGroup& group : metricGroups(comparison)) {
    for (const Figure& figure : group.metrics) listed.push_back(group.title + ": " + figure.code());
  }
  // Over room says more than degrees; where no room is known there are only degrees. What is in no run is not listed.
  CHECK(listed == std::vector<std::string>{"Temperature: memory.temp", "Temperature: storage.over_ambient_k",
                                           "Temperature: storage.headroom_k", "Surfaces: surface.lid.over_ambient_k",
                                           "Surfaces: surface.lid.temp"});
}

TEST_CASE("aStudyLeadsWithTheTemperatureThatItWatches") {
  for (const auto& [watched, led] :
       {std::pair{"board.temp.vrm", "board.vrm.over_ambient_k"}, std::pair{"gpu2.temp", "gpu2.over_ambient_k"},
        std::pair{"surface.lid", "surface.lid.over_ambient_k"}, std::pair{"cpu.temp", "cpu.over_ambient_k"}}) {
    INFO(watched);
    WarmUp warm;
    warm.riseK = 30;
    LogMaker maker(720, 1);
    maker.add(watched, warm.function()).add("room.temp", [](double) { return 22.0; }).add("work.rate", [](double) {
      return 5.0;
    });
    maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 500).phase(PhaseKind::Measure, 500, 720);
    maker.run.facts.load = "vector";
    maker.run.facts.watched = watched;
    auto run = std::make_shared<AnalyzedRun>(AnalyzedRun{maker.run, {}});
    run->figures = analyzeRun(run->run);
    Study study;
    study.name = "one";
    study.setups = {{"known", Json::object(), Json::object(), Json::object()}};
    study.loads = {{"vector", Json::object()}};
    RunSummary summary;
    summary.info.id = run->run.name;
    summary.info.setup = "known";
    summary.info.load = "vector";
    summary.info.outcome = Outcome::Completed;
    const auto report = assembleStudy(study, {summary}, {run});
    REQUIRE(report);
    CHECK(leadingMetric(*report, report->loads.at(0).comparison).code() == led);
  }
}
