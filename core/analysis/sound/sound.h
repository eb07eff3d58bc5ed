// SPDX-License-Identifier: GPL-3.0-or-later
// What a microphone heard in the window: its level, its third-octave bands, the tones that stand out.
#pragma once

#include <optional>

#include "analysis/run/context.h"

namespace ash {

/// From the channels that a microphone tells (docs/instruments.md, "sound"). Levels of the intervals are put together
/// by their energy (ISO 1996-1:2016, 3.1.4: equivalent level). A tone counts when it stood out in at least half of the
/// window's intervals within a twentieth of an octave. Empty without a microphone's channels or a window.
std::optional<SoundFigures> soundOf(const RunContext& context);

}  // namespace ash
