// SPDX-License-Identifier: GPL-3.0-or-later
// What all charts of a study say in the same words.
#pragma once

#include <string>
#include <vector>

#include "report/study/study_report.h"

namespace ash {

/// "answer"; of a study of several loads "answer-2" for those of the second.
std::string chartId(const StudyReport& report, const LoadStanding& load, const std::string& what);

/// "Which side panel? · 6 runs of 3 setups, 2026-09-21 to 2026-09-24 · simulated bench · Ash Gauge, figures by method
/// 6".
std::string chartSource(const StudyReport& report, const LoadStanding& load);

/// The runs of a load that count, setup by setup in the study's order: the whole ones where a setup has any.
struct RunsOfSetup {
  std::string setup;
  int index = 0;
  std::vector<const AnalyzedRun*> runs;
};
std::vector<RunsOfSetup> runsBySetup(const StudyReport& report, const LoadStanding& load);

/// ", at equal noise: 37.5 dBA" of a field that was levelled, else empty.
std::string levelWords(const Comparison& comparison);

/// "a; b; c."
std::string spokenList(const std::vector<std::string>& parts);

}  // namespace ash
