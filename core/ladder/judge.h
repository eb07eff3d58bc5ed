// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a step of a ladder held, by its run in the book.
#pragma once

#include <optional>
#include <string>

#include "book/book.h"
#include "ladder/ladder.h"

namespace ash {

/// What became of a step.
struct StepVerdict {
  std::optional<bool> held;  ///< none: it has to be done again, for nothing is known of it
  std::string why;           ///< it did not hold
  std::optional<double> readBack;
  std::optional<double> leftK;  ///< it held: how far below its limit the nearest temperature was, in the run's window
  std::string leftOf;           ///< which one
  bool isStopped = false;       ///< somebody ended the run by hand
};

/// An error where the run could not be carried out for another reason than what the ladder looks for.
Result<StepVerdict> judgeStep(const Book& book, const Ladder& ladder, const LadderStep& step);

}  // namespace ash
