// SPDX-License-Identifier: GPL-3.0-or-later
// What every figure needs to know of a run: its phases, its window, the room, and each channel's readings without the
// bad ones. Made once by analyzeRun() and handed to one function per figure.
#pragma once

#include <deque>
#include <map>
#include <optional>
#include <string>

#include "analysis/run/figures.h"

namespace ash {

/// Sampling intervals beyond which nothing is known of what lies between (contract, "Energy").
constexpr double kGapIntervals = 5;

struct RunContext {
  const RunLog& run;
  std::string watched;
  Activity activity = {};
  double intervalS = 0;  ///< of the log
  std::vector<PhaseSpan> phases = {};
  std::vector<TimeSpan> loads = {};  ///< all of the log
  size_t loadIndex = 0;              ///< of the one that is looked at
  std::optional<TimeSpan> load = {};
  std::vector<TimeSpan> busy = {};  ///< work within the load, pauses between
  std::optional<TimeSpan> idle = {};
  std::optional<Window> window = {};
  std::map<std::string, SeriesView> series = {};  ///< per channel, spikes and bad cells left out; look into the log
  std::optional<SettlingVerdict> watchedVerdict = {};  ///< judged already to choose the window
  std::deque<Series> kept = {};             ///< those that cannot look into the log: something had to be left out
  std::map<std::string, double> step = {};  ///< per channel
  SeriesView room = {};                     ///< logged room, empty when there is none
  std::optional<double> statedRoomC = {};   ///< conditions.room_c

  const SeriesView* find(const std::string& name) const {
    const auto found = series.find(name);
    return found == series.end() || found->second.empty() ? nullptr : &found->second;
  }
  /// Median distance between the readings of a series of this run; the log's own where it has every sample.
  double intervalOf(const SeriesView& of) const {
    return of.t.data() == run.log.timeS.data() && of.size() == run.log.timeS.size() ? intervalS : medianInterval(of.t);
  }
  bool knowsRoom() const { return !room.empty() || statedRoomC.has_value(); }
  double roomAt(double t) const { return room.empty() ? statedRoomC.value_or(kMissing) : interpolate(room, t); }
};

/// Works all that out; spikes and other single misreadings go to `problems`. `loadNumber` counts from 1; without it the
/// last load is looked at that is long enough to have a window.
RunContext makeContext(const RunLog& run, std::vector<Problem>& problems, std::optional<size_t> loadNumber = {});

/// The throttle limit of a temperature role, from the facts.
std::optional<double> throttleLimit(const RunFacts& facts, const std::string& role);

/// Whether a device works in a span: by its load where that is known, else by its power against rest; true when neither
/// can tell.
bool isDeviceLoaded(const RunContext& context, const Device& device, const TimeSpan& span);

/// Mean of a channel over a span; missing when it has no reading there.
double meanIn(const RunContext& context, const std::string& channel, const TimeSpan& span);

}  // namespace ash
