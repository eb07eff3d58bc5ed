// SPDX-License-Identifier: GPL-3.0-or-later
// Scores of passes and how far they fell.
#include <algorithm>
#include <cmath>

#include "analysis/context.h"

namespace ash {

std::optional<PassFigures> passesOf(const RunFacts& facts) {
  std::vector<double> scores;
  for (const Pass& pass : facts.passes) {
    if (std::isfinite(pass.score)) scores.push_back(pass.score);
  }
  if (scores.empty()) return std::nullopt;
  const auto [low, high] = std::minmax_element(scores.begin(), scores.end());
  PassFigures figures;
  figures.count = scores.size();
  figures.first = scores.front();
  figures.last = scores.back();
  figures.best = facts.lowerScoreIsBetter ? *low : *high;
  figures.worst = facts.lowerScoreIsBetter ? *high : *low;
  const double share = facts.lowerScoreIsBetter ? figures.best / figures.worst : figures.worst / figures.best;
  figures.stabilityPercent = 100 * share;
  return figures;
}

}  // namespace ash
