// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/meaning/which_one.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <optional>

#include "model/number_text.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr size_t kLeastBefore = 4;  // values before the warming
constexpr double kDriftFit = 0.85;  // share of the scatter at rest that a line must explain (r²)
constexpr double kFarShare = 0.12;  // of the processor's rise: less is not near it
constexpr double kSameK = 1.0;      // two temperatures that are one
constexpr double kQuickS = 3;       // behind the device itself
constexpr double kWarmAboveRoomK = 4;

struct Line {
  double mean = 0, slope = 0, centreS = 0;
  double at(double timeS) const { return mean + slope * (timeS - centreS); }
};

// Least squares through the values before the warming. A drift is carried on only where the values lie on its line: one
// step of a coarse sensor within a short rest is no drift.
std::optional<Line> restLine(const WarmTrial& trial, const std::vector<double>& values) {
  Line line;
  size_t count = 0;
  for (size_t i = 0; i < values.size(); ++i) {
    if (trial.timeS[i] >= trial.warmStartS || !std::isfinite(values[i])) continue;
    line.mean += values[i];
    line.centreS += trial.timeS[i];
    ++count;
  }
  if (count < kLeastBefore) return std::nullopt;
  line.mean /= static_cast<double>(count);
  line.centreS /= static_cast<double>(count);
  double xx = 0, xy = 0, yy = 0;
  for (size_t i = 0; i < values.size(); ++i) {
    if (trial.timeS[i] >= trial.warmStartS || !std::isfinite(values[i])) continue;
    const double x = trial.timeS[i] - line.centreS;
    xx += x * x;
    xy += x * (values[i] - line.mean);
    yy += (values[i] - line.mean) * (values[i] - line.mean);
  }
  const bool isLine = xx > 0 && yy > 0 && xy * xy >= kDriftFit * xx * yy;
  line.slope = isLine ? xy / xx : 0;
  return line;
}

double scatterAround(const WarmTrial& trial, const std::vector<double>& values, const Line& line) {
  double sum = 0;
  size_t count = 0;
  for (size_t i = 0; i < values.size(); ++i) {
    if (trial.timeS[i] >= trial.warmStartS || !std::isfinite(values[i])) continue;
    sum += std::pow(values[i] - line.at(trial.timeS[i]), 2);
    ++count;
  }
  return count > 2 ? std::sqrt(sum / static_cast<double>(count - 2)) : 0;
}

// The step a sensor shows where nobody states it: the smallest difference between two of its values.
double stepOf(const Reading& reading, const std::vector<double>& values) {
  if (reading.step > 0) return reading.step;
  double step = 0;
  for (size_t i = 1; i < values.size(); ++i) {
    const double difference = std::abs(values[i] - values[i - 1]);
    if (std::isfinite(difference) && difference > 1e-9 && (step == 0 || difference < step)) step = difference;
  }
  return step;
}

// The scatter from one value to the next over the whole record, its largest sixth left out: that is where the warming
// itself is quick. A sensor that flickers now and then may do so only after the rest.
double flicker(const std::vector<double>& values) {
  std::vector<double> steps;
  double before = kMissing;
  for (const double value : values) {
    if (!std::isfinite(value)) continue;
    if (std::isfinite(before)) steps.push_back(std::abs(value - before));
    before = value;
  }
  std::sort(steps.begin(), steps.end());
  steps.resize(steps.size() - steps.size() / 6);
  if (steps.empty()) return 0;
  double sum = 0;
  for (const double step : steps) sum += step * step;
  return std::sqrt(sum / static_cast<double>(steps.size()) / 2);
}

std::optional<Movement> movementOf(const WarmTrial& trial, size_t reading) {
  const auto& values = trial.values[reading];
  auto line = restLine(trial, values);
  if (!line) return std::nullopt;
  Movement movement;
  movement.reading = reading;
  movement.restValue = line->mean;
  const double floor = std::max(stepOf(trial.readings[reading], values) / 3, 1e-9);
  movement.noise = std::max({scatterAround(trial, values, *line), flicker(values), floor});
  // A slope that is no more than noise over the rest is none.
  const double restS = std::max(1e-9, 2 * (trial.warmStartS - line->centreS));
  if (std::abs(line->slope) * restS < 2 * movement.noise) line->slope = 0;
  double last = kMissing;
  for (size_t i = 0; i < values.size(); ++i) {
    if (trial.timeS[i] < trial.warmStartS || !std::isfinite(values[i])) continue;
    last = values[i] - line->at(trial.timeS[i]);
    if (std::isfinite(movement.rise) && std::abs(last) <= std::abs(movement.rise)) continue;
    movement.rise = last;
    movement.peakAfterS = trial.timeS[i] - trial.warmStartS;
  }
  if (!std::isfinite(movement.rise)) return std::nullopt;
  movement.times = std::abs(movement.rise) / movement.noise;
  movement.cooledShare = movement.rise != 0 ? std::clamp(1 - last / movement.rise, 0.0, 1.0) : 0;
  return movement;
}

