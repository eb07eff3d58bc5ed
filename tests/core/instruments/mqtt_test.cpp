// SPDX-License-Identifier: GPL-3.0-or-later
// Sensors behind a real broker on loopback: mosquitto, with and without a password.
#include <mosquitto.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <fstream>

#include "instruments/instrument_source.h"
#include "instruments/mqtt_talk.h"
#include "tests/support/free_port.h"
#include "tests/support/patience.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// A broker of its own; anybody may come, unless a password is set.
class Broker {
 public:
  explicit Broker(const std::string& password = "", int port = freePort()) : m_port(port) {
    std::ofstream config(m_folder.path("broker.conf"));
    config << "listener " << m_port << " 127.0.0.1\n";
    if (password.empty()) {
      config << "allow_anonymous true\n";
    } else {
      const std::string file = m_folder.path("passwords");
      const std::string made = "mosquitto_passwd -b -c '" + file + "' bench '" + password + "' 2>/dev/null";
      REQUIRE(std::system(made.c_str()) == 0);
      std::filesystem::permissions(file, std::filesystem::perms(0644));
      config << "allow_anonymous false\npassword_file " << file << "\n";
    }
    config.close();
    std::filesystem::permissions(m_folder.path(), std::filesystem::perms(0755));
    begin();
  }
  ~Broker() { end(); }
  void end() {
    if (m_process <= 0) return;
    kill(m_process, SIGTERM);
    waitpid(std::exchange(m_process, 0), nullptr, 0);
  }
  void begin() {
    const std::string config = m_folder.path("broker.conf");
    m_process = fork();
    if (m_process == 0) {
      if (freopen("/dev/null", "w", stderr) == nullptr) _exit(126);
      for (const char* program : {"/usr/sbin/mosquitto", "/usr/local/sbin/mosquitto"})
        execl(program, "mosquitto", "-c", config.c_str(), nullptr);
      _exit(127);
    }
    REQUIRE(eventually([this] { return isListening(m_port); }));
  }
  std::string address() const { return "127.0.0.1:" + std::to_string(m_port); }
  int port() const { return m_port; }

 private:
  TempFolder m_folder;
  int m_port;
  pid_t m_process = 0;
};

/// Publishes as a sensor would.
class Sensor {
 public:
  explicit Sensor(const Broker& broker) {
    mosquitto_lib_init();
    m_client = mosquitto_new(nullptr, true, nullptr);
    REQUIRE(mosquitto_connect(m_client, "127.0.0.1", broker.port(), 10) == MOSQ_ERR_SUCCESS);
    mosquitto_loop_start(m_client);
  }
  ~Sensor() {
    mosquitto_disconnect(m_client);
    mosquitto_loop_stop(m_client, true);
    mosquitto_destroy(m_client);
  }
  void say(const std::string& topic, const std::string& payload, bool isRetained = false) {
    mosquitto_publish(m_client, nullptr, topic.c_str(), static_cast<int>(payload.size()), payload.data(), 1,
                      isRetained);
  }

 private:
  mosquitto* m_client;
};

Instrument shelf(const Broker& broker) {
  Instrument shelf;
  shelf.name = "shelf sensor";
  shelf.kind = InstrumentKind::Mqtt;
  shelf.address = broker.address();
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
  InstrumentSource source(shelf(broker));
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
  InstrumentSource source(shelf(broker));
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
  InstrumentSource source(shelf(broker));
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
  InstrumentSource source(shelf(broker));
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
  Instrument known = shelf(broker);
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
