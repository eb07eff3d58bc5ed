// SPDX-License-Identifier: GPL-3.0-or-later
// Live settling, fed by hand; in the recorder's own thread and beside it.
#include "runner/settling_watch.h"

#include <atomic>
#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>
#include <functional>
#include <future>
#include <random>
#include <thread>

using namespace ash;

namespace {

double warmingC(double t) { return 75 - 40 * std::exp(-t / 60); }

/// Gives it moments half a second apart from `fromS` on until it has had so many fits more.
void feedUntilFitted(SettlingWatch& watch, double fromS, int fits, const std::function<double(double)>& degreesC) {
  const long long wanted = watch.fitCount() + fits;
  const auto until = std::chrono::steady_clock::now() + std::chrono::seconds(60);
  for (double t = fromS; watch.fitCount() < wanted; t += 0.5) {
    REQUIRE(std::chrono::steady_clock::now() < until);
    watch.take({t, degreesC(t), 22});
    std::this_thread::sleep_for(std::chrono::milliseconds(1));
  }
}

}  // namespace

TEST_CASE("liveSettlingWaitsUntilItIsSureAndForgetsAtANewLoad") {
  std::mt19937 random(3);
  std::normal_distribution<double> normal(0, 0.1);
  SettlingWatch watch(SettlingWatch::Settings{});
  double settledAt = -1;
  for (double t = 0; t < 900 && settledAt < 0; t += 0.5) {
    watch.take({t, warmingC(t) + normal(random)});
    if (watch.hasSettled()) settledAt = t;
  }
  // Half a kelvin is left at 60·ln(80) = 263 s.
  CHECK(settledAt > 240);
  CHECK(settledAt < 420);
  CHECK(watch.verdict().forecast == Approx(75).margin(0.3));
  watch.restart();
  CHECK_FALSE(watch.hasSettled());
  CHECK(std::isnan(watch.settlesAtS()));
}

TEST_CASE("hoursOfSoakingDoNotFillTheMemoryOrTheTime") {
  SettlingWatch watch(SettlingWatch::Settings{0.125});
  for (double t = 0; t < 12'000; t += 0.5) watch.take({t, 70 + 0.125 * static_cast<int>(t / 3500), 22});
  CHECK(watch.fitCount() < 2200);
  CHECK(watch.verdict().fit.isValid);
}

TEST_CASE("aFitThatTakesLongHoldsUpNobodyAndIsForgottenWithItsLoad") {
  std::promise<void> mayEnd;
  std::shared_future<void> end = mayEnd.get_future().share();
  std::atomic<int> begun = 0;
  SettlingWatch::Settings settings;
  settings.isBeside = true;
  settings.judge = [&](const SettlingQuestion& question) {
    if (++begun == 1) end.wait();
    SettlingVerdict verdict;
    verdict.forecast = question.temperature.v.front();
    return verdict;
  };
  SettlingWatch watch(settings);
  // With the first fit at work until it is let go, readings are taken and no other fit is begun.
  for (double t = 0; t < 20; t += 0.5) watch.take({t, 40, 22});
  CHECK(watch.fitCount() == 0);
  watch.beginLoad();
  mayEnd.set_value();
  // What it says of the load before is not taken for one of this load.
  feedUntilFitted(watch, 20, 1, [](double) { return 50.0; });
  CHECK(begun == 2);
  CHECK(watch.verdict().forecast == 50);
}

TEST_CASE("aFitBesideTheRecorderSaysWhereItSettles") {
  std::mt19937 random(3);
  std::normal_distribution<double> normal(0, 0.1);
  SettlingWatch::Settings settings;
  settings.isBeside = true;
  SettlingWatch watch(settings);
  const auto noisy = [&](double t) { return warmingC(t) + normal(random); };
  for (double t = 0; t < 600; t += 0.5) watch.take({t, noisy(t), 22});
  // The first of these may have been asked early on.
  feedUntilFitted(watch, 600, 2, noisy);
  CHECK(watch.verdict().forecast == Approx(75).margin(0.3));
}
