// SPDX-License-Identifier: GPL-3.0-or-later
// What every figure needs to know of a run: its phases, its window, the room, and each channel's readings without the
// bad ones. Made once by analyzeRun() and handed to one function per figure.
#pragma once

#include <deque>
#include <map>
#include <optional>
#include <string>

#include "analysis/figures.h"

namespace ash {

/// Sampling intervals beyond which nothing is known of what lies between (contract, "Energy").
constexpr double kGapIntervals = 5;

struct RunContext {
  const RunLog& run;
  std::string watched;
  Activity activity = {};
  double intervalS = 0;  ///< of the log
  std::vector<PhaseSpan> phases = {};
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

/// The throttle limit of a temperature role, from the facts.
std::optional<double> throttleLimit(const RunFacts& facts, const std::string& role);

// One figure each, in a file of its own.
std::vector<Problem> findSpikes(const Log& log, const Channel& channel, std::vector<size_t>& leftOut);
std::vector<Problem> findGapProblems(const RunContext& context);
std::vector<Problem> findUnmoved(const RunContext& context);
std::vector<Problem> findExcursions(const RunContext& context);
std::vector<Problem> findImplausible(const RunContext& context);
std::vector<Problem> findRunProblems(const RunContext& context, const Figures& figures);
std::optional<Window> chooseWindow(const RunContext& context, const std::optional<SettlingVerdict>& watched);
ChannelFigures figuresOfChannel(const RunContext& context, const Channel& channel);
std::optional<SettlingVerdict> settlingOf(const RunContext& context, const std::string& channel);
std::vector<Throttling> findThrottling(const RunContext& context);
std::vector<Energy> energyOf(const RunContext& context, std::vector<Problem>& problems);
/// Needs channels and throttling of `figures`.
std::vector<Heat> heatOf(const RunContext& context, const Figures& figures);
std::optional<PassFigures> passesOf(const RunFacts& facts);
std::optional<BatteryFigures> batteryOf(const RunContext& context);
Efficiency efficiencyOf(const RunContext& context);
std::vector<FanFigures> fansOf(const RunContext& context);

/// Whether a device works in a span: by its load where that is known, else by its power against rest; true when neither
/// can tell.
bool isDeviceLoaded(const RunContext& context, const Device& device, const TimeSpan& span);

/// Mean of a channel over a span; missing when it has no reading there.
double meanIn(const RunContext& context, const std::string& channel, const TimeSpan& span);

/// Energy of a power series over a span (J): trapezoid; intervals longer than `longestS` are left out and added to
/// `leftOutS` where given. Empty when fewer than two readings.
std::optional<double> integrateW(const SeriesView& power, const TimeSpan& span, double longestS,
                                 double* leftOutS = nullptr);

/// Energy of a device over a span (J): by its counter where there is one (a fall is a wrap or a reset: that step is
/// taken from the power), else by integrateW() with the gap of the contract.
std::optional<double> joulesOf(const RunContext& context, const std::string& powerChannel, const TimeSpan& span,
                               double* leftOutS = nullptr);

}  // namespace ash
