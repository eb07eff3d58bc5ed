// SPDX-License-Identifier: GPL-3.0-or-later
// A recorded run beside a stand-in machine with everything from outside at once, and every fault of a meter in turn:
// nothing is lost elsewhere, no value is wrong, rules act in time, losses and returns are told.
#include <algorithm>
#include <array>
#include <atomic>
#include <catch2/catch.hpp>
#include <cmath>
#include <memory>
#include <optional>
#include <thread>

#include "book/book.h"
#include "tests/support/broker.h"
#include "tests/support/program.h"
#include "tests/support/stand_in_meter_process.h"

using namespace ash;
using namespace ash::tests;

namespace {

constexpr double kIntervalS = 0.2, kTripK = 40, kHoldsS = 0.4;
constexpr std::array kFaults = {"late", "rubbish", "half", "hang-up", "wrong-unit", "silent"};

/// A process that ends with the test.
class Beside {
 public:
  Beside(const Bench& bench, const std::vector<std::string>& arguments) : m_process(bench.start(arguments)) {}
  ~Beside() { end(); }
  Beside(const Beside&) = delete;
  Beside& operator=(const Beside&) = delete;
  void end() {
    if (m_process <= 0) return;
    kill(m_process, SIGTERM);
    Bench::wait(std::exchange(m_process, 0), 10);
  }

 private:
  pid_t m_process;
};

/// A room sensor behind a broker that tells ten times a second: 22 °C, and 45 once it is to.
class HeatedRoom {
 public:
  explicit HeatedRoom(const Broker& broker)
      : m_sensor(broker), m_thread([this] {
          while (!m_isOver) {
            // Twice over, as a network with quality of service 1 may deliver it.
            for (int i = 0; i < 2; ++i) m_sensor.say("bench/air", m_isHot ? "{\"t\": 45.0}" : "{\"t\": 22.0}");
            std::this_thread::sleep_for(std::chrono::milliseconds(100));
          }
        }) {}
  ~HeatedRoom() {
    m_isOver = true;
    m_thread.join();
  }
  void heat() { m_isHot = true; }

 private:
  Sensor m_sensor;
  std::atomic<bool> m_isHot{false}, m_isOver{false};
  std::thread m_thread;
};

size_t missingIn(const Channel& channel) {
  return static_cast<size_t>(
      std::count_if(channel.values.begin(), channel.values.end(), [](double v) { return std::isnan(v); }));
}

// The run as far as it has come.
std::optional<RunLog> runOf(const Bench& bench) {
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  auto run = book ? book->readRun("r1") : Result<RunLog>(book.error());
  return run ? std::optional(std::move(*run)) : std::nullopt;
}

const Event* eventOf(const std::optional<RunLog>& run, EventKind kind, const std::string& begins = "") {
  if (!run) return nullptr;
  for (const Event& event : run->facts.events) {
    if (event.kind == kind && event.text.starts_with(begins)) return &event;
  }
  return nullptr;
}

size_t rowAt(const Log& log, double atS) {
  return static_cast<size_t>(std::lower_bound(log.timeS.begin(), log.timeS.end(), atS) - log.timeS.begin());
}

}  // namespace

