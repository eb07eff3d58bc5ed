// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with a log, put in on purpose: each kind is found, where it is, and in a sound log none.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>
#include <set>

#include "analysis/analyze.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// Ten minutes at 2 Hz: rest for two, then 80 W; every reading with some noise.
class SoundLog {
 public:
  SoundLog() : m_maker(600, 0.5) {
    WarmUp warm;
    warm.loadS = 120;
    warm.tauS = 40;
    m_maker.add("cpu.temp", rounded(warm.function(), 0.01));
    m_maker.add("cpu.power", noisy([](double t) { return t < 120 ? 11 : 80; }, 0.3));
    m_maker.add("cpu.load", noisy([](double t) { return t < 120 ? 3 : 99; }, 0.2));
    m_maker.add("cpu.clock", noisy([](double t) { return t < 120 ? 1800 : 4500; }, 10));
    m_maker.add("fan.cpu", noisy([](double) { return 1200; }, 5));
    m_maker.add("room.temp", noisy([](double) { return 22; }, 0.05));
  }

  std::vector<double>& values(const std::string& name) {
    for (Channel& channel : m_maker.run.log.channels) {
      if (channel.name == name) return channel.values;
    }
    throw std::out_of_range(name);
  }
  template <typename F>
  SoundLog& change(const std::string& name, double fromS, double toS, F value) {
    auto& all = values(name);
    for (size_t i = 0; i < all.size(); ++i) {
      const double t = m_maker.run.log.timeS[i];
      if (t >= fromS && t < toS) all[i] = value(all[i], t);
    }
    return *this;
  }
  template <typename F>
  SoundLog& add(const std::string& name, F value) {
    m_maker.add(name, value);
    return *this;
  }
  RunLog& run() { return m_maker.run; }

  std::vector<Problem> problems() const { return analyzeRun(m_maker.run).problems; }
  std::set<std::string> kinds() const {
    std::set<std::string> all;
    for (const Problem& problem : problems()) all.emplace(problem.kind.text());
    return all;
  }
  Problem only(const std::string& kind) const {
    Problem found;
    int count = 0;
    for (const Problem& problem : problems()) {
      if (problem.kind.text() != kind) continue;
      found = problem;
      ++count;
    }
    INFO(kind);
    CHECK(count == 1);
    return found;
  }

 private:
  template <typename F>
  std::function<double(double)> noisy(F value, double sd) {
    return [this, value, sd](double t) { return value(t) + sd * m_normal(m_random); };
  }
  template <typename F>
  static std::function<double(double)> rounded(F value, double step) {
    return [value, step](double t) mutable { return std::round(value(t) / step) * step; };
  }
  std::mt19937 m_random{5};
  std::normal_distribution<double> m_normal;
  LogMaker m_maker;
};

using Kinds = std::set<std::string>;

}  // namespace

TEST_CASE("aSoundLogHasNoProblem") { CHECK(SoundLog().kinds() == Kinds{}); }

TEST_CASE("aSpikeIsListedWithItsSampleAndLeftOut") {
  SoundLog log;
  log.values("cpu.temp")[800] += 21;
  const Problem spike = log.only("spike");
  CHECK(spike.channel == "cpu.temp");
  CHECK(spike.startS == 400);
  CHECK(spike.endS == 400.5);
  CHECK(log.kinds() == Kinds{"spike"});
  CHECK(analyzeRun(log.run()).channel("cpu.temp")->load.max < 86);
}

TEST_CASE("aSampleThatThePowerExplainsIsNoSpike") {
  SoundLog log;
  log.values("cpu.temp")[100] += 9;
  log.values("cpu.power")[100] += 40;
  CHECK(log.kinds().count("spike") == 0);
}

TEST_CASE("anExcursionIsListedAndStaysInTheFigures") {
  SoundLog log;
  log.change("cpu.temp", 400, 406, [](double v, double) { return v + 9; });
  const Problem excursion = log.only("excursion");
  CHECK(excursion.startS == 400);
  CHECK(excursion.endS == 406);
  CHECK(log.kinds() == Kinds{"excursion"});
  CHECK(analyzeRun(log.run()).channel("cpu.temp")->load.max > 92);
}

