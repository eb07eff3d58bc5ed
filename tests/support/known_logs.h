// SPDX-License-Identifier: GPL-3.0-or-later
// Logs whose figures are known by formula: what the analysis has to find.
#pragma once

#include <cmath>
#include <random>
#include <string>
#include <utility>
#include <vector>

#include "model/role.h"
#include "model/run_facts.h"

namespace ash::tests {

/// A log sampled evenly; columns are added as functions of time.
class LogMaker {
 public:
  LogMaker(double durationS, double intervalS) {
    for (double t = 0; t < durationS - 1e-9; t += intervalS) run.log.timeS.push_back(t);
    run.name = "known";
    run.facts.setup = "known";
  }

  template <typename F>
  LogMaker& add(const std::string& role, F value) {
    Channel channel;
    channel.name = role;
    if (const Role known(role); known.isKnown()) {
      channel.role = known;
      channel.quantity = known.quantity();
      channel.unit = unitOf(known.quantity());
    }
    for (const double t : run.log.timeS) channel.values.push_back(value(t));
    run.log.channels.push_back(channel);
    return *this;
  }

  LogMaker& phase(PhaseKind kind, double startS, double endS) {
    run.facts.phases.push_back({kind, startS, endS, true});
    return *this;
  }

  RunLog run;
};

/// Rest until `loadS`, then room + rise·(1 − exp(−t/τ)), with white noise.
struct WarmUp {
  double roomC = 22, restK = 12, riseK = 50, tauS = 120, loadS = 60, noiseK = 0.1;
  unsigned seed = 1;
  double clean(double t) const { return roomC + restK + (t < loadS ? 0 : riseK * (1 - std::exp(-(t - loadS) / tauS))); }
  auto function() const {
    return [*this, random = std::mt19937(seed), normal = std::normal_distribution<double>()](double t) mutable {
      return clean(t) + noiseK * normal(random);
    };
  }
};

}  // namespace ash::tests
