// SPDX-License-Identifier: GPL-3.0-or-later
// Ladders from the command line: climbed, killed and resumed, with a person's hand, and on a machine's own knobs.
#include <catch2/catch.hpp>
#include <cmath>

#include "book/book.h"
#include "tests/support/knob_bench.h"

using namespace ash;
using namespace ash::tests;

namespace {

const std::string kOnSim =
    "ladder --book b.ashbook --study s --setup Mesh --load vector --knob cpu.power.limit --from 60 --to 120 --step 20 "
    "--until 'throttled > 2% of 60s' --hold 5min --sim larch12 --speed 1e6 --json";

std::vector<double> valuesOf(const Json& steps) {
  std::vector<double> values;
  for (const Json& step : steps) values.push_back(step["value"]);
  return values;
}

/// The run of a book that goes on now; empty when none does.
std::string runGoingOn(const Bench& bench) {
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  const auto runs = book ? book->runs() : Result<std::vector<RunSummary>>(book.error());
  if (!runs) return {};
  for (const RunSummary& run : *runs) {
    if (run.info.outcome == Outcome::Running) return run.info.id;
  }
  return {};
}

}  // namespace

TEST_CASE("aLadderIsClimbedAndAnswersAsTheContractSays") {
  const Bench bench;
  const Ran ran = bench.ashg(kOnSim + " --confirm 5min");
  INFO(ran.err);
  CHECK(ran.status == 0);
  const Json told = Json::parse(ran.out);
  for (const char* key :
       {"contract", "ladder", "knob", "unit", "steps", "holds", "fails", "chosen", "confirmed", "why"})
    CHECK(told.contains(key));
  CHECK(told["unit"] == "W");
  for (const Json& step : told["steps"]) CHECK(step["read_back"] == step["value"]);
  // Steps and halves come to the same.
  const Ran halves = bench.ashg(kOnSim + " --search halving");
  const Json other = Json::parse(halves.out);
  CHECK(other["holds"] == told["holds"]);
  CHECK(other["fails"] == told["fails"]);
  // What cannot be is said before anything is run.
  const size_t runs = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->runs()->size();
  for (const char* wrong : {" --to 500", " --step 0", " --until nonsense", " --knob cpu.power.limt", " --confirm soon",
                            " --rest 'measure 5s'", " --knob fan.cpu.mode"}) {
    INFO(wrong);
    std::string command = kOnSim;
    const std::string option = std::string(wrong).substr(0, std::string(wrong).find(' ', 1));
    if (const size_t at = command.find(option + " "); at != std::string::npos && option != " --until")
      command.erase(at, command.find(" --", at + 1) - at);
    const Ran refused = bench.ashg(command + wrong);
    CHECK(refused.status == 2);
    CHECK_FALSE(refused.err.empty());
  }
  CHECK(Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->runs()->size() == runs);
}

TEST_CASE("aLadderThatIsKilledGoesOnWithTheSameArguments") {
  const Bench bench;
  const std::vector<std::string> slow = {"ladder",
                                         "--book",
                                         "b.ashbook",
                                         "--study",
                                         "s",
                                         "--setup",
                                         "Mesh",
                                         "--load",
                                         "vector",
                                         "--knob",
                                         "cpu.power.limit",
                                         "--from",
                                         "60",
                                         "--to",
                                         "120",
                                         "--step",
                                         "20",
                                         "--until",
                                         "throttled > 2% of 60s",
                                         "--hold",
                                         "5min",
                                         "--sim",
                                         "larch12",
                                         "--speed",
                                         "60"};
  const pid_t climber = bench.start(slow);
  // In its second step.
  REQUIRE(Bench::waitUntil(
      [&] {
        const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
        const auto runs = book ? book->runs() : Result<std::vector<RunSummary>>(book.error());
        return runs && runs->size() == 2 && runs->back().sampleCount > 0;
      },
      60));
  const std::string cut = runGoingOn(bench);
  kill(climber, SIGKILL);
  Bench::wait(climber, 5);
  // Its recorder goes on, and is waited for.
  const Ran early = bench.ashg(kOnSim + " --resume");
  CHECK(early.status == 2);
  CHECK(early.err.find("goes on still") != std::string::npos);
  const auto recorder = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->run(cut);
  REQUIRE(recorder);
  kill(recorder->info.recorderPid, SIGKILL);
  REQUIRE(Bench::waitUntil([&] { return runGoingOn(bench).empty(); }, 10));
  const Ran other = bench.ashg(kOnSim + " --resume --back 2");
  CHECK(other.status == 2);
  CHECK(other.err.find("same arguments") != std::string::npos);
  const Ran resumed = bench.ashg(kOnSim + " --resume");
  INFO(resumed.err);
  const Json told = Json::parse(resumed.out);
  // The step that was cut off was done again, the one before it not.
  const auto values = valuesOf(told["steps"]);
  REQUIRE(values.size() >= 2);
  CHECK(values[0] == 60);
  CHECK(values[1] == 80);
  CHECK(told["steps"][1]["run"] != cut);
  CHECK(told["over"] == true);
}

