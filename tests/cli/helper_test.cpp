// SPDX-License-Identifier: GPL-3.0-or-later
// The helper that turns knobs for who may not, as a program: asked by `ashg`, killed, and killed under it.
#include <sys/prctl.h>

#include <catch2/catch.hpp>
#include <chrono>
#include <cstdio>
#include <random>

#include "book/book.h"
#include "tests/support/knob_bench.h"
#include "tests/support/stand_in_authority.h"
#include "tests/support/system_bus.h"

using namespace ash;
using namespace ash::tests;

namespace {

constexpr char kAlways[] = "ASHG_TURN_HELPER=always";
const std::string kHelper = std::filesystem::path(ASHG_PROGRAM).parent_path() / "ash-gauge-turn";

/// A stand-in machine, whose knobs the helper turns on a bus of its own.
struct HelperBench : KnobBench {
  HelperBench() {
    setenv("ASHG_TURN_HELPER", "always", 1);
    startHelper();
  }
  ~HelperBench() {
    endHelper(SIGTERM);
    unsetenv("ASHG_TURN_HELPER");
  }
  HelperBench(const HelperBench&) = delete;
  HelperBench& operator=(const HelperBench&) = delete;

  void startHelper() {
    helper = fork();
    if (helper == 0) {
      prctl(PR_SET_PDEATHSIG, SIGKILL);
      setenv("XDG_STATE_HOME", path("helpers").c_str(), 1);
      execl(kHelper.c_str(), kHelper.c_str(), "--root", path("root").c_str(), static_cast<char*>(nullptr));
      _exit(127);
    }
    REQUIRE(waitUntil([&] { return std::filesystem::exists(path("root")) && isOnBus(); }, 20));
  }
  void endHelper(int signal) {
    if (helper <= 0) return;
    kill(helper, signal);
    wait(helper, 10);
    helper = 0;
  }
  static bool isOnBus() {
    sd_bus* bus = nullptr;
    if (sd_bus_open_system(&bus) < 0) return false;
    const bool isThere = sd_bus_get_name_creds(bus, "local.ashgauge.Turn1", 0, nullptr) >= 0;
    sd_bus_flush_close_unref(bus);
    return isThere;
  }
  pid_t startRun(const std::string& phases) const {
    return start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "x", "--root", "root", "--interval", "0.1",
                  "--unwatched", "a test", "--phases", phases});
  }

  SystemBus bus;
  StandInAuthority authority{StandInAuthority::Says::Yes};
  pid_t helper = 0;
};

std::string statusLine(pid_t process, const std::string& name) {
  const std::string text = readFile("/proc/" + std::to_string(process) + "/status");
  const size_t at = text.find("\n" + name + ":\t");
  return at == std::string::npos ? ""
                                 : text.substr(at + name.size() + 3, text.find('\n', at + 1) - at - name.size() - 3);
}

}  // namespace

TEST_CASE("theHelperTurnsForWhoMayNotAndRestores") {
  const HelperBench bench;
  const double before = *bench.value("cpu.power.limit");
  const Ran set = bench.ashg("set cpu.power.limit 45 --root root", kAlways);
  INFO(set.err);
  CHECK(set.status == 0);
  CHECK(set.out == "cpu.power.limit: 45 W; `ashg restore` puts it back\n");
  CHECK(bench.comesTo("cpu.power.limit", 45));
  CHECK(bench.ashg("set cpu.governor nonsense --root root").status == 2);
  CHECK(bench.ashg("restore --root root").out == "All is as it was before it was turned.\n");
  CHECK(bench.comesTo("cpu.power.limit", before));
  CHECK(bench.ashg("restore --root root").out == "Nothing was turned.\n");
  // Somebody was asked for each of the two that did something.
  CHECK(bench.authority.asked().size() == 2);
  // It has given up all rights that it does not need.
  CHECK(statusLine(bench.helper, "CapEff") == "0000000000000000");
  CHECK(statusLine(bench.helper, "CapPrm") == "0000000000000000");
  CHECK(statusLine(bench.helper, "NoNewPrivs") == "1");
  if (getuid() == 0) CHECK(statusLine(bench.helper, "CapBnd") == "0000000000000000");
}

