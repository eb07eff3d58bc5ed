// SPDX-License-Identifier: GPL-3.0-or-later
// A run on a tree that moves: power from a counter that wraps, devices that come and go, settings that are changed.
#include "runner/kernel_bench.h"

#include <atomic>
#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>
#include <mutex>
#include <thread>

#include "analysis/series/series.h"
#include "sim/stand_in_machine.h"
#include "system/clock.h"
#include "tests/support/fake_root.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// A stand-in machine that moves in real time, under load from `loadFromS` on; remembers what it had drawn when.
class MovingMachine {
 public:
  MovingMachine(const std::string& folder, double loadFromS) {
    auto made = sim::StandInMachine::create(folder, *sim::loadBench("larch12", "mesh"), 1);
    if (!made) FAIL(made.error().message);
    m_machine = std::move(*made);
    m_thread = std::thread([this, loadFromS] {
      const double startS = monotonicS();
      while (!m_isOver) {
        const double nowS = monotonicS() - startS;
        const Status moved = m_machine->update(nowS, "vector", nowS > loadFromS ? 1 : 0);
        const std::lock_guard lock(m_mutex);
        m_isWell &= static_cast<bool>(moved);
        m_drawn.emplace_back(bootTimeS(), m_machine->bench().energyJ(0));
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
      }
    });
  }
  ~MovingMachine() { stop(); }
  void stop() {
    m_isOver = true;
    if (m_thread.joinable()) m_thread.join();
  }
  bool isWell() const { return m_isWell; }
  /// Energy drawn up to a time, by straight lines between its own notes.
  double drawnJ(double atS) const {
    for (size_t i = 1; i < m_drawn.size(); ++i) {
      const auto& [beforeS, beforeJ] = m_drawn[i - 1];
      const auto& [afterS, afterJ] = m_drawn[i];
      if (afterS >= atS) return beforeJ + (afterJ - beforeJ) * (atS - beforeS) / (afterS - beforeS);
    }
    return m_drawn.back().second;
  }

 private:
  std::unique_ptr<sim::StandInMachine> m_machine;
  std::thread m_thread;
  std::atomic<bool> m_isOver{false};
  std::mutex m_mutex;
  bool m_isWell = true;
  std::vector<std::pair<double, double>> m_drawn;
};

MachineSources machineBelow(const std::string& root) { return MachineSources::open({root, {}, LoadOptions(), {}}); }

// The text of the first finding that holds `words`, within some seconds.
std::string waitForFinding(KernelRunBench& bench, const std::string& words) {
  for (const double endS = monotonicS() + 8; monotonicS() < endS;) {
    bench.next(0.05);
    for (const Event& event : bench.takeFindings(false)) {
      if (event.text.find(words) != std::string::npos) return event.text;
    }
  }
  return "nothing";
}

}  // namespace

TEST_CASE("powerFromAWrappingCounterAgreesWithTheMachinesOwnEnergy") {
  const TempFolder folder;
  MovingMachine machine(folder.path("root"), 1);
  std::this_thread::sleep_for(std::chrono::milliseconds(100));
  KernelRunBench bench(machineBelow(folder.path("root")), "");
  bench.begin(0.1);
  double energyJ = 0, firstS = kMissing, lastS = kMissing, lastW = kMissing;
  Series toldJ;  // from the first sweep to each
  double counterFirstJ = kMissing, counterLastJ = kMissing;
  for (const double endS = monotonicS() + 12; monotonicS() < endS;) {
    const auto tick = bench.next(0.05);
    if (!tick) continue;
    for (const auto& [source, sweep] : tick->sweeps) {
      const auto& readings = bench.sources()[static_cast<size_t>(source)].readings;
      for (size_t i = 0; i < readings.size(); ++i) {
        if (readings[i].role == "cpu.energy") {
          if (!std::isfinite(counterFirstJ)) counterFirstJ = sweep.values[i];
          counterLastJ = sweep.values[i];
        }
        if (readings[i].role != "cpu.power" || !std::isfinite(sweep.values[i])) continue;
        // A rate stands for the time since the one before.
        if (std::isfinite(lastS)) energyJ += sweep.values[i] * (sweep.timeS - lastS);
        if (!std::isfinite(firstS)) firstS = sweep.timeS;
        lastS = sweep.timeS;
        lastW = sweep.values[i];
        toldJ.t.push_back(lastS);
        toldJ.v.push_back(energyJ);
      }
    }
  }
  machine.stop();
  REQUIRE(machine.isWell());
  const double drawnJ = machine.drawnJ(lastS) - machine.drawnJ(firstS);
  CHECK(lastW > 0);
  // Also of the last seconds alone, which came after the counter had begun again.
  const double fromS = lastS - 3;
  CHECK(energyJ - interpolate(toldJ, fromS) == Approx(machine.drawnJ(lastS) - machine.drawnJ(fromS)).epsilon(0.03));
  CHECK(drawnJ > 700);  // the counter had 400 J left
  CHECK(energyJ == Approx(drawnJ).epsilon(0.005));
  CHECK(counterLastJ - counterFirstJ == Approx(drawnJ).epsilon(0.02));
}

TEST_CASE("aDeviceThatIsUnpluggedIsToldAndTheRunGoesOn") {
  FakeRoot root;
  root.chip(3, "usb1/1-2", "meter");
  root.attribute("temp1_input", "30000\n");
  root.attribute("temp1_label", "Room\n");
  root.write("proc/stat", "cpu  1 0 0 1 0 0 0 0\n");
  KernelRunBench bench(machineBelow(root.path()), "");
  bench.begin(0.1);
  REQUIRE(bench.next(1));
  std::filesystem::rename(root.path("sys/devices/usb1/1-2/hwmon/hwmon3"), root.path("sys/devices/usb1/away"));
  CHECK(waitForFinding(bench, "meter is gone") == "meter is gone: its reading is missing from now on.");
  CHECK(bench.next(1));
  std::filesystem::rename(root.path("sys/devices/usb1/away"), root.path("sys/devices/usb1/1-2/hwmon/hwmon5"));
  CHECK(waitForFinding(bench, "is back") == "meter is back with its reading.");
}

TEST_CASE("settingsAreKeptAndAChangeIsToldWithWhatWasAsked") {
  FakeRoot root;
  root.cpu(0, 0, 0, "4000000", {{"scaling_governor", "powersave"}});
  root.write("proc/stat", "cpu  1 0 0 1 0 0 0 0\n");
  KernelRunBench bench(machineBelow(root.path()), "", {{"governor", "performance"}});
  CHECK(bench.machine()["settings"]["cpu.governor"] == "powersave");
  CHECK(bench.notAsAsked() ==
        std::vector<std::string>{"Asked for the governor of performance; the machine has powersave."});
  bench.begin(0.1);
  std::this_thread::sleep_for(std::chrono::milliseconds(300));  // it has looked at the start
  root.files("sys/devices/system/cpu/cpufreq/policy0", {{"scaling_governor", "schedutil"}});
  CHECK(waitForFinding(bench, "Governor") ==
        "Governor went from powersave to schedutil. Asked for the governor of performance; the machine has schedutil.");
}
