// SPDX-License-Identifier: GPL-3.0-or-later
// The reviewer's own program as a load: scores, exit codes, what it leaves behind.
#include <signal.h>

#include <catch2/catch.hpp>
#include <chrono>
#include <cmath>
#include <fstream>
#include <thread>

#include "load/load_worker.h"
#include "model/text.h"
#include "system/clock.h"
#include "tests/support/temp_folder.h"

using namespace ash;

namespace {

LoadOptions commandLoad(const std::string& line, int repeats = 1) {
  LoadOptions options;
  options.kind = LoadKind::Command;
  options.command = line;
  options.repeats = repeats;
  options.seconds = 20;
  return options;
}

Result<LoadReport> runIt(const LoadOptions& options) {
  return runLoad(
      options, [] { return false; }, [](const LoadProgress&) {});
}

}  // namespace

TEST_CASE("aCommandIsRunAgainAndAgainAndItsScoresAreTaken") {
  const tests::TempFolder folder;
  LoadOptions options = commandLoad(
      "n=$(cat count 2>/dev/null || echo 0); n=$((n+1)); echo $n >count; echo \"score: ${n}00\"; "
      "echo \"graphics $MODE 7.5 fps\"",
      3);
  options.folder = folder.path();
  options.environment["MODE"] = "fast";
  options.scores = {{"score", "score: ([0-9]+)"}, {"fps", "graphics fast ([0-9.]+) fps"}};
  const auto report = runIt(options);
  REQUIRE(report);
  CHECK(report->isTaskDone);
  REQUIRE(report->passes.size() == 3);
  CHECK(report->passes[0].score == 100);
  CHECK(report->passes[2].score == 300);
  CHECK(report->passes[1].scores.at("fps") == 7.5);
  CHECK(report->parts.front().work == 3);
}

TEST_CASE("withoutAScoreARunIsScoredByItsTime") {
  const auto report = runIt(commandLoad("sleep 0.3"));
  REQUIRE(report);
  REQUIRE(report->passes.size() == 1);
  CHECK(report->passes[0].score == Approx(0.3).margin(0.2));
}

TEST_CASE("aCommandThatFailsSaysHowAndWithWhatWords") {
  CHECK(runIt(commandLoad("echo cannot open the project; exit 3")).error().message ==
        "The command ended with 3 instead of with 0; its last words: cannot open the project.");
  CHECK(runIt(commandLoad("kill -9 $$")).error().message ==
        "The command ended by signal 9 instead of with 0; it said nothing.");
  LoadOptions expected = commandLoad("exit 3");
  expected.exitCode = 3;
  CHECK(runIt(expected));
}

TEST_CASE("aScoreThatDoesNotComeIsAFailure") {
  LoadOptions options = commandLoad("echo nothing to see");
  options.scores = {{"score", "score: ([0-9]+)"}};
  CHECK(runIt(options).error().message == "The command's output has no \"score\" (pattern score: ([0-9]+)).");
}

TEST_CASE("liveValuesAreToldWhileItRuns") {
  LoadOptions options = commandLoad("for i in 1 2 3 4 5 6; do echo \"fps $i,5\"; sleep 0.2; done");
  options.live = {{"frame.rate", "fps ([0-9,]+)"}};
  std::vector<double> seen;
  const auto report = runLoad(
      options, [] { return false; },
      [&](const LoadProgress& progress) {
        if (progress.live.contains("frame.rate")) seen.push_back(progress.live.at("frame.rate"));
      });
  REQUIRE(report);
  REQUIRE(seen.size() >= 2);
  CHECK(std::is_sorted(seen.begin(), seen.end()));
  CHECK(seen.back() == 6.5);
}

TEST_CASE("everythingACommandStartedEndsWithIt") {
  const tests::TempFolder folder;
  const std::string pids = folder.path("pids");
  LoadOptions options = commandLoad("(sleep 300 & echo $! >>" + pids + "); setsid sh -c 'echo $$ >>" + pids +
                                    "; trap \"\" TERM; while :; do sleep 0.1; done' & while :; do sleep 0.1; done");
  // It is stopped when both have said who they are: on a busy machine that takes its time.
  const auto haveBothBegun = [&] {
    std::ifstream told(pids);
    int known = 0;
    for (int pid = 0; told >> pid;) ++known;
    return known == 2;
  };
  const double startS = monotonicS();
  const auto report = runLoad(
      options, [&] { return haveBothBegun() || monotonicS() - startS > 30; }, [](const LoadProgress&) {});
  REQUIRE(report);
  std::ifstream file(pids);
  int count = 0;
  for (int pid = 0; file >> pid; ++count) {
    INFO(pid);
    CHECK(kill(pid, 0) != 0);
  }
  CHECK(count == 2);
}

TEST_CASE("whatARunLeftBehindIsGoneBeforeTheNext") {
  const tests::TempFolder folder;
  LoadOptions options = commandLoad("sleep 300 & echo $! >>pids; exit 0", 2);
  options.folder = folder.path();
  REQUIRE(runIt(options));
  std::ifstream file(folder.path("pids"));
  for (int pid = 0; file >> pid;) CHECK(kill(pid, 0) != 0);
}

TEST_CASE("aCommandThatWritesWithoutEndDoesNotFillTheMemory") {
  LoadOptions options = commandLoad("yes aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa | tr -d '\\n'");
  options.seconds = 0.5;
  options.live = {{"a", "zz([0-9]+)"}};
  CHECK(runIt(options));
}
