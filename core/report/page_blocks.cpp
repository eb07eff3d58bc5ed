// SPDX-License-Identifier: GPL-3.0-or-later
// The text of each block of the page.
#include "report/page_blocks.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "analysis/metrics.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "model/text.h"
#include "report/answer.h"
#include "report/effect_table.h"
#include "report/page_charts.h"
#include "report/svg_chart.h"

namespace ash {
namespace {

std::string runsOf(const ComparisonRow& row) {
  std::string runs;
  for (const std::string& run : row.runs) runs += (runs.empty() ? "" : ", ") + run;
  return runs;
}

// Where a figure on the page comes from: run, metric, the number unrounded, its definition.
std::string trace(const StudyReport& report, const ComparisonRow& row, const Figure& metric, bool isDifference) {
  const MetricRow& figure = row.metrics.at(metric);
  std::string window;
  for (const auto& run : report.runs) {
    if (run->run.name != row.run || !run->figures.window) continue;
    const Window& first = *run->figures.window;
    window = fmt::format(" Window of the first: {} to {} ({}).", clockText(first.span.startS),
                         clockText(first.span.endS), first.reason);
  }
  return fmt::format("data-run=\"{}\" data-metric=\"{}\" data-{}=\"{}\" title=\"{} Runs {}.{}\"", escaped(row.run),
                     escaped(metric.code()), isDifference ? "difference" : "value",
                     isDifference ? figure.difference : figure.value, escaped(std::string(metric.kind().definition)),
                     escaped(runsOf(row)), escaped(window));
}

std::string html(const StudyReport& report, const std::vector<Sentence>& sentences) {
  std::string text;
  for (const Sentence& sentence : sentences) {
    if (!text.empty()) text += " ";
    for (const AnswerPart& part : sentence) {
      text += part.row == nullptr
                  ? escaped(part.text)
                  : fmt::format("<b class=\"figure\" {}>{}</b>",
                                trace(report, *part.row, *part.metric, part.isDifference), escaped(part.text));
    }
  }
  return text;
}

std::string answer(const StudyReport& report) {
  if (report.loads.empty()) return "<p class=\"answer\">There is no run to answer from yet.</p>\n";
  std::string text;
  for (const LoadStanding& load : report.loads) {
    const std::string name = report.loads.size() > 1 ? "<b>" + escaped(load.load) + ".</b> " : "";
    text += fmt::format("<p class=\"answer\">{}{}</p>\n", name, html(report, headlineSentences(report, load)));
    if (!isCrowded(load)) continue;
    text += "<ul>\n";
    for (const Sentence& pair : pairSentences(report, load)) text += "<li>" + html(report, {pair}) + "</li>\n";
    text += "</ul>\n";
  }
  return text;
}

// On a narrow screen each cell says whose it is (html_page.cpp).
std::string cell(const StudyReport& report, const ComparisonRow& row, const Figure& metric) {
  const std::string whose = fmt::format("data-setup=\"{}\"", escaped(row.setup));
  const auto found = row.metrics.find(metric);
  if (found == row.metrics.end() || !std::isfinite(found->second.value)) return fmt::format("<td {}>–</td>", whose);
  const MetricRow& figure = found->second;
  const int digits = shownDigits(metric);
  const double half = shownValue(metric, (figure.ciHigh - figure.ciLow) / 2);
  // A spread that would round to zero gets the digits it needs to be seen.
  const int halfDigits = half > 0 && half < std::pow(10, -digits) ? digits + 1 : digits;
  std::string text = fmt::format("<td {} {}>{} ± {}", trace(report, row, metric, false), whose,
                                 numberText(shownValue(metric, figure.value), digits), numberText(half, halfDigits));
  if (figure.verdict != Verdict::None && figure.verdict != Verdict::NotComparable) {
    text += fmt::format("<br><small data-difference=\"{}\" title=\"{}\">{} ({} to {}): {}</small>", figure.difference,
                        escaped(figure.reason), signedText(shownValue(metric, figure.difference), digits),
                        signedText(shownValue(metric, figure.differenceLow), digits),
                        signedText(shownValue(metric, figure.differenceHigh), digits),
                        escaped((figure.bound == Bound::None ? "" : fmt::format("{}, ", wordsOf(figure.bound))) +
                                std::string(wordsOf(figure.verdict))));
  } else if (figure.verdict != Verdict::None) {
    text += fmt::format("<br><small title=\"{}\">not comparable</small>", escaped(figure.reason));
  }
  return text + "</td>";
}

std::string table(const StudyReport& report, const LoadStanding& load) {
  const Comparison& comparison = load.comparison;
  std::string text =
      "<div class=\"scroll\"><table class=\"figures\" cellspacing=\"0\" cellpadding=\"4\"><thead><tr><th>" +
      escaped(load.load) + "</th>";
  for (const ComparisonRow& row : comparison.rows) {
    text += fmt::format("<th><span style=\"color:{}\">■</span> {}<br><span class=\"soft\">{} {}</span></th>",
                        paperColour(setupIndexOf(report, row)), escaped(row.setup), row.repeats,
                        row.repeats == 1 ? "run" : "repeats");
  }
  text += "</tr></thead><tbody>\n";
  for (const MetricGroup& group : metricGroups(comparison)) {
    text += fmt::format("<tr><td class=\"group\" colspan=\"{}\">{}</td></tr>\n", comparison.rows.size() + 1,
                        escaped(group.title));
    for (const Figure& metric : group.metrics) {
      const std::string unit = shownUnit(metric);
      text += fmt::format("<tr><td title=\"{}\">{}{}</td>", escaped(std::string(metric.kind().definition)),
                          escaped(metric.title()),
                          unit.empty() ? "" : " <span class=\"soft\">" + escaped(unit) + "</span>");
      for (const ComparisonRow& row : comparison.rows) text += cell(report, row, metric);
      text += "</tr>\n";
    }
  }
  const ComparisonRow* reference = referenceRow(comparison);
  return text + "</tbody></table></div>\n<p class=\"soft\">± and ranges are 95 % intervals; differences are against " +
         escaped(reference == nullptr ? comparison.reference : reference->setup) + ".</p>\n";
}

// A figure a block: its name, then each setup with its value and its difference in a line of its own.
std::string narrowTable(const StudyReport& report, const LoadStanding& load) {
  std::string text;
  for (const MetricGroup& group : metricGroups(load.comparison)) {
    text += fmt::format("<h3 class=\"soft\">{}</h3>\n", escaped(group.title));
    for (const Figure& metric : group.metrics) {
      const std::string unit = shownUnit(metric);
      text += fmt::format("<p><b>{}</b>{}</p>\n<table cellspacing=\"0\" cellpadding=\"2\"><tbody>\n",
                          escaped(metric.title()),
                          unit.empty() ? "" : " <span class=\"soft\">" + escaped(unit) + "</span>");
      for (const ComparisonRow& row : load.comparison.rows)
        text += fmt::format("<tr><td><span style=\"color:{}\">■</span> {}</td>{}</tr>\n",
                            paperColour(setupIndexOf(report, row)), escaped(row.setup), cell(report, row, metric));
      text += "</tbody></table>\n";
    }
  }
  const ComparisonRow* reference = referenceRow(load.comparison);
  return text + "<p class=\"soft\">± and ranges are 95 % intervals; differences are against " +
         escaped(reference == nullptr ? load.comparison.reference : reference->setup) + ".</p>\n";
}

std::string result(const StudyReport& report, PageForm form) {
  std::string text;
  for (const LoadStanding& load : report.loads) {
    const std::string figures = form == PageForm::Wide ? table(report, load) : narrowTable(report, load);
    text += resultChart(report, load) + figures + effectTable(report, load);
  }
  return text;
}

std::string warmUps(const StudyReport& report) {
  std::string text;
  for (const LoadStanding& load : report.loads) text += warmUpChart(report, load);
  return text.empty() ? "<p class=\"soft\">No temperature was logged under load, so there is no warm-up to draw.</p>\n"
                      : text;
}

/// A list without repetitions.
class ItemList {
 public:
  void add(const std::string& text) {
    if (m_told.insert(text).second) m_items += "<li>" + escaped(text) + "</li>\n";
  }
  bool isEmpty() const { return m_told.empty(); }
  size_t size() const { return m_told.size(); }
  std::string html() const { return "<ul>\n" + m_items + "</ul>\n"; }

