// SPDX-License-Identifier: GPL-3.0-or-later
// Runs whose figures are simply said, to compare them.
#pragma once

#include <string>

#include "analysis/comparison/compare.h"

namespace ash::tests {

inline void addOverRoom(AnalyzedRun& run, const std::string& channel, double overRoomK) {
  ChannelFigures figures;
  figures.name = channel;
  figures.quantity = Quantity::Temperature;
  figures.unit = "°C";
  figures.overAmbientK = overRoomK;
  figures.overAmbientSeK = 0;
  run.figures.channels.push_back(figures);
}

/// A channel of which the mean of the window is known, with its standard error.
inline void addMean(AnalyzedRun& run, const std::string& channel, Quantity quantity, double mean, double se) {
  ChannelFigures figures;
  figures.name = channel;
  figures.quantity = quantity;
  figures.unit = unitOf(quantity);
  figures.window.n = 100;
  figures.window.mean = mean;
  figures.window.se = se;
  run.figures.channels.push_back(figures);
}

inline void addFan(AnalyzedRun& run, double rpm) { addMean(run, "fan.cpu", Quantity::FanSpeed, rpm, 1); }

/// A completed run with so many kelvin over room, and nothing else.
inline AnalyzedRun madeRun(const std::string& name, const std::string& setup, double overRoomK) {
  AnalyzedRun run;
  run.run.name = name;
  run.run.facts.setup = setup;
  run.run.facts.outcome = Outcome::Completed;
  run.figures.watched = "cpu.temp";
  addOverRoom(run, "cpu.temp", overRoomK);
  return run;
}

}  // namespace ash::tests
