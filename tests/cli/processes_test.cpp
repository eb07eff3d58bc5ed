// SPDX-License-Identifier: GPL-3.0-or-later
// Recorder and load as processes: signals, deaths, and a live tree of kernel-like files.
#include <catch2/catch.hpp>
#include <random>

#include "analysis/run/figures.h"
#include "book/book.h"
#include "load/activity.h"
#include "model/json.h"
#include "system/clock.h"
#include "system/process_identity.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Ran;

namespace {

Json firstRun(const Bench& bench) {
  const Json info = Json::parse(bench.ashg("book info b.ashbook --json").out, nullptr, false);
  if (!info.is_object() || info["studies"].empty() || info["studies"][0]["runs"].empty()) return nullptr;
  return info["studies"][0]["runs"][0];
}

/// A stand-in machine that is moving; ended with the test.
class Machine {
 public:
  Machine(const Bench& bench, const std::string& speed)
      : m_pid(bench.start({"stand-in", "machine", "--dir", "root", "--speed", speed, "--setup", "mesh"})) {
    REQUIRE(Bench::waitUntil([&] { return std::filesystem::exists(bench.path("root/proc/stat")); }, 10));
  }
  ~Machine() {
    kill(m_pid, SIGTERM);
    Bench::wait(m_pid, 5);
  }

 private:
  pid_t m_pid;
};

}  // namespace

TEST_CASE("aLoadEndsSoonAfterSigterm") {
  const Bench bench;
  const pid_t load = bench.start({"load", "vector", "--threads", "1"});
  REQUIRE(Bench::waitUntil([] { return activeLoads().size() == 1; }, 10));
  const double startS = monotonicS();
  kill(load, SIGTERM);
  CHECK(Bench::wait(load, 5) == 0);
  CHECK(monotonicS() - startS < 1);
  CHECK(activeLoads().empty());
}

TEST_CASE("aLoadDoesNotOutliveItsParent") {
  const Bench bench;
  // The shell starts the load in the background and is killed.
  const pid_t shell = fork();
  if (shell == 0) {
    execl("/bin/sh", "sh", "-c",
          (std::string(ASHG_PROGRAM) + " load vector --threads 1 >/dev/null 2>&1 & exec sleep 100").c_str(), nullptr);
    _exit(127);
  }
  REQUIRE(Bench::waitUntil([] { return activeLoads().size() == 1; }, 10));
  const int load = activeLoads()[0].pid;
  kill(shell, SIGKILL);
  Bench::wait(shell, 5);
  CHECK(Bench::waitUntil([&] { return !isRunning(load); }, 1.0));
}

TEST_CASE("killedRecordersLeaveSoundBooksAndNoLoad") {
  const Bench bench;
  std::mt19937 random(7);
  for (int round = 0; round < 4; ++round) {
    std::filesystem::remove(bench.path("b.ashbook"));
    const double startS = monotonicS();
    const pid_t recorder = bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "x", "--threads", "1",
                                        "--interval", "0.05", "--phases", "soak 60s"});
    REQUIRE(Bench::waitUntil([&] { return activeLoads().size() == 1; }, 10));
    std::this_thread::sleep_for(std::chrono::milliseconds(200 + random() % 900));
    const int load = activeLoads().empty() ? 0 : activeLoads()[0].pid;
    kill(recorder, SIGKILL);
    const double livedS = monotonicS() - startS;
    Bench::wait(recorder, 5);
    INFO("round " << round);
    CHECK(Bench::waitUntil([&] { return !isRunning(load); }, 1.0));
    CHECK(bench.ashg("book check b.ashbook").out == "sound\n");
    const Json run = firstRun(bench);
    REQUIRE(run.is_object());
    CHECK(run["outcome"] == "recorder died");
    // At most a second is missing; the start of the program counts as missing here too.
    CHECK(run["last_sample_s"].get<double>() > livedS - 1.0 - 0.5);
  }
}

TEST_CASE("aRunIsListedNotedAndStoppedFromOutside") {
  const Bench bench;
  const pid_t recorder = bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "mesh", "--sim",
                                      "larch12", "--speed", "10", "--phases", "soak 1h"});
  std::string id;
  REQUIRE(Bench::waitUntil(
      [&] {
        const Json runs = Json::parse(bench.ashg("runs --json").out, nullptr, false);
        if (runs.is_object() && !runs["runs"].empty()) id = runs["runs"][0]["run"];
        return !id.empty();
      },
      10));
  CHECK(bench.ashg("note " + id + " coil whine").status == 0);
  CHECK(firstRun(bench)["outcome"] == "running");
  CHECK(bench.ashg("stop " + id).status == 0);
  CHECK(Bench::wait(recorder, 5) == 0);
  CHECK(firstRun(bench)["outcome"] == "stopped by hand");
  const auto run = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->readRun(id);
  bool hasNote = false;
  for (const Event& event : run->facts.events) hasNote |= event.text == "coil whine";
  CHECK(hasNote);
}

