// SPDX-License-Identifier: GPL-3.0-or-later
// The study in hand: edits, undo, and what the book tells meanwhile.
#include "app/study/study_desk.h"

#include <catch2/catch.hpp>

using namespace ash;

namespace {

std::shared_ptr<const BookView> bookWith(const std::string& question, long long id = 7) {
  auto view = std::make_shared<BookView>();
  view->path = "b.ashbook";
  Study study;
  study.id = id;
  study.name = "s";
  study.question = question;
  study.setups = {{"A", Json::object(), Json::object(), Json::object(), 1}};
  study.loads = {{"one", Json::object(), 1}};
  view->studies = {study};
  return view;
}

void ask(StudyDesk& desk, const char* question) {
  desk.edit("ask", [&](Study& study, StudyPlan&) { study.question = question; });
}

}  // namespace

TEST_CASE("anOlderStateOfTheBookDoesNotUndoWhatWasEditedSince") {
  StudyDesk desk(nullptr);
  int puts = 0;
  QObject::connect(&desk, &StudyDesk::putWanted, [&] { ++puts; });
  desk.takeBook(bookWith("first"), true);
  ask(desk, "second");
  ask(desk, "third");
  CHECK(puts == 2);
  // The book answers with what it held before, then with the first of the two edits.
  desk.takeBook(bookWith("first"), false);
  CHECK(desk.study()->question == "third");
  desk.takePutDone(true);
  desk.takeBook(bookWith("second"), false);
  CHECK(desk.study()->question == "third");
  desk.takePutDone(true);
  desk.takeBook(bookWith("third"), false);
  CHECK(desk.study()->question == "third");
  // From here on somebody else may edit it.
  desk.takeBook(bookWith("of another program"), false);
  CHECK(desk.study()->question == "of another program");
}

TEST_CASE("anEditThatWasRefusedGoesBackToTheBook") {
  StudyDesk desk(nullptr);
  desk.takeBook(bookWith("first"), true);
  ask(desk, "second");
  desk.takePutDone(true);
  desk.takeBook(bookWith("first"), false);
  CHECK(desk.study()->question == "first");
}

TEST_CASE("anEditThatChangesNothingIsNone") {
  StudyDesk desk(nullptr);
  desk.takeBook(bookWith("first"), true);
  ask(desk, "first");
  CHECK_FALSE(desk.undoStack().canUndo());
  ask(desk, "second");
  CHECK(desk.undoStack().undoText() == QStringLiteral("ask"));
  desk.undoStack().undo();
  CHECK(desk.study()->question == "first");
  desk.undoStack().redo();
  CHECK(desk.study()->question == "second");
}

TEST_CASE("runsAreNewsEvenWhileAnEditIsOnItsWay") {
  StudyDesk desk(nullptr);
  desk.takeBook(bookWith("first"), true);
  ask(desk, "second");
  auto view = std::make_shared<BookView>(*bookWith("first"));
  RunSummary run;
  run.info.study = "s";
  run.info.setup = "A";
  run.info.load = "one";
  run.info.outcome = Outcome::Completed;
  view->runs = {run};
  desk.takeBook(view, false);
  CHECK(desk.runs().size() == 1);
  CHECK(desk.study()->question == "second");
  CHECK(desk.runsToDo().size() == 2);
  CHECK(desk.lastSetup()->name == "A");
  CHECK_FALSE(desk.knowsRunTime());
}
