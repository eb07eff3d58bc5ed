// SPDX-License-Identifier: GPL-3.0-or-later
// Nothing of a command is left running, whoever of recorder and load is killed first, and however it hides.
#include <fcntl.h>
#include <signal.h>

#include <catch2/catch.hpp>
#include <fstream>

#include "book/book.h"
#include "load/activity.h"
#include "system/clock.h"
#include "system/process_identity.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;

namespace {

// Leaves its session, is handed to another parent, hears no signal but the last, and writes its number down.
constexpr const char* kHider =
    "(setsid sh -c 'trap \"\" TERM HUP INT; echo $$ >>pids; while :; do sleep 0.05; done' &) & "
    "(sh -c '(sh -c \"echo \\$\\$ >>pids; while :; do sleep 0.05; done\" &) &' &) & "
    "echo $$ >>pids; while :; do sleep 0.05; done";

std::vector<int> hidden(const Bench& bench) {
  std::ifstream file(bench.path("pids"));
  std::vector<int> pids;
  for (int pid = 0; file >> pid;) pids.push_back(pid);
  return pids;
}

/// A run whose load is such a command, up and hidden.
struct Hiding : Bench {
  Hiding() {
    write("root/proc/stat", "cpu  100 0 100 800 0 0 0 0 0 0\n");
    write("hide.sh", kHider);
    recorder = start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "x", "--root", "root", "--interval",
                      "0.1", "--load", "command command='sh hide.sh'", "--phases", "soak 60s"});
    REQUIRE(waitUntil([&] { return activeLoads().size() == 1 && hidden(*this).size() == 3; }, 10));
    load = activeLoads()[0].pid;
    for (const int pid : hidden(*this)) REQUIRE(isRunning(pid));
  }
  ~Hiding() {
    kill(recorder, SIGKILL);
    wait(recorder, 5);
    for (const int pid : hidden(*this)) kill(pid, SIGKILL);
  }
  /// Processes of the command that are still there a second later.
  int leftAfterASecond() const {
    const auto left = [this] {
      int count = 0;
      for (const int pid : hidden(*this)) count += isRunning(pid);
      return count;
    };
    waitUntil([&] { return left() == 0; }, 1.0);
    return left();
  }
  /// Children of a process, proc(5).
  static std::vector<int> childrenOf(int pid) {
    const std::string number = std::to_string(pid);
    std::ifstream file("/proc/" + number + "/task/" + number + "/children");
    std::vector<int> children;
    for (int child = 0; file >> child;) children.push_back(child);
    return children;
  }
  int guardian() const {
    for (const int child : childrenOf(load)) {
      if (tests::readFile("/proc/" + std::to_string(child) + "/comm") == "load-guardian\n") return child;
    }
    // The kernel lists the children of each thread; the load starts its guardian from one of its own.
    for (const auto& thread : std::filesystem::directory_iterator("/proc/" + std::to_string(load) + "/task")) {
      std::ifstream file(thread.path() / "children");
      for (int child = 0; file >> child;) return child;
    }
    return 0;
  }

  pid_t recorder = 0;
  int load = 0;
};

}  // namespace

TEST_CASE("aKilledLoadTakesAllOfItsCommandWithIt") {
  const Hiding bench;
  kill(bench.load, SIGKILL);
  CHECK(bench.leftAfterASecond() == 0);
}

TEST_CASE("recorderAndLoadKilledAtOnceLeaveNothing") {
  const Hiding bench;
  kill(bench.recorder, SIGKILL);
  kill(bench.load, SIGKILL);
  CHECK(bench.leftAfterASecond() == 0);
}

TEST_CASE("aKilledRecorderTakesLoadAndCommandWithIt") {
  const Hiding bench;
  kill(bench.recorder, SIGKILL);
  CHECK(bench.leftAfterASecond() == 0);
  // The load goes after what it has started.
  CHECK(Bench::waitUntil([&] { return !isRunning(bench.load); }, 1.0));
}

TEST_CASE("aKilledGuardianIsNoWayOut") {
  const Hiding bench;
  const int guardian = bench.guardian();
  REQUIRE(guardian > 0);
  SECTION("alone") {
    kill(guardian, SIGKILL);
    CHECK(bench.leftAfterASecond() == 0);
    CHECK(Bench::wait(bench.recorder, 5) == 1);
    const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
    CHECK(book->runs()->front().info.reason == "The guardian of the command was ended, and the command with it.");
  }
  SECTION("with its load: the recorder adopts what is left") {
    kill(bench.load, SIGKILL);
    kill(guardian, SIGKILL);
    CHECK(bench.leftAfterASecond() == 0);
  }
}

TEST_CASE("aStoppedRunEndsItsCommandInOrder") {
  const Hiding bench;
  kill(bench.recorder, SIGTERM);
  CHECK(bench.leftAfterASecond() == 0);
  CHECK(Bench::wait(bench.recorder, 5) == 0);
}

TEST_CASE("helpersThatEndLeaveNoZombies") {
  const Bench bench;
  bench.write("help.sh",
              "for i in $(seq 60); do (sh -c 'sleep 0.05 &' &) ; done; sleep 1; "
              "echo zombies: $(ps -eo stat=,ppid=,comm= | awk '$1 ~ /^Z/ && $3 ~ /sleep|sh/' | wc -l); sleep 0.2");
  const tests::Ran ran =
      bench.ashg("load command --command 'sh help.sh' --repeats 1 --score 'left=zombies: ([0-9]+)' --json");
  INFO(ran.out << ran.err);
  REQUIRE(ran.status == 0);
  const Json report = Json::parse(ran.out);
  CHECK(report["passes"][0]["scores"]["left"].get<double>() < 5);
}

TEST_CASE("aLongLineHoldsNobodyUp") {
  const Bench bench;
  // Lines of 10,000 characters without end, and patterns that an engine which goes back tries 2^n ways.
  bench.write("talk.sh", "while :; do head -c 9999 /dev/zero | tr '\\0' a; echo '!'; done");
  const pid_t load = bench.start(
      {"load", "command", "--command", "sh talk.sh", "--score", "a=^(a|aa)+$", "--live", "b=(?:a*)*(?:a*)*b([0-9])"});
  REQUIRE(Bench::waitUntil([] { return activeLoads().size() == 1; }, 10));
  std::this_thread::sleep_for(std::chrono::milliseconds(500));
  const double startS = monotonicS();
  kill(load, SIGTERM);
  CHECK(Bench::wait(load, 5) == 0);
  CHECK(monotonicS() - startS < 1.5);
}

TEST_CASE("aCommandGetsTheDescriptorsAndSignalsThatProgramsExpect") {
  const Bench bench;
  // SIGPIPE at its usual meaning: the writer of a pipe without a reader ends (128 + 13).
  bench.write("look.sh", "echo files: $(ulimit -n); (yes; echo $? >pipe) | head -1 >/dev/null; echo pipe: $(cat pipe)");
  const tests::Ran ran = bench.ashg(
      "load command --command 'sh look.sh' --repeats 1 --score 'files=files: ([0-9]+)' --score 'pipe=pipe: ([0-9]+)' "
      "--json");
  INFO(ran.out << ran.err);
  REQUIRE(ran.status == 0);
  const Json scores = Json::parse(ran.out)["passes"][0]["scores"];
  CHECK(scores["files"].get<double>() <= 1024);
  CHECK(scores["pipe"] == 141);
}
