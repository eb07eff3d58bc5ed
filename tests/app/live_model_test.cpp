// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/live_model.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>

#include "app/follow/live_messages.h"
#include "app/watch/lane.h"
#include "app/watch/watch_words.h"

using namespace ash;

namespace {

std::shared_ptr<LiveBatch> firstBatch() {
  auto info = std::make_shared<LiveRunInfo>();
  info->id = "r1";
  info->watched = "cpu.temp";
  info->procedure = *parsePhases("idle 10s, soak 1h");
  Reading cpu;
  cpu.role = "cpu.temp";
  cpu.limits = {{"throttle", 95}};
  info->readings["cpu.temp"] = cpu;
  auto batch = std::make_shared<LiveBatch>();
  batch->begun = info;
  return batch;
}

}  // namespace

TEST_CASE("batchesAddUpAndANewRunStartsAfresh") {
  LiveModel model;
  auto batch = firstBatch();
  batch->samples["cpu.temp"] = {{0, 0.5}, {40, 41}};
  batch->phases = {{PhaseKind::Idle, 0, 10, true}, {PhaseKind::Soak, 10, INFINITY, true}};
  model.take(batch);
  auto more = std::make_shared<LiveBatch>();
  more->samples["cpu.temp"] = {{1.0}, {90}};
  model.take(more);
  CHECK(model.series("cpu.temp").v == std::vector<double>{40, 41, 90});
  CHECK(model.highest("cpu.temp") == 90);
  CHECK(model.latest("cpu.temp") == 90);
  CHECK(model.loadStartS() == 10.0);
  CHECK(std::isnan(model.roomC()));
  CHECK(model.limit("cpu.temp", "throttle") == 95.0);
  CHECK_FALSE(model.limit("cpu.temp", "critical"));
  model.take(firstBatch());
  CHECK(model.series("cpu.temp").empty());
  CHECK(std::isnan(model.highest("cpu.temp")));
}

TEST_CASE("aReadingThatHasNotComeForAWhileIsMissing") {
  LiveModel model;
  auto batch = firstBatch();
  batch->samples["cpu.temp"] = {{0, 1}, {40, 41}};
  batch->samples["room.temp"] = {{0, 30}, {22, 22}};
  model.take(batch);
  CHECK(std::isnan(model.latest("cpu.temp")));
  CHECK(model.roomC() == 22);
}

