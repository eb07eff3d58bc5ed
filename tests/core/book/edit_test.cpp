// SPDX-License-Identifier: GPL-3.0-or-later
// What a person edits in a book: studies, setups, loads, and which runs count.
#include <catch2/catch.hpp>

#include "book/run_writer.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using tests::TempFolder;

namespace {

Study twoSetups() {
  Study study;
  study.name = "panels";
  study.question = "Which?";
  study.plan = {{"repeats", 3}};
  study.setups = {{"solid", Json::object(), {{"panel", "solid"}}, Json::object()},
                  {"mesh", Json::object(), Json::object(), Json::object()}};
  study.loads = {{"vector", {{"kind", "vector"}}}};
  return study;
}

std::string recordRun(const std::string& book, const std::string& setup, Outcome outcome) {
  RunInfo info;
  info.id = newRunId();
  info.study = "panels";
  info.setup = setup;
  info.load = "vector";
  info.started = "2026-09-24T10:00:00+02:00";
  info.procedure = *parsePhases("soak 1min");
  auto writer = RunWriter::begin(book, info, {});
  REQUIRE(writer);
  REQUIRE(writer->finish(outcome, outcome == Outcome::Completed ? "" : "because"));
  return info.id;
}

struct Kept : TempFolder {
  Kept() : book(std::move(*Book::create(path("b.ashbook")))) {
    auto put = book.putStudy({}, twoSetups());
    REQUIRE(put);
    study = *put;
  }
  Book book;
  Study study;
};

}  // namespace

TEST_CASE("aStudyIsKeptWithItsSetupsAndGetsIds") {
  const Kept kept;
  CHECK(kept.study.id != 0);
  CHECK(kept.study.setups[1].id != 0);
  const auto studies = *kept.book.studies();
  REQUIRE(studies.size() == 1);
  CHECK(studies[0].question == "Which?");
  CHECK(studies[0].plan["repeats"] == 3);
  CHECK(studies[0].setups[0].conditions["panel"] == "solid");
  CHECK(studies[0].setups[0].id == kept.study.setups[0].id);
}

TEST_CASE("renamingKeepsTheRunsAndRemovingIsRefusedWhileThereAreSome") {
  Kept kept;
  const std::string run = recordRun(kept.path("b.ashbook"), "mesh", Outcome::Completed);
  Study renamed = kept.study;
  renamed.setups[1].name = "mesh, 1.2 mm";
  REQUIRE(kept.book.putStudy(kept.study, renamed));
  CHECK(kept.book.run(run)->info.setup == "mesh, 1.2 mm");
  Study without = renamed;
  without.setups.pop_back();
  const auto refused = kept.book.putStudy(renamed, without);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message.find("has runs") != std::string::npos);
  CHECK(kept.book.studies()->front().setups.size() == 2);
  // The other one has none and goes; undone, it is back with its id.
  Study onlyMesh = renamed;
  onlyMesh.setups.erase(onlyMesh.setups.begin());
  REQUIRE(kept.book.putStudy(renamed, onlyMesh));
  CHECK(kept.book.studies()->front().setups.size() == 1);
  REQUIRE(kept.book.putStudy(onlyMesh, renamed));
  CHECK(kept.book.studies()->front().setups.size() == 2);
}

TEST_CASE("rowsOfOthersAreLeftAlone") {
  Kept kept;
  // A recorder makes a setup while the window holds an older value of the study.
  REQUIRE(kept.book.ensurePlace("panels", {"third", Json::object(), Json::object(), Json::object()},
                                {"vector", Json::object()}));
  Study edited = kept.study;
  edited.question = "Which one?";
  REQUIRE(kept.book.putStudy(kept.study, edited));
  CHECK(kept.book.studies()->front().setups.size() == 3);
  CHECK(kept.book.studies()->front().question == "Which one?");
}

TEST_CASE("twoOfOneNameAreRefused") {
  Kept kept;
  Study twice = kept.study;
  twice.setups[1].name = "solid";
  CHECK_FALSE(kept.book.putStudy(kept.study, twice));
  Study nameless = kept.study;
  nameless.name = "";
  CHECK_FALSE(kept.book.putStudy(kept.study, nameless));
  Study other = twoSetups();
  const auto again = kept.book.putStudy({}, other);
  REQUIRE_FALSE(again);
  CHECK(again.error().message.find("already") != std::string::npos);
  CHECK(kept.book.studies()->size() == 1);
}

TEST_CASE("aVoidIsTakenBackToWhatTheRunWas") {
  Kept kept;
  const std::string run = recordRun(kept.path("b.ashbook"), "mesh", Outcome::StoppedByRule);
  REQUIRE(kept.book.voidRun(run, "cable"));
  REQUIRE(kept.book.voidRun(run, "cable in the fan"));  // said better; what it was before stays
  CHECK(kept.book.run(run)->info.outcome == Outcome::Void);
  CHECK(kept.book.run(run)->info.reason == "cable in the fan");
  REQUIRE(kept.book.restoreRun(run));
  CHECK(kept.book.run(run)->info.outcome == Outcome::StoppedByRule);
  CHECK(kept.book.run(run)->info.reason == "because");
  REQUIRE(kept.book.restoreRun(run));  // nothing to take back: nothing changes
  CHECK(kept.book.run(run)->info.outcome == Outcome::StoppedByRule);
  // One that was ended by its void counts as stopped by hand.
  const std::string ended = recordRun(kept.path("b.ashbook"), "mesh", Outcome::Void);
  REQUIRE(kept.book.restoreRun(ended));
  CHECK(kept.book.run(ended)->info.outcome == Outcome::StoppedByHand);
}

TEST_CASE("aStudyWithRunsIsNotRemoved") {
  Kept kept;
  recordRun(kept.path("b.ashbook"), "mesh", Outcome::Completed);
  CHECK_FALSE(kept.book.removeStudy(kept.study.id));
  auto empty = kept.book.putStudy({}, [] {
    Study study;
    study.name = "empty";
    return study;
  }());
  REQUIRE(empty);
  REQUIRE(kept.book.removeStudy(empty->id));
  CHECK(kept.book.studies()->size() == 1);
}
