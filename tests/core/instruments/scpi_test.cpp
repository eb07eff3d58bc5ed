// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers of IEEE 488.2, and a meter that speaks SCPI with every fault it may have.
#include <arpa/inet.h>
#include <fcntl.h>
#include <sys/socket.h>
#include <sys/stat.h>

#include <atomic>
#include <catch2/catch.hpp>
#include <cmath>
#include <thread>

#include "instruments/instrument_source.h"
#include "instruments/line_socket.h"
#include "instruments/scpi_answer.h"
#include "sim/stand_in_meter.h"
#include "system/clock.h"
#include "tests/support/patience.h"

using namespace ash;
using namespace ash::tests;

namespace {

double powerOf(const char* answer) {
  const auto number = parseScpiNumber(answer);
  REQUIRE(number);
  REQUIRE(number->unit);
  CHECK(number->unit->quantity == Quantity::Power);
  return number->unit->toStored(number->value);
}

/// 162.5 W at 230 V, asked for ten times a second.
Instrument meterAt(int port, double timeoutS = 0.3) {
  Instrument meter;
  meter.name = "meter";
  meter.kind = InstrumentKind::Scpi;
  meter.address = "127.0.0.1:" + std::to_string(port);
  meter.intervalS = 0.1;
  meter.timeoutS = timeoutS;
  InstrumentReading power, volts;
  power.role = "wall.power";
  power.query = "MEAS:POW?";
  power.unit = {Quantity::Power, 1, 0};
  volts.name = "mains";
  volts.query = "measure:voltage?";
  volts.unit = {Quantity::Voltage, 1, 0};
  volts.unitText = "V";
  meter.readings = {power, volts};
  return meter;
}

std::unique_ptr<sim::StandInMeter> standIn(sim::MeterFault fault = sim::MeterFault::None, int everyNth = 1,
                                           int port = 0) {
  auto meter = sim::StandInMeter::start({port, fault, everyNth}, [] { return sim::MeterValues{162.5, 230, 3}; });
  REQUIRE(meter);
  return std::move(*meter);
}

}  // namespace

TEST_CASE("numbersOfTheStandardAreReadWithTheirSuffixes") {
  CHECK(parseScpiNumber("42")->value == 42);
  CHECK(parseScpiNumber("+1.625000E+02")->value == 162.5);
  CHECK(parseScpiNumber(" -.5e1 ")->value == -5);
  CHECK(parseScpiNumber("3.")->value == 3);
  CHECK(powerOf("0.0284 kW") == Approx(28.4));
  CHECK(powerOf("28400 mW") == Approx(28.4));
  CHECK(powerOf("5 MW") == Approx(0.005));  // milliwatt, as the standard says
  CHECK(powerOf("5 MAW") == Approx(5e6));
  CHECK(powerOf("162.5W") == 162.5);
  const auto clock = parseScpiNumber("2.4 MHZ");
  CHECK(clock->unit->toStored(clock->value) == Approx(2.4));  // its one exception
  const auto warm = parseScpiNumber("3.1315E2 K");
  CHECK(warm->unit->toStored(warm->value) == Approx(40));
  for (const char* none : {"9.91E37", "9.9E37", "-9.9E+37", "9.91e37 W"})
    CHECK(std::isnan(parseScpiNumber(none)->value));
  for (const char* bad : {"", "W", "1,2", "1;2", "12 volts", "1e", "0x1F", "nan", "#210", "1 2", "--3"})
    CHECK_FALSE(parseScpiNumber(bad));
  CHECK(parseScpiNumber("\x1b[31m!").error().message == "\" [31m!\" is not one number");  // nothing reaches a terminal
}

TEST_CASE("anAddressHasAHostAndAPort") {
  CHECK(parseHostPort("127.0.0.1:1234", "5025")->port == "1234");
  CHECK(parseHostPort("meter.lan", "5025")->port == "5025");
  CHECK(parseHostPort("[::1]:99", "5025")->host == "::1");
  CHECK(parseHostPort("::1", "5025")->host == "::1");
  for (const char* bad : {"", ":1", "a:b", "a:99999", "[::1", "[::1]x"}) CHECK_FALSE(parseHostPort(bad, "5025"));
}

