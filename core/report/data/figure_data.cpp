// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/data/figure_data.h"

#include <array>
#include <cmath>
#include <set>

#include "analysis/catalogue/metrics.h"
#include "analysis/figures_json.h"
#include "model/text.h"
#include "package/package_csv.h"
#include "report/answer/question_answer.h"

namespace ash {
namespace {

// A share is kept as 0 to 1.
std::string unitOfKept(const Figure& metric) { return metric.kind().scale != 1 ? "ratio" : metric.unit(); }

std::string joined(const std::vector<std::string>& names) {
  std::string text;
  for (const std::string& name : names) text += (text.empty() ? "" : " ") + name;
  return text;
}

// Names are anybody's: a spreadsheet that opens the file shall not take one for a formula.
std::string words(std::string_view text) { return csvCell(guardedCell(asUtf8(text))); }

void addRow(std::string& csv, const std::vector<std::string>& cells) {
  for (size_t i = 0; i < cells.size(); ++i) csv += (i == 0 ? "" : ",") + cells[i];
  csv += "\r\n";
}

void addSetup(std::string& csv, const std::string& load, const ComparisonRow& row) {
  for (const auto& [metric, figure] : row.metrics) {
    if (!std::isfinite(figure.value)) continue;
    addRow(csv,
           {words(load), words(row.setup), "", words(metric.code()), words(metric.title()), words(unitOfKept(metric)),
            csvNumber(figure.value), csvNumber(figure.ciLow), csvNumber(figure.ciHigh), csvNumber(figure.difference),
            csvNumber(figure.differenceLow), csvNumber(figure.differenceHigh), words(wordsOf(figure.verdict)),
            words(wordsOf(figure.bound)), std::to_string(row.repeats), words(joined(row.runs))});
  }
}

void addRun(std::string& csv, const AnalyzedRun& run) {
  for (const auto& [metric, value] : metricsOf(run.run, run.figures)) {
    if (!std::isfinite(value.value)) continue;
    addRow(csv, {words(run.run.facts.load), words(run.run.facts.setup), words(run.run.name), words(metric.code()),
                 words(metric.title()), words(unitOfKept(metric)), csvNumber(value.value), "", "", "", "", "", "", "",
                 "1", words(run.run.name)});
  }
}

Json answersOf(const StudyReport& report) {
  Json answers = Json::array();
  for (const LoadStanding& load : report.loads)
    answers.push_back({{"load", load.load}, {"text", plainText(leadSentences(report, load))}});
  return answers;
}

void addDefinition(Json& definitions, const Figure& metric) {
  constexpr std::array<const char*, 3> kBetter = {"lower", "higher", "neither"};
  definitions[metric.code()] = {{"title", metric.title()},
                                {"unit", unitOfKept(metric)},
                                {"better", kBetter.at(static_cast<size_t>(metric.better()))},
                                {"definition", metric.kind().definition}};
}

Json runOf(const AnalyzedRun& run, const RunSummary& summary, Json& definitions) {
  Json figures = Json::object();
  for (const auto& [metric, value] : metricsOf(run.run, run.figures)) {
    if (!std::isfinite(value.value)) continue;
    figures[metric.code()] = value.value;
    addDefinition(definitions, metric);
  }
  Json window = nullptr;
  if (run.figures.window)
    window = {{"start_s", run.figures.window->span.startS},
              {"end_s", run.figures.window->span.endS},
              {"reason", run.figures.window->reason}};
  return {{"run", run.run.name},
          {"setup", run.run.facts.setup},
          {"load", run.run.facts.load},
          {"outcome", outcomeText(summary.info.outcome)},
          {"reason", summary.info.reason},
          {"started", summary.info.started},
          {"window", window},
          {"metrics", figures}};
}

}  // namespace

std::string figuresCsv(const StudyReport& report) {
  std::string csv;
  addRow(csv, {"load", "setup", "run", "metric", "title", "unit", "value", "ci_low", "ci_high", "difference",
               "difference_low", "difference_high", "verdict", "bound", "repeats", "runs"});
  for (const LoadStanding& load : report.loads) {
    for (const ComparisonRow& row : load.comparison.rows) addSetup(csv, load.load, row);
  }
  for (const auto& run : report.runs) addRun(csv, *run);
  return csv;
}

Json figuresDocument(const StudyReport& report) {
  Json definitions = Json::object(), runs = Json::array(), loads = Json::array();
  for (size_t i = 0; i < report.runs.size(); ++i)
    runs.push_back(runOf(*report.runs[i], report.summaries[i], definitions));
  for (const LoadStanding& load : report.loads) {
    for (const ComparisonRow& row : load.comparison.rows) {
      for (const auto& [metric, figure] : row.metrics) addDefinition(definitions, metric);
    }
    loads.push_back({{"load", load.load}, {"comparison", comparisonToJson(load.comparison)}});
  }
  Json accepted = Json::array();
  for (const AcceptedCheck& one : report.plan.accepted)
    accepted.push_back({{"what", one.what}, {"between", one.between}, {"reason", one.reason}, {"when", one.when}});
  return {{"contract", 1},
          {"study", report.study.name},
          {"question", report.study.question},
          {"asks", questionToJson(report.plan.asks)},
          {"figures_method", kFiguresMethod},
          {"answers", answersOf(report)},
          {"loads", loads},
          {"accepted", accepted},
          {"runs", runs},
          {"definitions", definitions}};
}

}  // namespace ash
