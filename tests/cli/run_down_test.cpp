// SPDX-License-Identifier: GPL-3.0-or-later
// A battery run down on a stand-in machine: to a charge, and until it is empty and the recorder goes with it.
#include <catch2/catch.hpp>
#include <cmath>

#include "book/book.h"
#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Ran;

namespace {

/// A stand-in machine whose battery lasts for some seconds of load.
struct BatteryBench : Bench {
  explicit BatteryBench(const std::string& wattHours) {
    std::string text = tests::readFile(std::string(PROJECT_FOLDER) + "/data/benches/wren.json");
    const std::string full = "\"battery_wh\": 52";
    REQUIRE(text.find(full) != std::string::npos);
    write("small.json", text.replace(text.find(full), full.size(), "\"battery_wh\": " + wattHours));
    m_machine = start({"stand-in", "machine", "--dir", "root", "--sim", "small.json"});
    REQUIRE(waitUntil([&] { return chargePercent() >= 0; }, 20));
  }
  ~BatteryBench() {
    kill(m_machine, SIGCONT);
    kill(m_machine, SIGTERM);
    Bench::wait(m_machine, 10);
  }
  BatteryBench(const BatteryBench&) = delete;
  BatteryBench& operator=(const BatteryBench&) = delete;

  int chargePercent() const {
    const std::string text = tests::readFile(path("root/sys/class/power_supply/BAT0/capacity"));
    return text.empty() ? -1 : std::atoi(text.c_str());
  }
  /// Once it is held still: what its gauge tells.
  void setChargePercent(int percent, double fullWh) const {
    write("root/sys/class/power_supply/BAT0/capacity", std::to_string(percent) + "\n");
    write("root/sys/class/power_supply/BAT0/energy_now", std::to_string(std::lround(fullWh * 1e4 * percent)) + "\n");
  }
  void holdStill() const { kill(m_machine, SIGSTOP); }
  RunLog onlyRun() const {
    const auto book = Book::open(path("b.ashbook"), BookAccess::ReadOnly);
    return *book->readRun(book->runs()->front().info.id);
  }

 private:
  pid_t m_machine = 0;
};

// The gauge is read once a second.
double lastCharge(const RunLog& run, double untilS = INFINITY) {
  const Channel& charge = *run.log.find("battery.charge");
  double last = kMissing;
  for (size_t i = 0; i < charge.values.size() && run.log.timeS[i] < untilS; ++i) {
    if (std::isfinite(charge.values[i])) last = charge.values[i];
  }
  return last;
}

}  // namespace

TEST_CASE("aRunDownEndsAtItsCharge") {
  const BatteryBench bench("0.16");
  const Ran ran = bench.ashg(
      "run --book b.ashbook --study s --setup a --root root --load 'vector threads=1' --interval 0.1 "
      "--phases 'measure battery 60% ..5min, cool 1s'");
  INFO(ran.out << ran.err);
  CHECK(ran.err.find("the battery is at 60 % in about") != std::string::npos);
  REQUIRE(ran.status == 0);
  const RunLog run = bench.onlyRun();
  CHECK(run.facts.outcome == Outcome::Completed);
  REQUIRE(run.facts.phases.size() == 2);
  const double endS = run.facts.phases[0].endS;
  CHECK(lastCharge(run, endS) <= 60);
  // The charge had held for 3 s by then, and not for much longer than the gauge needs.
  const Channel& charge = *run.log.find("battery.charge");
  double reachedS = kMissing;
  for (size_t i = charge.values.size(); i-- > 0;) {
    if (charge.values[i] <= 60) reachedS = run.log.timeS[i];
  }
  CHECK(endS >= reachedS + 2.9);
  CHECK(endS < reachedS + 60);
}

TEST_CASE("aRunDownThatTookTheRecorderWithItIsCompletedToItsLastSecond") {
  const BatteryBench bench("0.25");
  const pid_t recorder =
      bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "a", "--root", "root", "--load",
                   "vector threads=1", "--interval", "0.1", "--phases", "idle 1s, measure battery empty"});
  REQUIRE(Bench::waitUntil([&] { return bench.chargePercent() <= 15; }, 120));
  // Nothing of the machine moves any more: the last tenth is given by hand, however late a busy machine lets us come.
  bench.holdStill();
  REQUIRE(bench.chargePercent() > 4);
  bench.setChargePercent(4, 0.25);
  REQUIRE(Bench::waitUntil([&] { return lastCharge(bench.onlyRun()) <= 5; }, 60));
  kill(recorder, SIGKILL);
  Bench::wait(recorder, 10);
  REQUIRE(bench.ashg("book recover b.ashbook").status == 0);
  const RunLog run = bench.onlyRun();
  CHECK(run.facts.outcome == Outcome::Completed);
  CHECK(run.facts.reason.find("The battery ran empty: it was at ") == 0);
  CHECK(lastCharge(run) <= 5);
  const Json figures = Json::parse(bench.ashg("analyze " + run.name + " --book b.ashbook --json").out);
  CHECK(figures["battery"]["ran_down"] == true);
  CHECK(figures["battery"]["used_percent"].get<double>() > 85);
  // From full to 4 % at the same power: the drain and the time that was measured tell the same.
  const double runtimeS = figures["battery"]["runtime_s"].get<double>();
  CHECK(figures["battery"]["drain_percent_per_hour"].get<double>() * runtimeS / 3600 == Approx(97).margin(12));
}

TEST_CASE("aRunDownNeedsABattery") {
  const Bench bench;
  const Ran ran = bench.ashg(
      "run --book b.ashbook --study s --setup a --sim larch12 --phases 'measure battery empty' --load vector");
  CHECK(ran.status != 0);
  CHECK(ran.err.find("needs the charge of a battery, and none is read here") != std::string::npos);
}