TEST_CASE("aRunWithEveryFaultFromOutsideLosesNothingElsewhere") {
  const Bench bench;
  const Broker broker;
  HeatedRoom room(broker);
  const Beside machine(bench, {"stand-in", "machine", "--dir", "root"});
  std::vector<std::unique_ptr<Meter>> meters;
  for (const char* fault : kFaults)
    meters.push_back(std::make_unique<Meter>(bench, std::vector<std::string>{"--fault", fault, "--every", "3"}));
  const int port = freePort();
  const std::string address = "127.0.0.1:" + std::to_string(port);
  const std::vector<std::string> serve = {"serve", "--sim", "wren", "--listen", address};
  auto box = std::make_unique<Beside>(bench, serve);
  REQUIRE(Bench::waitUntil([&] { return isListening(port); }, 20));
  REQUIRE(Bench::waitUntil([&] { return std::filesystem::exists(bench.path("root/sys/class/hwmon")); }, 20));
  for (size_t i = 0; i < meters.size(); ++i) {
    REQUIRE(bench
                .ashg(std::string("instruments add '") + kFaults[i] + "' scpi " + meters[i]->address() +
                      " --interval 0.2 --timeout 0.3 --reading 'wall.power=MEAS:POW? W'")
                .status == 0);
  }
  REQUIRE(bench
              .ashg("instruments add shelf mqtt " + broker.address() +
                    " --interval 0.2 --reading 'room2.temp=bench/air#/t °C'")
              .status == 0);
  REQUIRE(bench
              .ashg("instruments add box openmetrics http://" + address +
                    "/metrics --interval 0.2 --reading 'cpu2.temp=ash_temperature_celsius{role=\"cpu.temp\"}'")
              .status == 0);
  std::thread later([&] {
    std::this_thread::sleep_for(std::chrono::seconds(5));
    box.reset();
    std::this_thread::sleep_for(std::chrono::seconds(3));
    box = std::make_unique<Beside>(bench, serve);
    // It is looked for 0.5, 1.5, 3.5, 7.5 s after its loss, and so on.
    const auto isBack = [&] { return eventOf(runOf(bench), EventKind::Fault, "box is back") != nullptr; };
    static_cast<void>(Bench::waitUntil(isBack, 40));
    room.heat();
  });
  const Ran run = bench.ashg(
      "run --book b.ashbook --study s --setup a --root root --load integer --threads 1 --unwatched 'a test' --interval "
      "0.2 "
      "--stop-rule 'room2.temp > 40 for 0.4s' --phases 'idle 1s, measure 60s' --run-id r1");
  later.join();
  INFO(run.out << run.err);
  const auto kept = runOf(bench);
  REQUIRE(kept);
  const Log& log = kept->log;
  // Nothing is lost of what the machine tells itself, and every row is there.
  REQUIRE(log.timeS.size() > 40);
  // A busy machine may miss a beat. A meter that held sweeps up would cost most of them: every third answer of six is
  // late, and none is waited for less than 0.3 s.
  const double beats = (log.timeS.back() - log.timeS.front()) / kIntervalS;
  CHECK(static_cast<double>(log.timeS.size() - 1) >= 0.7 * beats);
  CHECK(static_cast<double>(log.timeS.size() - 1) <= beats + 2);
  for (const char* column : {"cpu.temp", "gpu.temp", "fan.cpu", "case.temp"}) {
    INFO(column);
    REQUIRE(log.find(column) != nullptr);
    CHECK(missingIn(*log.find(column)) <= 1);  // a rate has none in the first row
  }
  // Six meters, a fault in every third answer of each: never a wrong value, and some right ones.
  for (int number = 2; number <= 7; ++number) {
    const Channel* meter = log.find("wall" + std::to_string(number) + ".power");
    INFO(kFaults[static_cast<size_t>(number - 2)]);
    REQUIRE(meter != nullptr);
    CHECK(missingIn(*meter) < meter->values.size());
    for (const double value : meter->values)
      CHECK((std::isnan(value) || (value > 40 && value < 180)));  // larch12, at rest to loaded
  }
  // The rule acted when the room had been hot for as long as it says, and one more look.
  const Channel* air = log.find("room2.temp");
  REQUIRE(air != nullptr);
  const auto hot = std::find_if(air->values.begin(), air->values.end(), [](double v) { return v > kTripK; });
  REQUIRE(hot != air->values.end());
  const double hotS = log.timeS[static_cast<size_t>(hot - air->values.begin())];
  const Event* rule = eventOf(kept, EventKind::Rule);
  REQUIRE(rule != nullptr);
  CHECK(rule->atS - hotS >= kHoldsS - 1e-6);
  // At the first look at which it had held, or at the next: between hot and the rule stand no more rows than these.
  const auto between = std::count_if(log.timeS.begin(), log.timeS.end(),
                                     [&](double t) { return t > hotS + kHoldsS + 1e-6 && t < rule->atS - 1e-6; });
  CHECK(between <= 2);
  // The machine that went away is told, and so is its return; its cells are empty in between, and only there.
  const Event *gone = eventOf(kept, EventKind::Fault, "box is gone"),
              *back = eventOf(kept, EventKind::Fault, "box is back");
  REQUIRE(gone != nullptr);
  REQUIRE(back != nullptr);
  const Channel* theirs = log.find("cpu2.temp");
  REQUIRE(theirs != nullptr);
  const size_t lost = rowAt(log, gone->atS + kIntervalS), found = rowAt(log, back->atS - kIntervalS);
  REQUIRE(lost < found);
  REQUIRE(found < theirs->values.size());
  const auto isThere = [&](size_t row) { return std::isfinite(theirs->values[row]); };
  for (size_t row = lost; row < found; ++row) CHECK_FALSE(isThere(row));
  CHECK(isThere(10));
  size_t afterwards = 0;
  for (size_t row = found; row < theirs->values.size(); ++row) afterwards += isThere(row);
  CHECK(afterwards > 0);
}
