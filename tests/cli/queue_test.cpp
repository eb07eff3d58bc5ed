// SPDX-License-Identifier: GPL-3.0-or-later
// A queue of runs, what it waits for, and what a book must not do unasked.
#include <sys/stat.h>

#include <algorithm>
#include <catch2/catch.hpp>
#include <functional>

#include "book/book.h"
#include "model/json.h"
#include "model/study_plan.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Ran;

namespace {

/// A study of two setups and one load, two repeats each, with two readings by hand.
void makeStudy(const Bench& bench, const std::string& simulated, const Json& loadSpec = {{"kind", "vector"}}) {
  auto book = Book::create(bench.path("b.ashbook"));
  REQUIRE(book);
  StudyPlan plan;
  plan.repeats = 2;
  plan.phases = "idle 300ms, measure 400ms";
  plan.bench = simulated;
  plan.speed = 1000;
  plan.byHand = {{"noise", "50 cm", OwedReading::When::Settled}, {"wall.power", "", OwedReading::When::AtEnd}};
  Study study;
  study.name = "s";
  study.plan = planToJson(plan);
  study.setups = {{"solid", Json::object(), {{"panel", "solid"}}, Json::object()},
                  {"mesh", Json::object(), {{"panel", "mesh"}}, Json::object()}};
  study.loads = {{"all cores", loadSpec}};
  const auto put = book->putStudy(Study(), study);
  if (!put) FAIL(put.error().message);
}

size_t lines(const std::string& text) { return static_cast<size_t>(std::count(text.begin(), text.end(), '\n')); }

}  // namespace

TEST_CASE("aQueueCarriesThePlanOutAndLeavesRunsOpen") {
  const Bench bench;
  makeStudy(bench, "larch12");
  const Ran ran = bench.ashg("queue --book b.ashbook --study s");
  INFO(ran.out << ran.err);
  CHECK(ran.status == 0);
  CHECK(lines(ran.out) == 4);
  CHECK(ran.out.find("solid / all cores #1  completed, open, 2 still to take") != std::string::npos);
  CHECK(ran.err.find("All runs of the plan are done.") != std::string::npos);
  const Json info = Json::parse(bench.ashg("book info b.ashbook --json").out);
  const Json& runs = info["studies"][0]["runs"];
  REQUIRE(runs.size() == 4);
  // The plan's order: the second round goes backwards.
  CHECK(runs[1]["setup"] == "mesh");
  CHECK(runs[2]["setup"] == "mesh");
  for (const Json& run : runs) CHECK(run["still_to_take"] == 2);
  // One of them typed in: one is left.
  auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadWrite);
  Event noise;
  noise.kind = EventKind::Reading;
  noise.role = "noise";
  noise.value = 38.5;
  CHECK(book->addEvent(runs[0]["id"], noise));
  CHECK(Json::parse(bench.ashg("book info b.ashbook --json").out)["studies"][0]["runs"][0]["still_to_take"] == 1);
  CHECK(bench.ashg("queue --book b.ashbook --study s").status == 0);
}

namespace {

void changePlan(const Bench& bench, const std::function<void(StudyPlan&)>& change) {
  auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadWrite);
  const Study before = book->studies()->front();
  Study after = before;
  StudyPlan plan = planFromJson(before.plan);
  change(plan);
  after.plan = planToJson(plan);
  REQUIRE(book->putStudy(before, after));
}

}  // namespace

TEST_CASE("aQueueUntilDecidedEndsWhenThePanelsAreTold") {
  const Bench bench;
  makeStudy(bench, "larch12");
  changePlan(bench, [](StudyPlan& plan) {
    plan.repeats = 6;
    plan.isUntilDecided = true;
    plan.speed = 100000;
    plan.phases = "idle 1min, soak settled 8min..40min, measure 4min";
    plan.byHand.clear();
  });
  const Ran ran = bench.ashg("queue --book b.ashbook --study s");
  INFO(ran.out << ran.err);
  CHECK(ran.status == 0);
  // The panels differ by kelvins and scatter by tenths: two or three rounds of six, and what is left was not needed.
  const size_t done = lines(ran.out);
  CHECK((done == 4 || done == 6));
  CHECK(ran.err.find("All is decided: " + std::to_string(12 - done) + " runs of the plan were not needed.\n") !=
        std::string::npos);
  // Asked again it has nothing to do; with all repeats wanted it goes on.
  CHECK(bench.ashg("queue --book b.ashbook --study s").out.empty());
  changePlan(bench, [](StudyPlan& plan) { plan.isUntilDecided = false; });
  CHECK(lines(bench.ashg("queue --book b.ashbook --study s --most 1").out) == 1);
}

