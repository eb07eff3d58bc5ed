// SPDX-License-Identifier: GPL-3.0-or-later
// The text of each block of the page.
#include "report/page_blocks.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/catalogue/metrics.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "model/text.h"
#include "report/answer.h"
#include "report/effect_table.h"
#include "report/page_charts.h"
#include "report/page_parts.h"
#include "report/stated.h"
#include "report/svg_chart.h"

namespace ash {
namespace {

std::string runsOf(const ComparisonRow& row) {
  std::string runs;
  for (const std::string& run : row.runs) runs += (runs.empty() ? "" : ", ") + run;
  return runs;
}

// Where a figure on the page comes from: run, metric, the number unrounded, its definition.
void trace(const StudyReport& report, const ComparisonRow& row, const Figure& metric, bool isDifference,
           Element& element) {
  const MetricRow& figure = row.metrics.at(metric);
  std::string window;
  for (const auto& run : report.runs) {
    if (run->run.name != row.run || !run->figures.window) continue;
    const Window& first = *run->figures.window;
    window = fmt::format(" Window of the first: {} to {} ({}).", clockText(first.span.startS),
                         clockText(first.span.endS), first.reason);
  }
  element.set("data-run", row.run).set("data-metric", metric.code());
  if (isDifference)
    element.set("data-difference", figure.difference);
  else
    element.set("data-value", figure.value);
  element.set("title", fmt::format("{} Runs {}.{}", metric.kind().definition, runsOf(row), window));
}

Markup html(const StudyReport& report, const std::vector<Sentence>& sentences) {
  Markup text;
  for (const Sentence& sentence : sentences) {
    if (!text.isEmpty()) text.text(" ");
    for (const AnswerPart& part : sentence) {
      if (part.row == nullptr) {
        text.text(part.text);
        continue;
      }
      Element figure("b");
      figure.set("class", "figure");
      trace(report, *part.row, *part.metric, part.isDifference, figure);
      text.add(figure.text(part.text));
    }
  }
  return text;
}

Markup answerParagraph(const Markup& inside) {
  return Element("p").set("class", "answer").add(inside).whole().lineEnd();
}

Markup answer(const StudyReport& report) {
  if (report.loads.empty()) return answerParagraph(Markup::ofText("There is no run to answer from yet."));
  Markup text;
  for (const LoadStanding& load : report.loads) {
    Markup inside;
    if (report.loads.size() > 1) inside.add(Element("b").text(load.load + ".")).text(" ");
    text.add(answerParagraph(inside.add(html(report, headlineSentences(report, load)))));
    if (!isCrowded(load)) continue;
    Element pairs("ul");
    pairs.lineEnd();
    for (const Sentence& pair : pairSentences(report, load))
      pairs.add(Element("li").add(html(report, {pair}))).lineEnd();
    text.add(pairs).lineEnd();
  }
  return text;
}

// The difference to the reference below a value, with its verdict.
Markup differenceBelow(const MetricRow& figure, const Figure& metric) {
  Markup below;
  if (figure.verdict == Verdict::None) return below;
  below.add(Element("br").alone());
  Element small("small");
  if (figure.verdict == Verdict::NotComparable)
    return below.add(small.set("title", figure.reason).text("not comparable"));
  const int digits = metric.digits();
  const std::string bound = figure.bound == Bound::None ? "" : fmt::format("{}, ", wordsOf(figure.bound));
  small.set("data-difference", figure.difference).set("title", figure.reason);
  small.text(fmt::format("{} ({} to {}): {}{}", signedText(shownValue(metric, figure.difference), digits),
                         signedText(shownValue(metric, figure.differenceLow), digits),
                         signedText(shownValue(metric, figure.differenceHigh), digits), bound,
                         wordsOf(figure.verdict)));
  return below.add(small);
}

// On a narrow screen each cell says whose it is (html_page.cpp).
Markup cell(const StudyReport& report, const ComparisonRow& row, const Figure& metric) {
  Element cell("td");
  const auto found = row.metrics.find(metric);
  if (found == row.metrics.end() || !std::isfinite(found->second.value))
    return cell.set("data-setup", row.setup).text("–").whole();
  const MetricRow& figure = found->second;
  const int digits = metric.digits();
  const double half = shownValue(metric, (figure.ciHigh - figure.ciLow) / 2);
  // A spread that would round to zero gets the digits it needs to be seen.
  const int halfDigits = half > 0 && half < std::pow(10, -digits) ? digits + 1 : digits;
  trace(report, row, metric, false, cell);
  cell.set("data-setup", row.setup);
  cell.text(numberText(shownValue(metric, figure.value), digits) + " ± " + numberText(half, halfDigits));
  return cell.add(differenceBelow(figure, metric)).whole();
}

Markup softSpan(const std::string& words) { return Element("span").set("class", "soft").text(words).whole(); }

// The square in a setup's colour and its name.
Markup setupName(const StudyReport& report, const ComparisonRow& row) {
  Markup name;
  name.add(Element("span").set("style", "color:" + paperColour(setupIndexOf(report, row))).text("■"));
  return name.text(" " + row.setup);
}

Markup unitBehind(const Figure& metric) {
  const std::string unit = shownUnit(metric);
  Markup behind;
  return unit.empty() ? behind : behind.text(" ").add(softSpan(unit));
}

Markup whatRangesAre(const Comparison& comparison) {
  const ComparisonRow* reference = referenceRow(comparison);
  return softLine("± and ranges are 95 % intervals; differences are against " +
                  (reference == nullptr ? comparison.reference : reference->setup) + ".");
}

Markup table(const StudyReport& report, const LoadStanding& load) {
  const Comparison& comparison = load.comparison;
  Element head("tr");
  head.add(Element("th").text(load.load));
  for (const ComparisonRow& row : comparison.rows) {
    Element setup("th");
    setup.add(setupName(report, row)).add(Element("br").alone());
    head.add(setup.add(softSpan(fmt::format("{} {}", row.repeats, row.repeats == 1 ? "run" : "repeats"))));
  }
  Markup rows;
  for (const MetricGroup& group : metricGroups(comparison)) {
    Element title("td");
    title.set("class", "group").set("colspan", std::to_string(comparison.rows.size() + 1)).text(group.title);
    rows.add(Element("tr").add(title)).lineEnd();
    for (const Figure& metric : group.metrics) {
      Element line("tr");
      line.add(Element("td").set("title", metric.kind().definition).text(metric.title()).add(unitBehind(metric)));
      for (const ComparisonRow& row : comparison.rows) line.add(cell(report, row, metric));
      rows.add(line).lineEnd();
    }
  }
  return scrolledTable(head, rows, "figures").add(whatRangesAre(comparison));
}

// A figure a block: its name, then each setup with its value and its difference in a line of its own.
Markup narrowTable(const StudyReport& report, const LoadStanding& load) {
  Markup text;
  for (const MetricGroup& group : metricGroups(load.comparison)) {
    text.add(Element("h3").set("class", "soft").text(group.title)).lineEnd();
    for (const Figure& metric : group.metrics) {
      text.add(Element("p").add(Element("b").text(metric.title())).add(unitBehind(metric))).lineEnd();
      Element body("tbody");
      body.lineEnd();
      for (const ComparisonRow& row : load.comparison.rows)
        body.add(Element("tr").add(Element("td").add(setupName(report, row))).add(cell(report, row, metric))).lineEnd();
      text.add(Element("table").set("cellspacing", "0").set("cellpadding", "2").add(body)).lineEnd();
    }
  }
  return text.add(whatRangesAre(load.comparison));
}

Markup result(const StudyReport& report, PageForm form) {
  Markup text;
  for (const LoadStanding& load : report.loads) {
    text.add(resultChart(report, load));
    text.add(form == PageForm::Wide ? table(report, load) : narrowTable(report, load));
    text.add(effectTable(report, load));
  }
  return text;
}

Markup warmUps(const StudyReport& report) {
  Markup text;
  for (const LoadStanding& load : report.loads) text.add(warmUpChart(report, load));
  return text.isEmpty() ? softLine("No temperature was logged under load, so there is no warm-up to draw.") : text;
}

Markup method(const StudyReport& report) {
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
  if (report.plan.isUntilDecided)
    items.add(
        fmt::format("Run until decided, at most {} repeats: each look was surer than 95 %, so that all looks "
                    "together are wrong in at most 5 of 100 studies.",
                    report.plan.repeats));
  items.add(fmt::format(
      "Figures by method {}: means with the autocorrelation of the samples in their uncertainty, settling by a fit of "
      "one or two exponentials, repeats by Welch's interval.",
      kFiguresMethod));
  return items.html();
}

Markup conditions(const StudyReport& report) {
  Markup text, held;
  for (const HeldCondition& condition : report.plan.held) {
    const std::string words = fieldTitle(condition.field) + " " + fieldText(condition.field, condition.target);
    held.add(Element("li").text(words + ", " + toleranceText(condition.field, condition.target, condition.tolerance)));
    held.lineEnd();
  }
  const auto listUnder = [&text](const char* heading, const Markup& items) {
    text.add(Element("p").text(heading)).lineEnd();
    text.add(Element("ul").lineEnd().add(items)).lineEnd();
  };
  if (!held.isEmpty()) listUnder("Held equal:", held);
  Markup setups;
  for (const Setup& setup : report.study.setups) {
    std::string fields;
    for (const auto& [field, value] : setup.conditions.items())
      fields += (fields.empty() ? "" : ", ") + fieldTitle(field) + " " + fieldText(field, value);
    setups.add(Element("li").text(setup.name + ": " + (fields.empty() ? "nothing stated" : fields))).lineEnd();
  }
  listUnder("As stated for each setup:", setups);
  return text;
}

// What the plan shows beside its own: each by the figure asked for, with what stands against comparing it.
Markup earlierWork(const StudyReport& report) {
  Element head("tr");
  for (const char* title : {"Setup", "Load", "Figure", "Value", "Against the reference", "Like for like"})
    head.add(Element("th").text(title));
  Markup rows;
  for (const LoadStanding& load : report.loads) {
    const Figure figure = leadingMetric(report, load.comparison);
    for (const EarlierRow& earlier : load.earlier) {
      if (!earlier.row.metrics.contains(figure)) continue;
      Element line("tr");
      for (const std::string& words :
           {earlier.label, load.load, figure.title(),
            valueText(earlier.row, figure) + " " + marginText(earlier.row, figure), differenceText(earlier.row, figure),
            earlier.checks.empty() ? std::string("yes") : earlier.checks.front().text})
        line.add(Element("td").text(words));
      rows.add(line).lineEnd();
    }
  }
  Markup all = rows.isEmpty() ? Markup() : scrolledTable(head, rows);
  for (const EarlierSetup& earlier : report.earlier) {
    if (!earlier.problem.empty()) all.add(Element("p").text(earlier.label + ": " + earlier.problem)).lineEnd();
  }
  return all.isEmpty() ? softLine("None of it has a run under these loads.") : all;
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
    if (ranWhole(run.info.outcome)) continue;
    items.add(fmt::format("{}, {}, repeat {} ({}): {} after {}.{}", run.info.setup, run.info.load, run.info.repeat,
                          run.info.id, outcomeText(run.info.outcome), clockText(run.lastSampleS),
                          run.info.reason.empty() ? "" : " " + run.info.reason));
  }
  return items;
}

Markup runList(const StudyReport& report) {
  Element head("tr");
  for (const char* title : {"Run", "Setup", "Load", "Repeat", "Started", "Window", "Outcome"})
    head.add(Element("th").text(title));
  Markup rows;
  for (size_t i = 0; i < report.runs.size(); ++i) {
    const RunInfo& info = report.summaries[i].info;
    const auto& window = report.runs[i]->figures.window;
    Element line("tr");
    for (const std::string& words :
         {info.id, info.setup, info.load, std::to_string(info.repeat), info.started.substr(0, 16),
          window ? clockText(window->span.startS) + " to " + clockText(window->span.endS) : std::string("–"),
          std::string(outcomeText(info.outcome)) + (info.reason.empty() ? "" : ": " + info.reason)})
      line.add(Element("td").text(words));
    rows.add(line).lineEnd();
  }
  return scrolledTable(head, rows);
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
      {PageBlock::kQuestion, "Question", "from the plan", false, false, "",
       Element("h1").text(title).whole().lineEnd()},
      {PageBlock::kAnswer, "Answer", "the figure that was asked for", false, false, "", answer(report)},
      {"warm-up", "Warm-up", "every run over time", true, false, "", warmUps(report)},
      {"result", "Result", "columns and figures", true, false, "", result(report, form)},
      {"method", "Method", "procedure, windows, margins", true, false, "", method(report)},
      {"conditions", "Conditions", fmt::format("{} held equal", report.plan.held.size()), true, false, "",
       conditions(report)},
      {"caveats", "Caveats", caveats.isEmpty() ? "none was found" : fmt::format("{} to read with care", caveats.size()),
       false, false, "", caveats.isEmpty() ? Element("p").text("None was found.").whole().lineEnd() : caveats.html()}};
  if (const Markup stated = statedTable(report); !stated.isEmpty())
    blocks.push_back(
        {"stated", "Expected and claimed", "said before, or by others; not measured", true, false, "", stated});
  if (!report.earlier.empty())
    blocks.push_back({"earlier", "Beside earlier work", "read only, not ranked", true, false, "", earlierWork(report)});
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
