// SPDX-License-Identifier: GPL-3.0-or-later
// Throttling told from what sensors show, held against what the simulated bench's governors really did.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "analysis/analyze.h"
#include "sim/sim_source.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// What the bench did, beside the log that its sensors made.
struct Witnessed {
  RunLog run;
  std::vector<sim::HeldBy> heldBy;  // of the processor, by sample
  std::vector<double> clockMhz;     // without noise
};

struct Circumstances {
  double throttleC = 95, hysteresisK = 1, stepMhz = 20, sustainedW = 88, shortW = 120, roomC = 22, fanDuty = 60,
         intervalS = 0.5;
};

Circumstances drawn(unsigned seed) {
  std::mt19937 random(seed);
  const auto from = [&](double low, double high) { return std::uniform_real_distribution<double>(low, high)(random); };
  const auto oneOf = [&](std::initializer_list<double> values) {
    return *(values.begin() + std::uniform_int_distribution<int>(0, int(values.size()) - 1)(random));
  };
  Circumstances c;
  c.throttleC = std::round(from(62, 97));
  c.hysteresisK = oneOf({0.5, 1, 3, 6});
  c.stepMhz = oneOf({20, 50, 400});
  c.sustainedW = oneOf({45, 65, 88, 105, 140});
  c.shortW = c.sustainedW * oneOf({1.0, 1.25, 1.4});
  c.roomC = from(18, 32);
  c.fanDuty = from(25, 90);
  c.intervalS = oneOf({0.2, 0.5, 1, 2});
  return c;
}

Witnessed witness(const Circumstances& c, unsigned seed) {
  auto spec = *sim::loadBench("larch12", "");
  spec.devices[0].throttleC = c.throttleC;
  spec.devices[0].throttleStepMhz = c.stepMhz;
  spec.devices[0].hysteresisK = c.hysteresisK;
  spec.devices[0].sustainedW = c.sustainedW;
  spec.devices[0].shortW = c.shortW;
  spec.room.startC = c.roomC;
  sim::Bench bench(spec, seed);
  bench.setFanDuty(0, c.fanDuty);
  const sim::SimSource source(bench);
  Witnessed seen;
  seen.run.name = seen.run.facts.setup = "seen";
  for (const Reading& reading : source.info().readings) {
    Channel channel;
    channel.name = reading.column();
    channel.role = reading.role;
    channel.quantity = reading.quantity;
    channel.unit = reading.unit;
    seen.run.log.channels.push_back(channel);
    if (!reading.limits.empty()) seen.run.facts.limits[reading.column()] = reading.limits;
  }
  sim::SimSource mutableSource(bench);
  for (double t = 0; t < 900; t += c.intervalS) {
    bench.advanceTo(t);
    if (t >= 60 && t < 780 && bench.activity(0) <= 0) bench.setLoad("vector", 1);
    if (t >= 780) bench.clearLoad();
    const Sweep sweep = mutableSource.sweep();
    seen.run.log.timeS.push_back(t);
    for (size_t i = 0; i < sweep.values.size(); ++i) seen.run.log.channels[i].values.push_back(sweep.values[i]);
    seen.heldBy.push_back(bench.heldBy(0));
    seen.clockMhz.push_back(bench.clockMhz(0));
  }
  return seen;
}

/// The clock it held for two seconds, at the most.
double heldMost(const Witnessed& seen, double intervalS, const TimeSpan& load) {
  const auto window = static_cast<size_t>(std::max(3.0, 2 / intervalS));
  double most = 0;
  for (size_t i = 0; i + window < seen.clockMhz.size(); ++i) {
    if (!load.contains(seen.run.log.timeS[i]) || !load.contains(seen.run.log.timeS[i + window])) continue;
    std::vector<double> part(seen.clockMhz.begin() + long(i), seen.clockMhz.begin() + long(i + window));
    most = std::max(most, medianOf(part));
  }
  return most;
}

