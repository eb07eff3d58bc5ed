// SPDX-License-Identifier: GPL-3.0-or-later
// OpenMetrics pages as the standard writes them, and a page over HTTP from a real server.
#include <fmt/format.h>
#include <httplib.h>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <mutex>
#include <thread>

#include "instruments/instrument_source.h"
#include "instruments/openmetrics_text.h"
#include "system/clock.h"
#include "tests/support/patience.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

constexpr char kOpenMetrics[] = "application/openmetrics-text; version=1.0.0; charset=utf-8";

/// A server of one page, on any free port.
class PageServer {
 public:
  PageServer() {
    m_server.Get("/metrics", [this](const httplib::Request& request, httplib::Response& response) {
      const std::lock_guard lock(m_mutex);
      m_token = request.get_header_value("Authorization");
      response.status = m_status;
      if (m_status == 302) response.set_header("Location", "/stolen");
      response.set_content(m_now ? m_now() : m_page, m_type.c_str());
    });
    m_server.Get("/stolen", [this](const httplib::Request&, httplib::Response& response) {
      m_stolen = true;
      response.set_content("stolen 1\n", "text/plain");
    });
    m_port = m_server.bind_to_any_port("127.0.0.1");
    m_thread = std::thread([this] { m_server.listen_after_bind(); });
  }
  ~PageServer() {
    m_server.stop();
    m_thread.join();
  }
  void show(const std::string& page, const std::string& type = "text/plain; version=0.0.4", int status = 200) {
    const std::lock_guard lock(m_mutex);
    m_page = page;
    m_type = type;
    m_status = status;
  }
  /// From now on the page is written anew for each that asks.
  void showAnew(std::function<std::string()> page) {
    const std::lock_guard lock(m_mutex);
    m_now = std::move(page);
  }
  std::string address() const { return "http://127.0.0.1:" + std::to_string(m_port) + "/metrics"; }
  std::string token() {
    const std::lock_guard lock(m_mutex);
    return m_token;
  }
  bool wasRobbed() const { return m_stolen; }

 private:
  httplib::Server m_server;
  int m_port = 0;
  std::thread m_thread;
  std::mutex m_mutex;
  std::string m_page, m_type = "text/plain", m_token;
  std::function<std::string()> m_now;
  int m_status = 200;
  std::atomic<bool> m_stolen{false};
};

Instrument boxAt(const PageServer& server, const std::string& metric, const char* role = "cpu.temp") {
  Instrument box;
  box.name = "other box";
  box.kind = InstrumentKind::OpenMetrics;
  box.address = server.address();
  box.intervalS = 0.1;
  InstrumentReading reading;
  reading.role = role;
  reading.unit = {reading.role.quantity(), 1, 0};
  reading.metric = metric;
  box.readings = {reading};
  return box;
}

double valueOf(InstrumentSource& source) { return source.sweep().values.at(0); }

}  // namespace

TEST_CASE("aPageOfTheStandardIsReadLineByLine") {
  // After the examples of the OpenMetrics specification.
  const auto page = parseMetrics(
      "# TYPE acme_http_router_request_seconds summary\n# UNIT acme_http_router_request_seconds seconds\n"
      "acme_http_router_request_seconds_sum{path=\"/api/v1\",method=\"GET\"} 9036.32\n"
      "# TYPE go_goroutines gauge\ngo_goroutines 69\n# TYPE process_cpu_seconds counter\n"
      "process_cpu_seconds_total 4.20072246e+06 1520879607.789\n"
      "foo_bucket{le=\"0.1\"} 8 # {} 0.054\nquoted{a=\"x\\\\y\\\"z\\n\",} NaN\ninf +Inf\n# EOF\n",
      true);
  REQUIRE(page);
  REQUIRE(page->samples.size() == 6);
  CHECK(page->samples[0].labels.at("path") == "/api/v1");
  CHECK(page->samples[0].value == 9036.32);
  CHECK_FALSE(page->samples[1].isCounter);
  CHECK(page->samples[2].isCounter);
  CHECK(page->samples[2].stampS == 1520879607.789);
  CHECK(page->samples[3].value == 8);
  CHECK(page->samples[4].labels.at("a") == "x\\y\"z\n");
  CHECK(std::isnan(page->samples[4].value));
  CHECK(std::isnan(page->samples[5].value));
  // The older format stamps in milliseconds and has no end.
  const auto old = parseMetrics("m 1 1395066363000\n", false);
  CHECK(old->samples[0].stampS == 1395066363);
}

