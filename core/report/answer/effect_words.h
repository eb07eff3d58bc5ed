// SPDX-License-Identifier: GPL-3.0-or-later
// Ratios and the effects of factors in words: "20.4 × faster, with a ninth of the energy".
#pragma once

#include <string>
#include <vector>

#include "report/answer/answer.h"

namespace ash {

/// "half", "a third", … "a twelfth" for what is that within 4 %, else "38 %".
std::string fractionWords(double share);

/// A figure against the reference's as a ratio: "20.4 × faster", "1.8 × the time", "a ninth of the energy"; empty where
/// it has none.
std::string ratioWords(const MetricRow& figure, const Figure& metric);

/// For each setup that did the same task, or ran on battery: how many times faster, longer, with what part of the
/// energy. Only what is shown to differ.
std::vector<Sentence> ratioSentences(const Comparison& comparison);

/// For each setup that carried the load out in a way of its own: which way, and the mean power of each kind of reading
/// beside the reference's, with the ratio.
std::vector<Sentence> waySentences(const Comparison& comparison);

/// What other factors are set to: "fan duty 60 % and panel mesh".
std::string levelsText(const Json& others);

/// What each factor does within every level of the others, and on average, by one figure.
std::vector<Sentence> factorSentences(const Comparison& comparison, const Figure& metric);

}  // namespace ash
