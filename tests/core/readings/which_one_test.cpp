// SPDX-License-Identifier: GPL-3.0-or-later
// Which one is this? Courses made by formulas: what they are is known.
#include "readings/meaning/which_one.h"

#include <catch2/catch.hpp>
#include <cmath>

using namespace ash;

namespace {

constexpr double kWarmStartS = 6, kWarmEndS = 14, kAllS = 28;

/// First-order warming towards `rise` with a time constant and a delay; noise is a fixed pattern of that size.
struct Course {
  const char* role;
  double restC, rise, tauS, delayS, noise;
};

double at(const Course& course, double timeS, int i) {
  const auto warmed = [&](double s) { return s <= 0 ? 0.0 : course.rise * (1 - std::exp(-s / course.tauS)); };
  const double on = warmed(timeS - kWarmStartS - course.delayS), off = warmed(timeS - kWarmEndS - course.delayS);
  const double pattern[] = {0.7, -1.1, 0.3, 0.9, -0.8};
  return course.restC + on - off + course.noise * pattern[i % 5];
}

WarmTrial make(const std::vector<Course>& courses) {
  WarmTrial trial;
  trial.warmStartS = kWarmStartS;
  trial.warmEndS = kWarmEndS;
  for (double s = 0; s < kAllS; s += 0.5) trial.timeS.push_back(s);
  for (const Course& course : courses) {
    Reading reading;
    reading.role = course.role;
    trial.readings.push_back(reading);
    std::vector<double> values;
    for (size_t i = 0; i < trial.timeS.size(); ++i) values.push_back(at(course, trial.timeS[i], static_cast<int>(i)));
    trial.values.push_back(values);
  }
  return trial;
}

const Course kCpu = {"cpu.temp", 38, 35, 2, 0, 0.2}, kRoom = {"room.temp", 22.4, 0, 1, 0, 0.03};

}  // namespace

TEST_CASE("readingsAreRankedByHowFarTheyWentAgainstTheirOwnNoise") {
  // The second moves 3 K out of 0.05 K of noise, the third 6 K out of 2 K.
  const auto moved = whatMoved(make({kRoom, {"", 30, 3, 2, 0, 0.05}, {"", 40, 6, 2, 0, 2.0}}));
  REQUIRE(moved.size() == 3);
  CHECK(moved[0].reading == 1);
  CHECK(moved[0].rise == Approx(3 * (1 - std::exp(-4))).margin(0.15));
  CHECK(moved[0].peakAfterS == Approx(8).margin(1));
  CHECK(moved[1].reading == 2);
  CHECK(moved[2].reading == 0);
  CHECK(moved[2].times < kMovedTimes);
}

TEST_CASE("aDriftThatWasThereBeforeIsNoMovement") {
  WarmTrial trial = make({kCpu, kRoom});
  std::vector<double> cooling;
  for (const double s : trial.timeS) cooling.push_back(60 - 0.2 * s);  // it cools all the time, load or not
  trial.readings.emplace_back();
  trial.readings.back().step = 0.1;
  trial.values.push_back(cooling);
  for (const Movement& movement : whatMoved(trial)) {
    if (movement.reading == 2) CHECK(std::abs(movement.rise) < 0.5);
  }
}

TEST_CASE("oneStepOfACoarseSensorIsNoDrift") {
  WarmTrial trial = make({kCpu, kRoom});
  std::vector<double> coarse(trial.timeS.size(), 28);
  for (size_t i = 0; i < 3; ++i) coarse[i] = 29;
  trial.readings.emplace_back();
  trial.readings.back().step = 1;
  trial.values.push_back(coarse);
  for (const Movement& movement : whatMoved(trial)) {
    if (movement.reading == 2) CHECK(std::abs(movement.rise) < 1);
  }
}

TEST_CASE("whatItMostLikelyIs") {
  const auto told = [](const Course& course) { return whatItIs(make({kCpu, kRoom, course}), 2, 0); };
  CHECK(told({"", 22.5, 0, 1, 0, 0.05}).words == "Air at the intake");
  CHECK(told({"", 22.5, 0, 1, 0, 0.05}).role == "room2.temp");
  CHECK(told({"", 25, 0, 1, 0, 0.05}).role == "case.temp");
  CHECK(told({"", 47, 0, 1, 0, 0.05}).words == "A part with heat of its own: a drive, the chipset, another chip");
  CHECK(told({"", 38.5, 34, 2.2, 0.2, 0.2}).words == "The processor itself, told a second time");
  CHECK(told({"", 33, 16, 2.5, 0.3, 0.1}).words == "Inside or right at the processor");
  CHECK(told({"", 36, 12, 12, 1.5, 0.1}).words == "Near the processor: its regulators or the board around it");
  CHECK(told({"", 30, 3, 8, 6, 0.05}).words == "Air or metal that the heat reaches later");
  CHECK(told({"", 27, 2.5, 4, 1, 0.05}).words == "Air or metal that the heat reaches later");
  CHECK(told({"", 30, -2, 4, 1, 0.05}).words == "Cooled by the fans");
}

TEST_CASE("withoutAWarmingNothingIsTold") {
  Course cold = kCpu;
  cold.rise = 0;
  CHECK(whatItIs(make({cold, kRoom, {"", 30, 0, 1, 0, 0.1}}), 2, 0).words == "Not to be told");
  WarmTrial tooShort = make({kCpu, kRoom});
  tooShort.warmStartS = 1;  // two values before the warming
  CHECK(whatItIs(tooShort, 1, 0).words == "Not to be told");
}
