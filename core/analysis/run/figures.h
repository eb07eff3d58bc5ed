// SPDX-License-Identifier: GPL-3.0-or-later
// All figures of a run: the type behind `ashg analyze --json`.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "analysis/phases/phases.h"
#include "analysis/series/statistics.h"
#include "analysis/warm_up/settling.h"
#include "model/device.h"
#include "model/run_facts.h"

namespace ash {

/// Goes up whenever the same log gives other figures than before.
inline constexpr const char* kFiguresMethod = "9";

struct Window {
  TimeSpan span;
  static constexpr char kMeasurePhase[] = "measure phase";
  std::string reason;                                              ///< that, "settled", "last part of load"
  bool isMeasurePhase() const { return reason == kMeasurePhase; }  ///< chosen by who ran it
};

struct ChannelFigures {
  std::string name;
  Quantity quantity = Quantity::Other;
  std::string unit;
  double step = 0;
  Stats idle, load, window;
  std::optional<double> overAmbientK;
  double overAmbientSeK = kMissing;
  std::optional<double> limit;
  std::optional<double> headroomK;
  std::optional<SettlingVerdict> settled;  ///< only for temperatures
};

enum class Cause { Thermal, Power, Other, Unknown };
std::string_view causeText(Cause cause);

struct ThrottleInterval {
  TimeSpan span;
  Cause cause = Cause::Unknown;
  bool isPlanned = false;
  double depthMhz = 0;   ///< mean loss; missing where no clock is logged
  double lostShare = 0;  ///< mean loss as a part of the reference
};

struct Throttling {
  Device device;
  double share = 0, shareThermal = 0, sharePower = 0, shareOther = 0;
  std::optional<double> timeToLimitS;
  double lostClockShare = 0;  ///< of the clock (or of the work where no clock is logged) over the throttled time
  std::optional<double> lostWorkShare;  ///< of the work over the throttled time, against the same load unslowed
  double referenceMhz = kMissing;       ///< the clock it should hold
  std::vector<ThrottleInterval> intervals;
};

struct Energy {
  std::string channel;
  std::optional<double> totalJ, loadJ, perWorkUnitJ;
  std::optional<double> loadOverIdleJ;  ///< of the load, less what rest would have taken in that time
  std::optional<double> perPassJ;       ///< mean over passes
};

/// A figure with its 95 % interval.
struct Estimate {
  double value = kMissing, low = kMissing, high = kMissing;
};

/// One step of the way of the heat: kelvin between two readings, per watt of the device.
struct HeatPart {
  std::string from, to;
  double kelvin = kMissing;
  Estimate resistance;  ///< K/W
};

struct Heat {
  Device device;
  std::optional<double> powerW, wantedPowerW;
  std::optional<Estimate> resistance;  ///< K/W over room
  std::optional<Estimate> headroomW;   ///< against wanted power
  std::optional<Estimate> hottestRoomC;
  std::string fan;  ///< channel of the fan whose speed it holds for; empty = none known
  std::optional<double> fanRpm;
  std::vector<HeatPart> parts;  ///< where cooler, coolant or case air were logged
};

/// One pass: its score, and the hottest reading of what the load works.
struct OnePass {
  double startS = kMissing, endS = kMissing, score = kMissing, highestC = kMissing;
};

struct PassFigures {
  std::vector<OnePass> each;
  size_t count = 0;
  double first = kMissing, best = kMissing, worst = kMissing, last = kMissing, stabilityPercent = kMissing;
  double sustained = kMissing;         ///< median of the last third
  double trendPercent = kMissing;      ///< of the first score, from pass to pass, by a straight line
  double sustainedPercent = kMissing;  ///< sustained over first (first over sustained where less is better)
};

/// How a battery ran down under load.
struct BatteryFigures {
  double drainPercentPerHour = kMissing;
  double usedPercent = kMissing;  ///< of its charge, from the load's start to its end
  Estimate runtimeS;     ///< from the load's start to empty: measured when it ran down, else by its straight line
  bool ranDown = false;  ///< the log ends because it was empty
  double lastSampleS = kMissing;  ///< last reading of the log
};

struct Efficiency {
  std::string powerRole;  ///< empty = none
  std::optional<double> scorePerWatt, workPerJoule, framesPerJoule;
};

/// The level of a third of an octave.
struct SoundBand {
  double hz = kMissing;  ///< nominal mid-frequency
  double db = kMissing;  ///< A-weighted
};

/// A tone that stood out of the noise around it.
struct SoundTone {
  double hz = kMissing;
  double overDb = kMissing;  ///< tone-to-noise ratio
  double share = 0;          ///< of the window
};

/// What a microphone heard in the window. Levels are dBA where it was calibrated, else dB of full scale.
struct SoundFigures {
  std::string channel;
  bool isCalibrated = false;
  std::optional<double> levelDb, overRestDb;
  std::vector<SoundBand> bands;
  std::vector<SoundTone> tones;
};

struct FanFigures {
  std::string channel;
  std::optional<double> rampAtS;
  std::optional<bool> heldConstant;
  std::optional<bool> dutyHeld;  ///< the duty stayed within 2 points in the window; unknown without fan.….duty
};

/// Two channels that tell the same thing, by their means in the window.
struct SecondSource {
  std::string quoted, other;
  std::string unit;
  double quotedMean = kMissing, otherMean = kMissing;
  bool isStated = false;  ///< both say what they may be off by
  double allowed = 0;     ///< what they may differ by: both accuracies together, else 2 % (a decibel)
  double apart() const { return otherMean - quotedMean; }
  bool disagrees() const;
};

struct Figures {
  size_t samples = 0;
  double durationS = 0;
  double intervalS = 0;
  std::string watched;
  std::vector<Problem> problems;
  std::vector<PhaseSpan> phases;
  std::vector<TimeSpan> loads;          ///< all that the log holds
  std::optional<TimeSpan> load;         ///< the one that the figures are of
  DeviceKind worked = DeviceKind::Cpu;  ///< what the load worked
  std::optional<Window> window;
  std::vector<ChannelFigures> channels;
  std::vector<Throttling> throttling;
  std::vector<Energy> energy;
  std::vector<Heat> heat;
  std::optional<PassFigures> passes;
  std::optional<BatteryFigures> battery;
  Efficiency efficiency;
  std::vector<FanFigures> fans;
  std::optional<SoundFigures> sound;
  std::vector<SecondSource> seconds;

  const ChannelFigures* channel(const std::string& name) const;
};

}  // namespace ash