 private:
  std::set<std::string> m_told;
  std::string m_items;
};

std::string method(const StudyReport& report) {
  ItemList items;
  for (const RunSummary& run : report.summaries) {
    const RunInfo& info = run.info;
    items.add(fmt::format("Load {}, phases: {}; a sample every {:g} s.", info.load, phasesText(info.procedure),
                          info.intervalS));
    const std::string machine = valueIn(info.machine, "name", std::string());
    items.add(isSimulated(info.bench) ? fmt::format("Simulated bench \"{}\": no real machine was measured.", machine)
                                      : fmt::format("Machine {} with kernel {}.", machine,
                                                    valueIn(info.machine, "kernel", std::string("unknown"))));
  }
  for (const auto& run : report.runs) {
    if (run->figures.window)
      items.add(fmt::format("Figures come from the window “{}” of each run.", run->figures.window->reason));
  }
  if (report.plan.marginK)
    items.add(fmt::format("Differences of temperature below {:g} K are taken as negligible.", *report.plan.marginK));
  items.add(fmt::format(
      "Figures by method {}: means with the autocorrelation of the samples in their uncertainty, settling by a fit of "
      "one or two exponentials, repeats by Welch's interval.",
      kFiguresMethod));
  return items.html();
}

std::string conditions(const StudyReport& report) {
  std::string held;
  for (const HeldCondition& condition : report.plan.held) {
    held += fmt::format("<li>{} {}, {}</li>\n", escaped(fieldTitle(condition.field)),
                        escaped(fieldText(condition.field, condition.target)),
                        escaped(toleranceText(condition.field, condition.target, condition.tolerance)));
  }
  std::string setups;
  for (const Setup& setup : report.study.setups) {
    std::string fields;
    for (const auto& [field, value] : setup.conditions.items())
      fields += (fields.empty() ? "" : ", ") + fieldTitle(field) + " " + fieldText(field, value);
    setups +=
        fmt::format("<li>{}: {}</li>\n", escaped(setup.name), fields.empty() ? "nothing stated" : escaped(fields));
  }
  return (held.empty() ? "" : "<p>Held equal:</p>\n<ul>\n" + held + "</ul>\n") +
         "<p>As stated for each setup:</p>\n<ul>\n" + setups + "</ul>\n";
}

ItemList caveatItems(const StudyReport& report) {
  ItemList items;
  for (const Severity severity : {Severity::Block, Severity::Warn, Severity::Info}) {
    for (const LoadStanding& load : report.loads) {
      for (const ComparisonCheck& check : load.comparison.checks) {
        if (check.severity == severity) items.add(load.load + ": " + check.text);
      }
    }
  }
  for (const auto& run : report.runs) {
    for (const Problem& problem : run->figures.problems)
      items.add(fmt::format("{} ({}): {}", run->run.facts.setup, run->run.name, problem.text));
  }
  return items;
}

ItemList unfinishedItems(const StudyReport& report) {
  ItemList items;
  for (const RunSummary& run : report.summaries) {
    if (run.info.outcome == Outcome::Completed) continue;
    items.add(fmt::format("{}, {}, repeat {} ({}): {} after {}.{}", run.info.setup, run.info.load, run.info.repeat,
                          run.info.id, outcomeText(run.info.outcome), clockText(run.lastSampleS),
                          run.info.reason.empty() ? "" : " " + run.info.reason));
  }
  return items;
}

std::string runList(const StudyReport& report) {
  std::string text =
      "<div class=\"scroll\"><table cellspacing=\"0\" "
      "cellpadding=\"4\"><thead><tr><th>Run</th><th>Setup</th><th>Load</th>"
      "<th>Repeat</th><th>Started</th><th>Window</th><th>Outcome</th></tr></thead><tbody>\n";
  for (size_t i = 0; i < report.runs.size(); ++i) {
    const RunInfo& info = report.summaries[i].info;
    const auto& window = report.runs[i]->figures.window;
    text += fmt::format(
        "<tr><td>{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td></tr>\n", escaped(info.id),
        escaped(info.setup), escaped(info.load), info.repeat, escaped(info.started.substr(0, 16)),
        window ? clockText(window->span.startS) + " to " + clockText(window->span.endS) : "–",
        escaped(std::string(outcomeText(info.outcome)) + (info.reason.empty() ? "" : ": " + info.reason)));
  }
  return text + "</tbody></table></div>\n";
}

// Blocks that were moved come first in their order, the others after them as they are; the question always leads.
void arrange(const StudyReport& report, std::vector<PageBlock>& blocks) {
  const auto& order = report.plan.writeUp.order;
  const auto place = [&](const PageBlock& block) {
    const auto found = std::find(order.begin(), order.end(), block.id);
    return block.leads() ? std::ptrdiff_t{-1} : found - order.begin();
  };
  std::stable_sort(blocks.begin(), blocks.end(),
                   [&](const PageBlock& a, const PageBlock& b) { return place(a) < place(b); });
}

}  // namespace

std::vector<PageBlock> pageBlocks(const StudyReport& report, PageForm form) {
  const std::string title = report.study.question.empty() ? report.study.name : report.study.question;
  const ItemList caveats = caveatItems(report);
  const ItemList unfinished = unfinishedItems(report);
  const size_t runCount = report.runs.size();
  std::vector<PageBlock> blocks = {
      {PageBlock::kQuestion, "Question", "from the plan", false, false, "", "<h1>" + escaped(title) + "</h1>\n"},
      {PageBlock::kAnswer, "Answer", "the figure that was asked for", false, false, "", answer(report)},
      {"warm-up", "Warm-up", "every run over time", true, false, "", warmUps(report)},
      {"result", "Result", "columns and figures", true, false, "", result(report, form)},
      {"method", "Method", "procedure, windows, margins", true, false, "", method(report)},
      {"conditions", "Conditions", fmt::format("{} held equal", report.plan.held.size()), true, false, "",
       conditions(report)},
      {"caveats", "Caveats", caveats.isEmpty() ? "none was found" : fmt::format("{} to read with care", caveats.size()),
       false, false, "", caveats.isEmpty() ? "<p>None was found.</p>\n" : caveats.html()}};
  if (!unfinished.isEmpty()) {
    blocks.push_back({"unfinished", "Runs that did not finish",
                      fmt::format("{}, with their reasons", unfinished.size()), false, false, "", unfinished.html()});
  }
  blocks.push_back(
      {"runs", "Runs", runCount == 1 ? "1 run" : fmt::format("{} runs", runCount), true, false, "", runList(report)});
  const WriteUpPlan& plan = report.plan.writeUp;
  for (PageBlock& block : blocks) {
    block.isLeftOut =
        block.canLeaveOut && std::find(plan.leftOut.begin(), plan.leftOut.end(), block.id) != plan.leftOut.end();
    if (const auto comment = plan.comments.find(block.id); comment != plan.comments.end())
      block.comment = comment->second;
  }
  arrange(report, blocks);
  return blocks;
}

}  // namespace ash
