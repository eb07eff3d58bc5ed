// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/effect_table.h"

#include <fmt/format.h>

#include <cmath>

#include "analysis/catalogue/metrics.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "report/answer/answer.h"
#include "report/answer/effect_words.h"
#include "report/markup/page_parts.h"

namespace ash {
namespace {

std::string intervalText(const MetricRow& figure, const Figure& metric) {
  if (!std::isfinite(figure.differenceLow) || !std::isfinite(figure.differenceHigh)) return "–";
  const int digits = digitsOfDifference(figure, metric);
  return signedText(shownValue(metric, figure.differenceLow), digits) + " to " +
         signedText(shownValue(metric, figure.differenceHigh), digits);
}

Markup row(const std::string& change, const std::string& within, const MetricRow& figure, const Figure& metric,
           bool isMean) {
  Element cells("tr");
  cells.add(Element("td").text(change)).add(Element("td").text(within));
  cells.add(Element("td").add(Element(isMean ? "b" : "span").text(differenceText(figure, metric))));
  cells.add(Element("td").text(intervalText(figure, metric)));
  cells.add(Element("td").set("title", figure.reason).text(wordsOf(figure.verdict)));
  return cells.whole().lineEnd();
}

}  // namespace

Markup effectTable(const StudyReport& report, const LoadStanding& load) {
  if (load.comparison.factors.empty()) return {};
  const Figure metric = leadingMetric(report, load.comparison);
  Markup rows;
  for (const FactorEffect& effect : load.comparison.factors) {
    std::string change = fieldTitle(effect.factor) + " " + fieldText(effect.factor, effect.level) + " instead of " +
                         fieldText(effect.factor, effect.reference);
    for (const FactorEffect::Within& within : effect.within) {
      const auto figure = within.row.metrics.find(metric);
      if (figure == within.row.metrics.end()) continue;
      rows.add(row(change, levelsText(within.others), figure->second, metric, false));
      change.clear();
    }
    if (const auto mean = effect.mean.find(metric); mean != effect.mean.end()) {
      const bool depends = effect.dependsOnOthers.contains(metric);
      rows.add(row("", depends ? "on average, though it depends on them" : "on average", mean->second, metric, true));
    }
  }
  if (rows.isEmpty()) return {};
  const std::string unit = metric.differenceUnit();
  Element head("tr");
  head.add(Element("th").text(load.load + ": what each change does")).add(Element("th").text("with"));
  head.add(Element("th").text(metric.title()));
  head.add(Element("th").text("95 % interval" + (unit.empty() ? "" : ", " + unit))).add(Element("th"));
  return scrolledTable(head, rows);
}

}  // namespace ash
