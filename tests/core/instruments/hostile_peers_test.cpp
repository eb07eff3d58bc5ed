// SPDX-License-Identifier: GPL-3.0-or-later
// Other sides that mean no good or are broken: a page without an end, one byte a second, a certificate for somebody
// else; and fifty instruments at once.
#include <httplib.h>
#include <sys/resource.h>
#include <sys/socket.h>

#include <atomic>
#include <catch2/catch.hpp>
#include <cmath>
#include <memory>
#include <thread>

#include "instruments/instrument_source.h"
#include "sim/stand_in_meter.h"
#include "tests/support/certificate.h"
#include "tests/support/free_port.h"
#include "tests/support/listening.h"
#include "tests/support/patience.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// Answers every connection with the same head and then with `piece` again and again, `pauseMs` apart, until the other
/// side has had enough.
class EndlessServer {
 public:
  EndlessServer(std::string piece, int pauseMs) : m_piece(std::move(piece)), m_pauseMs(pauseMs) {
    m_thread = std::thread([this] { serve(); });
  }
  ~EndlessServer() {
    m_isOver = true;
    m_listening.end();
    m_thread.join();
  }
  std::string address() const { return "http://127.0.0.1:" + std::to_string(m_listening.port()) + "/metrics"; }
  double sentB() const { return static_cast<double>(m_sentB); }

 private:
  void serve() {
    while (!m_isOver) {
      const int peer = m_listening.next();
      if (peer < 0) return;
      const std::string head = "HTTP/1.1 200 OK\r\nContent-Type: text/plain\r\nContent-Length: 1073741824\r\n\r\n";
      ssize_t sent = send(peer, head.data(), head.size(), MSG_NOSIGNAL);
      while (!m_isOver && sent > 0) {
        if (m_pauseMs > 0) std::this_thread::sleep_for(std::chrono::milliseconds(m_pauseMs));
        sent = send(peer, m_piece.data(), m_piece.size(), MSG_NOSIGNAL);
        if (sent > 0) m_sentB += static_cast<long long>(sent);
      }
      close(peer);
    }
  }

  std::string m_piece;
  int m_pauseMs;
  Listening m_listening;
  std::atomic<bool> m_isOver{false};
  std::atomic<long long> m_sentB{0};
  std::thread m_thread;
};

/// A page over TLS.
class TlsServer {
 public:
  explicit TlsServer(const Certificate& with) : m_server(with.certificateFile.c_str(), with.keyFile.c_str()) {
    m_server.Get("/metrics", [](const httplib::Request&, httplib::Response& response) {
      response.set_content("temp_celsius 42.5\n", "text/plain");
    });
    m_port = m_server.bind_to_any_port("127.0.0.1");
    m_thread = std::thread([this] { m_server.listen_after_bind(); });
  }
  ~TlsServer() {
    m_server.stop();
    m_thread.join();
  }
  std::string address() const { return "https://127.0.0.1:" + std::to_string(m_port) + "/metrics"; }

 private:
  httplib::SSLServer m_server;
  int m_port = 0;
  std::thread m_thread;
};

Instrument pageAt(const std::string& address) {
  Instrument page;
  page.name = "page";
  page.kind = InstrumentKind::OpenMetrics;
  page.address = address;
  page.intervalS = 0.1;
  page.timeoutS = 1;
  InstrumentReading reading;
  reading.role = "cpu.temp";
  reading.unit = {Quantity::Temperature, 1, 0};
  reading.metric = "temp_celsius";
  page.readings = {reading};
  return page;
}

Instrument powerMeterAt(int port, double intervalS) {
  Instrument meter;
  meter.name = "meter";
  meter.address = "127.0.0.1:" + std::to_string(port);
  meter.intervalS = intervalS;
  meter.readings.resize(1);
  meter.readings[0].role = "wall.power";
  meter.readings[0].query = "MEAS:POW?";
  meter.readings[0].unit = {Quantity::Power, 1, 0};
  return meter;
}

