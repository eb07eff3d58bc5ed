// SPDX-License-Identifier: GPL-3.0-or-later
// How often the offset of another clock is found, refused or wrong: simulated pairs of readings that move together
// (drift, gaps, noise, other intervals, cut ends), and pairs that have nothing in common.
// usage: offset_rounds [PAIRS OF EACH KIND [SEED]]
#include <fmt/format.h>

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <random>

#include "analysis/alignment/clock_offset.h"

namespace {

using namespace ash;
using Shape = std::function<double(double)>;

std::mt19937_64& source() {
  static std::mt19937_64 random(1);
  return random;
}
double between(double low, double high) { return std::uniform_real_distribution<>(low, high)(source()); }
double evenly(double low, double high) { return std::exp(between(std::log(low), std::log(high))); }
double normal() { return std::normal_distribution<>()(source()); }
bool halfOfThem() { return between(0, 1) < 0.5; }

enum class Kind { OneLoad, Steps, Cycles, SlowNoise, Temperature };
struct KindName {
  Kind kind;
  const char* words;
};
constexpr KindName kKinds[] = {{Kind::OneLoad, "power, one load between two rests"},
                               {Kind::Steps, "power, many steps"},
                               {Kind::Cycles, "power, cycles that repeat"},
                               {Kind::SlowNoise, "power, slow noise only"},
                               {Kind::Temperature, "temperature of many steps"}};

// Straight lines through values at steps of `stepS`.
Shape through(std::vector<double> values, double stepS) {
  return [values = std::move(values), stepS](double t) {
    const double at = std::clamp(t / stepS, 0.0, static_cast<double>(values.size() - 2));
    const auto i = static_cast<size_t>(at);
    const double share = at - static_cast<double>(i);
    return values[i] * (1 - share) + values[i + 1] * share;
  };
}

Shape steps(double lengthS) {
  std::vector<std::pair<double, double>> levels;
  const double idle = between(5, 40), full = idle + between(20, 200);
  for (double t = 0; t < lengthS; t += between(20, 200)) levels.emplace_back(t, between(idle, full));
  return [levels](double t) {
    double value = levels.front().second;
    for (const auto& [from, level] : levels) {
      if (from > t) break;
      value = level;
    }
    return value;
  };
}

Shape shapeOf(Kind kind, double lengthS) {
  const double idle = between(5, 40), full = idle + between(20, 200);
  switch (kind) {
    case Kind::OneLoad: {
      const double from = between(0.1, 0.3) * lengthS, to = between(0.6, 0.9) * lengthS;
      return
          [=](double t) { return t < from || t > to ? idle : full * (1 + 0.03 * (1 - std::exp(-(t - from) / 200))); };
    }
    case Kind::Steps:
      return steps(lengthS);
    case Kind::Cycles: {
      const double period = between(40, 120), duty = between(0.3, 0.7), from = between(0.1, 0.2) * lengthS;
      return [=](double t) {
        if (t < from) return idle;
        return std::fmod(t - from, period) < period * duty ? full : idle + 0.4 * (full - idle);
      };
    }
    case Kind::SlowNoise: {
      std::vector<double> values;
      double state = 0;
      for (double t = 0; t < lengthS + 10; t += 1) values.push_back(60 + 3 * (state = 0.98 * state + normal()));
      return through(std::move(values), 1);
    }
    case Kind::Temperature: {
      const Shape power = steps(lengthS);
      std::vector<double> values;
      double fast = power(0), slow = fast;
      for (double t = 0; t < lengthS + 10; t += 0.5) {
        fast += (power(t) - fast) * 0.5 / 8;
        slow += (fast - slow) * 0.5 / 90;
        values.push_back(25 + 0.3 * (0.6 * fast + 0.4 * slow));
      }
      return through(std::move(values), 0.5);
    }
  }
  return {};
}

struct Logger {
  double intervalS, noise;
  double gain = 1, offset = 0, step = 0;  // of its scale
  double clockS = 0, drift = 0;           // run time = clockS + its time · (1 + drift)
  bool hasGaps = false;
};

Series logged(const Shape& shape, double from, double to, const Logger& logger) {
  Series series;
  const double gapFrom = between(from, to), gapTo = gapFrom + between(10, (to - from) * 0.1);
  for (double t = from; t < to; t += logger.intervalS) {
    const double at = t + between(-0.02, 0.02) * logger.intervalS;
    if (logger.hasGaps && ((at > gapFrom && at < gapTo) || between(0, 1) < 0.01)) continue;
    double value = logger.offset + logger.gain * shape(at) + logger.noise * normal();
    if (logger.step > 0) value = std::round(value / logger.step) * logger.step;
    series.t.push_back((at - logger.clockS) / (1 + logger.drift));
    series.v.push_back(value);
  }
  return series;
}

struct Tally {
  int found = 0, refused = 0, wrong = 0, covered = 0, driftTold = 0, driftRight = 0;
  double halfS = 0;
};

void play(Kind kind, Tally& tally) {
  const double lengthS = between(900, 7200);
  const Shape shape = shapeOf(kind, lengthS);
  const double clockS = between(-300, 300), drift = between(-200e-6, 200e-6);
  const Logger recorder{evenly(0.5, 2), between(0.1, 2), 1, 0, 0, 0, 0, halfOfThem()};
  const Logger meter{
      evenly(0.5, 5), between(0.1, 3), between(0.8, 1.4), between(5, 30), between(0, 1) < 0.3 ? 1.0 : 0.0,
      clockS,         drift,           halfOfThem()};
  const double from = halfOfThem() ? between(0, 0.2) * lengthS : 0,
               to = halfOfThem() ? between(0.8, 1) * lengthS : lengthS;
  const auto told = findClockOffset(logged(shape, 0, lengthS, recorder), logged(shape, from, to, meter));
  if (!told) {
    ++tally.refused;
    return;
  }
  // Where the middle of the log is put, beside where it belongs.
  const double middle = (from + to) / 2, meterS = (middle - clockS) / (1 + drift);
  const double put = told->offsetS + meterS * (1 + told->driftPpm.value_or(0) * 1e-6);
  ++(std::abs(put - middle) <= std::max(recorder.intervalS, meter.intervalS) ? tally.found : tally.wrong);
  const double offsetS = told->driftPpm ? clockS : middle - meterS;
  tally.covered += told->offsetLowS <= offsetS && offsetS <= told->offsetHighS;
  tally.halfS += (told->offsetHighS - told->offsetLowS) / 2;
  tally.driftTold += told->driftPpm.has_value();
  tally.driftRight += told->driftPpm && std::abs(*told->driftPpm - drift * 1e6) <= 100;
}

}  // namespace