TEST_CASE("ctrlCStopsARunInOrder") {
  const Bench bench;
  const pid_t recorder = bench.start(
      {"run", "--book", "b.ashbook", "--study", "s", "--setup", "x", "--threads", "1", "--phases", "soak 60s"});
  REQUIRE(Bench::waitUntil([] { return activeLoads().size() == 1; }, 10));
  const double startS = monotonicS();
  kill(recorder, SIGINT);
  CHECK(Bench::wait(recorder, 5) == 0);
  CHECK(monotonicS() - startS < 2);
  CHECK(activeLoads().empty());
  CHECK(firstRun(bench)["outcome"] == "stopped by hand");
  CHECK(firstRun(bench)["reason"] == "Stopped by hand (Ctrl-C).");
}

TEST_CASE("aMachineWithoutTemperatureSaysSoKeepsItAndGoesOn") {
  const Bench bench;
  bench.write("root/proc/stat", "cpu  100 0 100 800 0 0 0 0 0 0\n");
  const Ran ran = bench.ashg(
      "run --book b.ashbook --study s --setup x --root root --threads 1 --interval 0.1 --phases 'idle 1s, soak settled "
      "2s..60s, cool 1s' --json");
  CHECK(ran.status == 0);
  const Json told = Json::parse(ran.out);
  CHECK(told["outcome"] == "completed");
  CHECK(told["problems"][0].get<std::string>().find("No temperature can be read here") == 0);
  CHECK(told["figures"]["duration_s"].get<double>() < 6);
  bool isKept = false;
  for (const Json& problem : told["figures"]["problems"]) isKept |= problem["kind"] == "no_temperature";
  CHECK(isKept);
}

TEST_CASE("onAStandInMachineTheRealPathSettlesByItself") {
  const Bench bench;
  const Machine machine(bench, "60");
  const Ran ran = bench.ashg(
      "run --book b.ashbook --study s --setup x --root root --threads 2 --interval 0.1 --phases 'idle 2s, soak settled "
      "8s..150s, cool 2s' --json");
  INFO(ran.err);
  REQUIRE(ran.status == 0);
  const Json told = Json::parse(ran.out);
  CHECK(told["outcome"] == "completed");
  // The soak ended because the fit said so, and the analysis agrees.
  const auto run = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->readRun(told["run"]);
  bool endedSettled = false;
  for (const Event& event : run->facts.events) endedSettled |= event.text == "Soak ended: settled.";
  CHECK(endedSettled);
  const Json& channels = told["figures"]["channels"];
  CHECK(channels["cpu.temp"]["settled"]["is_settled"] == true);
  CHECK(told["figures"]["window"]["reason"] == "settled");
  CHECK(told["figures"]["throttling"].size() == 1);  // the idle graphics card has no clock to lose
  for (const char* role : {"cpu.temp", "cpu.power", "cpu.clock", "cpu.load", "gpu.temp", "board.temp.vrm",
                           "storage.temp", "room.temp", "fan.cpu", "fan.rear", "wall.power", "work.rate"}) {
    INFO(role);
    CHECK(channels.contains(role));
  }
  CHECK(channels["cpu.temp"]["limit"] == 95);
  CHECK(channels["cpu.temp"]["load"]["max"].get<double>() > channels["cpu.temp"]["idle"]["mean"].get<double>() + 20);
  CHECK(channels["work.rate"]["window"]["mean"].get<double>() > 0);
  CHECK(channels["cpu.power"]["window"]["mean"].get<double>() > 40);
}

TEST_CASE("onAStandInMachineAStopRuleEndsTheRealLoad") {
  const Bench bench;
  const Machine machine(bench, "60");
  const Ran ran = bench.ashg(
      "run --book b.ashbook --study s --setup x --root root --threads 2 --interval 0.1 --phases 'idle 1s, soak 60s' "
      "--stop-rule 'cpu.temp > 55 for 1s' --json");
  CHECK(ran.status == 1);
  CHECK(Json::parse(ran.out)["outcome"] == "stopped by a rule");
  CHECK(activeLoads().empty());
}

TEST_CASE("theStandInMachineRefusesAFolderThatIsNotItsOwn") {
  const Bench bench;
  bench.write("precious/letter.txt", "dear");
  const Ran ran = bench.ashg("stand-in machine --dir precious --seconds 1");
  CHECK(ran.status == 2);
  CHECK(std::filesystem::exists(bench.path("precious/letter.txt")));
  CHECK(bench.ashg("stand-in machine --dir fresh --seconds 0.2").status == 0);
  CHECK(bench.ashg("stand-in machine --dir fresh --seconds 0.2 --sim wren").status == 0);
  CHECK(bench.ashg("stand-in machine --dir fresh --seconds 0.2 --sim nowhere").status == 2);
}
