// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/sound_talk.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <thread>

#include "system/clock.h"

namespace ash {
namespace {

constexpr double kSettlesS = 0.5;  // the weighting's low end swings in on what the microphone stands at
constexpr double kWaitS = 0.1;     // at a time
constexpr double kBreathS = 0.02;  // where there is more than time has brought
constexpr double kClockSlack = 1.002;

}  // namespace

Status SoundTalk::open() {
  if (Status opened = m_capture.open(m_instrument.device); !opened) return opened;
  m_meter.emplace(m_capture.rateHz());
  m_spectrum.emplace(m_capture.rateHz());
  m_openedS = m_heardS = monotonicS();
  return {};
}

std::string SoundTalk::identity() const {
  return std::isfinite(m_instrument.calibrationDb)
             ? fmt::format("{}, full scale is {:.1f} dB", m_capture.identity(), m_instrument.calibrationDb)
             : fmt::format("{}, not calibrated", m_capture.identity());
}

// No more than the interval takes, and than time has brought: a file would give an hour at once.
size_t SoundTalk::wanted() const {
  const double spanS = m_hasSettled ? m_instrument.intervalS : kSettlesS;
  const double left = std::round(spanS * m_capture.rateHz()) - static_cast<double>(m_taken);
  const double brought = (monotonicS() - m_openedS + kWaitS) * m_capture.rateHz() * kClockSlack - m_framesRead;
  return static_cast<size_t>(std::max(std::min(left, brought), 0.0));
}

Status SoundTalk::ask(std::vector<Answer>& answers) {
  const size_t most = wanted();
  if (most == 0) {
    std::this_thread::sleep_for(std::chrono::duration<double>(kBreathS));
    return {};
  }
  const auto read = m_capture.read(m_samples, most, kWaitS);
  if (!read) return read.error();
  if (*read == Capture::Read::Gap) m_hasGap = true;
  if (*read != Capture::Read::Samples) {
    if (monotonicS() - m_heardS > m_instrument.timeoutS + m_instrument.intervalS)
      return Error::environment(fmt::format("“{}” gives no samples any more", m_instrument.device));
    return {};
  }
  take();
  const double spanS = m_hasSettled ? m_instrument.intervalS : kSettlesS;
  if (static_cast<double>(m_taken) >= std::round(spanS * m_capture.rateHz())) tell(answers);
  return {};
}

void SoundTalk::take() {
  m_heardS = monotonicS();
  m_framesRead += static_cast<double>(m_samples.size());
  m_taken += m_samples.size();
  m_meter->take(m_samples);
  if (m_instrument.hasSpectrum) m_spectrum->take(m_samples);
}

std::string SoundTalk::whatIsWrong(const SoundLevels& levels) const {
  if (m_hasGap) return "samples were lost: this machine was too busy to take them";
  if (levels.isClipped) return "the sound is clipped: it is louder than full scale; turn the recording level down";
  if (levels.isDead) return "the microphone is off: every sample is the same";
  return {};
}

void SoundTalk::tell(std::vector<Answer>& answers) {
  const SoundLevels levels = m_meter->finish();
  const PowerSpectrum spectrum = m_spectrum->finish();
  m_taken = 0;
  const std::string wrong = whatIsWrong(levels);
  m_hasGap = false;
  if (!m_hasSettled) {
    m_hasSettled = true;
    return;
  }
  const auto bands = bandLevelsDb(spectrum);
  const auto tones = prominentTones(spectrum);
  const double atS = bootTimeS();
  const double fullScaleDb = std::isfinite(m_instrument.calibrationDb) ? m_instrument.calibrationDb : 0;
  const auto valueOf = [&](const InstrumentReading& reading) {
    switch (reading.measure) {
      case SoundMeasure::Equivalent:
        return levels.equivalentDb + fullScaleDb;
      case SoundMeasure::FastMaximum:
        return levels.fastMaxDb + fullScaleDb;
      case SoundMeasure::Band:
        return bands[reading.measureIndex] + fullScaleDb;
      case SoundMeasure::Tone:
        return reading.measureIndex < tones.size() ? tones[reading.measureIndex].hz : kMissing;
      case SoundMeasure::ToneOver:
        return reading.measureIndex < tones.size() ? tones[reading.measureIndex].overDb : kMissing;
    }
    return kMissing;
  };
  for (size_t i = 0; i < answers.size(); ++i) {
    answers[i] = wrong.empty() ? answerOf(m_instrument.readings[i], valueOf(m_instrument.readings[i]), atS, kMissing)
                               : faultOf(wrong);
    answers[i].isOverload = levels.isClipped;
  }
}

}  // namespace ash