TEST_CASE("aPauseInTheWorkIsNoExcursionAndDoesNotEndTheLoad") {
  SoundLog log;
  log.change("cpu.power", 300, 320, [](double, double) { return 11.0; });
  log.change("cpu.load", 300, 320, [](double, double) { return 2.0; });
  log.change("cpu.temp", 300, 320, [](double v, double t) { return v - 20 * (1 - std::exp(-(t - 300) / 10)); });
  CHECK(log.kinds().count("excursion") == 0);
  const Figures figures = analyzeRun(log.run());
  CHECK(figures.load->startS == 120);
  CHECK(figures.load->endS == Approx(600));
}

TEST_CASE("aReadingThatFreezesIsStuck") {
  SoundLog log;
  log.change("cpu.power", 300, 400, [](double, double) { return 80.25; });
  const Problem stuck = log.only("stuck");
  CHECK(stuck.channel == "cpu.power");
  CHECK(stuck.startS == 300);
  CHECK(stuck.endS == Approx(399.5));
}

TEST_CASE("aTemperatureThatSitsThroughTheStartOfALoadIsStuck") {
  SoundLog log;
  log.change("cpu.temp", 0, 601, [](double, double) { return 40.0; });
  CHECK(log.kinds().count("stuck") == 1);
}

TEST_CASE("aReadingThatCannotBeFromFirstToLastIsListedWhoeverIsUnderLoad") {
  for (const double shown : {127.0, 127.5, -128.0, 0.0, -273.1, 255.0}) {
    SoundLog log;
    log.add("board.temp", [&](double) { return shown; });
    INFO(shown);
    const Problem stuck = log.only("stuck");
    CHECK(stuck.channel == "board.temp");
    CHECK(stuck.startS == 0);
    CHECK(stuck.endS == Approx(599.5));
    CHECK(stuck.text.find("open input") != std::string::npos);
    // Without a load, too.
    log.change("cpu.temp", 0, 601, [](double, double) { return 30.0; });
    for (const char* calm : {"cpu.power", "cpu.load", "cpu.clock"})
      log.change(calm, 0, 601, [](double, double t) { return 10 + std::fmod(t, 3) / 10; });
    CHECK(log.kinds().count("stuck") == 1);
  }
  // A part that is held at its limit all the time may well show it, and a drive may sit at 35 °C.
  SoundLog pinned;
  pinned.add("board.temp.vrm", [](double) { return 116.0; });
  CHECK(pinned.kinds().count("stuck") == 1);
  pinned.run().facts.limits["board.temp.vrm"]["throttle"] = 115;
  CHECK(pinned.kinds().count("stuck") == 0);
  SoundLog calm;
  calm.add("storage.temp", [](double) { return 35.0; });
  CHECK(calm.kinds().count("stuck") == 0);
}

TEST_CASE("aCoarseSensorOnItsPlateauIsNotStuck") {
  SoundLog log;
  log.change("cpu.temp", 0, 601, [](double v, double) { return std::round(v); });
  CHECK(log.kinds().count("stuck") == 0);
  CHECK(log.kinds().count("saturated") == 0);
}

TEST_CASE("aSensorAtTheEndOfItsScaleIsSaturated") {
  SoundLog log;
  log.change("cpu.temp", 0, 601, [](double v, double) { return std::min(v, 80.0); });
  const Problem saturated = log.only("saturated");
  CHECK(saturated.channel == "cpu.temp");
  CHECK(saturated.startS > 120);
  CHECK(saturated.endS > 590);
}

TEST_CASE("theMainsAreNoMillivolts") {
  const auto isSuspected = [](const char* channel, double volts) {
    LogMaker maker(600, 1);
    maker.add(channel, [=](double t) { return volts * (1 + 0.001 * std::sin(t)); });
    maker.run.log.channels.back().quantity = Quantity::Voltage;
    maker.run.log.channels.back().unit = "V";
    const Figures figures = analyzeRun(maker.run);
    return std::any_of(figures.problems.begin(), figures.problems.end(),
                       [](const Problem& problem) { return problem.kind == ProblemKind::UnitSuspected; });
  };
  for (const double mains : {100.0, 120.0, 230.0, 400.0}) CHECK_FALSE(isSuspected("mains", mains));
  CHECK(isSuspected("some rail", 3300));  // 3.3 V
  CHECK(isSuspected("cpu.volt", 230));    // no processor has that
  CHECK_FALSE(isSuspected("cpu.volt", 1.1));
}

