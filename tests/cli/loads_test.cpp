// SPDX-License-Identifier: GPL-3.0-or-later
// Loads in runs and by hand: tasks, passes, scores, wrong results, and what an eye sees.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <sstream>
#include <vector>

#include "book/book.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Ran;

namespace {

const std::string kLoadRun = "run --book b.ashbook --study s --setup a --interval 0.1 --json ";

RunLog onlyLoadRun(const Bench& bench) {
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  REQUIRE(book);
  const auto runs = book->runs();
  REQUIRE(runs);
  REQUIRE(runs->size() == 1);
  return *book->readRun(runs->front().info.id);
}

double lastOf(const RunLog& run, const std::string& name) {
  const Channel* channel = run.log.find(name);
  return channel == nullptr ? kMissing : channel->values.back();
}

}  // namespace

TEST_CASE("aTaskEndsItsPhasesAndTheBookKnowsItsWork") {
  const Bench bench;
  const Ran ran = bench.ashg(kLoadRun + "--load 'integer threads=1 work=1' --phases 'soak 60s, measure 60s, cool 1s'");
  INFO(ran.err);
  REQUIRE(ran.status == 0);
  const RunLog run = onlyLoadRun(bench);
  CHECK(run.facts.outcome == Outcome::Completed);
  REQUIRE(run.facts.work);
  CHECK(run.facts.work->units == 1);
  CHECK(run.facts.work->doneS > 0);
  CHECK(run.facts.work->doneS < 30);
  REQUIRE(run.facts.phases.size() == 2);
  CHECK(run.facts.phases[1].kind == PhaseKind::Cool);
}

TEST_CASE("passesOfALoadAreThoseOfTheRun") {
  const Bench bench;
  REQUIRE(bench.ashg(kLoadRun + "--load 'integer threads=1 pass_work=0.5 passes=3' --phases 'soak 60s'").status == 0);
  const RunLog run = onlyLoadRun(bench);
  REQUIRE(run.facts.passes.size() == 3);
  for (size_t i = 0; i < 3; ++i) {
    const Pass& pass = run.facts.passes[i];
    CHECK(pass.score == Approx(0.5 / (pass.endS - pass.startS)).epsilon(1e-6));
    if (i > 0) CHECK(pass.startS == Approx(run.facts.passes[i - 1].endS).margin(1e-6));
    CHECK(pass.endS < 60);
  }
  CHECK(lastOf(run, "work.rate") >= 0);
}

TEST_CASE("aCommandsScoresAndLiveValuesGoIntoTheRunAndItMayBeRunAgain") {
  const Bench bench;
  bench.write("render",
              "#!/bin/sh\ndate +%s.%N >>spans\nfor i in 1 2 3 4 5 6 7 8; do echo \"fps 3$i\"; sleep 0.1; done\necho "
              "\"score: 1512\"\ndate +%s.%N >>spans\n");
  const std::string load = "--load \"command command='sh ./render' folder=" + bench.path() +
                           " repeats=2 score.score='score: ([0-9]+)' live.frame.rate='fps ([0-9]+)'\" ";
  const Ran ran = bench.ashg(kLoadRun + load + "--phases 'soak 60s, cool 1s'");
  INFO(ran.err);
  REQUIRE(ran.status == 0);
  const RunLog run = onlyLoadRun(bench);
  REQUIRE(run.facts.passes.size() == 2);
  CHECK(run.facts.passes[1].scores.at("score") == 1512);
  // A pass is as long as the command says that it took, whatever the machine is busy with.
  std::istringstream spans(tests::readFile(bench.path("spans")));
  std::vector<double> atS(4);
  for (double& at : atS) spans >> at;
  const double tookS = atS[3] - atS[2], passS = run.facts.passes[1].endS - run.facts.passes[1].startS;
  REQUIRE(tookS >= 0.8);
  CHECK(passS >= tookS - 0.01);
  CHECK(passS < tookS + 2);
  const Channel* frames = run.log.find("frame.rate");
  REQUIRE(frames != nullptr);
  CHECK(std::any_of(frames->values.begin(), frames->values.end(), [](double fps) { return fps >= 31 && fps <= 38; }));
  CHECK(bench.ashg(kLoadRun + load + "--phases 'soak 60s'").status == 0);
}

TEST_CASE("aCommandOfABookFromElsewhereMustBeAllowedFirst") {
  const Bench bench;
  {
    auto book = Book::openOrCreate(bench.path("b.ashbook"));
    REQUIRE(book->ensurePlace("s", {"a", Json::object(), Json::object(), Json::object()},
                              {"Render", {{"kind", "command"}, {"command", "touch ran"}, {"repeats", 1}}}));
  }
  const Ran refused = bench.ashg(kLoadRun + "--load Render --phases 'soak 5s'");
  CHECK(refused.status == 2);
  CHECK(refused.err.find("ashg book allow") != std::string::npos);
  CHECK_FALSE(std::filesystem::exists(bench.path("ran")));
}

TEST_CASE("aWrongResultFailsTheLoadAndSaysOnWhichCore") {
  const Bench bench;
  {
    auto book = Book::openOrCreate(bench.path("b.ashbook"));
    REQUIRE(book->ensurePlace("s", {"a", Json::object(), Json::object(), Json::object()},
                              {"Unstable", {{"kind", "integer"}, {"threads", 1}, {"flip_at_block", 200}}}));
  }
  const Ran ran = bench.ashg(kLoadRun + "--load Unstable --phases 'soak 30s'");
  CHECK(ran.status == 1);
  const RunLog run = onlyLoadRun(bench);
  CHECK(run.facts.outcome == Outcome::LoadFailed);
  CHECK(run.facts.reason.find("1 wrong result on core ") == 0);
  const bool isTold = std::any_of(run.facts.events.begin(), run.facts.events.end(), [](const Event& event) {
    return event.kind == EventKind::Fault && valueIn(event.extra, "source", "") == "load" &&
           valueIn(event.extra, "count", 0) == 1;
  });
  CHECK(isTold);
  CHECK(run.log.timeS.back() < 20);
}