TEST_CASE("aMeterIsAskedAndSaysWhoItIs") {
  const auto meter = standIn();
  InstrumentSource source(meterAt(meter->port()));
  source.waitForFirst(5);
  REQUIRE(eventually([&] { return source.state().answers >= 6; }));
  const InstrumentState state = source.state();
  CHECK(state.identity == "Ash Gauge,Stand-in meter,0,1.0");
  CHECK(state.failures == 0);
  CHECK(state.error.empty());
  const Sweep sweep = source.sweep();
  CHECK(sweep.values == std::vector<double>{162.5, 230});
  CHECK(std::abs(sweep.timeS - bootTimeS()) < 1);
  CHECK(source.info().readings[0].column() == "wall.power");
  CHECK(source.info().readings[1].column() == "mains");
  CHECK_FALSE(source.isGone());
}

TEST_CASE("noFaultOfAMeterMakesAWrongValue") {
  for (const auto fault : {sim::MeterFault::Late, sim::MeterFault::Rubbish, sim::MeterFault::Half,
                           sim::MeterFault::HangUp, sim::MeterFault::WrongUnit, sim::MeterFault::Silent}) {
    INFO(static_cast<int>(fault));
    // Every third of its answers: sometimes the power's, sometimes the voltage's.
    const auto meter = standIn(fault, 3);
    InstrumentSource source(meterAt(meter->port()));
    size_t values = 0;
    const auto sweepOnce = [&] {
      const Sweep sweep = source.sweep();
      for (size_t i = 0; i < sweep.values.size(); ++i) {
        if (std::isnan(sweep.values[i])) continue;
        ++values;
        CHECK(sweep.values[i] == (i == 0 ? 162.5 : 230.0));
      }
      const InstrumentState state = source.state();
      return values > 4 && state.failures >= 3;
    };
    CHECK(eventually(sweepOnce));
  }
}

TEST_CASE("whatIsWrongIsSaidInWords") {
  const auto wrong = standIn(sim::MeterFault::WrongUnit);
  InstrumentSource units(meterAt(wrong->port()));
  REQUIRE(eventually([&] { return units.state().failures > 0; }));
  CHECK(units.whyMissing(0) == "MEAS:POW? was answered in V, which is no unit of wall.power");
  const auto good = standIn();
  Instrument asks = meterAt(good->port());
  asks.readings.resize(1);
  asks.readings[0].query = "MEAS:WARP?";
  InstrumentSource unknown(asks);
  REQUIRE(eventually([&] { return unknown.state().failures > 0; }));
  CHECK(unknown.whyMissing(0).starts_with("no answer to MEAS:WARP? within 0.3 s"));
  CHECK(std::isnan(unknown.sweep().values[0]));
}

TEST_CASE("aLostMeterIsMissingAndFoundAgain") {
  auto meter = standIn();
  const int port = meter->port();
  InstrumentSource source(meterAt(port));
  REQUIRE(eventually([&] { return source.state().answers > 2; }));
  meter.reset();
  REQUIRE(eventually([&] { return source.isGone(); }));
  CHECK(std::isnan(source.sweep().values[0]));  // never its last value
  CHECK_FALSE(source.whyMissing(0).empty());
  meter = standIn(sim::MeterFault::None, 1, port);
  REQUIRE(eventually([&] { return !source.isGone() && source.sweep().values[0] == 162.5; }));
}

TEST_CASE("nobodyWaitsForAMeterThatDoesNotAnswer") {
  const auto meter = standIn(sim::MeterFault::Silent);
  InstrumentSource source(meterAt(meter->port(), 30));
  const double startS = monotonicS();
  for (int i = 0; i < 100; ++i) CHECK(std::isnan(source.sweep().values[0]));
  CHECK(monotonicS() - startS < 1);  // thirty seconds of time-out are the meter's own
}

