// SPDX-License-Identifier: GPL-3.0-or-later
// One task done in two ways, from the command line: by a setup's own way, by its fields in a line, by what is typed.
#include <algorithm>
#include <catch2/catch.hpp>

#include "book/book.h"
#include "model/load_way.h"
#include "model/study_plan.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Ran;

namespace {

/// Two setups that do one load, each in its way.
struct WaysBench : Bench {
  explicit WaysBench(Load load, const std::string& simulated = {}) {
    auto book = Book::create(path("b.ashbook"));
    REQUIRE(book);
    StudyPlan plan;
    plan.bench = simulated;
    Study study;
    study.name = "s";
    study.plan = planToJson(plan);
    study.setups = {{"Cores", Json::object(), {{"device", "cpu"}}, Json::object()},
                    {"Card", Json::object(), {{"device", "the card"}}, Json::object()},
                    {"None", Json::object(), Json::object(), Json::object()}};
    study.loads = {std::move(load)};
    const auto put = book->putStudy(Study(), study);
    if (!put) FAIL(put.error().message);
  }
  Ran run(const std::string& setup, const std::string& more) const {
    return ashg("run --book b.ashbook --study s --setup " + setup + " --json " + more);
  }
  Json compared() const {
    const Ran ran = ashg("compare s/Cores s/Card --book b.ashbook --json");
    INFO(ran.err);
    REQUIRE(ran.status == 0);
    return Json::parse(ran.out);
  }
  std::vector<RunLog> runs() const {
    const auto book = Book::open(path("b.ashbook"), BookAccess::ReadOnly);
    std::vector<RunLog> all;
    for (const RunSummary& run : *book->runs()) all.push_back(*book->readRun(run.info.id));
    return all;
  }
};

Json rowOf(const Json& compared, const std::string& setup) {
  for (const Json& row : compared["rows"]) {
    if (row["setup"] == setup) return row;
  }
  return {};
}

}  // namespace

