// SPDX-License-Identifier: GPL-3.0-or-later
// A figure of a row, as the sentences take it.
#pragma once

#include "analysis/comparison/chance.h"
#include "report/answer/answer.h"

namespace ash {

/// Null where the row has none.
const MetricRow* figureIn(const ComparisonRow& row, const Figure& metric);

/// Null where the comparison has no such setup.
const ComparisonRow* rowOf(const Comparison& comparison, const std::string& setup);

inline Believed believed(const MetricRow& row) { return {row.value, row.ciLow, row.ciHigh, row.ciDegrees}; }

/// What a row costs more than the reference for each unit that it is better by, with the bounds that the interval of
/// that difference gives (a price is exact), in money. None where it is not dearer, or not shown to be better.
std::optional<Estimate> pricePerUnit(const ComparisonRow& row, const Figure& metric);

/// " (55.8 to 56.6 °C)" of a value, " (−10.5 to −9.9 K)" of a difference; empty where there is none.
std::string intervalWords(const MetricRow& figure, const Figure& metric);
std::string differenceIntervalWords(const MetricRow& figure, const Figure& metric);

/// Figures of another comparison as plain words, as it will be gone; those of `own` can be traced.
std::vector<Sentence> wordsOnly(std::vector<Sentence> sentences, const Comparison& own);

/// "56.2 °C (55.8 to 56.6 °C)", the number as a part that can be traced. The row has the figure.
void addFigure(Sentence& sentence, const ComparisonRow& row, const Figure& metric);

}  // namespace ash
