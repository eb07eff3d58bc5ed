// SPDX-License-Identifier: GPL-3.0-or-later
// Procedures with a name, and pauses answered from another terminal.
#include <catch2/catch.hpp>
#include <cmath>

#include "book/book.h"
#include "model/procedure.h"
#include "model/procedure_preset.h"
#include "tests/support/program.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("aProcedureIsKeptUnderItsNameInVersionsAndFollowed") {
  const Bench bench;
  CHECK(bench.ashg("procedure put quick 'idle 10s,  soak 60s' --book b.ashbook").out ==
        "quick v1: idle 10s, soak 1min\n");
  // The same again is no new version.
  CHECK(bench.ashg("procedure put quick 'idle 10s, soak 1min' --book b.ashbook").out.starts_with("quick v1"));
  CHECK(bench.ashg("procedure put quick '2 x (idle 5s, soak 20s)' --book b.ashbook").out.starts_with("quick v2"));
  CHECK(bench.ashg("procedure show quick --book b.ashbook").out == "2 x (idle 5s, soak 20s)\n");
  CHECK(bench.ashg("procedure show quick --version 1 --book b.ashbook").out == "idle 10s, soak 1min\n");
  const std::string run = "run --book b.ashbook --study s --setup mesh --sim larch12 --speed 1e5 --run-id ";
  REQUIRE(bench.ashg(run + "r1 --procedure quick").status == 0);
  CHECK(bench.ashg("procedure put quick 'idle 1s, soak 30s' --book b.ashbook").status == 0);
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  REQUIRE(book);
  const auto kept = book->readRun("r1");
  REQUIRE(kept);
  CHECK(kept->facts.procedure == "2 x (idle 5s, soak 20s)");
  CHECK(kept->facts.phases.size() == 4);
  const Json listed = Json::parse(bench.ashg("procedure list --book b.ashbook --json").out);
  std::map<std::string, int> versions;
  for (const Json& one : listed["procedures"]) ++versions[one["name"]];
  CHECK(versions["quick"] == 3);
  CHECK(versions["passive"] == 1);
  CHECK(bench.ashg("procedure drop quick --book b.ashbook").status == 0);
  const Ran gone = bench.ashg(run + "r2 --procedure quick");
  CHECK(gone.status == 2);
  CHECK(gone.err.find("no procedure \"quick\"") != std::string::npos);
  CHECK(bench.ashg("procedure drop air --book b.ashbook").err.find("ships with the program") != std::string::npos);
  CHECK(bench.ashg("procedure put x 'soak for a while' --book b.ashbook").status == 2);
  CHECK(bench.ashg(run + "r2 --procedure air --phases 'idle 1s'").status != 0);
}

TEST_CASE("theProceduresThatShipCanBeReadAndSayThemselves") {
  std::set<std::string> names;
  for (const ProcedurePreset& preset : kProcedurePresets) {
    INFO(preset.name);
    const auto procedure = parsePhases(preset.text);
    REQUIRE(procedure);
    CHECK(phasesText(*procedure) == preset.text);
    names.insert(std::string(preset.name));
  }
  // Contract: for air, liquid, passive, drive, notebook, task, battery.
  CHECK(names == std::set<std::string>{"air", "battery", "drive", "liquid", "notebook", "passive", "task"});
  // One that ships is there before there is a book.
  const Bench bench;
  CHECK(bench.ashg("run --book new.ashbook --study s --setup mesh --sim larch12 --speed 1e6 --procedure air").status ==
        0);
}

TEST_CASE("aPauseIsToldAndAnsweredFromAnotherTerminal") {
  const Bench bench;
  const pid_t recorder =
      bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "mesh", "--sim", "larch12", "--speed", "50",
                   "--run-id", "hands", "--phases", "soak 10s, pause \"close the lid\", measure 10s"});
  // Nothing to answer yet, or nobody there.
  REQUIRE(Bench::waitUntil([&] { return bench.ashg("answer hands closed at once").status == 0; }, 20));
  CHECK(Bench::wait(recorder, 20) == 0);
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  REQUIRE(book);
  const auto kept = book->readRun("hands");
  REQUIRE(kept);
  CHECK(kept->facts.outcome == Outcome::Completed);
  const auto has = [&](const std::string& words) {
    return std::any_of(kept->facts.events.begin(), kept->facts.events.end(),
                       [&](const Event& event) { return event.text.find(words) != std::string::npos; });
  };
  CHECK(has("Pause: close the lid."));
  CHECK(has("closed at once"));
  CHECK(has("Pause ended: answered."));
  REQUIRE(kept->facts.phases.size() == 3);
  CHECK(kept->facts.phases[1].kind == PhaseKind::Pause);
  CHECK(kept->facts.phases[1].startS == 10);
  // The load went on: the processor is busy through the pause.
  const Channel* load = kept->log.find("cpu.load");
  REQUIRE(load != nullptr);
  for (size_t i = 0; i < kept->log.timeS.size(); ++i) {
    if (kept->log.timeS[i] > 10.5 && kept->log.timeS[i] < kept->facts.phases[1].endS) CHECK(load->values[i] > 50);
  }
  CHECK(bench.ashg("answer hands too late").status == 2);
}

TEST_CASE("aTerminalSaysWhatAPauseAsksFor") {
  const Bench bench;
  const Ran ran = bench.ashg(
      "run --book b.ashbook --study s --setup mesh --sim larch12 --speed 50 --run-id hands --phases 'idle 5s, pause "
      "\"read the meter\" at most 30s, cool 5s'");
  CHECK(ran.status == 0);
  CHECK(ran.err.find("Pause: read the meter. Then: ashg answer hands (it goes on by itself after 30 s)") !=
        std::string::npos);
}