TEST_CASE("aKnobOfAPersonsOwnIsAPauseWithTheValueToSet") {
  const Bench bench;
  const pid_t climber = bench.start({"ladder",
                                     "--book",
                                     "b.ashbook",
                                     "--study",
                                     "s",
                                     "--setup",
                                     "Mesh",
                                     "--load",
                                     "vector",
                                     "--knob",
                                     "core voltage, V",
                                     "--from",
                                     "1.2",
                                     "--to",
                                     "1.1",
                                     "--step",
                                     "0.1",
                                     "--until",
                                     "throttled > 90% of 60s",
                                     "--hold",
                                     "10s",
                                     "--rest",
                                     "5s",
                                     "--sim",
                                     "larch12",
                                     "--speed",
                                     "200"});
  for (const char* asked : {"Pause: Set core voltage to 1.2 V.", "Pause: Set core voltage to 1.1 V."}) {
    std::string run;
    REQUIRE(Bench::waitUntil(
        [&] { return !(run = runGoingOn(bench)).empty() && bench.ashg("answer " + run).status == 0; }, 60));
    REQUIRE(Bench::waitUntil([&] { return runGoingOn(bench) != run; }, 60));
    const auto kept = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->readRun(run);
    REQUIRE(kept);
    CHECK(std::any_of(kept->facts.events.begin(), kept->facts.events.end(),
                      [&](const Event& event) { return event.text == asked; }));
  }
  CHECK(Bench::wait(climber, 30) == 0);
  const auto ladders = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->ladders();
  REQUIRE(ladders);
  REQUIRE(ladders->size() == 1);
  CHECK(ladders->front().state["over"] == true);
}

TEST_CASE("aLadderOnAMachineTurnsItsKnobAndPutsItBack") {
  const KnobBench bench;
  const double before = *bench.value("cpu.power.limit");
  const Ran ran = bench.ashg(
      "ladder --book b.ashbook --study s --setup x --load integer --knob cpu.power.limit --from 40 --to 60 --step 20 "
      "--until 'cpu.temp > 120 for 1s' --hold 2s --rest 1s --root root --json");
  INFO(ran.err);
  CHECK(ran.status == 0);
  const Json told = Json::parse(ran.out);
  REQUIRE(told["steps"].size() == 2);
  CHECK(told["steps"][0]["read_back"] == 40.0);
  CHECK(told["steps"][1]["read_back"] == 60.0);
  CHECK(told["fails"].is_null());
  CHECK(told["chosen"] == 60.0);
  CHECK(bench.comesTo("cpu.power.limit", before));
  // A condition of the setup is turned by any run of it, and held against the machine only after that.
  const Ran again = bench.ashg(
      "run --book b.ashbook --study s --setup 'x, 40 W' --load integer --threads 1 --root root --run-id again --phases "
      "'idle 1s, soak 2s'");
  INFO(again.err);
  CHECK(again.status == 0);
  const auto kept = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->readRun("again");
  REQUIRE(kept);
  const Channel* limit = kept->log.find("cpu.power.limit");
  REQUIRE(limit != nullptr);
  // A busy machine may miss a sweep; what is read is the condition and nothing else.
  size_t read = 0;
  for (const double one : limit->values) {
    if (std::isnan(one)) continue;
    ++read;
    CHECK(one == 40);
  }
  CHECK(read > 0);
  for (const Problem& problem : kept->log.problems) CHECK(problem.text.find("Asked for") == std::string::npos);
  CHECK(bench.comesTo("cpu.power.limit", before));
}