const ThrottleInterval* intervalAt(const Throttling& throttling, double t) {
  for (const ThrottleInterval& interval : throttling.intervals) {
    if (interval.span.contains(t)) return &interval;
  }
  return nullptr;
}

struct Score {
  double hit = 0, missed = 0, invented = 0, causeRight = 0, causeAsked = 0;
  double f1() const { return 2 * hit / std::max(1.0, 2 * hit + missed + invented); }
  double cause() const { return causeRight / std::max(1.0, causeAsked); }
};

void judge(const Witnessed& seen, double intervalS, Score& score) {
  const Figures figures = analyzeRun(seen.run);
  REQUIRE(figures.load);
  const auto cpu = std::find_if(figures.throttling.begin(), figures.throttling.end(),
                                [](const Throttling& one) { return one.device == "cpu"; });
  REQUIRE(cpu != figures.throttling.end());
  const double reference = heldMost(seen, intervalS, *figures.load);
  for (size_t i = 0; i < seen.clockMhz.size(); ++i) {
    const double t = seen.run.log.timeS[i];
    if (!figures.load->contains(t) || t < figures.load->startS + 2 * intervalS) continue;
    const bool isSlow = seen.clockMhz[i] < 0.97 * reference;
    // Within a percent of the threshold nobody could tell.
    if (std::abs(seen.clockMhz[i] / reference - 0.97) < 0.01) continue;
    const ThrottleInterval* found = intervalAt(*cpu, t);
    score.hit += isSlow && found != nullptr;
    score.missed += isSlow && found == nullptr;
    score.invented += !isSlow && found != nullptr;
    if (!isSlow || found == nullptr) continue;
    ++score.causeAsked;
    const Cause really = seen.heldBy[i] == sim::HeldBy::Heat ? Cause::Thermal : Cause::Power;
    score.causeRight += found->cause == really;
  }
}

}  // namespace

TEST_CASE("slowedSamplesAndTheirCausesAreThoseOfTheGovernors") {
  Score all;
  for (unsigned seed = 1; seed <= 40; ++seed) {
    const Circumstances c = drawn(seed);
    Score own;
    judge(witness(c, seed), c.intervalS, own);
    if (own.f1() < 0.9 || own.cause() < 0.9)
      UNSCOPED_INFO("seed " << seed << ": F1 " << own.f1() << ", cause " << own.cause() << ", limit " << c.throttleC
                            << " °C, hysteresis " << c.hysteresisK << " K, step " << c.stepMhz << " MHz, "
                            << c.sustainedW << "/" << c.shortW << " W, interval " << c.intervalS << " s, hit "
                            << own.hit << " missed " << own.missed << " invented " << own.invented);
    all.hit += own.hit;
    all.missed += own.missed;
    all.invented += own.invented;
    all.causeAsked += own.causeAsked;
    all.causeRight += own.causeRight;
  }
  INFO("F1 " << all.f1() << ", cause right " << all.cause() << " of " << all.causeAsked);
  CHECK(all.f1() >= 0.95);
  CHECK(all.cause() >= 0.95);
  CHECK(all.causeAsked > 1000);
}

TEST_CASE("aSwingingGovernorIsHeatFromItsFirstCutOn") {
  // Cuts by 40 % at 90 °C, lets go at 84 °C: below its limit most of the time, and half its power while it is cut.
  auto maker = LogMaker(700, 0.5);
  const auto isCut = [](double t) { return t >= 200 && std::fmod(t - 200, 30) < 12; };
  maker.add("cpu.temp", [&](double t) {
    if (t < 60) return 35.0;
    if (t < 200) return 40 + 50 * (t - 60) / 140;
    const double phase = std::fmod(t - 200, 30);
    return phase < 12 ? 90 - 6 * phase / 12 : 84 + 6 * (phase - 12) / 18;
  });
  maker.add("cpu.clock", [&](double t) { return t < 60 ? 1200.0 : isCut(t) ? 2760.0 : 4600.0; });
  maker.add("cpu.power", [&](double t) { return t < 60 ? 10.0 : isCut(t) ? 38.0 : 100.0; });
  maker.add("cpu.load", [](double t) { return t < 60 ? 1.0 : 100.0; });
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 90}};
  const Throttling hot = analyzeRun(maker.run).throttling.at(0);
  CHECK(hot.shareThermal == Approx(500.0 * 12 / 30 / 640).margin(0.03));
  CHECK(hot.shareThermal == Approx(hot.share));
  CHECK(hot.timeToLimitS.value() == Approx(140).margin(1));
  CHECK(hot.lostClockShare == Approx(0.4).margin(0.01));
}

