// SPDX-License-Identifier: GPL-3.0-or-later
// Settling where a reading is coarse, a power boosts, a room moves, and where it was asked before. The truth is that of
// first-order stages, solved exactly for power that is constant in pieces.
#include <catch2/catch.hpp>
#include <cmath>
#include <functional>
#include <random>

#include "analysis/analyze.h"
#include "analysis/warm_up/settling.h"
#include "analysis/warm_up/warm_up.h"

using namespace ash;

namespace {

struct Stage {
  double kelvinPerWatt, tauS;
};

/// A device at rest under `restW` for five minutes, then under load.
struct Rig {
  std::vector<Stage> stages;
  double restW = 2, loadW = 15, boostW = 15, boostS = 0;
  double stepK = 0, noiseK = 0, intervalS = 0.5;
  std::function<double(double)> roomC = [](double) { return 22.0; };
  double roomLagS = 0;  // 0: the sensor stands in the air itself

  static constexpr double kRestS = 300;
  double wattsAt(double t) const { return t < kRestS ? restW : t < kRestS + boostS ? boostW : loadW; }
  double overRoomAtTheEnd() const {
    double sum = 0;
    for (const Stage& stage : stages) sum += stage.kelvinPerWatt * loadW;
    return sum;
  }
};

struct Record {
  Series shown, power, room;
  double trueC = 0, feltRoomC = 0;  // at the end
};

Record recordOf(const Rig& device, double loadS, unsigned seed = 1) {
  std::mt19937 random(seed);
  std::normal_distribution<double> normal;
  Record record;
  std::vector<double> watts(device.stages.size(), device.restW);
  record.feltRoomC = device.roomC(0);
  for (double t = 0; t <= Rig::kRestS + loadS; t += device.intervalS) {
    const double input = device.wattsAt(t - device.intervalS / 2);
    record.trueC = 0;
    for (size_t k = 0; k < watts.size(); ++k) {
      watts[k] += (input - watts[k]) * -std::expm1(-device.intervalS / device.stages[k].tauS);
      record.trueC += device.stages[k].kelvinPerWatt * watts[k];
    }
    const double lag = device.roomLagS > 0 ? -std::expm1(-device.intervalS / device.roomLagS) : 1;
    record.feltRoomC += lag * (device.roomC(t) - record.feltRoomC);
    record.trueC += record.feltRoomC;
    const double noisy = record.trueC + device.noiseK * normal(random);
    record.shown.t.push_back(t);
    record.shown.v.push_back(device.stepK > 0 ? device.stepK * std::round(noisy / device.stepK) : noisy);
    record.power.t.push_back(t);
    record.power.v.push_back(input);
    record.room.t.push_back(t);
    record.room.v.push_back(device.roomC(t));
  }
  return record;
}

SettlingQuestion questionOf(const Rig& device, const Record& record) {
  SettlingQuestion question;
  question.temperature = record.shown;
  question.load = {Rig::kRestS, std::nextafter(record.shown.t.back(), INFINITY)};
  question.room = record.room;
  question.power = record.power;
  question.stepK = device.stepK;
  question.trendS = trendLength(question.load);
  return question;
}

Rig fanless(double stepK) {
  Rig device;
  device.stages = {{0.67, 5.3}, {1.61, 1450}};
  device.boostW = 25;
  device.boostS = 28;
  device.stepK = stepK;
  return device;
}

}  // namespace

TEST_CASE("aCoarseSensorBehindABoostIsNotTakenForSettled") {
  for (const double intervalS : {0.1, 0.5, 2.0}) {
    Rig device = fanless(1);
    device.intervalS = intervalS;
    for (const double loadS : {330.0, 600.0, 1200.0, 2400.0}) {
      const Record record = recordOf(device, loadS);
      SettlingQuestion question = questionOf(device, record);
      const double endsC = 22 + device.overRoomAtTheEnd();
      for (const bool knowsRest : {true, false}) {
        if (!knowsRest) question.power = viewOf(record.power, question.load);
        const SettlingVerdict verdict = judgeSettling(question);
        INFO("every " << intervalS << " s, after " << loadS << " s, power of the rest known: " << knowsRest
                      << ", forecast " << verdict.forecast << " (" << verdict.forecastLow << " to "
                      << verdict.forecastHigh << ") for " << endsC);
        CHECK_FALSE(verdict.isSettled);
        CHECK(verdict.forecastLow < endsC + 0.3);
        if (loadS >= 1200) CHECK(verdict.forecast == Approx(endsC).margin(knowsRest ? 1.5 : 2.5));
      }
    }
  }
}

TEST_CASE("aCoarseSensorIsSettledWhenTheLastStepIsNotToCome") {
  for (const double noiseK : {0.0, 0.05, 0.12}) {
    Rig device = fanless(1);
    device.noiseK = noiseK;
    const Record record = recordOf(device, 6 * 1450);
    const SettlingVerdict verdict = judgeSettling(questionOf(device, record));
    INFO("noise " << noiseK << " K: " << verdict.forecast << ", worst " << verdict.worstRemainingK);
    CHECK(verdict.isSettled);
    CHECK(verdict.forecast == Approx(22 + device.overRoomAtTheEnd()).margin(0.3));
  }
}