TEST_CASE("aLongRunIsThinnedAndKeepsItsSpike") {
  LiveModel model;
  auto batch = firstBatch();
  Series series;
  for (int i = 0; i < 60'000; ++i) {
    series.t.push_back(i);
    series.v.push_back(i == 777 ? 99.0 : 50.0 + (i % 2));
  }
  for (size_t from = 0; from < series.size(); from += 500) {
    auto part = std::make_shared<LiveBatch>();
    if (from == 0) part->begun = batch->begun;
    const auto a = static_cast<std::ptrdiff_t>(from), b = static_cast<std::ptrdiff_t>(from + 500);
    part->samples["cpu.temp"] = {{series.t.begin() + a, series.t.begin() + b},
                                 {series.v.begin() + a, series.v.begin() + b}};
    model.take(part);
  }
  const Series& kept = model.series("cpu.temp");
  CHECK(kept.size() <= 12'500);
  CHECK(*std::max_element(kept.v.begin(), kept.v.end()) == 99);
  CHECK(std::is_sorted(kept.t.begin(), kept.t.end()));
  CHECK(kept.t.back() == 59'999);
}

TEST_CASE("aRunAtItsLimitGetsNoForecast") {
  LiveModel model;
  auto batch = firstBatch();
  batch->samples["cpu.temp"] = {{20}, {94.6}};
  LiveState state;
  state.isLoadOn = true;
  state.forecast.value = 60;
  batch->state = state;
  model.take(batch);
  CHECK(isPinned(model));
  CHECK(settlingWords(model).figure.isEmpty());
  CHECK(settlingWords(model).head == QStringLiteral("At its limit"));
  // Nor is anything short of it.
  auto more = std::make_shared<LiveBatch>();
  state.forecast.remainingK = 0;
  more->state = state;
  model.take(more);
  CHECK_FALSE(endPhaseWords(model).contains(QStringLiteral("where it settles")));
  CHECK(endPhaseWords(model).contains(QStringLiteral("ended by hand")));
}

TEST_CASE("whileABatteryIsRunDownItsEndIsTheQuestion") {
  LiveModel model;
  auto batch = firstBatch();
  auto info = std::make_shared<LiveRunInfo>(*batch->begun);
  info->procedure = *parsePhases("idle 10s, measure battery 20%, cool 1min");
  info->readings["battery.charge"].role = "battery.charge";
  batch->begun = info;
  batch->samples["cpu.temp"] = {{20}, {60}};
  batch->samples["battery.charge"] = {{20}, {91}};
  batch->phases = {{PhaseKind::Idle, 0, 10, true}, {PhaseKind::Measure, 10, INFINITY, true}};
  LiveState state;
  state.isLoadOn = true;
  state.forecast.value = 70;
  batch->state = state;
  model.take(batch);
  CHECK(settlingWords(model).head == QStringLiteral("Battery at 20 % in about"));
  CHECK(settlingWords(model).figure.isEmpty());
  auto more = std::make_shared<LiveBatch>();
  state.drainedInS = {3720, 3600, 4000};
  more->state = state;
  model.take(more);
  CHECK(settlingWords(model).figure == QStringLiteral("1:02:00"));
  CHECK(settlingWords(model).rest.startsWith(QStringLiteral("1:00:00 to 1:06:40")));
  CHECK(phaseEnding(info->procedure.phases[1]) == QStringLiteral("to 20 % of charge"));
  // Its charge has a lane, as it has in no other run.
  const auto hasCharge = [](const LiveModel& of) {
    const auto specs = laneSpecs(of);
    return std::any_of(specs.begin(), specs.end(), [](const LaneSpec& one) { return one.unit == QStringLiteral("%"); });
  };
  CHECK(hasCharge(model));
  LiveModel other;
  auto plain = firstBatch();
  plain->samples = batch->samples;
  other.take(plain);
  CHECK_FALSE(hasCharge(other));
}

TEST_CASE("atItsLimitWhatItWillHoldIsSaid") {
  LiveModel model;
  auto batch = firstBatch();
  batch->samples["cpu.temp"] = {{20}, {94.8}};
  LiveState state;
  state.timeS = 20;
  state.isLoadOn = true;
  state.forecast.value = 95;
  state.forecast.isGoverned = true;
  state.forecast.willHold = "3.41 GHz at 52.3 W";
  state.forecast.remainingPercent = 2.34;
  state.forecast.settlesAtS = 380;
  batch->state = state;
  model.take(batch);
  CHECK(settlingWords(model).head == QStringLiteral("At its limit, will hold"));
  CHECK(settlingWords(model).figure == QStringLiteral("3.41 GHz at 52.3 W"));
  CHECK(settlingWords(model).rest == QStringLiteral("in about 6 min; its temperature is a bound only"));
  CHECK(
      endPhaseWords(model).startsWith(QStringLiteral("Now: held at its limit, with 2.3 % more than it will hold.\n")));
  auto more = std::make_shared<LiveBatch>();
  state.forecast.isSettled = true;
  more->state = state;
  model.take(more);
  CHECK(settlingWords(model).head == QStringLiteral("At its limit, holds"));
  CHECK_FALSE(endPhaseWords(model).startsWith(QStringLiteral("Now:")));
}

TEST_CASE("whatSwingsFarBelowItsLimitIsHeldThereAllTheSame") {
  LiveModel model;
  auto batch = firstBatch();
  batch->samples["cpu.temp"] = {{20}, {83}};
  LiveState state;
  state.timeS = 20;
  state.isLoadOn = true;
  state.forecast.value = 84;
  batch->state = state;
  model.take(batch);
  CHECK_FALSE(isPinned(model));
  state.forecast.isGoverned = true;
  state.forecast.willHold = "3.53 GHz at 98.9 W";
  auto more = std::make_shared<LiveBatch>();
  more->state = state;
  model.take(more);
  CHECK(isPinned(model));
  CHECK(settlingWords(model).figure == QStringLiteral("3.53 GHz at 98.9 W"));
}

TEST_CASE("theVerdictIsSaidOverRoomWhereTheRoomIsKnown") {
  LiveModel model;
  auto batch = firstBatch();
  batch->samples["cpu.temp"] = {{20}, {70}};
  batch->samples["room.temp"] = {{20}, {22}};
  LiveState state;
  state.timeS = 20;
  state.isLoadOn = true;
  state.forecast.value = 81.3;
  state.forecast.low = 80.8;
  state.forecast.high = 81.8;
  state.forecast.remainingK = 11.3;
  state.forecast.settlesAtS = 380;
  batch->state = state;
  model.take(batch);
  CHECK(endPhaseWords(model).startsWith(QStringLiteral("Now: 11.3 K short of where it settles.\n")));
  const SettlingWords words = settlingWords(model);
  CHECK(words.head == QStringLiteral("Settles at"));
  CHECK(words.figure == QStringLiteral("59.3 ± 0.5\u202FK"));
  CHECK(words.rest == QStringLiteral("over room in about 6 min"));
}