namespace {

/// A governor that drops the clock at 95 °C and lets the device recover for 15 s; one stage of heat of 12 s on a slow
/// one. Nobody logs the load in percent.
struct SawTooth {
  LogMaker maker;
  double share = 0;
};

SawTooth sawTooth(double intervalS, double lowMhz, unsigned seed) {
  constexpr double kStepS = 0.05, kIdleS = 120, kLoadS = 1800;
  std::mt19937 random(seed);
  std::normal_distribution<double> normal;
  SawTooth made{LogMaker(kIdleS + kLoadS + 60, intervalS), 0};
  std::vector<double> celsius, mhz, watts;
  double fast = 3.5, slow = 2.5, since = 0, sumW = 0;
  bool isLow = false;
  const auto perSample = static_cast<long>(std::lround(intervalS / kStepS));
  for (long i = 0; static_cast<double>(i) * kStepS < kIdleS + kLoadS + 60 - 1e-9; ++i) {
    const double t = static_cast<double>(i) * kStepS, c = 23 + fast + slow;
    const bool isBusy = t >= kIdleS && t < kIdleS + kLoadS;
    if (isBusy && !isLow && c >= 95) since = t;
    isLow = isBusy && (isLow ? t - since < 15 : c >= 95);
    made.share += isLow ? kStepS / kLoadS : 0;
    const double clock = isLow ? lowMhz : 4600;
    const double power = isBusy ? 10 + 140 * std::pow(clock / 4600, 2.2) : 10;
    sumW += power;
    if (i % perSample == 0) {
      celsius.push_back(c + 0.05 * normal(random));
      mhz.push_back((isBusy ? clock : 1800) + 8 * normal(random));
      watts.push_back(sumW / static_cast<double>(i == 0 ? 1 : perSample));
      sumW = 0;
    }
    fast += (0.35 * power - fast) * kStepS / 12;
    slow += (0.25 * power - slow) * kStepS / 300;
  }
  const auto from = [intervalS](const std::vector<double>& values) {
    return [&values, intervalS](double t) { return values.at(static_cast<size_t>(std::lround(t / intervalS))); };
  };
  made.maker.add("cpu.temp", from(celsius)).add("cpu.clock", from(mhz)).add("cpu.power", from(watts));
  made.maker.add("room.temp", [](double) { return 23.0; });
  return made;
}

}  // namespace

TEST_CASE("slowSawTeethAreThrottlingAndNoRest") {
  for (const double intervalS : {0.5, 1.0, 2.0}) {
    for (const double lowMhz : {2300.0, 1900.0, 3200.0}) {
      SawTooth made = sawTooth(intervalS, lowMhz, 3);
      INFO(intervalS << " s, " << lowMhz << " MHz, share " << made.share);
      REQUIRE(made.share > 0.2);
      const Figures unlimited = analyzeRun(made.maker.run);
      CHECK(unlimited.throttling.at(0).share == Approx(made.share).margin(0.03));
      made.maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}};
      const Figures figures = analyzeRun(made.maker.run);
      // All of it is heat, though the device cools far below its limit before it is let go.
      CHECK(figures.throttling.at(0).shareThermal == Approx(made.share).margin(0.03));
      REQUIRE(figures.load);
      CHECK(figures.load->endS == Approx(1920).margin(2 * intervalS));
      CHECK(figures.loads.size() == 1);
      // Power at its mean over whole cycles has long settled on a stage of 300 s.
      CHECK(figures.channel("cpu.temp")->settled->isSettled);
    }
  }
}

