// SPDX-License-Identifier: GPL-3.0-or-later
// "Does it hold?": whether a setup stays below its limit in a room, under a power or within a noise, with the chance.
#pragma once

#include "report/answer/answer.h"
#include "report/answer/leaning.h"

namespace ash {

/// What is told of one setup.
struct Holding {
  std::string setup;
  double chance = kMissing;      ///< that it holds, 0 to 1; missing where it cannot be told
  Sentence figure;               ///< what that rests on, without the setup's name and without a full stop
  std::string wouldDecide = {};  ///< a sentence; empty where it is decided
};

/// Why none of a row's runs tells whether the setup holds: none was completed. Empty when one was.
std::string whyNotWhole(const StudyReport& report, const ComparisonRow& row);

/// The chance that the part which is least sure of it was below its limit in this row, and that in words (" with CPU
/// headroom …"); none for a part that heat slowed. Missing where the limit of no part is known.
double chanceBelowLimit(const StudyReport& report, const ComparisonRow& row, Sentence& words);

/// Of every setup of a load, by what the plan asks (HoldsInRoom, HoldsAtPower, HoldsAtNoise).
std::vector<Holding> holdingsOf(const StudyReport& report, const LoadStanding& load);

/// The same in sentences: first who holds and who does not, then each setup with its figure, interval and chance.
std::vector<Sentence> holdsSentences(const StudyReport& report, const LoadStanding& load);

}  // namespace ash
