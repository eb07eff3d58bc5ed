// SPDX-License-Identifier: GPL-3.0-or-later
// The samples that the quoted figures come from.
#include <algorithm>

#include "analysis/run/window.h"

namespace ash {

std::optional<Window> chooseWindow(const RunContext& context, const std::optional<SettlingVerdict>& watched) {
  if (!context.load) return std::nullopt;
  for (const PhaseSpan& phase : context.phases) {
    const bool isInside = phase.startS < context.load->endS && phase.endS > context.load->startS;
    if (phase.kind == PhaseKind::Measure && phase.endS > phase.startS && isInside) {
      return Window{{phase.startS, phase.endS}, Window::kMeasurePhase};
    }
  }
  const TimeSpan& load = *context.load;
  const double latestStartS = load.endS - 0.2 * load.lengthS();
  if (watched && watched->isSettled && watched->atS < latestStartS) return Window{{watched->atS, load.endS}, "settled"};
  const bool isSettled = watched && watched->isSettled;
  return Window{{latestStartS, load.endS}, isSettled ? "settled" : "last part of load"};
}

}  // namespace ash
