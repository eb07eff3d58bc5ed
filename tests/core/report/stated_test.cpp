// SPDX-License-Identifier: GPL-3.0-or-later
// What was expected and claimed, read from a line, held beside what was measured, and shown on the page as what it is.
#include "report/answer/stated.h"

#include <catch2/catch.hpp>

#include "report/page_blocks.h"
#include "tests/support/made_report.h"
#include "tests/support/made_runs.h"

using namespace ash;
using namespace ash::tests;

namespace {

Study panels() {
  Study study;
  study.name = "Which side panel?";
  study.setups = {{"Solid", Json::object(), Json::object(), Json::object()},
                  {"Mesh", Json::object(), Json::object(), Json::object()}};
  study.loads = {{"All cores", Json::object()}, {"All cores + graphics", Json::object()}};
  return study;
}

Result<StatedFigure> read(const std::string& line, const std::string& setup = "Mesh") {
  return parseStated(line, panels(), StudyPlan(), setup);
}

StatedFigure said(const std::string& line, const std::string& setup = "Mesh") {
  auto one = read(line, setup);
  INFO(line);
  REQUIRE(one);
  one->written = "2026-11-01T10:00:00Z";
  return *one;
}

// Solid 57 K over room, Mesh 47 K, two repeats each that agree.
StudyReport reportWith(const std::vector<StatedFigure>& stated, const std::string& started = "2026-11-02T10:00:00Z",
                       std::optional<double> marginK = std::nullopt) {
  Study study = panels();
  StudyPlan plan;
  plan.stated = stated;
  plan.marginK = marginK;
  std::vector<AnalyzedRun> runs;
  for (const auto& [name, setup, overRoomK] : {std::tuple("r1", "Solid", 57.0), std::tuple("r2", "Solid", 57.2),
                                               std::tuple("r3", "Mesh", 47.0), std::tuple("r4", "Mesh", 47.2)}) {
    runs.push_back(madeRun(name, setup, overRoomK));
    runs.back().run.facts.load = "All cores";
  }
  return madeReport(study, plan, runs, started);
}

std::string outcome(const std::string& line, std::optional<double> marginK = std::nullopt) {
  const StudyReport report = reportWith({said(line)}, "2026-11-02T10:00:00Z", marginK);
  REQUIRE(report.loads.size() == 1);
  const auto all = outcomesOf(report, report.loads[0]);
  REQUIRE(all.size() == 1);
  return outcomeWords(all[0]);
}

}  // namespace

TEST_CASE("aLineSaysWhoExpectsWhatOfWhichFigure") {
  const StatedFigure range = said("CPU over room 44 to 48 K");
  CHECK(range.kind == StatedKind::Expected);
  CHECK(range.figure == "cpu.over_ambient_k");
  CHECK(range.low == 44);
  CHECK(range.high == 48);
  CHECK(range.load.empty());
  CHECK_FALSE(range.isDifference);
  const StatedFigure claim = said("claimed by the maker: cpu.over_ambient_k 45.5 under All cores + graphics");
  CHECK(claim.kind == StatedKind::Claimed);
  CHECK(claim.by == "the maker");
  CHECK(claim.low == 45.5);
  CHECK(claim.high == 45.5);
  CHECK(claim.load == "All cores + graphics");
  const StatedFigure difference = said("cpu over room −8 ± 2 K against Solid under All cores");
  CHECK(difference.isDifference);
  CHECK(difference.low == -10);
  CHECK(difference.high == -6);
  CHECK(difference.load == "All cores");
  CHECK(said("CPU over room -8..-6 against the reference").isDifference);
  CHECK(said("noise 36,5 dBA").low == 36.5);
  // What is shown in percent is kept as a share.
  CHECK(said("cpu.throttled_share 20 %").low == Approx(0.2));
}