// The share of a rise that a reading had reached when the warmed one had half of its own.
double quickness(const WarmTrial& trial, const Movement& asked, const Movement& warmed) {
  const auto& of = trial.values[warmed.reading];
  for (size_t i = 0; i < of.size(); ++i) {
    if (trial.timeS[i] < trial.warmStartS || of[i] - warmed.restValue < 0.5 * warmed.rise) continue;
    const double now = trial.values[asked.reading][i];
    return asked.rise != 0 ? (now - asked.restValue) / asked.rise : 0;
  }
  return 0;
}

const Reading* findRoom(const WarmTrial& trial, size_t asked, double& roomC) {
  for (size_t i = 0; i < trial.readings.size(); ++i) {
    if (i == asked || !trial.readings[i].role.isRoom()) continue;
    if (const auto line = restLine(trial, trial.values[i])) {
      roomC = line->mean;
      return &trial.readings[i];
    }
  }
  return nullptr;
}

LikelyMeaning stillOne(const WarmTrial& trial, size_t asked, const Movement& movement) {
  double roomC = 0;
  const Reading* room = findRoom(trial, asked, roomC);
  const double above = movement.restValue - roomC;
  if (room != nullptr && std::abs(above) <= kSameK)
    return {"Air at the intake",
            fmt::format("It follows no load and is {} off the room thermometer.", withUnit(std::abs(above), 1, "K")),
            "room2.temp"};
  if (room != nullptr && above < kWarmAboveRoomK)
    return {"Air inside the case, or the board far from the processor",
            fmt::format("The load did not move it; it is {} above the room.", withUnit(above, 1, "K")), "case.temp"};
  if (room == nullptr)
    return {"Something the processor does not warm",
            "The load did not move it, and no room temperature is read to hold it against.", ""};
  return {"A part with heat of its own: a drive, the chipset, another chip",
          fmt::format("The load did not move it, yet it is {} above the room.", withUnit(above, 1, "K")), ""};
}

}  // namespace

std::vector<Movement> whatMoved(const WarmTrial& trial) {
  std::vector<Movement> movements;
  for (size_t i = 0; i < trial.readings.size(); ++i) {
    if (const auto movement = movementOf(trial, i)) movements.push_back(*movement);
  }
  std::stable_sort(movements.begin(), movements.end(),
                   [](const Movement& a, const Movement& b) { return a.times > b.times; });
  return movements;
}

LikelyMeaning whatItIs(const WarmTrial& trial, size_t asked, size_t warmed) {
  const auto movement = movementOf(trial, asked);
  const auto device = movementOf(trial, warmed);
  if (!movement || !device) return {"Not to be told", "Too few values came in before the warming.", ""};
  if (device->times < kMovedTimes)
    return {"Not to be told", "The device itself did not become warmer; warm it for longer.", ""};
  if (movement->times < kMovedTimes) return stillOne(trial, asked, *movement);
  const double share = movement->rise / device->rise;
  const std::string howMuch = fmt::format("It rose by {}, the processor by {}", withUnit(movement->rise, 1, "K"),
                                          withUnit(device->rise, 1, "K"));
  if (movement->rise < 0) return {"Cooled by the fans", howMuch + ": what blows harder under load cools it.", ""};
  const double early = quickness(trial, *movement, *device);
  const bool isQuick = early > 0.35 && movement->peakAfterS <= trial.warmEndS - trial.warmStartS + kQuickS;
  const bool isSame = std::abs(movement->restValue - device->restValue) < 6 * kSameK && share > 0.75 && share < 1.3;
  if (isSame && isQuick) return {"The processor itself, told a second time", howMuch + ", at the same time.", ""};
  if (isQuick && share > 0.3)
    return {"Inside or right at the processor", howMuch + ", hardly later: its socket, or another part of its chip.",
            ""};
  const double warmS = trial.warmEndS - trial.warmStartS;
  if (share < kFarShare && movement->peakAfterS <= warmS + kQuickS)
    return {"Air or metal that the heat reaches later",
            howMuch + ", more slowly: the case, the coolant, the board or the exhaust.", "case.temp"};
  if (movement->peakAfterS > warmS + kQuickS)
    return {"Air or metal that the heat reaches later",
            howMuch + fmt::format(", furthest {} after the load ended: the case, the coolant or the exhaust.",
                                  withUnit(movement->peakAfterS - warmS, 0, "s")),
            "case.temp"};
  return {"Near the processor: its regulators or the board around it", howMuch + ", more slowly.", "board.temp.vrm"};
}

}  // namespace ash
