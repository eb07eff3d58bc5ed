// SPDX-License-Identifier: GPL-3.0-or-later
// What earlier runs of a setup tell the next one.
#pragma once

#include "book/book.h"

namespace ash {

/// The time (s) under load before which a run of this setup and load on this bench is not called settled: 60 % of what
/// the last completed one took. A plateau that is only the beginning of a slow rise does not end the next soak. 0 when
/// there is no such run, or it had not settled.
double leastSoakS(const Book& book, const RunInfo& next);

}  // namespace ash
