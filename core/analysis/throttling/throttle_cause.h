// SPDX-License-Identifier: GPL-3.0-or-later
// What holds a device back at a moment: its heat, its power, or something else.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "analysis/run/context.h"

namespace ash {

struct HeldBack {
  Cause cause = Cause::Unknown;
  bool isPlanned = false;  ///< by the power limit that the setup itself states
  bool operator==(const HeldBack&) const = default;
};

/// Everything in a log that tells why one device is slow.
class CauseFinder {
 public:
  CauseFinder(const RunContext& context, const Device& device);

  /// Causes of the samples `times` of one stretch in which the device was slow without a break, in order. A governor
  /// that cuts at the limit and lets go some kelvin below it goes on to be heat until it lets go.
  std::vector<HeldBack> causesOf(std::span<const double> times, double intervalS) const;

  /// A stretch that begins soon after the load, lasts to its end and is neither hot nor pinned: a boost that ran out.
  bool isBoostRunOut(const TimeSpan& stretch, const SeriesView& rate) const;

 private:
  bool isHot(double fromS, double t) const;
  bool isCountedHot(double fromS, double t) const;
  std::optional<HeldBack> pinned(double t) const;
  HeldBack causeAt(double fromS, double t) const;

  const RunContext& m_context;
  std::optional<double> m_limitC;
  double m_nearK = 1.5;
  SeriesView m_temperature, m_power, m_movingLimit;
  std::vector<double> m_limitsW;
  std::optional<double> m_plannedW;
  std::optional<TimeSpan> m_governed;
  double m_powerMeanS = 0;  ///< half the time over which power is taken
  struct HeatCounter {
    SeriesView series;
    bool isFlag = false;  ///< stands at 1, instead of rising
  };
  std::vector<HeatCounter> m_heatCounters;  ///< of the kernel: tell that heat slows the device
};

}  // namespace ash
