// SPDX-License-Identifier: GPL-3.0-or-later
// Sweeps sources on a steady beat, whatever one of them does.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "machine/tick.h"
#include "readings/gauges/source.h"

namespace ash {

/// All sources are swept one after the other by one thread. A source that blocks for longer than an interval (at least
/// a quarter of a second) keeps that thread to itself and the others go on with a new one; when it answers again it is
/// swept by its own. A source with a pace (SourceInfo::paceS) has its own from the beginning. Nothing here ever waits
/// for a source: not next(), not the destructor.
class Sampler {
 public:
  Sampler(std::vector<std::shared_ptr<Source>> sources, double intervalS);
  ~Sampler();
  Sampler(const Sampler&) = delete;
  Sampler& operator=(const Sampler&) = delete;

  /// The next tick, or nothing after `patienceS` seconds. To be called all the time: it is also what notices a source
  /// that blocks.
  std::optional<Tick> next(double patienceS);
  /// Ticks that were taken but not fetched in time and had to be dropped.
  long long lostTicks() const;
  /// Sources that have begun to block since the last call, by their number.
  std::vector<int> takeBlocked();

 private:
  struct State;
  static void sweepAll(const std::shared_ptr<State>& state, long long generation);
  static void sweepOne(const std::shared_ptr<State>& state, int source, bool beginsAtOnce);
  void passOver(int source);

  std::shared_ptr<State> m_state;
};

}  // namespace ash
