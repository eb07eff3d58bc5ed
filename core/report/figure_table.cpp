// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/figure_table.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/catalogue/metrics.h"
#include "model/number_text.h"
#include "model/text.h"
#include "report/answer/answer.h"
#include "report/answer/row_figure.h"
#include "report/drawing/chart_look.h"
#include "report/drawing/interval_mark.h"
#include "report/markup/page_parts.h"
#include "report/notes.h"

namespace ash {
namespace {

std::string runsOf(const ComparisonRow& row) {
  std::string runs;
  for (const std::string& run : row.runs) runs += (runs.empty() ? "" : ", ") + run;
  return runs;
}

}  // namespace

void traceTo(const StudyReport& report, const ComparisonRow& row, const Figure& metric, bool isDifference,
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

namespace {

// "10.2 K cooler", "≈ 0.1 K, not told apart", "0.3 K, not shown": what it comes to, in words.
std::string differenceWords(const MetricRow& figure, const Figure& metric) {
  const std::string words = differenceText(figure, metric);
  const std::string size = withUnit(std::abs(shownValue(metric, figure.difference)), digitsOfDifference(figure, metric),
                                    metric.differenceUnit());
  if (figure.verdict == Verdict::WithinMargin) return words + ", not told apart";
  if (figure.verdict == Verdict::TooFewRepeats) return size + ", not shown";
  const bool isJudged = figure.verdict == Verdict::Better || figure.verdict == Verdict::Worse;
  const bool saysItself = metric.kind().words.more != FigureWords().more;
  return isJudged && !saysItself ? words + ", " + std::string(wordsOf(figure.verdict)) : words;
}

// The largest reach of any setup's difference: all marks of a figure share one scale.
double reachOf(const Comparison& comparison, const Figure& metric) {
  double reach = 0;
  for (const ComparisonRow& row : comparison.rows) {
    const MetricRow* figure = figureIn(row, metric);
    if (figure == nullptr) continue;
    for (const double end : {figure->differenceLow, figure->differenceHigh}) {
      if (std::isfinite(end)) reach = std::max(reach, std::abs(end));
    }
  }
  return reach;
}

// The difference to the reference below a value: a mark from the low end of its interval to the high one, and words.
Markup differenceBelow(const StudyReport& report, const Comparison& comparison, const ComparisonRow& row,
                       const Figure& metric) {
  const MetricRow& figure = row.metrics.at(metric);
  Markup below;
  if (figure.verdict == Verdict::None) return below;
  below.add(Element("br").alone());
  Element small("small");
  if (figure.verdict == Verdict::NotComparable)
    return below.add(small.set("title", figure.reason).text("not comparable"));
  const std::string interval = differenceIntervalWords(figure, metric);
  small.set("data-difference", figure.difference);
  small.set("title", trimmed("95 % interval" + interval + ". " + figure.reason));
  const double reach = reachOf(comparison, metric);
  if (reach > 0 && !interval.empty()) {
    const IntervalMark mark{figure.difference / reach, figure.differenceLow / reach, figure.differenceHigh / reach,
                            setupIndexOf(report, row), interval.substr(1)};
    small.add(svgIntervalMark(mark)).text(" ");
  }
  return below.add(small.text(differenceWords(figure, metric)));
}

// On a narrow screen each cell says whose it is (html_page.cpp).
Markup cell(const StudyReport& report, const Comparison& comparison, const ComparisonRow& row, const Figure& metric) {
  Element cell("td");
  const MetricRow* figure = figureIn(row, metric);
  if (figure == nullptr) return cell.set("data-setup", row.setup).text("–").whole();
  const int digits = digitsOf(*figure, metric);
  const double half = shownValue(metric, (figure->ciHigh - figure->ciLow) / 2);
  traceTo(report, row, metric, false, cell);
  cell.set("data-setup", row.setup);
  const std::string margin = half > 0 ? " ± " + numberText(half, digits) : "";
  cell.add(linkedNumber(report, row, metric, numberText(shownValue(metric, figure->value), digits))).text(margin);
  return cell.add(differenceBelow(report, comparison, row, metric)).whole();
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
  const std::string against = reference == nullptr ? comparison.reference : reference->setup;
  return softLine(
      "± and marks are 95 % intervals; a mark runs from the low end of a difference to the high one, its "
      "tick is no difference from " +
      against + ".");
}

Element headOf(const StudyReport& report, const LoadStanding& load) {
  Element head("tr");
  head.add(Element("th").set("scope", "col").text(load.load));
  for (const ComparisonRow& row : load.comparison.rows) {
    Element setup("th");
    setup.set("scope", "col").add(setupName(report, row)).add(Element("br").alone());
    head.add(setup.add(softSpan(fmt::format("{} {}", row.repeats, row.repeats == 1 ? "run" : "repeats"))));
  }
  return head;
}

Markup lineOf(const StudyReport& report, const LoadStanding& load, const Figure& metric) {
  Element line("tr");
  line.add(Element("th")
               .set("scope", "row")
               .set("title", metric.kind().definition)
               .text(metric.title())
               .add(unitBehind(metric)));
  for (const ComparisonRow& row : load.comparison.rows) line.add(cell(report, load.comparison, row, metric));
  return line.whole().lineEnd();
}

Markup wideTable(const StudyReport& report, const LoadStanding& load, const std::vector<MetricGroup>& groups) {
  Markup rows;
  for (const MetricGroup& group : groups) {
    Element title("td");
    title.set("class", "group").set("colspan", std::to_string(load.comparison.rows.size() + 1)).text(group.title);
    if (!group.title.empty()) rows.add(Element("tr").add(title)).lineEnd();
    for (const Figure& metric : group.metrics) rows.add(lineOf(report, load, metric));
  }
  return scrolledTable(headOf(report, load), rows, "figures");
}

// A figure a block: its name, then each setup with its value and its difference in a line of its own.
Markup narrowTable(const StudyReport& report, const LoadStanding& load, const std::vector<MetricGroup>& groups) {
  Markup text;
  for (const MetricGroup& group : groups) {
    if (!group.title.empty()) text.add(Element("h3").set("class", "soft").text(group.title)).lineEnd();
    for (const Figure& metric : group.metrics) {
      text.add(Element("p").add(Element("b").text(metric.title())).add(unitBehind(metric))).lineEnd();
      Element body("tbody");
      body.lineEnd();
      for (const ComparisonRow& row : load.comparison.rows)
        body.add(Element("tr")
                     .add(Element("td").add(setupName(report, row)))
                     .add(cell(report, load.comparison, row, metric)))
            .lineEnd();
      text.add(Element("table").set("cellspacing", "0").set("cellpadding", "2").add(body)).lineEnd();
    }
  }
  return text;
}

// What bears on any question beside its own figure, in the order in which it is told.
constexpr std::array kBearing = {
    FigureId::HeadroomK, FigureId::Noise,       FigureId::NoiseOverRest, FigureId::Price,
    FigureId::TaskTime,  FigureId::Score,       FigureId::WorkRate,      FigureId::FrameRate,
    FigureId::Runtime,   FigureId::WallPower,   FigureId::Energy,        FigureId::ThrottledThermal,
    FigureId::Power,     FigureId::HottestRoom, FigureId::HeadroomW,     FigureId::Clock};

bool bearsOnIt(const Figure& metric, const Figure& lead, FigureId id) {
  if (metric.id() != id || metric == lead) return false;
  return !metric.kind().isOfDevice || lead.device().empty() || metric.device() == lead.device();
}

// A share that is nothing in every setup says nothing.
bool isNothing(const Comparison& comparison, const Figure& metric) {
  return metric.kind().scale != 1 && std::all_of(comparison.rows.begin(), comparison.rows.end(), [&](const auto& row) {
           const MetricRow* figure = figureIn(row, metric);
           return figure == nullptr || figure->value == 0;
         });
}

// Groups without some figures; those that are empty then are left out.
std::vector<MetricGroup> without(std::vector<MetricGroup> groups, const std::vector<Figure>& told) {
  for (MetricGroup& group : groups) {
    std::erase_if(group.metrics,
                  [&](const Figure& metric) { return std::find(told.begin(), told.end(), metric) != told.end(); });
  }
  std::erase_if(groups, [](const MetricGroup& group) { return group.metrics.empty(); });
  return groups;
}

}  // namespace

std::vector<Figure> figuresOfQuestion(const StudyReport& report, const LoadStanding& load) {
  constexpr size_t kMost = 9;
  const Figure lead = leadingMetric(report, load.comparison);
  std::vector<Figure> told = {lead};
  const std::vector<MetricGroup> groups = metricGroups(load.comparison);
  for (const FigureId id : kBearing) {
    for (const MetricGroup& group : groups) {
      for (const Figure& metric : group.metrics) {
        if (bearsOnIt(metric, lead, id) && told.size() < kMost && !isNothing(load.comparison, metric))
          told.push_back(metric);
      }
    }
  }
  return told;
}

Markup figureTables(const StudyReport& report, const LoadStanding& load, PageForm form) {
  const auto table = form == PageForm::Narrow ? narrowTable : wideTable;
  const std::vector<Figure> told = figuresOfQuestion(report, load);
  const std::vector<MetricGroup> rest = without(metricGroups(load.comparison), told);
  Markup text = table(report, load, {{"", told}});
  text.add(whatRangesAre(load.comparison));
  size_t count = 0;
  for (const MetricGroup& group : rest) count += group.metrics.size();
  if (count == 0) return text;
  const auto at =
      std::find_if(report.loads.begin(), report.loads.end(), [&](const LoadStanding& one) { return &one == &load; });
  return text.add(folded(fmt::format("figures-{}", at - report.loads.begin() + 1),
                         fmt::format("All other figures under {}: {}", load.load, count), table(report, load, rest)));
}

}  // namespace ash
