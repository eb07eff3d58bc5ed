// SPDX-License-Identifier: GPL-3.0-or-later
// What a person still has to type: less what was typed, and what an instrument tells by itself.
#include "model/owed_readings.h"

#include <catch2/catch.hpp>

using namespace ash;

namespace {

OwedReading owed(const char* role, OwedReading::When when) {
  OwedReading reading;
  reading.role = role;
  reading.when = when;
  return reading;
}

Event typed(const char* role, double atS) {
  Event event;
  event.kind = EventKind::Reading;
  event.role = role;
  event.value = 1;
  event.atS = atS;
  return event;
}

const std::vector<PhaseSpan> kSoaking = {{PhaseKind::Idle, 0, 60, true}, {PhaseKind::Soak, 60, 600, true}};
const std::vector<PhaseSpan> kMeasuring = {
    {PhaseKind::Idle, 0, 60, true}, {PhaseKind::Soak, 60, 600, true}, {PhaseKind::Measure, 600, 900, true}};

}  // namespace

TEST_CASE("whatWasTypedOnceSettledIsOwedNoMore") {
  const std::vector<OwedReading> byHand = {owed("noise", OwedReading::When::Settled)};
  CHECK(stillToTake(byHand, {typed("noise", 300)}, kMeasuring, kMissing).size() == 1);  // too early
  CHECK(stillToTake(byHand, {typed("noise", 700)}, kMeasuring, kMissing).empty());
  CHECK(stillToTake(byHand, {typed("noise", 500)}, kMeasuring, 450).empty());  // it had settled before
  CHECK(stillToTake(byHand, {typed("wall.power", 700)}, kMeasuring, kMissing).size() == 1);
}

TEST_CASE("whatAnInstrumentTellsTicksItselfOff") {
  const std::vector<OwedReading> byHand = {owed("noise", OwedReading::When::Settled),
                                           owed("wall.power", OwedReading::When::Settled)};
  CHECK(stillToTake(byHand, {}, kSoaking, kMissing, {"noise"}).size() == 2);  // not settled yet: it may still change
  const auto left = stillToTake(byHand, {}, kMeasuring, kMissing, {"noise", "room.temp"});
  REQUIRE(left.size() == 1);
  CHECK(left[0].role == "wall.power");
}

TEST_CASE("whatInstrumentsToldStandsInWhatARunKeepsOfItsBench") {
  const Json bench =
      parseObject(R"({"kind": "kernel", "instruments": [{"name": "m", "readings": [{"reading": "wall.power"},
    {"reading": "noise"}]}, {"name": "n", "readings": [{"reading": "room.temp"}]}]})");
  CHECK(toldByInstruments(bench) == std::set<std::string>{"noise", "room.temp", "wall.power"});
  for (const char* none :
       {R"({"kind": "simulated"})", R"({"instruments": 7})", R"({"instruments": [{"readings": "x"}]})"})
    CHECK(toldByInstruments(parseObject(none)).empty());
}