int main(int argc, char** argv) {
  const int pairs = argc > 1 ? std::atoi(argv[1]) : 200;
  if (argc > 2) source().seed(static_cast<unsigned>(std::atoi(argv[2])));
  for (const KindName& name : kKinds) {
    Tally tally;
    for (int i = 0; i < pairs; ++i) play(name.kind, tally);
    const int told = std::max(1, pairs - tally.refused);
    fmt::print(
        "{}: {} of {} within a sample, {} refused, {} wrong; 95 % interval right in {:.0f} % (half {:.2f} s); drift "
        "told {}, within 100 ppm {}\n",
        name.words, tally.found, pairs, tally.refused, tally.wrong, 100.0 * tally.covered / told, tally.halfS / told,
        tally.driftTold, tally.driftRight);
  }
  int taken = 0, all = 0;
  for (const KindName& a : kKinds) {
    for (const KindName& b : kKinds) {
      for (int i = 0; i < pairs / 4; ++i, ++all) {
        const double one = between(900, 7200), other = between(900, 7200);
        const Series run = logged(shapeOf(a.kind, one), 0, one, {between(0.5, 2), between(0.1, 2)});
        const Series log = logged(shapeOf(b.kind, other), 0, other, {between(0.5, 5), between(0.1, 3), 1.2, 9});
        taken += findClockOffset(run, log).has_value();
      }
    }
  }
  fmt::print("pairs with nothing in common: {} of {} were given an offset\n", taken, all);
  return 0;
}
