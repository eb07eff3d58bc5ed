// SPDX-License-Identifier: GPL-3.0-or-later
// What a person edits in a book: studies, setups, loads, and which runs count.
#include <catch2/catch.hpp>
#include <utility>

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

TEST_CASE("aNumberThatWasGivenIsNeverGivenAgain") {
  Kept kept;
  Study without = kept.study;
  const long long goneId = without.setups.back().id;
  without.setups.pop_back();
  REQUIRE(kept.book.putStudy(kept.study, without));
  // Somebody else makes a setup before the removal is undone.
  REQUIRE(kept.book.ensurePlace("panels", {"third", Json::object(), Json::object(), Json::object()},
                                {"vector", Json::object()}));
  const auto third = kept.book.studies()->front().setups.back();
  CHECK(third.id > goneId);
  const std::string run = recordRun(kept.path("b.ashbook"), "third", Outcome::Completed);
  // The undo, which knows the row by its old number.
  REQUIRE(kept.book.putStudy(without, kept.study));
  CHECK(kept.book.run(run)->info.setup == "third");
  CHECK(kept.book.studies()->front().setups.size() == 3);
}

TEST_CASE("anEditChangesItsFieldAndNothingThatOthersSetMeanwhile") {
  Kept kept;
  auto other = std::move(*Book::open(kept.path("b.ashbook"), BookAccess::ReadWrite));
  // Two windows that both saw kept.study.
  Study first = kept.study, second = kept.study;
  first.setups[0].conditions["fan_duty"] = 60;
  first.plan["repeats"] = 5;
  second.setups[0].conditions["room_c"] = 22.5;
  second.setups[1].name = "mesh, fine";
  second.question = "Which one?";
  REQUIRE(kept.book.putStudy(kept.study, first));
  const auto both = other.putStudy(kept.study, second);
  REQUIRE(both);
  CHECK(both->setups[0].conditions == Json({{"panel", "solid"}, {"fan_duty", 60}, {"room_c", 22.5}}));
  CHECK(both->plan["repeats"] == 5);
  CHECK(both->setups[1].name == "mesh, fine");
  CHECK(both->question == "Which one?");
}

TEST_CASE("anEditOfWhatHasMovedOnIsRefusedWholeWithItsReason") {
  Kept kept;
  Study first = kept.study, second = kept.study;
  first.setups[0].conditions["panel"] = "steel";
  second.setups[0].conditions["panel"] = "glass";
  second.question = "Which glass?";
  REQUIRE(kept.book.putStudy(kept.study, first));
  const auto refused = kept.book.putStudy(kept.study, second);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message ==
        "“solid”: panel was changed elsewhere meanwhile, to \"steel\"; what you set is not kept. Look at it and set it "
        "again if it shall be otherwise.");
  CHECK(kept.book.studies()->front().question == "Which?");
  // The same wish twice is no quarrel.
  CHECK(kept.book.putStudy(kept.study, first));
  // A plan's key, a name, and a key that was taken out.
  Study plan = kept.study, otherPlan = kept.study;
  plan.plan["repeats"] = 4;
  otherPlan.plan["repeats"] = 6;
  REQUIRE(kept.book.putStudy(kept.study, plan));
  CHECK(
      kept.book.putStudy(kept.study, otherPlan).error().message.find("repeats was changed elsewhere meanwhile, to 4") !=
      std::string::npos);
  Study without = first;
  without.setups[0].conditions.erase("panel");
  REQUIRE(kept.book.putStudy(first, without));
  CHECK_FALSE(kept.book.putStudy(first, second));
}

TEST_CASE("aRowThatIsGoneOrChangedIsNeitherMadeAnewNorRemoved") {
  Kept kept;
  Study without = kept.study, edited = kept.study;
  without.setups.pop_back();
  edited.setups[1].conditions["fan_duty"] = 50;
  REQUIRE(kept.book.putStudy(kept.study, without));
  CHECK(kept.book.putStudy(kept.study, edited).error().message ==
        "“mesh” was removed elsewhere meanwhile; what you set is not kept.");
  CHECK(kept.book.studies()->front().setups.size() == 1);
  // The other way round: removed by one who has not seen the change.
  Kept again;
  Study changed = again.study, removed = again.study;
  changed.setups[1].conditions["fan_duty"] = 50;
  removed.setups.pop_back();
  REQUIRE(again.book.putStudy(again.study, changed));
  CHECK(again.book.putStudy(again.study, removed).error().message ==
        "“mesh” was changed elsewhere meanwhile, so it is not removed; look at it first.");
  CHECK(again.book.studies()->front().setups.size() == 2);
  // A study that is gone.
  REQUIRE(again.book.removeStudy(again.study.id));
  CHECK_FALSE(again.book.putStudy(again.study, changed));
  CHECK(again.book.studies()->empty());
}

TEST_CASE("everyEditIsCountedForThoseWhoLookOn") {
  Kept kept;
  long long before = *kept.book.edition();
  const auto hasGrown = [&] {
    const long long now = *kept.book.edition();
    return std::exchange(before, now) < now;
  };
  Study edited = kept.study;
  edited.question = "Which one?";
  REQUIRE(kept.book.putStudy(kept.study, edited));
  CHECK(hasGrown());
  const std::string run = recordRun(kept.path("b.ashbook"), "mesh", Outcome::Completed);
  CHECK(hasGrown());
  REQUIRE(kept.book.voidRun(run, "cable"));
  CHECK(hasGrown());
  REQUIRE(kept.book.restoreRun(run));
  CHECK(hasGrown());
  Event note;
  note.kind = EventKind::Note;
  REQUIRE(kept.book.addEvent(run, note));
  CHECK(hasGrown());
  REQUIRE(kept.book.putReadingChoice("bench", "chip/temp1", {std::nullopt, {}, true}));
  CHECK(hasGrown());
  CHECK_FALSE(hasGrown());
}
