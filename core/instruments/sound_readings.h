// SPDX-License-Identifier: GPL-3.0-or-later
// What a microphone tells, by what was written down of it.
#pragma once

#include "instruments/instrument.h"
#include "model/json_cursor.h"

namespace ash {

/// Takes "role", which says what is measured: noise (the equivalent level) or noise.fast (the loudest moment).
void takeSoundMeasure(const JsonCursor& part, InstrumentReading& reading);

/// Takes what belongs to a microphone: "device", "calibration_db", "spectrum".
void takeMicrophone(const JsonCursor& part, Instrument& instrument);

/// Completes the readings: noise where none was written down; without a calibration under names that nobody takes for
/// dBA; bands and tones where the spectrum is wanted.
void completeSoundReadings(const JsonCursor& part, Instrument& instrument);

/// The role a reading was written down by: as takeSoundMeasure() takes it.
std::string_view writtenSoundRole(const InstrumentReading& reading);

}  // namespace ash
