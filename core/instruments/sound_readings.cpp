// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/sound_readings.h"

#include <fmt/format.h>

#include <cmath>

#include "sound/sound_spectrum.h"

namespace ash {
namespace {

constexpr double kLeastForSpectrumS = 0.5;
constexpr size_t kTones = 3;
constexpr JsonRange kCalibrationDb{0, 200};
constexpr char kFast[] = "noise.fast", kRelativeFast[] = "noise.relative.fast";

InstrumentReading soundReading(const std::string& role, SoundMeasure measure, const std::string& place) {
  InstrumentReading reading;
  reading.role = Role(role);
  reading.measure = measure;
  reading.unit = {reading.role.quantity(), 1, 0};
  reading.place = place;
  return reading;
}

void addOfSpectrum(Instrument& instrument, const std::string& role, SoundMeasure measure, size_t index) {
  InstrumentReading reading = soundReading(role, measure, instrument.readings.front().place);
  reading.measureIndex = index;
  reading.isOfSpectrum = true;
  instrument.readings.push_back(std::move(reading));
}

void addSpectrum(Instrument& instrument) {
  for (size_t band = 0; band < kBandsHz.size(); ++band)
    addOfSpectrum(instrument, fmt::format("noise.band{}", kBandsHz[band]), SoundMeasure::Band, band);
  for (size_t tone = 0; tone < kTones; ++tone) {
    addOfSpectrum(instrument, fmt::format("noise.tone{}", tone + 1), SoundMeasure::Tone, tone);
    addOfSpectrum(instrument, fmt::format("noise.tone{}.over", tone + 1), SoundMeasure::ToneOver, tone);
  }
}

}  // namespace

void takeSoundMeasure(const JsonCursor& part, InstrumentReading& reading) {
  if (reading.role == roles::kNoise)
    reading.measure = SoundMeasure::Equivalent;
  else if (reading.role == kFast)
    reading.measure = SoundMeasure::FastMaximum;
  else
    part.refuse("role", fmt::format("of a microphone must be {} or {}", roles::kNoise, kFast));
}

void takeMicrophone(const JsonCursor& part, Instrument& instrument) {
  part.take("device", instrument.device);
  if (instrument.device.empty()) part.refuse("device", "is empty");
  part.take("calibration_db", instrument.calibrationDb, kCalibrationDb);
}

void completeSoundReadings(const JsonCursor& part, Instrument& instrument) {
  const bool isSlow = instrument.intervalS >= kLeastForSpectrumS;
  instrument.hasSpectrum = isSlow;
  part.take("spectrum", instrument.hasSpectrum);
  if (instrument.hasSpectrum && !isSlow)
    part.refuse("spectrum", fmt::format("needs an interval_s of {:g} or more", kLeastForSpectrumS));
  if (instrument.readings.empty())
    instrument.readings.push_back(soundReading(roles::kNoise, SoundMeasure::Equivalent, {}));
  if (!std::isfinite(instrument.calibrationDb)) {
    for (InstrumentReading& reading : instrument.readings) {
      reading.role = Role(reading.measure == SoundMeasure::FastMaximum ? kRelativeFast : roles::kNoiseRelative);
      reading.unit = {reading.role.quantity(), 1, 0};
    }
  }
  if (instrument.hasSpectrum) addSpectrum(instrument);
}

std::string_view writtenSoundRole(const InstrumentReading& reading) {
  return reading.measure == SoundMeasure::FastMaximum ? kFast : roles::kNoise;
}

}  // namespace ash