TEST_CASE("aKilledRecordersKnobsGoBackWithinTwoSeconds") {
  const HelperBench bench;
  const double before = *bench.value("cpu.power.limit");
  const std::string file = bench.path("root/sys/class/powercap/intel-rapl:0/constraint_0_power_limit_uw");
  REQUIRE(std::filesystem::exists(file));
  const auto limit = [&] { return std::atof(readFile(file).c_str()) / 1e6; };
  // More of them by hand: docs/testing.md.
  const char* wish = std::getenv("ASH_KILL_ROUNDS");
  const int rounds = wish == nullptr ? 3 : std::atoi(wish);
  std::mt19937 random(21);
  int turned = 0;
  double longestS = 0;
  for (int round = 0; round < rounds; ++round) {
    INFO("round " << round);
    const pid_t recorder = bench.startRun(
        "set cpu.power.limit 45, idle 300ms, 50 x (set cpu.power.limit 50, idle 100ms, set cpu.power.limit 55, idle "
        "100ms)");
    std::this_thread::sleep_for(std::chrono::milliseconds(200 + random() % 2500));
    turned += std::abs(limit() - before) > 0.5;
    kill(recorder, SIGKILL);
    const auto killed = std::chrono::steady_clock::now();
    Bench::wait(recorder, 5);
    // What was asked just before the kill may still be carried out, and then goes back.
    CHECK(Bench::waitUntil([&] { return std::abs(limit() - before) < 0.5; }, 10));
    const double tookS = std::chrono::duration<double>(std::chrono::steady_clock::now() - killed).count();
    CHECK(tookS < 2);
    longestS = std::max(longestS, tookS);
    std::this_thread::sleep_for(std::chrono::milliseconds(500));
    CHECK(std::abs(limit() - before) < 0.5);
  }
  CHECK(turned > 0);
  if (wish != nullptr)
    std::printf("%d rounds, %d turned when killed, back after %.2f s at most\n", rounds, turned, longestS);
  // In order, it goes back at the run's end.
  const pid_t recorder = bench.startRun("set cpu.power.limit 50, idle 5min");
  REQUIRE(Bench::waitUntil([&] { return bench.value("cpu.power.limit") == 50; }, 20));
  kill(recorder, SIGTERM);
  Bench::wait(recorder, 20);
  CHECK(bench.comesTo("cpu.power.limit", before));
}

TEST_CASE("aLimitThatIsStatedAnywayIsARemarkWhereNobodyAllowsIt") {
  HelperBench bench;
  {
    auto book = Book::create(bench.path("b.ashbook"));
    REQUIRE(book);
    Study study;
    study.name = "s";
    study.setups = {{"x", Json::object(), {{"power_limit_w", 45}}, Json::object()},
                    {"y", Json::object(), {{"cpu.power.limit", 45}}, Json::object()}};
    REQUIRE(book->putStudy({}, study));
  }
  bench.authority.say(StandInAuthority::Says::No);
  const std::string run = " --book b.ashbook --study s --root root --unwatched 'a test' --phases 'idle 1s' --run-id ";
  const Ran stated = bench.ashg("run --setup x" + run + "r1");
  INFO(stated.err);
  CHECK(stated.status == 0);
  const auto kept = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->readRun("r1");
  REQUIRE(kept);
  bool isTold = false;
  for (const Problem& problem : kept->log.problems)
    isTold |= problem.text.find("cpu.power.limit was not set to 45: Turning knobs was not allowed") == 0;
  CHECK(isTold);
  // A knob that is named as one is what the run is about.
  REQUIRE(bench.ashg("book allow b.ashbook --all").status == 0);
  const Ran named = bench.ashg("run --setup y" + run + "r2");
  CHECK(named.status == 3);
  CHECK(named.err.find("was not allowed") != std::string::npos);
  CHECK_FALSE(Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->run("r2"));
}

TEST_CASE("aKilledHelpersKnobsGoBackWhenItIsStartedAgain") {
  HelperBench bench;
  const double before = *bench.value("cpu.power.limit");
  const pid_t recorder = bench.startRun("set cpu.power.limit 40, idle 5min");
  REQUIRE(Bench::waitUntil([&] { return bench.value("cpu.power.limit") == 40; }, 20));
  bench.endHelper(SIGKILL);
  CHECK(bench.value("cpu.power.limit") == 40);
  bench.startHelper();
  CHECK(bench.comesTo("cpu.power.limit", before));
  kill(recorder, SIGKILL);
  Bench::wait(recorder, 5);
  // Told to end in order it puts back by itself.
  const pid_t second = bench.startRun("set cpu.power.limit 45, idle 5min");
  REQUIRE(Bench::waitUntil([&] { return bench.value("cpu.power.limit") == 45; }, 20));
  bench.endHelper(SIGTERM);
  CHECK(bench.comesTo("cpu.power.limit", before));
  kill(second, SIGKILL);
  Bench::wait(second, 5);
}

TEST_CASE("whatIsInstalledForTheHelperSpeaksOfOneThing") {
  const auto packaged = [](const char* name) { return readFile(std::string(PROJECT_FOLDER) + "/packaging/" + name); };
  const std::string name = "local.ashgauge.Turn1";
  CHECK(packaged("ash-gauge-turn.service").find("\nBusName=" + name + "\n") != std::string::npos);
  CHECK(packaged("local.ashgauge.Turn1.service").find("\nName=" + name + "\n") != std::string::npos);
  CHECK(packaged("local.ashgauge.Turn1.service").find("\nSystemdService=ash-gauge-turn.service\n") !=
        std::string::npos);
  const std::string policy = packaged("local.ashgauge.policy");
  for (const char* action : {"local.ashgauge.turn", "local.ashgauge.set"})
    CHECK(policy.find(std::string("<action id=\"") + action + "\">") != std::string::npos);
  // Nobody may by being there: an administrator's password, or a rule of theirs.
  CHECK(policy.find("<allow_any>auth_admin</allow_any>") != std::string::npos);
  CHECK(policy.find(">yes<") == std::string::npos);
}
