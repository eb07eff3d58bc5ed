// SPDX-License-Identifier: GPL-3.0-or-later
// Where the page's numbers come from, what measured them, and figures that comments name.
#include <catch2/catch.hpp>
#include <regex>

#include "report/figure_mention.h"
#include "report/instrument_table.h"
#include "report/markup/comment_text.h"
#include "report/notes.h"
#include "report/page_blocks.h"
#include "tests/support/made_study.h"

using namespace ash;
using namespace ash::tests;

namespace {

bool holds(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

StudyReport twoSetups(StudyPlan plan = {}) {
  return madeStudy({{"Solid", 50, Json::object(), kMissing, 80, 2}, {"Mesh", 44, Json::object(), kMissing, 80, 2}},
                   plan);
}

std::set<std::string> allOf(const std::string& page, const char* pattern) {
  std::set<std::string> found;
  const std::regex wanted(pattern);
  for (auto it = std::sregex_iterator(page.begin(), page.end(), wanted); it != std::sregex_iterator(); ++it)
    found.insert((*it)[1]);
  return found;
}

}  // namespace

TEST_CASE("everyNumberLeadsToANoteAndEveryNoteToItsRuns") {
  const StudyReport report = twoSetups();
  const std::string page = htmlPage(report);
  const std::set<std::string> ids = allOf(page, "[ ]id=[\"']([^\"']+)[\"']"), links = allOf(page, "href=\"#([^\"]+)\"");
  CHECK(links.size() > 20);
  for (const std::string& link : links) {
    INFO(link);
    CHECK(ids.contains(link));
  }
  CHECK(links.contains("note-1-2-cpu.over_ambient_k"));
  CHECK(links.contains("run-Mesh-2"));
  // Each id once.
  size_t count = 0;
  const std::regex id("[ ]id=[\"'][^\"']+[\"']");
  count =
      static_cast<size_t>(std::distance(std::sregex_iterator(page.begin(), page.end(), id), std::sregex_iterator()));
  CHECK(count == ids.size());
  // With the definition of the catalogue.
  CHECK(holds(page, std::string(Figure("cpu.over_ambient_k").kind().definition)));
  CHECK(runsOfLink(report, "#note-1-2-cpu.over_ambient_k") == std::vector<std::string>{"Mesh-1", "Mesh-2"});
  CHECK(runsOfLink(report, "#run-Solid-1") == std::vector<std::string>{"Solid-1"});
  CHECK_FALSE(runsOfLink(report, "#note-3-1-cpu.temp"));
  CHECK_FALSE(runsOfLink(report, "https://a.example/"));
}

TEST_CASE("notesThatAreLeftOutAreNotLedTo") {
  StudyPlan plan;
  plan.writeUp.leftOut = {"notes"};
  CHECK_FALSE(holds(htmlPage(twoSetups(plan)), "href=\"#note-"));
  plan.writeUp.leftOut = {"runs"};
  const std::string page = htmlPage(twoSetups(plan));
  CHECK(holds(page, "href=\"#note-"));
  CHECK_FALSE(holds(page, "href=\"#run-"));
}

TEST_CASE("aRunOfAnyNameIsAnAnchor") {
  CHECK(runAnchor("wren-01") == "run-wren-01");
  CHECK(runAnchor("a b\"'>") == "run-a:20b:22:27:3e");
}

TEST_CASE("instrumentsAreListedWithWhatTheyMayBeOffBy") {
  Made solid{"Solid"};
  solid.more = [](LogMaker& maker) {
    maker.add("wall.power", [](double t) { return t < 60 ? 20.0 : 100.0; });
    maker.run.facts.accuracies["wall.power"] = {0.2, 0.5, "meter <7>"};
    maker.run.facts.places["wall.power"] = "at the plug";
    for (double& degrees : maker.run.log.channels[0].values) degrees = std::round(degrees * 8) / 8;
  };
  const std::string table = instrumentTable(madeStudy({solid}, {})).str();
  CHECK(holds(table, "<td>meter &lt;7&gt;</td><td>± 0.5 % + 0.2 W</td>"));
  CHECK(holds(table, "<td>at the plug</td>"));
  CHECK(holds(table, "<td>Processor temperature</td><td>not named</td><td>not stated</td><td>0.125\u202F°C</td>"));
}

TEST_CASE("aLicenceThatIsStatedStandsUnderTheMethod") {
  StudyPlan plan;
  plan.writeUp.licence = "CC BY 4.0 & <no> more";
  CHECK(holds(htmlPage(twoSetups(plan)),
              "<li>Licence of text, figures and charts: CC BY 4.0 &amp; &lt;no&gt; more.</li>"));
  CHECK(planFromJson(planToJson(plan)).writeUp.licence == plan.writeUp.licence);
  CHECK_FALSE(holds(htmlPage(twoSetups()), "Licence"));
}

TEST_CASE("aFigureThatACommentNamesStaysTrue") {
  const StudyReport report = twoSetups();
  const LoadStanding& load = report.loads[0];
  const ComparisonRow& mesh = load.comparison.rows[1];
  const Figure overRoom("cpu.over_ambient_k");
  const std::string value = figureMention(report, load, mesh, overRoom, false),
                    difference = figureMention(report, load, mesh, overRoom, true);
  CHECK(value == "{Mesh: CPU over room}");
  CHECK(difference == "{Mesh against Solid: CPU over room}");
  const std::string comment = "It is *" + difference + "*, at " + value + ", {not one}.";
  const std::string page = commentWithFigures(report, comment).str();
  CHECK(holds(page, "<em><b class=\"figure\""));
  CHECK(holds(page, ">6.0\u202FK cooler</a></b></em>, at <b class=\"figure\""));
  CHECK(holds(page, ">44.0\u202FK</a></b>, {not one}.</p>"));
  // Another run of it, and the figure is another; none, and it says so.
  const StudyReport warmer = madeStudy({{"Solid", 50}, {"Mesh", 46}}, {});
  CHECK(holds(commentWithFigures(warmer, comment).str(), ">46.0\u202FK</a></b>, {not one}.</p>"));
  StudyReport gone = madeStudy({{"Solid", 50}}, {});
  gone.study.setups.push_back({"Mesh", Json::object(), Json::object(), Json::object()});
  CHECK(holds(commentWithFigures(gone, comment).str(), "at (no figure now: Mesh: CPU over room), {not one}."));
}

// Names with marks, and a comment that writes what stands for a figure while it is read.
TEST_CASE("nothingElseCanStandWhereAFigureStands") {
  const StudyReport report = madeStudy({{"*a* _b_ {c} <i>", 50}, {"Mesh", 44}}, {});
  const LoadStanding& load = report.loads[0];
  const std::string named = figureMention(report, load, load.comparison.rows[0], "cpu.over_ambient_k", false);
  const std::string page =
      commentWithFigures(report, "x " + named + " \uE0000\uE001 `" + named + "` [l](https://a.example/" + named + ")")
          .str();
  CHECK(page.starts_with("<p>x <b class=\"figure\""));
  CHECK(holds(page, ">50.0\u202FK</a></b> 0 <code><b class=\"figure\""));
  CHECK_FALSE(holds(page, "<i>"));
  CHECK_FALSE(holds(page, "\uE000"));
  CHECK(commentOf("{a} {b").str() == "<p>{a} {b</p>\n");
}