TEST_CASE("aPageThatIsNoneIsRefusedWithItsLine") {
  const std::pair<const char*, const char*> cases[] = {
      {"a 1\n", "the page is cut off: # EOF is missing"},
      {"a 1\n{x=\"1\"} 2\n# EOF\n", "line 2: it begins with no name"},
      {"a{x=\"1} 2\n# EOF\n", "line 1: a label's value is not closed"},
      {"a{x=\"1\",x=\"2\"} 2\n# EOF\n", "line 1: the label x is there twice"},
      {"a{1=\"1\"} 2\n# EOF\n", "line 1: a label has no name"},
      {"a warm\n# EOF\n", "line 1: its value is no number"},
      {"a 1 now\n# EOF\n", "line 1: its time stamp is no number"},
      {"a 1 2 3\n# EOF\n", "line 1: something stands after its time stamp"},
      {"a 1\n# EOF\na 2\n", "line 3: something stands after # EOF"},
  };
  for (const auto& [text, why] : cases) {
    const auto page = parseMetrics(text, true);
    REQUIRE_FALSE(page);
    CHECK(page.error().message == why);
  }
}

TEST_CASE("theUnitStandsAtTheEndOfAName") {
  CHECK(unitOfMetric("ash_temperature_celsius")->quantity == Quantity::Temperature);
  CHECK(unitOfMetric("ash_energy_joules_total")->quantity == Quantity::Energy);
  CHECK(unitOfMetric("ash_frequency_hertz")->toStored(4.2e9) == Approx(4200));
  CHECK(unitOfMetric("ash_ratio")->toStored(0.5) == 50);
  CHECK_FALSE(unitOfMetric("celsius_of_it"));
}

TEST_CASE("aPageOfAnotherMachineIsRead") {
  PageServer server;
  server.show("box_celsius{chip=\"a\"} 51.5\nbox_celsius{chip=\"b\"} 40\n");
  Instrument box = boxAt(server, "box_celsius");
  box.readings[0].labels = {{"chip", "a"}};
  const TempFolder folder;
  box.tokenFile = folder.path("token");
  std::ofstream(box.tokenFile) << "open sesame\n";
  std::filesystem::permissions(box.tokenFile, std::filesystem::perms::owner_read);
  InstrumentSource source(box);
  REQUIRE(eventually([&] { return valueOf(source) == 51.5; }));
  CHECK(server.token() == "Bearer open sesame");
  // Several series: none of them is guessed.
  server.show("box_celsius{chip=\"a\"} 51.5\nbox_celsius{chip=\"a\",n=\"2\"} 60\n");
  REQUIRE(eventually([&] { return std::isnan(valueOf(source)); }));
  CHECK(source.whyMissing(0) == "its page has 2 series of box_celsius with these labels: name more of them");
  server.show("other 1\n");
  REQUIRE(eventually([&] { return source.whyMissing(0) == "its page has no box_celsius with these labels"; }));
  // A page that is cut off is none.
  server.show("box_celsius{chip=\"a\"} 51.5\n", kOpenMetrics);
  REQUIRE(eventually([&] { return source.whyMissing(0).ends_with("# EOF is missing"); }));
  server.show("", "text/plain", 401);
  REQUIRE(eventually([&] { return source.whyMissing(0) == "it refuses the token (401)"; }));
  CHECK(source.isGone());
}