TEST_CASE("aPlanSaysWhatItCostsAndWhatItCanTell") {
  const Bench bench;
  makeStudy(bench, "larch12");
  changePlan(bench, [](StudyPlan& plan) {
    plan.repeats = 3;
    plan.marginK = 0.5;
    plan.phases = "idle 5min, soak 25min, measure 10min";
  });
  // Nothing was measured: repeats agree within 1 K, so one scatters by 0.36 K, and 40 min is what the phases last. Two
  // groups of three with Student's t of four degrees tell 1.27 K in 90 % (non-central t, any table); 0.5 K takes
  // twelve.
  const Ran before = bench.ashg("queue --book b.ashbook --study s --cost --hours 7");
  CHECK(before.status == 0);
  CHECK(before.out ==
        "3 repeats tell 1.3\u202FK or more in 9 of 10 studies (6 runs, about 4 h). The margin of 0.50\u202FK takes 12 "
        "(24 runs, "
        "about 16 h).\n"
        "Repeats are taken to scatter by 0.36\u202FK (standard deviation): this bench has no repeats yet.\n"
        "In 7 h: 5 repeats tell 0.85\u202FK or more in 9 of 10 studies (10 runs, about 6 h 40 min).\n");
  CHECK(bench.ashg("queue --book b.ashbook --study s --cost --hours 1")
            .out.find("In 1 h not even one run of each can be done.\n") != std::string::npos);
  CHECK(bench.ashg("queue --book b.ashbook --study s --hours 1").status == 2);
  CHECK(bench.ashg("queue --book b.ashbook --study s --cost --hours 1e300")
            .out.find("\nIn 1e+300 h: 1000 repeats tell ") != std::string::npos);
  for (const char* hours : {"-3", "0", "nan", "inf"}) {
    const Ran refused = bench.ashg(std::string("queue --book b.ashbook --study s --cost --hours=") + hours);
    CHECK(refused.status == 2);
    CHECK(refused.err == "ashg: --hours: give the hours at hand as a number above 0.\n");
  }
  const Ran nowhere = bench.ashg("queue --book b.ashbook --study nowhere --cost");
  CHECK(nowhere.status == 2);
  CHECK(nowhere.err.find("There is no study \"nowhere\" in ") != std::string::npos);
  // Once the bench has repeats, theirs count.
  changePlan(bench, [](StudyPlan& plan) {
    plan.repeats = 2;
    plan.speed = 100000;
  });
  REQUIRE(bench.ashg("queue --book b.ashbook --study s").status == 0);
  const std::string after = bench.ashg("queue --book b.ashbook --study s --cost").out;
  INFO(after);
  CHECK(after.find("(standard deviation of 4 runs of this study).\n") != std::string::npos);
}

TEST_CASE("aQueueWaitsForAChangeByHandOnARealMachine") {
  const Bench bench;
  makeStudy(bench, "");
  bench.write("root/proc/stat", "cpu  100 0 100 800 0 0 0 0 0 0\n");
  const Ran waits = bench.ashg("queue --book b.ashbook --study s --root root");
  CHECK(waits.status == 1);
  CHECK(waits.err.find("The queue waits for a change by hand. Before solid / all cores: ") == 0);
  CHECK(waits.out.empty());
  // Fitted: that run is done, and the queue waits again before the other panel.
  const Ran one = bench.ashg("queue --book b.ashbook --study s --root root --changed");
  INFO(one.err);
  CHECK(one.status == 1);
  CHECK(lines(one.out) == 1);
  CHECK(one.err.find("Before mesh / all cores: ") != std::string::npos);
  // The mesh panel is run twice in a row, since the second round goes backwards.
  CHECK(lines(bench.ashg("queue --book b.ashbook --study s --root root --changed").out) == 2);
}

