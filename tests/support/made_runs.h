// SPDX-License-Identifier: GPL-3.0-or-later
// Runs whose figures are simply said, to compare them.
#pragma once

#include <string>

#include "analysis/compare.h"

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

inline void addFan(AnalyzedRun& run, double rpm) {
  ChannelFigures figures;
  figures.name = "fan.cpu";
  figures.quantity = Quantity::FanSpeed;
  figures.unit = "RPM";
  figures.window.n = 100;
  figures.window.mean = rpm;
  figures.window.se = 1;
  run.figures.channels.push_back(figures);
}

/// A completed run with so many kelvin over room, and nothing else.
inline AnalyzedRun madeRun(const std::string& name, const std::string& setup, double overRoomK) {
  AnalyzedRun run;
  run.run.name = name;
  run.run.facts.setup = setup;
  run.run.facts.outcome = "completed";
  run.figures.watched = "cpu.temp";
  addOverRoom(run, "cpu.temp", overRoomK);
  return run;
}

}  // namespace ash::tests