TEST_CASE("aTokenFollowsNoRedirect") {
  PageServer server;
  server.show("", "text/plain", 302);
  InstrumentSource source(boxAt(server, "stolen"));
  REQUIRE(eventually([&] { return source.whyMissing(0) == "it answered with status 302"; }));
  CHECK_FALSE(server.wasRobbed());
}

TEST_CASE("aCounterBecomesARateUnlessEnergyIsWanted") {
  PageServer server;
  std::atomic<bool> isOver{false};
  std::thread counting([&] {
    const auto start = std::chrono::steady_clock::now();
    while (!isOver) {
      const double s = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
      // Counted and stamped at one moment, however late the page is fetched: 80 J in each second of its own clock.
      const double now = std::round(1000 * (1.8e9 + s)) / 1000;
      server.show(fmt::format("# TYPE used_joules counter\nused_joules_total {:.3f} {:.0f}\n",
                              80 * (now - 1.8e9) + 1000, 1000 * now));
      std::this_thread::sleep_for(std::chrono::milliseconds(2));
    }
  });
  Instrument box = boxAt(server, "used_joules_total", "wall.power");
  InstrumentReading energy = box.readings[0];
  energy.role = "wall.energy";
  energy.unit = {Quantity::Energy, 1, 0};
  box.readings.push_back(energy);
  InstrumentSource source(box);
  REQUIRE(eventually([&] { return source.state().answers > 8; }));
  const Sweep sweep = source.sweep();
  CHECK(sweep.values[0] == Approx(80).epsilon(0.01));
  CHECK(sweep.values[1] > 1000);
  isOver = true;
  counting.join();
}

TEST_CASE("aStampThatStandsStillIsStale") {
  PageServer server;
  const auto stamp = static_cast<long long>(std::time(nullptr)) * 1000;
  server.show("box_celsius 50 " + std::to_string(stamp) + "\n");
  InstrumentSource source(boxAt(server, "box_celsius"));
  REQUIRE(eventually([&] { return source.state().answers > 0; }));
  REQUIRE(eventually([&] { return source.whyMissing(0).starts_with("its own time stamp has not moved"); }));
  REQUIRE(eventually([&] { return std::isnan(valueOf(source)); }));
}

TEST_CASE("aClockThatIsOffIsToldAndMakesNothingStale") {
  PageServer server;
  // An hour and a half fast; its samples are half a second old.
  server.showAnew([] {
    const double now =
        std::chrono::duration<double>(std::chrono::system_clock::now().time_since_epoch()).count() + 5400;
    return "ash_clock_seconds " + std::to_string(now) + "\nbox_celsius 50 " +
           std::to_string(std::llround((now - 0.5) * 1000)) + "\n";
  });
  InstrumentSource source(boxAt(server, "box_celsius"));
  REQUIRE(eventually([&] { return source.state().answers > 3; }));
  CHECK(source.state().clockOffsetS == Approx(5400).margin(1));
  CHECK(source.state().failures == 0);
  CHECK(bootTimeS() - source.state().last[0].atS >= 0.3);  // taken then, not when it arrived
}

TEST_CASE("aCounterWithoutStampsIsARateByItsArrival") {
  PageServer server;
  server.show("# TYPE used_joules counter\nused_joules_total 1000\n");
  InstrumentSource source(boxAt(server, "used_joules_total", "wall.power"));
  REQUIRE(eventually([&] { return source.state().answers >= 3; }));
  CHECK(valueOf(source) == 0);  // it stands still
  server.show("# TYPE used_joules counter\nused_joules_total 3\n");
  // It has begun anew: no rate this time, and none below zero ever.
  REQUIRE(eventually([&] { return !(valueOf(source) == 0); }));
  CHECK(std::isnan(valueOf(source)));
  REQUIRE(eventually([&] { return valueOf(source) == 0; }));
}