TEST_CASE("aPauseThatALoadInPercentTellsIsNoGovernors") {
  // Something draws 30 W while it pauses for a minute: a fifth of the way from rest to work.
  auto maker = LogMaker(1500, 1);
  const auto isPaused = [](double t) { return t >= 700 && t < 760; };
  maker.add("cpu.temp", [&](double t) { return t < 100 || t >= 1300 ? 35.0 : isPaused(t) ? 50.0 : 80.0; });
  maker.add("cpu.power", [&](double t) { return t < 100 || t >= 1300 ? 10.0 : isPaused(t) ? 30.0 : 110.0; });
  const Figures unknown = analyzeRun(maker.run);
  CHECK(unknown.load->lengthS() == 1200);
  maker.add("cpu.clock", [&](double t) { return t < 100 || t >= 1300 || isPaused(t) ? 1200.0 : 4600.0; });
  CHECK(analyzeRun(maker.run).throttling.at(0).share > 0.04);
  maker.add("cpu.load", [&](double t) { return t < 100 || t >= 1300 || isPaused(t) ? 1.0 : 100.0; });
  const Figures known = analyzeRun(maker.run);
  CHECK(known.load->lengthS() == 1200);
  CHECK(known.throttling.at(0).share == 0);
}

TEST_CASE("aPauseIsNoThrottlingAndNeitherIsWhatTheTesterTurned") {
  auto maker = LogMaker(700, 0.5);
  const auto isPaused = [](double t) { return t >= 300 && t < 330; };
  maker.add("cpu.temp", [](double t) { return t < 60 ? 35.0 : 70.0; });
  maker.add("cpu.clock", [&](double t) { return t < 60 || isPaused(t) ? 1200.0 : t < 400 ? 4600.0 : 4000.0; });
  maker.add("cpu.power", [&](double t) { return t < 60 || isPaused(t) ? 10.0 : t < 400 ? 90.0 : 65.0; });
  maker.add("cpu.load", [&](double t) { return t < 60 || isPaused(t) ? 1.0 : 100.0; });
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}};
  Event turned;
  turned.atS = 400;
  turned.kind = EventKind::Setting;
  turned.text = "power-limit 65 W";
  maker.run.facts.events.push_back(turned);
  CHECK(analyzeRun(maker.run).throttling.at(0).share == 0);
  // A fan that was turned changes no clock by itself: what is slow after it is slow.
  maker.run.facts.events[0].text = "fan-duty 30";
  CHECK(analyzeRun(maker.run).throttling.at(0).share == Approx(300.0 / 640).margin(0.02));
}

TEST_CASE("aNoisyBoostIsNone") {
  auto maker = LogMaker(960, 1);
  std::mt19937 random(5);
  std::normal_distribution<double> noise(0, 90);  // 2 % of the clock
  maker.add("cpu.temp", [](double t) { return t < 60 ? 35.0 : 70.0; });
  maker.add("cpu.clock", [&](double t) { return t < 60 ? 1200.0 : 4600 + noise(random); });
  maker.add("cpu.power", [](double t) { return t < 60 ? 10.0 : 90.0; });
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}};
  CHECK(analyzeRun(maker.run).throttling.at(0).share < 0.01);
}