TEST_CASE("aLineThatSaysNothingIsRefusedWithAnExample") {
  for (const char* line :
       {"", "warm", "CPU over room", "CPU over room hot", "CPU over room 44 to K", "claimed by the maker",
        "claimed by : CPU over room 4", "CPU over room 44 bananas", "CPU over room 3 ± -1"}) {
    INFO(line);
    const auto refused = read(line);
    REQUIRE_FALSE(refused);
    CHECK(refused.error().message.size() > 20);
  }
  CHECK_FALSE(read("CPU over room 3 against the reference", "Solid"));
}

TEST_CASE("wordsOfWhatWasSaidAreReadBackAsTheSame") {
  CHECK(statedRange(said("CPU over room 44.25 to 48.125 K")) == "44.25 to 48.125\u202FK");
  for (const char* line : {"CPU over room 44 to 48 K", "CPU over room −8 K against the reference under All cores",
                           "Noise 36.5 dBA", "CPU over room −10 to −6 K against the reference"}) {
    const StatedFigure one = said(line);
    StatedFigure again = said(statedText(one));
    CHECK(again == one);
  }
}

TEST_CASE("whatCameOutIsHeldBesideWhatWasSaid") {
  CHECK(outcome("CPU over room 44 to 48 K") == "as expected");
  CHECK(outcome("claimed by the maker: CPU over room 44 to 48 K") == "as claimed");
  // Measured 47.1; from the nearer end.
  CHECK(outcome("CPU over room 40 to 42 K") == "5.1\u202FK higher");
  CHECK(outcome("CPU over room 50 to 52 K") == "2.9\u202FK lower");
  CHECK(outcome("CPU over room −10 ± 1 K against Solid") == "as expected");
  CHECK(outcome("CPU over room −3 K against Solid") == "7.0\u202FK lower");
  CHECK(outcome("Noise 30 dBA") == "not told yet");
  // A plain value is given the margin that does not matter.
  CHECK(outcome("CPU over room 60 K", 0.5) == "12.9\u202FK lower");
  CHECK(outcome("CPU over room 60 K", 14) == "as expected");
}

TEST_CASE("onlyTheLoadThatWasMeantIsLookedAt") {
  const StudyReport report = reportWith({said("CPU over room 44 K under All cores + graphics")});
  CHECK(outcomesOf(report, report.loads[0]).empty());
}

TEST_CASE("whenItWasWrittenIsHeldAgainstTheFirstRun") {
  const StatedFigure one = said("CPU over room 44 to 48 K");  // 1 November
  CHECK(statedHistory(one, reportWith({}, "2026-11-02T10:00:00Z").summaries).find("before the first run") !=
        std::string::npos);
  CHECK(statedHistory(one, reportWith({}, "2026-10-30T10:00:00Z").summaries).find("after the first run") !=
        std::string::npos);
  // Moments of two zones are compared as moments: 10:00 at UTC is after 11:30 at +02:00.
  CHECK(statedHistory(one, reportWith({}, "2026-11-01T11:30:00+02:00").summaries).find("after the first run") !=
        std::string::npos);
  // A log from elsewhere that does not tell when it was made: nothing is claimed of it.
  CHECK(statedHistory(one, reportWith({}, "").summaries).find("not known") != std::string::npos);
  CHECK(hasResult(one, reportWith({}).summaries));
  CHECK_FALSE(hasResult(said("CPU over room 44 K under All cores + graphics"), reportWith({}).summaries));
}

TEST_CASE("thePageMarksWhatNobodyMeasuredHere") {
  StatedFigure claim = said("claimed by <b>the maker</b>: CPU over room 40 K");
  StatedFigure changed = said("CPU over room 44 to 48 K");
  changed.before.push_back({30, 31, "2026-11-03T10:00:00Z"});
  const std::string page = htmlPage(reportWith({claim, changed}));
  for (const char* part :
       {"<h2>Expected and claimed</h2>", "claimed by &lt;b&gt;the maker&lt;/b&gt;", "7.1\u202FK higher", "as expected",
        "it said 30 to 31\u202FK", "Nothing of this was measured here"}) {
    INFO(part);
    CHECK(page.find(part) != std::string::npos);
  }
  CHECK(htmlPage(reportWith({})).find("Expected and claimed") == std::string::npos);
}
