// SPDX-License-Identifier: GPL-3.0-or-later
// A microphone: levels, bands and tones of each interval of a capture device.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "instruments/talk.h"
#include "sound/capture.h"
#include "sound/level_meter.h"
#include "sound/sound_spectrum.h"

namespace ash {

/// Listens without a pause and answers once for each interval. An interval that was clipped, that lost samples or in
/// which the microphone was off is missing, with the reason. Levels are in dB of a full-scale sine, plus the
/// instrument's calibration.
class SoundTalk : public Talk {
 public:
  explicit SoundTalk(const Instrument& instrument) : m_instrument(instrument) {}
  Status open() override;
  std::string identity() const override;
  Status ask(std::vector<Answer>& answers) override;
  bool pacesItself() const override { return true; }

 private:
  size_t wanted() const;
  void take();
  void tell(std::vector<Answer>& answers);
  std::string whatIsWrong(const SoundLevels& levels) const;

  const Instrument& m_instrument;
  Capture m_capture;
  std::optional<LevelMeter> m_meter;
  std::optional<SpectrumAverage> m_spectrum;
  std::vector<float> m_samples;
  double m_openedS = 0, m_heardS = 0;
  double m_framesRead = 0;  // since it was opened
  size_t m_taken = 0;       // of this interval
  bool m_hasSettled = false, m_hasGap = false;
};

}  // namespace ash
