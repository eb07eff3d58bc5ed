// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/calibration.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "instruments/sound_talk.h"
#include "model/sound_level.h"
#include "system/clock.h"

namespace ash {
namespace {
constexpr double kMostSpreadDb = 3, kToBeginS = 2;
}

Result<Calibration> calibrationFrom(const std::vector<double>& levelsDb, double heldDb, double shownDba) {
  if (levelsDb.empty()) return Error::environment("Nothing was heard, so there is nothing to calibrate by.");
  const auto [quietest, loudest] = std::minmax_element(levelsDb.begin(), levelsDb.end());
  Calibration calibration;
  calibration.spreadDb = *loudest - *quietest;
  calibration.intervals = levelsDb.size();
  if (calibration.spreadDb > kMostSpreadDb)
    return Error::badInput(
        fmt::format("The sound was not steady: {:.1f} dB from the quietest to the loudest. Calibrate "
                    "with an even sound, such as the bench's fans at one speed.",
                    calibration.spreadDb));
  const double meanDb = soundSumDba(levelsDb) - 10 * std::log10(static_cast<double>(levelsDb.size()));
  calibration.fullScaleDb = shownDba - meanDb + (std::isfinite(heldDb) ? heldDb : 0);
  return calibration;
}

Result<std::vector<double>> listenTo(Instrument instrument, double seconds) {
  if (instrument.kind != InstrumentKind::Sound)
    return Error::badInput(
        fmt::format("{} is no microphone: only those of kind sound are calibrated.", instrument.name));
  std::erase_if(instrument.readings, [](const InstrumentReading& one) { return one.isOfSpectrum; });
  instrument.readings.resize(1);
  instrument.readings.front().measure = SoundMeasure::Equivalent;
  instrument.hasSpectrum = false;
  SoundTalk talk(instrument);
  if (Status opened = talk.open(); !opened) return Error::environment(fmt::format("{}.", opened.error().message));
  std::vector<double> levels;
  const double endS = monotonicS() + seconds + kToBeginS, wanted = std::max(seconds / instrument.intervalS, 1.0);
  while (static_cast<double>(levels.size()) < wanted && monotonicS() < endS + instrument.intervalS) {
    std::vector<Answer> answers(1);
    if (Status asked = talk.ask(answers); !asked) return Error::environment(fmt::format("{}.", asked.error().message));
    if (answers[0].isFailure())
      return Error::environment(fmt::format("It cannot be calibrated: {}.", answers[0].fault));
    if (std::isfinite(answers[0].value)) levels.push_back(answers[0].value);
  }
  return levels;
}

}  // namespace ash
