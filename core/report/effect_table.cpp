// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/effect_table.h"

#include <fmt/format.h>

#include <cmath>

#include "analysis/metrics.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "report/answer.h"
#include "report/effect_words.h"
#include "report/svg_chart.h"

namespace ash {
namespace {

std::string intervalText(const MetricRow& figure, const Figure& metric) {
  if (!std::isfinite(figure.differenceLow) || !std::isfinite(figure.differenceHigh)) return "–";
  const int digits = shownDigits(metric);
  return signedText(shownValue(metric, figure.differenceLow), digits) + " to " +
         signedText(shownValue(metric, figure.differenceHigh), digits);
}

std::string row(const std::string& change, const std::string& within, const MetricRow& figure, const Figure& metric,
                bool isMean) {
  const char* tag = isMean ? "b" : "span";
  return fmt::format("<tr><td>{0}</td><td>{1}</td><td><{2}>{3}</{2}></td><td>{4}</td><td title=\"{5}\">{6}</td></tr>\n",
                     escaped(change), escaped(within), tag, escaped(differenceText(figure, metric)),
                     escaped(intervalText(figure, metric)), escaped(figure.reason),
                     escaped(std::string(wordsOf(figure.verdict))));
}

}  // namespace

std::string effectTable(const StudyReport& report, const LoadStanding& load) {
  if (load.comparison.factors.empty()) return "";
  const Figure metric = leadingMetric(report, load.comparison);
  std::string rows;
  for (const FactorEffect& effect : load.comparison.factors) {
    std::string change = fieldTitle(effect.factor) + " " + fieldText(effect.factor, effect.level) + " instead of " +
                         fieldText(effect.factor, effect.reference);
    for (const FactorEffect::Within& within : effect.within) {
      const auto figure = within.row.metrics.find(metric);
      if (figure == within.row.metrics.end()) continue;
      rows += row(change, levelsText(within.others), figure->second, metric, false);
      change.clear();
    }
    if (const auto mean = effect.mean.find(metric); mean != effect.mean.end()) {
      const bool depends = effect.dependsOnOthers.contains(metric);
      rows += row("", depends ? "on average, though it depends on them" : "on average", mean->second, metric, true);
    }
  }
  if (rows.empty()) return "";
  const std::string unit = metric.differenceUnit();
  return fmt::format(
      "<div class=\"scroll\"><table cellspacing=\"0\" cellpadding=\"4\"><thead><tr><th>{}: what each change does</th>"
      "<th>with</th><th>{}</th><th>95 % interval{}</th><th></th></tr></thead><tbody>\n{}</tbody></table></div>\n",
      escaped(load.load), escaped(metric.title()), unit.empty() ? "" : ", " + escaped(unit), rows);
}

}  // namespace ash
