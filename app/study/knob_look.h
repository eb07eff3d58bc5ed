// SPDX-License-Identifier: GPL-3.0-or-later
// The knobs that the runs of a setup could turn, looked for on the keeper's thread.
#pragma once

#include "app/study/book_view.h"

namespace ash {

/// On the bench of the study; the error says in a sentence why nothing was looked for.
Result<KnobList> lookForKnobs(const BookView& view, const Study& study, const std::string& setup,
                              const std::string& root);

}  // namespace ash
