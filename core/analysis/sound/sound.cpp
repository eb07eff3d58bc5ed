// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/sound/sound.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/sound_level.h"

namespace ash {
namespace {

constexpr double kSameTone = 1.035;  // the ratio of a twentieth of an octave
constexpr double kLeastOfWindow = 0.5;
constexpr int kTonesAtOnce = 3;

std::optional<double> energyMean(const RunContext& context, const std::string& channel, const TimeSpan& span) {
  const SeriesView* series = context.find(channel);
  if (series == nullptr) return std::nullopt;
  const SeriesView part = viewOf(*series, span);
  if (part.empty()) return std::nullopt;
  return soundSumDba({part.v.begin(), part.v.end()}) - 10 * std::log10(static_cast<double>(part.size()));
}

/// A tone in one interval.
struct Heard {
  double hz, overDb;
};

// All that stood out in the window, by frequency.
std::vector<Heard> heardIn(const Log& log, const TimeSpan& span) {
  std::vector<Heard> heard;
  for (int tone = 1; tone <= kTonesAtOnce; ++tone) {
    const Channel* hz = log.find(fmt::format("{}.tone{}", roles::kNoise, tone));
    const Channel* over = log.find(fmt::format("{}.tone{}.over", roles::kNoise, tone));
    if (hz == nullptr || over == nullptr) continue;
    for (size_t i = 0; i < log.timeS.size(); ++i) {
      if (!span.contains(log.timeS[i]) || !(hz->values[i] > 0) || !std::isfinite(over->values[i])) continue;
      heard.push_back({hz->values[i], over->values[i]});
    }
  }
  std::sort(heard.begin(), heard.end(), [](const Heard& a, const Heard& b) { return a.hz < b.hz; });
  return heard;
}

SoundTone together(std::vector<Heard> same, size_t intervals) {
  std::vector<double> hz, over;
  for (const Heard& one : same) {
    hz.push_back(one.hz);
    over.push_back(one.overDb);
  }
  const double share = static_cast<double>(same.size()) / static_cast<double>(std::max<size_t>(intervals, 1));
  return {medianOf(std::move(hz)), medianOf(std::move(over)), std::min(share, 1.0)};
}

std::vector<SoundTone> tonesOf(const std::vector<Heard>& heard, size_t intervals) {
  std::vector<SoundTone> tones;
  std::vector<Heard> same;
  const auto close = [&] {
    if (!same.empty()) tones.push_back(together(std::exchange(same, {}), intervals));
  };
  for (const Heard& one : heard) {
    if (!same.empty() && one.hz > kSameTone * same.front().hz) close();
    same.push_back(one);
  }
  close();
  std::erase_if(tones, [](const SoundTone& tone) { return tone.share < kLeastOfWindow; });
  std::sort(tones.begin(), tones.end(), [](const SoundTone& a, const SoundTone& b) { return a.overDb > b.overDb; });
  return tones;
}

// How many of the window's samples a microphone told anything in.
size_t intervalsHeard(const RunContext& context, const std::string& level) {
  const SeriesView* series = context.find(level);
  return series == nullptr ? 0 : viewOf(*series, context.window->span).size();
}

}  // namespace

std::optional<SoundFigures> soundOf(const RunContext& context) {
  const Log& log = context.run.log;
  SoundFigures sound;
  sound.isCalibrated = log.find(roles::kNoise) != nullptr;
  sound.channel = sound.isCalibrated ? roles::kNoise : roles::kNoiseRelative;
  if (!context.window || log.find(sound.channel) == nullptr) return std::nullopt;
  const TimeSpan& window = context.window->span;
  for (const Channel& channel : log.channels) {
    const Role role(channel.name);
    if (!role.isKnown() || role.part() != Part::Band || role.device().number() != Device::kNoNumber) continue;
    if (const auto level = energyMean(context, channel.name, window))
      sound.bands.push_back({static_cast<double>(role.partNumber()), *level});
  }
  // A level that was logged by itself, without a microphone of ours, is in the figures already.
  if (sound.isCalibrated && sound.bands.empty()) return std::nullopt;
  sound.levelDb = energyMean(context, sound.channel, window);
  const auto rest = context.idle ? energyMean(context, sound.channel, *context.idle) : std::nullopt;
  if (sound.levelDb && rest) sound.overRestDb = *sound.levelDb - *rest;
  std::sort(sound.bands.begin(), sound.bands.end(), [](const SoundBand& a, const SoundBand& b) { return a.hz < b.hz; });
  sound.tones = tonesOf(heardIn(log, window), intervalsHeard(context, sound.channel));
  return sound;
}

}  // namespace ash