TEST_CASE("aReadingThatWaversBetweenTwoValuesTellsWhenItCrossed") {
  // 0.02 K/s through the boundary at 40.5, a little noise: it wavers for some seconds and crosses at 525 s.
  std::mt19937 random(7);
  std::normal_distribution<double> normal(0, 0.06);
  Series shown;
  for (double t = 0; t < 1200; t += 0.5) {
    shown.t.push_back(t);
    shown.v.push_back(std::round(30 + 0.02 * t + normal(random)));
  }
  const auto readings = stepCrossings(shown, 1, RoomBelow(SeriesView()));
  REQUIRE(readings);
  for (size_t i = 0; i + 1 < readings->spans.size(); ++i) {
    const double value = readings->spans.value[i];
    CHECK(value == Approx(std::floor(value) + 0.5));
    CHECK(readings->spans.fromS[i] == Approx((value - 30) / 0.02).margin(4));
  }
  CHECK(readings->spans.size() == 25);  // 30.5 to 53.5, and what it shows at the end
  // Noise of half a step: means tell more.
  for (double& value : shown.v) value = std::round(value + 8 * normal(random));
  CHECK_FALSE(stepCrossings(shown, 1, RoomBelow(SeriesView())));
  CHECK_FALSE(stepCrossings(shown, 0.1, RoomBelow(SeriesView())));
}

TEST_CASE("aTurnIsNoWaveringAndHasTwoCrossings") {
  // Up to 40 within a minute, and long after down again over the same boundaries: no reading sorted into the other.
  Series shown;
  for (double t = 0; t < 1200; t += 1) {
    shown.t.push_back(t);
    shown.v.push_back(std::round(30 + 10 * std::min({1.0, t / 60, std::max(0.0, (900 - t) / 60)})));
  }
  const auto readings = stepCrossings(shown, 1, RoomBelow(SeriesView()));
  REQUIRE(readings);
  REQUIRE(readings->spans.size() == 21);  // 30.5 to 39.5, 39.5 to 30.5, and what it shows at the end
  for (size_t i = 0; i < 20; ++i) {
    const double value = i < 10 ? 30.5 + double(i) : 39.5 - double(i - 10);
    CHECK(readings->spans.value[i] == value);
    CHECK(readings->spans.fromS[i] == Approx(i < 10 ? 6 * (value - 30) : 900 - 6 * (value - 30)).margin(1));
  }
  // Where it was fast, when it crossed says less.
  CHECK(readings->spans.weight[4] < 100.0);
}

TEST_CASE("fewCrossingsDecideNothingUntilTheNextWouldHaveCome") {
  const auto shownFor = [](double lengthS) {
    Series shown;
    for (double t = 0; t < lengthS; t += 1) {
      shown.t.push_back(t);
      shown.v.push_back(std::round(36.4 - 6 * std::exp(-t / 100)));
    }
    return shown;
  };
  // Boundaries at 30.5 … 35.5: the last is crossed at 100·ln(6/0.9) = 190 s, the one before at 115 s.
  CHECK(stepCrossings(shownFor(300), 1, RoomBelow(SeriesView()))->areTooFew);
  CHECK_FALSE(stepCrossings(shownFor(360), 1, RoomBelow(SeriesView()))->areTooFew);
}

TEST_CASE("aRoomThatMovesIsFeltLateByMetalAndAtOnceByASensorInTheAir") {
  for (const double lagS : {800.0, 0.0}) {
    Rig device;
    device.stages = {{0.3, 4}, {1.4, 800}};
    device.noiseK = 0.1;
    device.stepK = 0.125;
    device.roomC = [](double t) { return 22 + 0.5 * std::sin(2 * M_PI * t / 5400); };
    device.roomLagS = lagS;
    for (const double loadS : {4500.0, 5200.0, 6000.0}) {
      const Record record = recordOf(device, loadS);
      const SettlingVerdict verdict = judgeSettling(questionOf(device, record));
      const double nowC = device.roomC(Rig::kRestS + loadS);
      INFO("lag " << lagS << " s, after " << loadS << " s: " << verdict.forecast << ", " << verdict.remainingK);
      CHECK(verdict.forecast == Approx(nowC + device.overRoomAtTheEnd()).margin(0.25));
      CHECK(verdict.remainingK == Approx(nowC + device.overRoomAtTheEnd() - record.trueC).margin(0.25));
    }
  }
}