TEST_CASE("aLadderOfAStrangersBookDoesNothingByAPress") {
  const Bench bench;
  const std::string where =
      "--book b.ashbook --study s --setup Mesh --load vector --knob cpu.clock.most --from 3000 --to 4000 "
      "--step 500 --until 'cpu.temp > 200 for 1s' --hold 5s --rest 1s --sim larch12 --speed 1e6 ";
  // Begun by somebody else, and cut off before its first step.
  CHECK(bench.ashg("ladder " + where, "XDG_CONFIG_HOME=" + bench.path("stranger")).status == 0);
  {
    auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadWrite);
    KeptLadder cut = book->ladders()->front();
    cut.state = Json::object();
    REQUIRE(book->putLadder(cut));
  }
  const Ran pressed = bench.ashg("ladder " + where + "--resume --as-planned");
  CHECK(pressed.status == 2);
  CHECK(pressed.err.find("turn cpu.clock.most from 3000 to 4000 under vector") != std::string::npos);
  // A name that looks like a command is none when it comes out of a book.
  const Ran named = bench.ashg(
      "ladder --book b.ashbook --study s --setup Mesh --load \"command command='touch ran'\" --knob "
      "cpu.clock.most --from 3000 --to 4000 --step 500 --until 'wrong result' --hold 1s --rest 1s "
      "--root / --as-planned");
  CHECK(named.status != 0);
  CHECK_FALSE(std::filesystem::exists(bench.path("ran")));
  // Who types the whole of it has seen it.
  CHECK(bench.ashg("ladder " + where + "--resume").status == 0);
}

TEST_CASE("whatMovedByItselfIsToldAndWhatTheRunTurnedIsNot") {
  const KnobBench bench;
  CHECK(bench
            .ashg("ladder --book b.ashbook --study s --setup x --load integer --knob cpu.power.limit --from 40 --to 60 "
                  "--step 20 --until 'cpu.temp > 150 for 1s' --hold 1s --rest 1s --root root")
            .status == 0);
  const pid_t recorder =
      bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "x, 60 W", "--load", "integer", "--threads",
                   "1", "--root", "root", "--run-id", "moved", "--phases", "idle 1s, soak 1min"});
  REQUIRE(bench.comesTo("cpu.power.limit", 60));
  std::this_thread::sleep_for(std::chrono::seconds(4));
  // As firmware does it.
  for (const auto& entry :
       std::filesystem::recursive_directory_iterator(bench.path("root/sys/devices/virtual/powercap"))) {
    if (entry.path().filename() == "constraint_0_power_limit_uw" &&
        entry.path().string().find(":0/") != std::string::npos)
      bench.write(std::filesystem::relative(entry.path(), bench.path()).string(), "45000000\n");
  }
  const auto changes = [&] {
    std::vector<std::string> texts;
    const auto kept = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->readRun("moved");
    if (!kept) return texts;
    for (const Event& event : kept->facts.events) {
      if (event.kind == EventKind::Change) texts.push_back(event.text);
    }
    return texts;
  };
  CHECK(Bench::waitUntil([&] { return !changes().empty(); }, 20));
  CHECK(bench.ashg("stop moved").status == 0);
  Bench::wait(recorder, 10);
  // The limit for a moment follows the sustained one, on a stand-in machine in the same ratio (120 over 88).
  const auto told = changes();
  const auto isTold = [&](const char* which, const char* before, const char* after) {
    return std::count_if(told.begin(), told.end(), [&](const std::string& one) {
      return one.find(which) != std::string::npos && one.find(before) != std::string::npos &&
             one.find(after) != std::string::npos;
    });
  };
  CHECK(isTold("sustained", "60", "45") == 1);
  CHECK(isTold("short", "81", "61") == 1);
  CHECK(told.size() == 2);
  // The run began with what was asked: nothing is held against it.
  const auto kept = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->readRun("moved");
  REQUIRE(kept);
  CHECK(jsonText(valueIn(kept->facts.machine, "settings", Json::object()))
            .find("\"power_limit.package-0.sustained_w\":60") != std::string::npos);
}

TEST_CASE("aSetupsKnobsFromElsewhereAreConfirmedFirst") {
  const KnobBench bench;
  const Ran ran = bench.ashg(
      "ladder --book b.ashbook --study s --setup x --load integer --knob cpu.clock.most --from 2000 --to 3000 --step "
      "1000 "
      "--until 'cpu.temp > 120 for 1s' --hold 1s --rest 1s --root root --json");
  INFO(ran.err);
  CHECK(ran.status == 0);
  // Who asked for the ladder has seen what it turns; somebody else has not.
  const std::string run =
      "run --book b.ashbook --study s --setup 'x, 2000 MHz' --load integer --threads 1 --root root "
      "--phases 'idle 1s'";
  CHECK(bench.ashg(run).status == 0);
  const Ran refused = bench.ashg(run, "XDG_CONFIG_HOME=" + bench.path("stranger"));
  CHECK(refused.status == 2);
  CHECK(refused.err.find("nobody has confirmed") != std::string::npos);
  CHECK(refused.err.find("cpu.clock.most: 2000") != std::string::npos);
}
