// SPDX-License-Identifier: GPL-3.0-or-later
// The write-up in its formats, each read by somebody else: CommonMark by libcmark, JSON and CSV against the comparison.
#include "report/report_files.h"

#include <cmark.h>

#include <catch2/catch.hpp>
#include <memory>
#include <sstream>

#include "analysis/analyze.h"
#include "analysis/figures_json.h"
#include "report/markup/comment_text.h"
#include "report/markup/commonmark.h"
#include "report/page_blocks.h"
#include "tests/support/known_logs.h"
#include "tests/support/made_report.h"

using namespace ash;
using namespace ash::tests;

namespace {

// Names as a stranger may give them: an element, a formula, a link, an emphasis, a heading.
constexpr const char* kHostileStudy = "<script>alert(1)</script> # *a* [x](javascript:y)";
constexpr const char* kHostileSetup = "=cmd|' /C calc'!A0, \"b\" *c* <img src=x>";

AnalyzedRun hostileRun(const char* name, const char* setup, double riseK) {
  WarmUp warm;
  warm.riseK = riseK;
  warm.tauS = 40;
  LogMaker maker(600, 1);
  maker.add("cpu.temp", warm.function()).add("room.temp", [](double) { return 22.0; });
  maker.add("cpu.power", [](double t) { return t < 60 ? 10.0 : 80.0; });
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 400).phase(PhaseKind::Measure, 400, 600);
  maker.run.name = name;
  maker.run.facts.setup = setup;
  maker.run.facts.load = "vector";
  AnalyzedRun run{maker.run, {}};
  run.figures = analyzeRun(run.run);
  return run;
}

StudyReport hostile() {
  Study study;
  study.name = study.question = kHostileStudy;
  StudyPlan plan;
  plan.writeUp.comments["method"] =
      "1. *mine* <b>raw</b> ![p](http://x/y.png) [l](javascript:z) [m](https://a.example/)";
  study.setups = {{"solid", Json::object(), Json::object(), Json::object()},
                  {kHostileSetup, Json::object(), Json::object(), Json::object()}};
  study.loads = {{"vector", Json::object()}};
  return madeReport(study, plan, {hostileRun("r1", "solid", 50), hostileRun("r2", kHostileSetup, 44)});
}

std::string fileOf(const std::vector<ReportFile>& files, const std::string& name) {
  for (const ReportFile& file : files) {
    if (file.name == name) return file.bytes;
  }
  FAIL(name << " is not there");
  return {};
}

// What a reader of CommonMark takes out of a text: its words, and how many nodes of each kind there are.
struct Read {
  std::string words;
  std::map<cmark_node_type, int> kinds;
};

Read readCommonMark(const std::string& text) {
  Read read;
  cmark_node* document = cmark_parse_document(text.data(), text.size(), CMARK_OPT_DEFAULT);
  cmark_iter* iter = cmark_iter_new(document);
  for (cmark_event_type event = cmark_iter_next(iter); event != CMARK_EVENT_DONE; event = cmark_iter_next(iter)) {
    if (event != CMARK_EVENT_ENTER) continue;
    cmark_node* node = cmark_iter_get_node(iter);
    ++read.kinds[cmark_node_get_type(node)];
    if (const char* literal = cmark_node_get_literal(node)) read.words += literal;
  }
  cmark_iter_free(iter);
  cmark_node_free(document);
  return read;
}

bool has(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

// RFC 4180, as plainly as can be.
std::vector<std::vector<std::string>> readCsv(const std::string& text) {
  std::vector<std::vector<std::string>> rows(1, {""});
  bool isQuoted = false;
  for (size_t i = 0; i < text.size(); ++i) {
    std::string& cell = rows.back().back();
    if (isQuoted && text[i] == '"' && text[i + 1] == '"')
      cell += text[i++];
    else if (text[i] == '"')
      isQuoted = !isQuoted;
    else if (!isQuoted && text[i] == ',')
      rows.back().emplace_back();
    else if (!isQuoted && text.compare(i, 2, "\r\n") == 0)
      rows.push_back({""}), ++i;
    else
      cell += text[i];
  }
  rows.pop_back();
  return rows;
}

}  // namespace

