// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/charts/study_charts.h"

#include <algorithm>
#include <iterator>

namespace ash {

std::vector<Chart> furtherCharts(const StudyReport& report) {
  std::vector<Chart> all;
  for (const LoadStanding& load : report.loads) {
    for (auto* chartOf : {&ladderChart, &noiseChart, &powerChart, &clockChart, &passesChart, &energyChart, &priceChart,
                          &spectrumChart}) {
      if (std::optional<Chart> chart = (*chartOf)(report, load)) all.push_back(std::move(*chart));
    }
  }
  return all;
}

std::vector<Chart> studyCharts(const StudyReport& report) {
  std::vector<Chart> all;
  for (const LoadStanding& load : report.loads) {
    if (std::optional<Chart> chart = rankChart(report, load)) all.push_back(std::move(*chart));
  }
  for (const LoadStanding& load : report.loads) {
    if (std::optional<Chart> chart = warmUpChart(report, load)) all.push_back(std::move(*chart));
  }
  std::vector<Chart> further = furtherCharts(report);
  std::move(further.begin(), further.end(), std::back_inserter(all));
  return all;
}

}  // namespace ash
