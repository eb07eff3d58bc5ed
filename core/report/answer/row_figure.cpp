// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/row_figure.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/number_text.h"

namespace ash {

const MetricRow* figureIn(const ComparisonRow& row, const Figure& metric) {
  const auto found = row.metrics.find(metric);
  return found == row.metrics.end() || !std::isfinite(found->second.value) ? nullptr : &found->second;
}

const ComparisonRow* rowOf(const Comparison& comparison, const std::string& setup) {
  const auto found = std::find_if(comparison.rows.begin(), comparison.rows.end(),
                                  [&](const ComparisonRow& row) { return row.setup == setup; });
  return found == comparison.rows.end() ? nullptr : &*found;
}

std::optional<Estimate> pricePerUnit(const ComparisonRow& row, const Figure& metric) {
  const MetricRow *price = figureIn(row, FigureId::Price), *figure = figureIn(row, metric);
  if (price == nullptr || figure == nullptr || !(price->difference > 0) || figure->verdict != Verdict::Better)
    return std::nullopt;
  const double one = price->difference / std::abs(figure->differenceLow),
               other = price->difference / std::abs(figure->differenceHigh);
  return Estimate{price->difference / std::abs(figure->difference), std::min(one, other), std::max(one, other)};
}

std::string intervalWords(const MetricRow& figure, const Figure& metric) {
  if (!std::isfinite(figure.ciLow) || !std::isfinite(figure.ciHigh)) return "";
  const int digits = digitsOf(figure, metric);
  return fmt::format(" ({} to {})", numberText(shownValue(metric, figure.ciLow), digits),
                     withUnit(shownValue(metric, figure.ciHigh), digits, shownUnit(metric)));
}

std::string differenceIntervalWords(const MetricRow& figure, const Figure& metric) {
  if (!std::isfinite(figure.differenceLow) || !std::isfinite(figure.differenceHigh)) return "";
  const int digits = digitsOfDifference(figure, metric);
  return fmt::format(" ({} to {})", signedText(shownValue(metric, figure.differenceLow), digits),
                     withUnit(shownValue(metric, figure.differenceHigh), digits, metric.differenceUnit()));
}

std::vector<Sentence> wordsOnly(std::vector<Sentence> sentences, const Comparison& own) {
  for (Sentence& sentence : sentences) {
    for (AnswerPart& part : sentence) {
      const bool isOwn =
          std::any_of(own.rows.begin(), own.rows.end(), [&](const ComparisonRow& row) { return &row == part.row; });
      if (!isOwn) part = {part.text};
    }
  }
  return sentences;
}

void addFigure(Sentence& sentence, const ComparisonRow& row, const Figure& metric) {
  sentence.push_back({valueText(row, metric), &row, metric});
  sentence.push_back({intervalWords(row.metrics.at(metric), metric)});
}

}  // namespace ash