TEST_CASE("aListOfFormatsIsReadAndWhatIsNoneIsNamed") {
  const auto two = parseReportFormats("md, html,md");
  REQUIRE(two);
  CHECK(*two == std::vector{ReportFormat::CommonMark, ReportFormat::Html});
  const auto none = parseReportFormats("html,docx");
  REQUIRE_FALSE(none);
  CHECK(has(none.error().message,
            "\"docx\" is no format of a report; there are html, md, csv, json, svg, pdf, png, package."));
}

TEST_CASE("namesStayWordsInCommonMark") {
  const std::string text = fileOf(reportFiles(hostile(), {"p", {ReportFormat::CommonMark}}), "p.md");
  const Read read = readCommonMark(text);
  CHECK(has(read.words, kHostileStudy));
  CHECK(has(read.words, kHostileSetup));
  CHECK(read.kinds.count(CMARK_NODE_HTML_BLOCK) == 0);
  CHECK(read.kinds.count(CMARK_NODE_HTML_INLINE) == 0);
  // Those that were written as such, in the comment, which is a quotation.
  CHECK(read.kinds.at(CMARK_NODE_LINK) == 1);
  CHECK(has(text, "[m](<https://a.example/>)"));
  CHECK(read.kinds.at(CMARK_NODE_EMPH) == 2);
  CHECK(has(text, "> *Comment by the tester:*\n>\n> "));
  // Its charts, which are there as files.
  const auto files = reportFiles(hostile(), {"p", {ReportFormat::CommonMark}});
  CHECK(read.kinds.at(CMARK_NODE_IMAGE) == static_cast<int>(files.size()) - 1);
  for (size_t i = 1; i < files.size(); ++i) {
    CHECK(has(text, "(<" + files[i].name + ">)"));
    CHECK(files[i].bytes.starts_with("<svg"));
    CHECK(has(files[i].bytes, "font-family='Inter"));
    CHECK_FALSE(has(files[i].bytes, "class='"));
  }
}

TEST_CASE("everyMarkOfCommonMarkIsEscaped") {
  for (const char* words : {"# no heading", "- no item", "+ none", "1. none", "2) none", "> none", "*a* _b_ `c` ~d~",
                            "[a](b) ![c](d) <e> &amp; &#35;", "back\\slash", "a|b", "---", "===", "0.5 is no list"}) {
    INFO(words);
    const Read read = readCommonMark(commonMarkText(words));
    CHECK(read.words == words);
    CHECK(read.kinds.size() == 3);  // document, paragraph, text
  }
}

