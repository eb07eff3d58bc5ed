// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/figure_mention.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "report/answer/answer.h"
#include "report/answer/row_figure.h"
#include "report/figure_table.h"
#include "report/markup/comment_text.h"
#include "report/notes.h"

namespace ash {
namespace {

// What a mention is of.
struct Mentioned {
  const ComparisonRow* row;
  Figure metric;
  bool isDifference;
};
using Mentions = std::map<std::string, Mentioned>;

Mentions mentionsOf(const StudyReport& report) {
  Mentions all;
  for (const LoadStanding& load : report.loads) {
    for (const MetricGroup& group : metricGroups(load.comparison)) {
      for (const Figure& metric : group.metrics) {
        for (const ComparisonRow& row : load.comparison.rows) {
          const MetricRow* figure = figureIn(row, metric);
          if (figure == nullptr) continue;
          for (const bool isDifference : {false, true}) {
            if (isDifference && figure->verdict == Verdict::None) continue;
            all.emplace(figureMention(report, load, row, metric, isDifference), Mentioned{&row, metric, isDifference});
          }
        }
      }
    }
  }
  return all;
}

Markup elementOf(const StudyReport& report, const Mentioned& mentioned) {
  Element figure("b");
  figure.set("class", "figure");
  traceTo(report, *mentioned.row, mentioned.metric, mentioned.isDifference, figure);
  const std::string words = mentioned.isDifference ? differenceText(*mentioned.row, mentioned.metric)
                                                   : valueText(*mentioned.row, mentioned.metric);
  return figure.add(linkedNumber(report, *mentioned.row, mentioned.metric, words)).whole();
}

// It names a setup of the study that has no such figure, or none any more.
bool namesSetup(const StudyReport& report, const std::string& named) {
  return std::any_of(report.study.setups.begin(), report.study.setups.end(), [&](const Setup& setup) {
    return named.starts_with("{" + setup.name + ": ") || named.starts_with("{" + setup.name + " against ");
  });
}

}  // namespace

std::string figureMention(const StudyReport& report, const LoadStanding& load, const ComparisonRow& row,
                          const Figure& metric, bool isDifference) {
  const ComparisonRow* reference = referenceRow(load.comparison);
  const std::string against = isDifference && reference != nullptr ? " against " + reference->setup : "";
  return fmt::format("{{{}{}: {}{}}}", row.setup, against, metric.title(),
                     report.loads.size() > 1 ? ", " + load.load : "");
}

Markup commentWithFigures(const StudyReport& report, const std::string& comment) {
  if (comment.find('{') == std::string::npos) return commentOf(comment);
  const Mentions mentions = mentionsOf(report);
  return commentOf(comment, [&](const std::string& named) -> std::optional<Markup> {
    if (const auto found = mentions.find(named); found != mentions.end()) return elementOf(report, found->second);
    if (!namesSetup(report, named)) return std::nullopt;
    return Markup::ofText("(no figure now: " + named.substr(1, named.size() - 2) + ")");
  });
}

}  // namespace ash