TEST_CASE("unitsThatCannotBeAreSuspected") {
  const struct {
    const char* channel;
    double factor, offset;
    const char* words;
  } rows[] = {{"cpu.temp", 1, 273.15, "kelvin"},    {"cpu.temp", 1000, 0, "thousandths"},
              {"room.temp", 1.8, 32, "Fahrenheit"}, {"cpu.clock", 1e-3, 0, "GHz"},
              {"cpu.power", 1e3, 0, "mW"},          {"cpu.load", 0.01, 0, "ratio"}};
  for (const auto& row : rows) {
    INFO(row.channel << " " << row.words);
    SoundLog log;
    log.change(row.channel, 0, 601, [&](double v, double) { return v * row.factor + row.offset; });
    bool isSaid = false;
    for (const Problem& problem : log.problems()) {
      if (problem.kind == ProblemKind::UnitSuspected && problem.channel == row.channel)
        isSaid = problem.text.find(row.words) != std::string::npos;
    }
    CHECK(isSaid);
  }
}

TEST_CASE("sourcesThatContradictEachOtherAreNamed") {
  SoundLog rooms;
  rooms.add("room2.temp", [](double) { return 25.5; });
  CHECK(rooms.only("sources_disagree").channel == "room2.temp");
  SoundLog wall;
  wall.add("wall.power", [](double t) { return t < 120 ? 20.0 : 70.0; });
  CHECK(wall.only("sources_disagree").channel == "wall.power");
  SoundLog counter;
  counter.add("cpu.energy", [](double t) { return t < 120 ? 11 * t : 1320 + 60 * (t - 120); });
  CHECK(counter.only("sources_disagree").channel == "cpu.power");
  SoundLog agrees;
  agrees.add("cpu.energy", [](double t) { return t < 120 ? 11 * t : 1320 + 80 * (t - 120); });
  agrees.add("wall.power", [](double t) { return t < 120 ? 40.0 : 130.0; });
  agrees.add("room2.temp", [](double) { return 22.6; });
  CHECK(agrees.kinds() == Kinds{});
}

TEST_CASE("aRoomThatMovesUnderLoadIsAProblem") {
  SoundLog log;
  log.change("room.temp", 0, 601, [](double v, double t) { return v + t / 200; });
  CHECK(log.only("room_moved").startS == 120);
}

TEST_CASE("aDeviceThatHadNotCooledDownStartedWarm") {
  SoundLog falling;
  falling.change("cpu.temp", 0, 120, [](double v, double t) { return v + 14 * std::exp(-t / 60); });
  CHECK(falling.only("started_warm").channel == "cpu.temp");
  // Work that goes on from the first sample, 45 K over room already.
  SoundLog hot;
  hot.change("cpu.temp", 0, 601,
             [](double, double t) { return 22 + 62 - 17 * std::exp(-t / 60) + std::fmod(t, 1.5) / 10; });
  for (const char* name : {"cpu.power", "cpu.load", "cpu.clock"}) {
    const double busy = hot.values(name).back();
    hot.change(name, 0, 601, [&](double, double t) { return busy + std::fmod(t, 1.5) / 10; });
  }
  CHECK(hot.kinds().count("started_warm") == 1);
}

TEST_CASE("burstsBeforeTheLoadAreBackgroundWorkEach") {
  SoundLog log;
  for (const double at : {30.0, 70.0}) {
    log.change("cpu.power", at, at + 6, [](double, double) { return 60.0; });
    log.change("cpu.load", at, at + 6, [](double, double) { return 90.0; });
  }
  std::vector<Problem> bursts;
  for (const Problem& problem : log.problems()) {
    if (problem.kind == ProblemKind::BackgroundLoad) bursts.push_back(problem);
  }
  REQUIRE(bursts.size() == 2);
  CHECK(bursts[0].startS == 30);
  CHECK(bursts[1].endS == 76);
  CHECK(analyzeRun(log.run()).load->startS == 120);
}

TEST_CASE("everyProblemSaysWhatToDo") {
  SoundLog log;
  log.values("cpu.temp")[800] += 21;
  log.change("room.temp", 0, 601, [](double v, double t) { return v + t / 200; });
  log.change("fan.cpu", 0, 601, [](double v, double t) { return v + t; });
  for (const Problem& problem : log.problems()) {
    INFO(problem.text);
    CHECK(problem.text.ends_with("."));
    CHECK((problem.text.find(':') != std::string::npos || problem.text.find(',') != std::string::npos));
  }
}