TEST_CASE("whatWasSettledBeforeStaysSoUntilTheReadingsContradictIt") {
  Rig device;
  device.stages = {{0.3, 4}, {1.4, 200}};
  device.noiseK = 0.1;
  const Record record = recordOf(device, 2000);
  SettlingQuestion question = questionOf(device, record);
  REQUIRE(judgeSettling(question).isSettled);
  // Asked too early for the time earlier runs took, it is not settled now; it was so when the soak ended.
  question.leastS = 1900;
  question.load.endS = Rig::kRestS + 1800;
  CHECK_FALSE(judgeSettling(question).isSettled);
  question.leastS = 0;
  SettlingQuestion later = question;
  later.load.endS = Rig::kRestS + 2000;
  later.askedBeforeS = Rig::kRestS + 1600;
  CHECK(judgeSettling(later).isSettled);
  // Power goes up by a third when the measurement begins: what was settled is contradicted.
  Record raised = record;
  for (size_t i = 0; i < raised.shown.size(); ++i) {
    const double since = raised.shown.t[i] - Rig::kRestS - 1600;
    if (since <= 0) continue;
    raised.power.v[i] = 20;
    raised.shown.v[i] += 5 * (0.3 * -std::expm1(-since / 4) + 1.4 * -std::expm1(-since / 200));
  }
  SettlingQuestion contradicted = questionOf(device, raised);
  contradicted.load.endS = Rig::kRestS + 1800;
  contradicted.trendS = 200;
  contradicted.askedBeforeS = Rig::kRestS + 1600;
  CHECK_FALSE(judgeSettling(contradicted).isSettled);
}

namespace {

/// Two stages over 23 °C; the slow one's resistance changes in the middle of the load, as by a fan that fails or comes
/// back, at constant power: dθ/dt = (P − θ/R)/C.
struct CoolingChange {
  double before, after;  // K/W
  double finalC() const { return 23 + (0.25 + after) * 100; }
  RunLog log(double loadS, double stepK, unsigned seed) const {
    constexpr double kRestS = 120, kStepS = 0.1, kCapacity = 800;
    std::mt19937 random(seed);
    std::normal_distribution<double> normal;
    RunLog run;
    Channel temperature, power, room;
    temperature.name = "cpu.temp";
    power.name = "cpu.power";
    room.name = "room.temp";
    for (Channel* channel : {&temperature, &power, &room}) {
      channel->role = channel->name;
      channel->quantity = channel->role.quantity();
    }
    double fast = 2.5, slow = 10 * before;
    for (long i = 0; static_cast<double>(i) * kStepS < kRestS + loadS; ++i) {
      const double t = static_cast<double>(i) * kStepS, watts = t < kRestS ? 10 : 100;
      const double resistance = t < kRestS + 1200 ? before : after;
      if (i % 10 == 0) {
        run.log.timeS.push_back(t);
        temperature.values.push_back(std::round((23 + fast + slow + 0.08 * normal(random)) / stepK) * stepK);
        power.values.push_back(watts + 0.2 * normal(random));
        room.values.push_back(23 + 0.03 * normal(random));
      }
      fast += (0.25 * watts - fast) * kStepS / 12;
      slow += (watts - slow / resistance) * kStepS / kCapacity;
    }
    run.log.channels = {temperature, power, room};
    return run;
  }
};

}  // namespace

TEST_CASE("coolingThatChangesUnderLoadIsForecastFromThere") {
  // What follows the change is forecast, not an end that both halves together would suggest.
  for (const CoolingChange& change : {CoolingChange{0.5, 0.3}, {0.3, 0.5}}) {
    for (const auto& [loadS, stepK] : {std::pair{2400.0, 0.1}, {1900.0, 0.1}, {2400.0, 0.01}}) {
      for (unsigned seed = 1; seed <= 3; ++seed) {
        const Figures figures = analyzeRun(change.log(loadS, stepK, seed));
        const SettlingVerdict& verdict = *figures.channel("cpu.temp")->settled;
        INFO(change.before << " to " << change.after << " K/W, " << loadS << " s, step " << stepK << ": "
                           << verdict.forecast << " [" << verdict.forecastLow << ", " << verdict.forecastHigh << "]");
        CHECK(verdict.forecast == Approx(change.finalC()).margin(0.6));
        CHECK(verdict.forecastLow - 0.1 <= change.finalC());
        CHECK(verdict.forecastHigh + 0.1 >= change.finalC());
      }
    }
  }
}

TEST_CASE("coolingThatChangesShortlyBeforeTheEndIsNotForecastTooSurely") {
  // Five minutes after it, of time constants of four: little to fit, so the interval has to say so.
  for (unsigned seed = 1; seed <= 6; ++seed) {
    const CoolingChange change{0.5, 0.3};
    const Figures figures = analyzeRun(change.log(1500, 0.1, seed));
    const SettlingVerdict& verdict = *figures.channel("cpu.temp")->settled;
    INFO(verdict.forecast << " [" << verdict.forecastLow << ", " << verdict.forecastHigh << "]");
    CHECK_FALSE(verdict.isSettled);
    CHECK(verdict.forecastLow <= change.finalC());
    CHECK(verdict.forecastHigh >= change.finalC());
  }
}
