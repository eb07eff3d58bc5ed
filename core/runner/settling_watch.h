// SPDX-License-Identifier: GPL-3.0-or-later
// Settling, live: collects the watched temperature under load and fits it again and again as it grows.
#pragma once

#include <optional>

#include "analysis/settling.h"

namespace ash {

class SettlingWatch {
 public:
  /// `step` of the watched sensor, 0 when unknown.
  explicit SettlingWatch(double step) : m_step(step) {}

  /// Forgets everything: a load begins.
  void restart();
  /// Takes a reading; NaN is left out. Fits anew when enough has been added since the last time.
  void take(double timeS, double watchedC, double roomC);

  /// The last fit; invalid until there are enough readings.
  const SettlingVerdict& verdict() const { return m_verdict; }
  /// True when the last fits agreed over some time that it has settled: one lucky fit does not end a phase.
  bool hasSettled() const { return m_positiveInARow >= kFitsThatMustAgree; }
  /// When it will have settled by the last fit (bench seconds), missing when unknown.
  double settlesAtS() const { return m_verdict.fit.isValid ? ash::settlesAtS(m_verdict, m_step) : kMissing; }
  /// Counts fits, so that a listener sees a new one.
  long long fitCount() const { return m_fitCount; }

 private:
  static constexpr int kFitsThatMustAgree = 3;
  static constexpr size_t kMostReadings = 20'000;

  double m_step;
  Series m_watched, m_room;
  SettlingVerdict m_verdict;
  double m_lastFitS = kMissing;
  int m_positiveInARow = 0;
  long long m_fitCount = 0;
};

}  // namespace ash