TEST_CASE("aSetupCarriesALoadOutInItsOwnWayAndIsHeldAgainstTheOthers") {
  Load mixdown{"Mixdown", {{"kind", "integer"}, {"work", 60'000}}, 0};
  setWay(mixdown, "Card", {{"kind", "mixed"}, {"work", 60'000}});
  const WaysBench bench(mixdown, "larch12");
  for (const char* setup : {"Cores", "Card"}) {
    const Ran ran = bench.run(setup,
                              "--load Mixdown --sim larch12 --speed 100000 --interval 1 "
                              "--phases 'idle 1min, measure 30min, cool 1min'");
    INFO(ran.err);
    REQUIRE(ran.status == 0);
  }
  const auto runs = bench.runs();
  REQUIRE(runs.size() == 2);
  CHECK(runs[0].facts.loadKind == LoadKind::Integer);
  CHECK(runs[1].facts.loadKind == LoadKind::Mixed);
  CHECK(runs[1].facts.loadSpec["work"] == 60'000);
  const Json row = rowOf(bench.compared(), "Card");
  CHECK(row["way"] == "mixed");
  CHECK(row["metrics"]["task_s"]["verdict"] != "not comparable");
  CHECK(row["metrics"]["energy_j"]["verdict"] != "not comparable");
  // Sent to somebody else, the run still knows what it did.
  REQUIRE(bench.ashg("export " + runs[1].name + " --book b.ashbook --to card").status == 0);
  REQUIRE(bench.ashg("import card --book other.ashbook").status == 0);
  const auto other = Book::open(bench.path("other.ashbook"), BookAccess::ReadOnly);
  CHECK(other->readRun(other->runs()->front().info.id)->facts.loadSpec == runs[1].facts.loadSpec);
}

TEST_CASE("aLineHasTheFieldsOfItsSetupInIt") {
  const WaysBench bench({"Frame", {{"kind", "command"}, {"command", "sh ./render --on {device}"}, {"repeats", 1}}, 0});
  bench.write("render", "#!/bin/sh\nprintf '%s|' \"$@\" >> did\nsleep 0.4\n");
  // What a book would run is shown as it would run, before it may.
  const Ran refused = bench.run("Card", "--load Frame --phases 'soak 20s'");
  CHECK(refused.status == 2);
  CHECK(refused.err.find("sh ./render --on 'the card'") != std::string::npos);
  CHECK(bench.ashg("book allow b.ashbook").out.find("sh ./render --on cpu") != std::string::npos);
  REQUIRE(bench.ashg("book allow b.ashbook --all").status == 0);
  for (const char* setup : {"Cores", "Card"}) {
    const Ran ran = bench.run(setup, "--load Frame --phases 'soak 20s'");
    INFO(ran.err);
    REQUIRE(ran.status == 0);
  }
  CHECK(tests::readFile(bench.path("did")) == "--on|cpu|--on|the card|");
  const auto runs = bench.runs();
  REQUIRE(runs.size() == 2);
  for (const RunLog& run : runs) CHECK(run.facts.work->units == 1);
  CHECK(rowOf(bench.compared(), "Card")["way"] == "sh ./render --on 'the card'");
  const Ran none = bench.run("None", "--load Frame --phases 'soak 20s'");
  CHECK(none.status == 2);
  CHECK(none.err.find("The load Frame needs {device}, which None does not state") != std::string::npos);
}

TEST_CASE("aNameWithALineIsThatLoadCarriedOutSo") {
  const Bench bench;
  const std::string run = "run --book b.ashbook --study s --sim larch12 --speed 100000 --phases 'measure 60s' --json ";
  REQUIRE(bench.ashg(run + "--setup a --load 'Mixdown = integer duty=90'").status == 0);
  REQUIRE(bench.ashg(run + "--setup b --load 'Mixdown = mixed'").status == 0);
  REQUIRE(bench.ashg(run + "--setup a --load Mixdown").status == 0);
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  const auto runs = *book->runs();
  REQUIRE(runs.size() == 3);
  for (const RunSummary& one : runs) CHECK(one.info.load == "Mixdown");
  CHECK(book->readRun(runs[0].info.id)->facts.loadSpec["duty"] == 90);
  CHECK(book->readRun(runs[1].info.id)->facts.loadKind == LoadKind::Mixed);
  // By its name it is what it was first.
  CHECK(book->readRun(runs[2].info.id)->facts.loadSpec["duty"] == 90);
  // A load that was there before under such a name is that one, and no line.
  {
    auto own = Book::open(bench.path("b.ashbook"), BookAccess::ReadWrite);
    const Study before = own->studies()->front();
    Study after = before;
    after.loads.push_back({"Mixdown = steam", {{"kind", "integer"}}, 0});
    REQUIRE(own->putStudy(before, after));
  }
  CHECK(bench.ashg(run + "--setup b --load 'Mixdown = steam'").status == 0);
  const Ran wrong = bench.ashg(run + "--setup b --load 'Mixdown = vapour'");
  CHECK(wrong.status == 2);
  CHECK(wrong.err.find("vapour") != std::string::npos);
}

TEST_CASE("aTypedLineHasTheFieldsOfItsSetupAndIsKeptWithTheirPlaces") {
  const WaysBench bench({"other", {{"kind", "vector"}}, 0});
  bench.write("render", "#!/bin/sh\nprintf '%s|' \"$@\" >> did\nsleep 0.4\n");
  const std::string load = "--load 'Frame = command command=\"sh ./render {device}\" repeats=1' --phases 'soak 20s'";
  for (int i = 0; i < 2; ++i) {
    const Ran ran = bench.run("Card", load);
    INFO(ran.err);
    REQUIRE(ran.status == 0);
  }
  // By its name, on the other setup: that is another line, which nobody has typed.
  const Ran other = bench.run("Cores", "--load Frame --phases 'soak 20s'");
  CHECK(other.status == 2);
  CHECK(other.err.find("sh ./render cpu") != std::string::npos);
  REQUIRE(bench.ashg("book allow b.ashbook --all").status == 0);
  CHECK(bench.run("Cores", "--load Frame --phases 'soak 20s'").status == 0);
  CHECK(tests::readFile(bench.path("did")) == "the card|the card|cpu|");
}