TEST_CASE("whatOnlyAnEyeSeesFailsARunWithALine") {
  const Bench bench;
  const pid_t child = bench.start({"run", "--book", bench.path("b.ashbook"), "--study", "s", "--setup", "a", "--load",
                                   "integer", "--threads", "1", "--phases", "soak 60s", "--run-id", "seen"});
  const bool isOn = Bench::waitUntil([&] { return bench.ashg("note seen note begins").status == 0; }, 20);
  REQUIRE(isOn);
  CHECK(bench.ashg("note seen fail artefacts").status == 0);
  CHECK(Bench::wait(child, 20) == 1);
  const RunLog run = onlyLoadRun(bench);
  CHECK(run.facts.outcome == Outcome::LoadFailed);
  CHECK(run.facts.reason == "artefacts");
}

TEST_CASE("theLoadCommandTellsPassesAndTheOthersBesideIt") {
  const Bench bench;
  const Ran ran =
      bench.ashg("load integer --threads 1 --pass-work 0.2 --passes 2 --also 'vector threads=1' --seconds 30 --json");
  REQUIRE(ran.status == 0);
  const Json report = Json::parse(ran.out);
  CHECK(report["kind"] == "integer");
  CHECK(report["passes"].size() == 2);
  REQUIRE(report["also"].size() == 1);
  CHECK(report["also"][0]["kind"] == "vector");
  CHECK(report["also"][0]["work"] > 0);
  for (const char* key : {"contract", "threads", "seconds", "work_rate", "unit", "work", "errors", "per_second",
                          "variant", "precision", "pattern", "energy_j"})
    CHECK(report.contains(key));
  CHECK(report["errors"] == 0);
  CHECK(bench.ashg("load integer --threads 1 --seconds 1 --spec '{\"flip_at_block\":2,\"threads\":1}'").status == 1);
}

TEST_CASE("theSimulatedBenchKnowsLoadsAtTheSameTimeTasksAndPasses") {
  const Bench bench;
  const std::string sim = kLoadRun + "--sim larch12 --speed 100000 ";
  REQUIRE(
      bench.ashg(sim + "--load 'vector pass_work=20000 passes=3 + graphics' --phases 'soak 30min, cool 10s'").status ==
      0);
  const RunLog run = onlyLoadRun(bench);
  REQUIRE(run.facts.passes.size() == 3);
  REQUIRE(run.facts.work);
  CHECK(run.facts.work->units == 60000);
  const Channel* graphics = run.log.find("gpu.load");
  REQUIRE(graphics != nullptr);
  CHECK(*std::max_element(graphics->values.begin(), graphics->values.end()) > 90);
  CHECK(bench.ashg(sim + "--load 'storage folder=/tmp' --phases 'soak 1min'").status == 2);
}

TEST_CASE("optionsOfALoadStandBeforeOrBehindItsKindAndWinOverItsLine") {
  const Bench bench;
  const auto threadsOf = [&](const std::string& arguments) {
    const auto ran = bench.ashg("load " + arguments + " --seconds 0.1 --json");
    INFO(arguments << ": " << ran.err);
    REQUIRE(ran.status == 0);
    return Json::parse(ran.out)["threads"].get<int>();
  };
  CHECK(threadsOf("--threads 1 vector") == 1);
  CHECK(threadsOf("vector --threads 1") == 1);
  CHECK(threadsOf("--env A=1 --threads 1 --env B=2 vector") == 1);
  CHECK(threadsOf("'vector threads=2' --threads 1") == 1);
}

TEST_CASE("whatALoadCannotTakeIsSaidInOneLine") {
  const Bench bench;
  for (const auto& [arguments, words] :
       {std::pair{"vector --threads 1 --threads 2", "--threads"},
        std::pair{"vector --threads many", "\"threads\" of a load takes a number, not many."},
        std::pair{"vector --threads 1.5", "\"threads\" must be a whole number."},
        std::pair{"vector --threads -3", "The number of threads must be from 1 to 4096."},
        std::pair{"vector --duty 0", "The duty must be above 0 and at most 100 %."},
        std::pair{"vector --passes -1", "A load ends after 1 pass or more."},
        std::pair{"vector --passes 2", "Passes need the work of one pass"},
        std::pair{"storage --queue 900", "The queue depth must be from 1 to 64."},
        std::pair{"storage --block 6", "multiple of 4 from 4 to 4096 KB"},
        std::pair{"graphics --size big", "The size of the picture must be"},
        std::pair{"vector --cores 9-2", "is no list of cores"},
        std::pair{"vector --env X", "--env takes NAME=TEXT, not X."},
        std::pair{"vector --also furnace", "There is no load \"furnace\""},
        std::pair{"vector --spec nonsense", "--spec takes a load as one JSON object"},
        std::pair{"vector --spec [1]", "--spec takes a load as one JSON object"},
        std::pair{"vector --spec '{\"also\":[{\"duty\":\"x\"}]}'", "\"also[0].duty\" must be a number"}}) {
    INFO(arguments);
    const auto ran = bench.ashg(std::string("load --seconds 0.1 ") + arguments);
    INFO(ran.err);
    CHECK(ran.status == 2);
    CHECK(ran.err.find(words) != std::string::npos);
    CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
    CHECK(ran.out.empty());
  }
}
