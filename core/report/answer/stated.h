// SPDX-License-Identifier: GPL-3.0-or-later
// What was expected and what is claimed, in words and beside what was measured.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "model/stated_figure.h"
#include "report/study/study_report.h"

namespace ash {

/// Reads "[claimed by WHO:] FIGURE LOW [to HIGH | ± HALF] [UNIT] [against the reference] [under LOAD]" of a setup;
/// FIGURE by its title or its code. `written` is left empty. The error says what is missing.
Result<StatedFigure> parseStated(const std::string& line, const Study& study, const StudyPlan& plan,
                                 const std::string& setup);

/// "CPU over room 44 to 48 K", "CPU over room −8 K against the reference, under All cores".
std::string statedText(const StatedFigure& one);
/// "44 to 48 K", with the unit as it is shown.
std::string statedRange(const StatedFigure& one);
/// "expected", "claimed by the maker".
std::string statedBy(const StatedFigure& one);
/// When it was written, whether a result was there already, and what it was before it was changed.
std::string statedHistory(const StatedFigure& one, const std::vector<RunSummary>& runs);

/// True when a run of what it is about is in the book, whatever became of it.
bool hasResult(const StatedFigure& one, const std::vector<RunSummary>& runs);

/// What came of it under one load.
struct StatedOutcome {
  const StatedFigure* stated = nullptr;
  const ComparisonRow* row = nullptr;  ///< null while the setup has no figure there
  enum class Kind { NotKnown, AsStated, Higher, Lower } kind = Kind::NotKnown;
  double away = 0;  ///< from the nearer end of what was stated, in the figure's unit
};
/// Those that are about this load; a reference is not held against itself. What was measured is as stated when its 95 %
/// interval meets the range (a plain value is given the plan's margin, where it is a temperature).
std::vector<StatedOutcome> outcomesOf(const StudyReport& report, const LoadStanding& load);
/// "as stated", "1.2 K higher", "not told yet".
std::string outcomeWords(const StatedOutcome& outcome);

}  // namespace ash