TEST_CASE("aCommentMayEmphasiseAndLinkButBringNothingAlong") {
  const std::string html =
      commentOf(
          "# Head\n\nA *b* **c** `d`\n\n- e\n- f\n\n<script>g</script>\n\n![h](http://x/y.png) "
          "[i](https://a.example/?j=1&k=2) [l](javascript:m) [n](data:text/html,o)\n\n    code <p>")
          .str();
  CHECK(html ==
        "<p><b>Head</b></p>\n<p>A <em>b</em> <b>c</b> "
        "<code>d</code></p>\n<ul><li><p>e</p>\n</li><li><p>f</p>\n</li></ul>\n"
        "<p>&lt;script&gt;g&lt;/script&gt;\n</p>\n<p>h <a href=\"https://a.example/?j=1&amp;k=2\" rel=\"noopener "
        "nofollow\">i</a> l n</p>\n<pre>code &lt;p&gt;\n</pre>\n");
  // Deeper than anybody writes, and longer.
  CHECK(has(commentOf(std::string(5000, '>') + " deep").str(), "(nested too deep)"));
  const std::string whole(70'000, '*');
  CHECK(commentOf(whole).str() == "<p>" + whole + "</p>\n");
}

TEST_CASE("everyNumberOfTheTableAndTheDocumentIsThatOfTheComparison") {
  const StudyReport report = hostile();
  const auto files = reportFiles(report, {"p", {ReportFormat::Table, ReportFormat::Document}});
  const Json document = Json::parse(fileOf(files, "p.json"));
  const Json comparison = comparisonToJson(report.loads[0].comparison);
  CHECK(document["loads"][0]["comparison"] == comparison);
  const auto rows = readCsv(fileOf(files, "p.csv"));
  size_t found = 0;
  for (const auto& cells : rows) {
    REQUIRE(cells.size() == rows[0].size());
    if (&cells == &rows[0] || !cells[2].empty()) continue;
    const size_t place = cells[1] == "solid" ? 0 : 1;
    // A formula is kept from being one by an apostrophe.
    if (place == 1) CHECK(cells[1] == std::string("'") + kHostileSetup);
    const Json& metric = comparison["rows"][place]["metrics"][cells[3]];
    INFO(cells[3]);
    CHECK(Json::parse(cells[6]) == metric["value"]);
    if (!cells[7].empty()) CHECK(Json::parse(cells[7]) == metric["ci_low"]);
    CHECK((cells[9].empty() ? metric["difference"].is_null() : Json::parse(cells[9]) == metric["difference"]));
    CHECK(document["definitions"].contains(cells[3]));
    ++found;
  }
  size_t listed = 0;
  for (const Json& row : comparison["rows"]) {
    for (const auto& [code, metric] : row["metrics"].items()) listed += !metric["value"].is_null();
  }
  CHECK(found == listed);
  // And each run by itself: 22 °C, 12 K at rest and 50 K of rise.
  CHECK(document["runs"][0]["metrics"]["cpu.over_ambient_k"].get<double>() == Approx(62).margin(0.2));
}

TEST_CASE("theSameReportGivesTheSameBytes") {
  const std::vector<ReportFormat> all = {ReportFormat::Html, ReportFormat::CommonMark, ReportFormat::Table,
                                         ReportFormat::Document, ReportFormat::Drawings};
  const ReportWish wish{"p", all, {ChartSize::Page, ChartSize::Phone}};
  const auto one = reportFiles(hostile(), wish), other = reportFiles(hostile(), wish);
  REQUIRE(one.size() == other.size());
  for (size_t i = 0; i < one.size(); ++i) {
    CHECK(one[i].name == other[i].name);
    CHECK(one[i].bytes == other[i].bytes);
  }
}

TEST_CASE("chartsAreFilesInEverySizeThatIsWanted") {
  ReportWish wish{"p", {ReportFormat::Drawings}, *parseChartSizes("page, phone,thumbnail,phone"), true};
  CHECK(wish.sizes.size() == 3);
  const auto files = reportFiles(hostile(), wish);
  for (const char* name : {"p-answer-dark.svg", "p-answer-phone-dark.svg", "p-answer-thumbnail-dark.svg",
                           "p-warm-up-dark.svg", "p-power-phone-dark.svg"})
    CHECK(has(fileOf(files, name), "role='img'"));
  const std::string thumbnail = fileOf(files, "p-warm-up-thumbnail-dark.svg");
  CHECK(has(thumbnail, "viewBox='0 0 1920 1080'"));
  CHECK(has(fileOf(files, "p-warm-up-phone-dark.svg"), "viewBox='0 0 390 "));
  const auto none = parseChartSizes("page,poster");
  REQUIRE_FALSE(none);
  CHECK(none.error().message == "\"poster\" is no size of a chart; there are page, print, phone and thumbnail.");
}

TEST_CASE("aBlockThatIsLeftOutTakesItsChartsAlong") {
  StudyReport report = hostile();
  report.plan.writeUp.leftOut = {"charts", "warm-up"};
  const auto files = reportFiles(report, {"p", {ReportFormat::CommonMark}});
  REQUIRE(files.size() == 2);
  CHECK(files[1].name == "p-answer.svg");
}