TEST_CASE("aQueueGoesOnWithWhatNeedsNobodyWithinARound") {
  const Bench bench;
  makeStudy(bench, "");
  {
    auto book = Book::openForWork(bench.path("b.ashbook"));
    REQUIRE(book);
    const auto before = book->study("s");
    REQUIRE(before);
    Study after = *before;
    // Solid, mesh by hand, and solid again in words: nobody has to touch anything between the first and the third.
    after.setups = {{"solid", {{"panel", "solid"}}, Json::object()},
                    {"mesh", {{"panel", "mesh"}}, Json::object()},
                    {"as it is", {{"panel", "solid"}}, Json::object()}};
    REQUIRE(book->putStudy(*before, after));
  }
  bench.write("root/proc/stat", "cpu  100 0 100 800 0 0 0 0 0 0\n");
  REQUIRE(bench.ashg("queue --book b.ashbook --study s --root root --changed --most 1").status == 0);
  const Ran on = bench.ashg("queue --book b.ashbook --study s --root root");
  INFO(on.err);
  CHECK(on.status == 1);
  CHECK(lines(on.out) == 1);
  CHECK(on.out.find("as it is / all cores #1  completed") != std::string::npos);
  CHECK(on.err.find(
            "mesh / all cores waits for a change by hand (Panel: mesh); going on with as it is / all cores, which "
            "needs nobody.\n") != std::string::npos);
  // The second round is not begun before the first is done, though its first run would need nobody.
  CHECK(on.err.find("The queue waits for a change by hand. Before mesh / all cores: Panel: mesh.") !=
        std::string::npos);
}

TEST_CASE("aQueueStartsNoRunThatWouldWaitForNobody") {
  const Bench bench;
  makeStudy(bench, "larch12");
  const auto phases = [&](const std::string& text) {
    auto book = Book::openForWork(bench.path("b.ashbook"));
    REQUIRE(book);
    const auto before = book->study("s");
    REQUIRE(before);
    Study after = *before;
    after.plan["phases"] = text;
    REQUIRE(book->putStudy(*before, after));
  };
  phases("idle 1s, measure 1s, pause \"close the lid\", measure 1s");
  const Ran waits = bench.ashg("queue --book b.ashbook --study s");
  CHECK(waits.status == 1);
  CHECK(waits.err.find("solid / all cores pauses until a person has answered: close the lid.") != std::string::npos);
  CHECK(Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->runs()->empty());
  // A pause that ends by itself needs nobody.
  phases("idle 1s, measure 1s, pause \"close the lid\" at most 2s, measure 1s");
  CHECK(bench.ashg("queue --book b.ashbook --study s --most 1").status == 0);
  CHECK(Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->runs()->size() == 1);
}

TEST_CASE("aQueueEndsWithARunThatIsNotCompleted") {
  const Bench bench;
  makeStudy(bench, "larch12");
  auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadWrite);
  Study before = book->studies()->front();
  Study after = before;
  after.plan["stop_rules"] = {"cpu.temp > 10 for 0s"};
  REQUIRE(book->putStudy(before, after));
  const Ran ran = bench.ashg("queue --book b.ashbook --study s");
  CHECK(ran.status == 1);
  CHECK(lines(ran.out) == 1);
  CHECK(ran.err.find("The queue ends here: the last run was not completed.") != std::string::npos);
  CHECK(bench.ashg("queue --book b.ashbook --study nowhere").status == 2);
  CHECK(bench.ashg("queue --book nowhere.ashbook --study s").status == 2);
}

TEST_CASE("whatABookWouldRunIsShownAndMustBeConfirmedHere") {
  const Bench bench;
  setenv("XDG_CONFIG_HOME", bench.path("config").c_str(), 1);
  makeStudy(bench, "larch12", {{"kind", "vector"}, {"command", {"touch", bench.path("owned")}}});
  const std::string run = "run --book b.ashbook --study s --setup mesh --load 'all cores' --sim larch12 --speed 1000";
  const Ran refused = bench.ashg(run);
  CHECK(refused.status == 2);
  CHECK(
      refused.err.find("ashg: The load all cores of this book has a command that nobody has confirmed on this machine "
                       "(kind: vector; command.1: touch; command.2: " +
                       bench.path("owned")) == 0);
  const Ran list = bench.ashg("book allow b.ashbook");
  CHECK(list.out.find("not yet  s / load all cores: command\n           kind: vector\n           command.1: touch\n") ==
        0);
  CHECK(bench.ashg(run).status == 2);  // having looked is not having confirmed
  CHECK(bench.ashg("book allow b.ashbook --all").status == 0);
  CHECK(bench.ashg(run).status == 0);
  CHECK_FALSE(std::filesystem::exists(bench.path("owned")));
  struct stat file {};
  REQUIRE(stat(bench.path("config/ash-gauge/confirmed.json").c_str(), &file) == 0);
  CHECK((file.st_mode & 0777) == 0600);
  // A command with one letter more is another command.
  auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadWrite);
  Study before = book->studies()->front();
  Study after = before;
  after.loads[0].spec["command"] = {"touch", bench.path("owned2")};
  REQUIRE(book->putStudy(before, after));
  CHECK(bench.ashg(run).status == 2);
  unsetenv("XDG_CONFIG_HOME");
}
