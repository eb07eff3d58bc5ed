// SPDX-License-Identifier: GPL-3.0-or-later
// Sensors behind a real broker on loopback: mosquitto, with and without a password.
#include <catch2/catch.hpp>
#include <cmath>

#include "instruments/instrument_source.h"
#include "instruments/mqtt_talk.h"
#include "tests/support/broker.h"
#include "tests/support/old_broker.h"
#include "tests/support/patience.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

Instrument shelf(const std::string& address) {
  Instrument shelf;
  shelf.name = "shelf sensor";
  shelf.kind = InstrumentKind::Mqtt;
  shelf.address = address;
  shelf.intervalS = 0.1;
  shelf.timeoutS = 2;
  InstrumentReading reading;
  reading.role = "room.temp";
  reading.unit = {Quantity::Temperature, 1, 0};
  reading.topic = "bench/air";
  reading.pointer = "/t";
  shelf.readings = {reading};
  return shelf;
}

double airOf(InstrumentSource& source) { return source.sweep().values.at(0); }

}  // namespace

TEST_CASE("aPayloadIsANumberOrJsonWithAPointer") {
  CHECK(*numberInPayload(" 21.5 ", "") == 21.5);
  CHECK(*numberInPayload(R"({"t": 21.5})", "/t") == 21.5);
  CHECK(*numberInPayload(R"({"a": [{"x/y": "-3"}]})", "/a/0/x~1y") == -3);  // RFC 6901, 3
  const std::pair<std::pair<const char*, const char*>, const char*> cases[] = {
      {{"warm", ""}, "its message \"warm\" is no number"},
      {{"{", "/t"}, "its message \"{\" is no JSON"},
      {{"{\"h\": 1}", "/t"}, "its message has nothing at /t"},
      {{"{\"t\": true}", "/t"}, "what its message has at /t is no number"},
      {{"[1]", "/x"}, "its message has nothing at /x"},
  };
  for (const auto& [given, why] : cases) CHECK(numberInPayload(given.first, given.second).error().message == why);
  CHECK_FALSE(numberInPayload(std::string(70'000, '1'), ""));
}

TEST_CASE("aSensorBehindABrokerIsRead") {
  const Broker broker;
  Sensor sensor(broker);
  InstrumentSource source(shelf(broker.address()));
  REQUIRE(eventually([&] { return !source.state().identity.empty(); }));
  CHECK(source.state().identity == "a broker that speaks MQTT 5");
  REQUIRE(eventually([&] {
    sensor.say("bench/air", R"({"t": 22.5})");
    sensor.say("bench/other", R"({"t": 99})");
    return airOf(source) == 22.5;
  }));
  // A message without the number, as a last will would be: missing at once.
  sensor.say("bench/air", "offline");
  REQUIRE(eventually([&] { return std::isnan(airOf(source)); }, 0.9));
  CHECK(source.whyMissing(0) == "its message \"offline\" is no JSON");
  CHECK_FALSE(source.isGone());
}

TEST_CASE("aRetainedMessageIsNoAnswer") {
  const Broker broker;
  Sensor sensor(broker);
  sensor.say("bench/air", R"({"t": 11})", true);
  InstrumentSource source(shelf(broker.address()));
  REQUIRE(eventually([&] { return source.whyMissing(0) == "only a retained message so far, whose age nobody knows"; }));
  CHECK(std::isnan(airOf(source)));
  CHECK(source.state().answers == 0);
  REQUIRE(eventually([&] {
    sensor.say("bench/air", R"({"t": 23})", true);  // the same kept, but now it is news
    return airOf(source) == 23;
  }));
}

TEST_CASE("aSlowSensorCountsForThreeOfItsUsualIntervals") {
  const Broker broker;
  Sensor sensor(broker);
  InstrumentSource source(shelf(broker.address()));
  REQUIRE(eventually([&] { return !source.state().identity.empty(); }));
  // One every 0.7 s: an answer counts for 2.1 s then, and not for the one second of an instrument that is asked.
  for (int i = 0; i < 4; ++i) {
    sensor.say("bench/air", R"({"t": 20})");
    std::this_thread::sleep_for(std::chrono::milliseconds(700));
  }
  const auto begin = std::chrono::steady_clock::now();
  CHECK(airOf(source) == 20);
  REQUIRE(eventually([&] { return std::isnan(airOf(source)); }));
  const double heldS = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count() + 0.7;
  CHECK(heldS > 1.5);
  CHECK(heldS < 3.5 * patience());
  CHECK(source.whyMissing(0).starts_with("nothing has come for "));
}

TEST_CASE("aBrokerThatGoesIsFoundAgain") {
  Broker broker;
  InstrumentSource source(shelf(broker.address()));
  REQUIRE(eventually([&] { return !source.state().identity.empty(); }));
  broker.end();
  REQUIRE(eventually([&] { return source.isGone(); }));
  CHECK(std::isnan(airOf(source)));
  broker.begin();
  Sensor sensor(broker);
  REQUIRE(eventually([&] {
    sensor.say("bench/air", R"({"t": 24})");
    return airOf(source) == 24;
  }));
}

TEST_CASE("aBrokersPasswordComesFromAFile") {
  const Broker broker("open sesame");
  Instrument known = shelf(broker.address());
  const TempFolder folder;
  known.user = "bench";
  known.passwordFile = folder.path("password");
  std::ofstream(known.passwordFile) << "wrong\n";
  std::filesystem::permissions(known.passwordFile, std::filesystem::perms(0600));
  {
    InstrumentSource source(known);
    REQUIRE(eventually([&] { return source.isGone(); }));
    CHECK(source.whyMissing(0) == "the broker refuses: Not authorized");
  }
  std::ofstream(known.passwordFile) << "open sesame\n";
  InstrumentSource source(known);
  CHECK(eventually([&] { return !source.state().identity.empty(); }));
}

TEST_CASE("aBrokerThatKnowsNoVersion5IsReadInTheOneBefore") {
  for (const OldManners manners : {OldManners::Refuses, OldManners::HangsUp}) {
    INFO((manners == OldManners::Refuses ? "refuses" : "hangs up"));
    const OldBroker broker(manners, "bench/air", R"({"t": 23.25})");
    Instrument sensor = shelf(broker.address());
    InstrumentSource source(sensor);
    REQUIRE(eventually([&] { return airOf(source) == 23.25; }));
    CHECK(source.state().identity == "a broker that speaks MQTT 3.1.1");
    CHECK(broker.refused() >= 1);
  }
}

TEST_CASE("aBrokerBehindTlsIsReadByItsAuthorityOnly") {
  const TempFolder ours, theirs;
  const Certificate right(ours, "IP:127.0.0.1"), wrong(theirs, "DNS:elsewhere.example");
  const Broker broker("", freePort(), &right);
  Instrument sensor = shelf(broker.address());
  sensor.address = "mqtts://" + broker.address();
  sensor.tlsCa = right.certificateFile;
  InstrumentSource source(sensor);
  REQUIRE(eventually([&] { return !source.state().identity.empty(); }));
  CHECK(source.state().identity == "a broker that speaks MQTT 5");
  // Nobody's certificate counts without an authority that is trusted.
  sensor.tlsCa = wrong.certificateFile;
  InstrumentSource unknown(sensor);
  // The first try may be cut short on a busy machine: the next tells.
  REQUIRE(eventually([&] { return unknown.whyMissing(0).find("certificate") != std::string::npos; }));
  CHECK(unknown.state().identity.empty());
  CHECK(unknown.state().answers == 0);
  // One that is trusted, but is not this host's.
  const Broker other("", freePort(), &wrong);
  sensor.address = "mqtts://" + other.address();
  InstrumentSource misnamed(sensor);
  REQUIRE(eventually([&] { return misnamed.state().failures > 0; }));
  CHECK(misnamed.state().identity.empty());
}
