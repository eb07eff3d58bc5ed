// SPDX-License-Identifier: GPL-3.0-or-later
// The demo book, the plan's part in a run, and entry lines from the command line.
#include <catch2/catch.hpp>
#include <set>

#include "book/book.h"
#include "model/json.h"
#include "tests/support/demo_book.h"

using namespace ash;
using tests::Bench;
using tests::readFile;

// That it is the same each time is what golden_test.cpp shows.
TEST_CASE("theDemoBookShowsEveryState") {
  const Bench bench;
  tests::putDemoBook(bench, "a.ashbook");
  const Json a = Json::parse(bench.ashg("book info a.ashbook --json").out);
  REQUIRE(a["studies"].size() == 6);
  CHECK(a["studies"][0]["runs"].size() == 19);
  CHECK(a["studies"][1]["runs"].size() == 8);
  CHECK(a["studies"][2]["runs"].size() == 8);
  CHECK(a["studies"][3]["runs"].size() == 3);
  CHECK(a["studies"][4]["runs"].size() == 4);
  CHECK(a["studies"][5]["runs"].size() == 7);
  std::set<std::string> outcomes;
  for (const Json& run : a["studies"][0]["runs"]) outcomes.insert(run["outcome"]);
  CHECK(outcomes == std::set<std::string>{"completed", "machine went down", "void"});
  CHECK(bench.ashg("book check a.ashbook").out == "sound\n");
  int unsettled = 0;
  for (const char* run : {"wren-01", "wren-02", "wren-03"}) {
    const Json figures = Json::parse(bench.ashg(std::string("analyze ") + run + " --book a.ashbook --json").out);
    unsettled += figures["channels"]["cpu.temp"]["settled"]["is_settled"] == false;
  }
  CHECK(unsettled == 1);
  // The page of a study with two loads holds both, each against its own reference.
  REQUIRE(bench.ashg("report 'Which side panel?' --book a.ashbook --to out").status == 0);
  const std::string page = readFile(bench.path("out/which-side-panel.html"));
  for (const char* part : {"All cores", "Cores + graphics", "at least", "left a cable in the fan", "machine went down"})
    CHECK(page.find(part) != std::string::npos);
  // Coolers that were walked up a ladder of duties are held against each other at equal noise.
  REQUIRE(bench.ashg("report 'How far down can the fans go?' --book a.ashbook --to out").status == 0);
  const std::string ladder = readFile(bench.path("out/how-far-down-can-the-fans-go.html"));
  CHECK(ladder.find("Read off between measured settings at equal noise") != std::string::npos);
  CHECK(ladder.find("Plover (fan duty ") != std::string::npos);
  // One task done in two ways leads with its time.
  REQUIRE(bench.ashg("report 'The mixdown on processor or graphics?' --book a.ashbook --to out").status == 0);
  const std::string ways = readFile(bench.path("out/the-mixdown-on-processor-or-graphics.html"));
  CHECK(ways.find("On the graphics carries Mixdown out by graphics, On the processor by integer.") !=
        std::string::npos);
  const auto again = bench.ashg("demo --to a.ashbook");
  CHECK(again.status == 2);
  CHECK(again.err.find("is there already") != std::string::npos);
  CHECK_FALSE(std::filesystem::exists(bench.path("a.ashbook.making")));
}

TEST_CASE("aDemoBookThatCannotBeWrittenLeavesNothing") {
  const Bench bench;
  const auto refused = bench.ashg("demo --to nowhere/a.ashbook");
  CHECK(refused.status != 0);
  CHECK(refused.err.find("nowhere") != std::string::npos);
}

TEST_CASE("aRunTakesPhasesAndStopRulesFromItsStudysPlan") {
  const Bench bench;
  {
    auto book = Book::create(bench.path("b.ashbook"));
    REQUIRE(book);
    Study study;
    study.name = "s";
    study.plan = {{"phases", "soak 90s"}, {"stop_rules", {"cpu.temp > 60 for 3s"}}};
    study.setups = {{"loud", Json::object(), {{"panel", "mesh"}, {"fan_duty", 95}}, Json::object()}};
    study.loads = {{"All cores", {{"kind", "vector"}}}};
    REQUIRE(book->putStudy({}, study));
  }
  // The load is asked for by the study's name of it; the plan's rule ends it.
  const auto ran =
      bench.ashg("run --book b.ashbook --study s --setup loud --load 'All cores' --sim larch12 --speed 100000 --json");
  CHECK(ran.status == 1);
  const Json result = Json::parse(ran.out);
  CHECK(result["outcome"] == "stopped by a rule");
  CHECK(result["figures"]["channels"]["fan.cpu.duty"]["load"]["mean"] == 95);
  const auto own = bench.ashg(
      "run --book b.ashbook --study s --setup loud --load 'All cores' --sim larch12 --speed 100000 --phases 'soak 5s' "
      "--json");
  CHECK(own.status == 0);
  CHECK(Json::parse(own.out)["figures"]["duration_s"].get<double>() < 6);
}

TEST_CASE("aNoteFromTheCommandLineIsAnEntryLine") {
  const Bench bench;
  const pid_t child = bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "mesh", "--sim", "larch12",
                                   "--speed", "20", "--phases", "soak 1h", "--run-id", "noted"});
  REQUIRE(Bench::waitUntil([&] { return bench.ashg("runs").out.find("noted") != std::string::npos; }, 20));
  CHECK(bench.ashg("note noted noise 38.5 50cm").status == 0);
  CHECK(bench.ashg("note noted coil whine").status == 0);
  const auto refused = bench.ashg("note noted noise loud");
  CHECK(refused.status == 2);
  CHECK(refused.err.find("noise 38.5 50cm") != std::string::npos);
  CHECK(bench.ashg("note noted void left a cable in the fan").status == 0);
  CHECK(Bench::wait(child, 20) >= 0);
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  REQUIRE(book);
  const auto run = book->readRun("noted");
  REQUIRE(run);
  CHECK(run->facts.outcome == Outcome::Void);
  CHECK(run->facts.reason == "left a cable in the fan");
  std::vector<std::string> kinds;
  for (const Event& event : run->facts.events) {
    if (event.kind != EventKind::Phase) kinds.emplace_back(event.kind.text());
  }
  CHECK(kinds == std::vector<std::string>{"reading", "note", "void"});
}