double residentMib() {
  std::ifstream status("/proc/self/status");
  for (std::string line; std::getline(status, line);) {
    if (line.starts_with("VmRSS:")) return std::stod(line.substr(6)) / 1024;
  }
  return 0;
}

}  // namespace

TEST_CASE("aPageOfAGigabyteIsGivenUpAfterSixteenMebibytes") {
  const EndlessServer server(std::string(1 << 16, '#'), 0);
  const double beforeMib = residentMib();
  Instrument page = pageAt(server.address());
  page.intervalS = 3600;
  page.timeoutS = 20;
  InstrumentSource source(page);
  REQUIRE(eventually([&] { return source.state().failures > 0; }, 60));
  CHECK(source.whyMissing(0).find("16 MiB") != std::string::npos);
  // What was on its way in sockets comes on top.
  CHECK(server.sentB() < 40e6);
  CHECK(residentMib() - beforeMib < 120);
}

TEST_CASE("aByteASecondIsNoAnswerAndHoldsNobodyUp") {
  const EndlessServer server("#", 1000);
  auto meter = sim::StandInMeter::start({}, [] { return sim::MeterValues{100, 230, 0}; });
  REQUIRE(meter);
  InstrumentSource slow(pageAt(server.address())), other(powerMeterAt((*meter)->port(), 0.05));
  REQUIRE(eventually([&] { return slow.state().failures > 0; }));
  CHECK(std::isnan(slow.sweep().values[0]));
  CHECK_FALSE(slow.whyMissing(0).empty());
  // Meanwhile the other one has been asked many times.
  REQUIRE(eventually([&] { return other.state().answers >= 5; }));
  CHECK(other.state().failures == 0);
  CHECK(other.sweep().values[0] == 100);
}

TEST_CASE("aCertificateForAnotherNameIsRefused") {
  const TempFolder ours, theirs;
  const Certificate right(ours, "IP:127.0.0.1"), wrong(theirs, "DNS:elsewhere.example");
  const TlsServer honest(right), other(wrong);
  Instrument page = pageAt(honest.address());
  page.tlsCa = right.certificateFile;
  InstrumentSource good(page);
  REQUIRE(eventually([&] { return good.state().answers > 0; }));
  CHECK(good.sweep().values[0] == 42.5);
  // It is its own authority, and trusted as one; but it is not this host's.
  page = pageAt(other.address());
  page.tlsCa = wrong.certificateFile;
  InstrumentSource misnamed(page);
  REQUIRE(eventually([&] { return misnamed.state().failures > 0; }));
  CHECK(std::isnan(misnamed.sweep().values[0]));
  CHECK(misnamed.whyMissing(0).find("certificate") != std::string::npos);
  // And nobody's certificate counts without an authority that is trusted.
  page = pageAt(honest.address());
  page.tlsCa = wrong.certificateFile;
  InstrumentSource unknown(page);
  REQUIRE(eventually([&] { return unknown.state().failures > 0; }));
  CHECK(unknown.state().answers == 0);
}

TEST_CASE("fiftyMetersAtOnceAreEachReadAsTheyAre") {
  std::vector<std::unique_ptr<sim::StandInMeter>> meters;
  std::vector<std::unique_ptr<InstrumentSource>> sources;
  for (int i = 0; i < 50; ++i) {
    auto meter = sim::StandInMeter::start({}, [i] { return sim::MeterValues{100.0 + i, 230, 0}; });
    REQUIRE(meter);
    sources.push_back(std::make_unique<InstrumentSource>(powerMeterAt((*meter)->port(), 0.2)));
    meters.push_back(std::move(*meter));
  }
  for (size_t i = 0; i < sources.size(); ++i) {
    INFO(i);
    REQUIRE(eventually([&] { return sources[i]->state().answers >= 3; }));
    CHECK(sources[i]->state().failures == 0);
    CHECK(sources[i]->sweep().values[0] == 100.0 + static_cast<double>(i));
  }
}
