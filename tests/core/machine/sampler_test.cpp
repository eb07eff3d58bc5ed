// SPDX-License-Identifier: GPL-3.0-or-later
// The steady beat, whatever a source does.
#include "machine/sampler.h"

#include <atomic>
#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>
#include <map>
#include <thread>

#include "system/clock.h"

using namespace ash;

namespace {

/// Blocks while it is told to; counts its sweeps.
class FakeSource : public Source {
 public:
  explicit FakeSource(double value, double paceS = 0) : m_value(value) { m_info.paceS = paceS; }
  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override {
    while (isBlocked) std::this_thread::sleep_for(std::chrono::milliseconds(5));
    ++count;
    return {bootTimeS(), {m_value}};
  }
  std::atomic<bool> isBlocked{false};
  std::atomic<int> count{0};

 private:
  SourceInfo m_info;
  double m_value;
};

// How many sweeps of each source come within so many seconds.
std::map<int, int> countFor(Sampler& sampler, double seconds) {
  std::map<int, int> counts;
  const double endS = monotonicS() + seconds;
  while (monotonicS() < endS) {
    const auto tick = sampler.next(0.02);
    if (!tick) continue;
    for (const auto& [source, sweep] : tick->sweeps) ++counts[source];
  }
  return counts;
}

}  // namespace

TEST_CASE("allSourcesOfATickAreSweptTogetherAndInOrder") {
  auto a = std::make_shared<FakeSource>(1), b = std::make_shared<FakeSource>(2);
  Sampler sampler({a, b}, 0.02);
  for (int i = 0; i < 5;) {
    const auto tick = sampler.next(1);
    REQUIRE(tick);
    REQUIRE(tick->sweeps.size() == 2);
    CHECK(tick->sweeps[0].first == 0);
    CHECK(tick->sweeps[0].second.values == std::vector<double>{1});
    CHECK(tick->sweeps[1].second.values == std::vector<double>{2});
    CHECK(tick->sweeps[1].second.timeS >= tick->sweeps[0].second.timeS);
    ++i;
  }
  CHECK(sampler.lostTicks() == 0);
  CHECK(sampler.takeBlocked().empty());
}

TEST_CASE("aSourceThatBlocksKeepsNoOtherFromBeingRead") {
  auto good = std::make_shared<FakeSource>(1), bad = std::make_shared<FakeSource>(2),
       late = std::make_shared<FakeSource>(3);
  Sampler sampler({good, bad, late}, 0.05);
  CHECK(countFor(sampler, 0.3)[1] > 0);
  bad->isBlocked = true;
  auto counts = countFor(sampler, 1.2);
  CHECK(counts[0] > 5);
  CHECK(counts[2] > 5);
  CHECK(counts[1] <= 1);
  CHECK(sampler.takeBlocked() == std::vector<int>{1});
  CHECK(sampler.takeBlocked().empty());
  // It answers again, and is read again by itself.
  bad->isBlocked = false;
  counts = countFor(sampler, 0.6);
  CHECK(counts[0] > 3);
  CHECK(counts[1] > 3);
  CHECK(sampler.takeBlocked().empty());
}

TEST_CASE("stampsOfASourceRiseThroughABlock") {
  auto good = std::make_shared<FakeSource>(1), bad = std::make_shared<FakeSource>(2);
  Sampler sampler({good, bad}, 0.02);
  std::map<int, double> last;
  const double startS = monotonicS();
  while (monotonicS() - startS < 1.5) {
    const double nowS = monotonicS() - startS;
    bad->isBlocked = nowS > 0.2 && nowS < 0.9;
    const auto tick = sampler.next(0.02);
    if (!tick) continue;
    for (const auto& [source, sweep] : tick->sweeps) {
      if (last.contains(source)) CHECK(sweep.timeS > last[source]);
      last[source] = sweep.timeS;
    }
  }
  CHECK(last.size() == 2);
  CHECK(bad->count > 10);
}

TEST_CASE("aSamplerIsGoneAtOnceAlthoughASourceBlocks") {
  auto bad = std::make_shared<FakeSource>(2);
  bad->isBlocked = true;
  const double startS = monotonicS();
  {
    Sampler sampler({bad}, 0.05);
    CHECK_FALSE(sampler.next(0.1));
  }
  CHECK(monotonicS() - startS < 3);
  bad->isBlocked = false;  // its thread ends now
  while (bad.use_count() > 1 && monotonicS() - startS < 5) std::this_thread::sleep_for(std::chrono::milliseconds(5));
  CHECK(bad.use_count() == 1);
}

TEST_CASE("ticksThatNobodyFetchesAreCounted") {
  auto fast = std::make_shared<FakeSource>(1);
  Sampler sampler({fast}, 1e-5);
  const double startS = monotonicS();
  while (sampler.lostTicks() == 0 && monotonicS() - startS < 20)
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  CHECK(sampler.lostTicks() > 0);
}

TEST_CASE("aSourceWithAPaceKeepsItAndDelaysNobody") {
  auto quick = std::make_shared<FakeSource>(1), slow = std::make_shared<FakeSource>(2, 0.25);
  slow->isBlocked = true;  // it takes its time, too
  Sampler sampler({quick, slow}, 0.02);
  CHECK(countFor(sampler, 0.5)[0] > 10);
  CHECK(slow->count == 0);
  slow->isBlocked = false;
  const double startS = monotonicS();
  const auto counts = countFor(sampler, 1.1);
  CHECK(counts.at(1) >= 3);
  // A busy machine may hold this loop up: what counts is the time that really went by.
  CHECK(counts.at(1) <= (monotonicS() - startS) / 0.25 + 2);
  CHECK(counts.at(0) > 25);
  CHECK(sampler.takeBlocked().empty());
}
