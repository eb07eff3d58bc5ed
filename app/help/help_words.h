// SPDX-License-Identifier: GPL-3.0-or-later
// What F1 says of each place, and the five sentences of the tour; CommonMark.
#pragma once

#include <QString>
#include <vector>

namespace ash {

/// In the order of the window's pages.
enum class HelpPlace { Plan, Watch, Traces, Standings, WriteUp, Readings, Start, TakingIn };

struct HelpWords {
  QString title, words;
};

/// Half a page on a place: what it is for, what is done there, its keys.
HelpWords helpOf(HelpPlace place);

/// A sentence of the tour, and the place that it is about.
struct TourStep {
  HelpPlace place;
  QString sentence;
};
std::vector<TourStep> tourSteps();

}  // namespace ash