TEST_CASE("aMovingLimitHoldsWhereItStands") {
  // A governor takes its limit from 100 W down to 70 W after 300 s; the power follows, the temperature is far below its
  // own.
  auto maker = LogMaker(660, 0.5);
  maker.add("cpu.temp", [](double t) { return t < 60 ? 35.0 : 75.0; });
  maker.add("cpu.clock", [](double t) { return t < 60 ? 1200.0 : t < 360 ? 4600.0 : 4100.0; });
  maker.add("cpu.power", [](double t) { return t < 60 ? 10.0 : t < 360 ? 95.0 : 69.8; });
  maker.add("cpu.power.limit", [](double t) { return t < 360 ? 100.0 : 70.0; });
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}};
  const Throttling held = analyzeRun(maker.run).throttling.at(0);
  CHECK(held.sharePower == Approx(0.5).margin(0.01));
  CHECK(held.shareThermal == 0);
}

TEST_CASE("oneSlowClusterIsSeenThroughTheMean") {
  auto maker = LogMaker(660, 0.5);
  maker.add("cpu.temp", [](double t) { return t < 60 ? 35.0 : t < 360 ? 80.0 : 94.5; });
  maker.add("cpu.power", [](double t) { return t < 60 ? 10.0 : 90.0; });
  // Eight quick cores and two that lose a third: the mean loses 2 % only.
  maker.add("cpu.clock.cluster0", [](double t) { return t < 60 ? 1000.0 : 4800.0; });
  maker.add("cpu.clock.cluster1", [](double t) { return t < 60 ? 1000.0 : t < 360 ? 3600.0 : 2400.0; });
  maker.add("cpu.clock", [](double t) { return t < 60 ? 1000.0 : t < 360 ? 4560.0 : 4470.0; });
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}};
  const auto all = analyzeRun(maker.run).throttling;
  REQUIRE(all.size() == 3);
  CHECK(all[0].device == "cpu");
  CHECK(all[0].shareThermal == Approx(0.5).margin(0.01));
  CHECK(all[0].intervals.at(0).depthMhz == Approx(1200).margin(1));
  CHECK(all[1].device == "cpu.cluster0");
  CHECK(all[1].share == 0);
  CHECK(all[2].device == "cpu.cluster1");
  CHECK(all[2].lostClockShare == Approx(1.0 / 3).margin(0.01));
}

TEST_CASE("withoutAClockTheWorkTells") {
  auto maker = LogMaker(660, 0.5);
  maker.add("cpu.temp", [](double t) { return t < 60 ? 35.0 : t < 360 ? 80.0 : 94.6; });
  maker.add("cpu.power", [](double t) { return t < 60 ? 10.0 : t < 360 ? 80.0 : 70.0; });
  maker.add("work.rate", [](double t) { return t < 60 ? 0.0 : t < 360 ? 200.0 : 180.0; });
  maker.run.facts.limits["cpu.temp"] = {{"throttle", 95}};
  const Throttling slowed = analyzeRun(maker.run).throttling.at(0);
  CHECK(slowed.shareThermal == Approx(0.5).margin(0.01));
  CHECK(slowed.lostClockShare == Approx(0.1).margin(0.005));
  CHECK(slowed.lostWorkShare.value() == Approx(0.1).margin(0.005));
  CHECK(std::isnan(slowed.intervals.at(0).depthMhz));
}

TEST_CASE("theKernelsCounterSaysHeatWhereNoLimitIsKnown") {
  auto maker = LogMaker(660, 0.5);
  maker.add("cpu.temp", [](double t) { return t < 60 ? 35.0 : 88.0; });
  maker.add("cpu.clock", [](double t) { return t < 60 ? 1200.0 : t < 360 ? 4500.0 : 4200.0; });
  maker.add("cpu.power", [](double t) { return t < 60 ? 10.0 : t < 360 ? 80.0 : 72.0; });
  CHECK(analyzeRun(maker.run).throttling.at(0).intervals.at(0).cause == Cause::Unknown);
  maker.add("throttle:package0:count", [](double t) { return t < 360 ? 12.0 : 12 + std::floor((t - 359) / 0.5); });
  CHECK(analyzeRun(maker.run).throttling.at(0).intervals.at(0).cause == Cause::Thermal);
}