TEST_CASE("aDelayPutsValuesIntoTheSweepTheyBelongTo") {
  const auto meter = standIn();
  Instrument late = meterAt(meter->port());
  late.delayS = 0.5;
  InstrumentSource source(late);
  REQUIRE(eventually([&] { return source.state().answers > 2; }));
  std::vector<double> sweptS{bootTimeS()};
  CHECK(source.sweep().values.empty());  // nothing is known of now yet
  std::vector<Sweep> told;
  double longestS = 0;
  REQUIRE(eventually([&] {
    longestS = std::max(longestS, bootTimeS() - sweptS.back());
    sweptS.push_back(bootTimeS());
    const Sweep sweep = source.sweep();
    if (!sweep.values.empty()) told.push_back(sweep);
    return told.size() >= 8 && std::isfinite(told.back().values[0]);
  }));
  for (size_t i = 0; i < told.size(); ++i) {
    // Each belongs to one of the sweeps that were made, in their order.
    const bool isOneOfThem =
        std::any_of(sweptS.begin(), sweptS.end(), [&](double t) { return std::abs(t - told[i].timeS) < 0.05; });
    CHECK(isOneOfThem);
    if (i > 0) CHECK(told[i].timeS > told[i - 1].timeS);
  }
  // Not before its time, but for a quarter of the time between two sweeps.
  CHECK(bootTimeS() - told.back().timeS >= 0.5 - 0.25 * longestS);
}

TEST_CASE("aDelayOfWholeSweepsLosesNone") {
  const auto meter = standIn();
  Instrument late = meterAt(meter->port());
  late.delayS = 0.4;
  InstrumentSource source(late);
  REQUIRE(eventually([&] { return source.state().answers > 8; }));
  std::vector<double> sweptS, toldS;
  const auto begin = std::chrono::steady_clock::now();
  for (int i = 0; i < 20; ++i) {
    std::this_thread::sleep_until(begin + i * std::chrono::milliseconds(200));
    sweptS.push_back(bootTimeS());
    if (const Sweep sweep = source.sweep(); !sweep.values.empty()) toldS.push_back(sweep.timeS);
  }
  // Two sweeps back, each once; a machine that stands still for a moment may merge some.
  CHECK(toldS.size() >= 15);
  for (size_t i = 0; i < toldS.size(); ++i) {
    const bool isOneOfThem =
        std::any_of(sweptS.begin(), sweptS.end(), [&](double t) { return std::abs(t - toldS[i]) < 0.02; });
    CHECK(isOneOfThem);
    if (i > 0) CHECK(toldS[i] > toldS[i - 1]);
  }
}

TEST_CASE("anInstrumentThatRestsIsLeftAloneAndComesBack") {
  std::atomic<int> asked{0};
  auto meter = sim::StandInMeter::start({}, [&] {
    ++asked;
    return sim::MeterValues{162.5, 230, 3};
  });
  REQUIRE(meter);
  InstrumentSource source(meterAt((*meter)->port()));
  REQUIRE(eventually([&] { return source.sweep().values[0] == 162.5; }));
  source.rest(true);
  REQUIRE(eventually([&] { return std::isnan(source.sweep().values[0]); }));
  CHECK_FALSE(source.isGone());  // it is not lost
  const int before = asked;
  std::this_thread::sleep_for(std::chrono::milliseconds(500));
  CHECK(asked == before);
  source.rest(false);
  CHECK(eventually([&] { return source.sweep().values[0] == 162.5; }));
  CHECK(asked > before);
}

TEST_CASE("aChildOfThisProgramHoldsNoConnectionOpen") {
  const auto meter = standIn();
  LineSocket socket;
  REQUIRE(socket.connect({"127.0.0.1", std::to_string(meter->port())}, 5));
  // What a child would have: every descriptor that closes at exec is no part of it.
  int sockets = 0;
  for (int descriptor = 3; descriptor < 256; ++descriptor) {
    struct stat about {};
    if (fstat(descriptor, &about) != 0 || !S_ISSOCK(about.st_mode)) continue;
    sockaddr_storage peer{};
    socklen_t size = sizeof peer;
    const bool isOurs = getpeername(descriptor, reinterpret_cast<sockaddr*>(&peer), &size) == 0 &&
                        peer.ss_family == AF_INET &&
                        ntohs(reinterpret_cast<sockaddr_in*>(&peer)->sin_port) == meter->port();
    if (!isOurs) continue;
    ++sockets;
    CHECK((fcntl(descriptor, F_GETFD) & FD_CLOEXEC) != 0);
  }
  CHECK(sockets == 1);
}
