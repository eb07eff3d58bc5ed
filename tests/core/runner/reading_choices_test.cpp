// SPDX-License-Identifier: GPL-3.0-or-later
// What a book says of a machine's readings counts where a person said or accepted it, and nowhere else.
#include "runner/reading_choices.h"

#include <catch2/catch.hpp>

#include "book/book.h"
#include "tests/support/temp_folder.h"

using namespace ash;

namespace {

constexpr const char* kMachine = "machine of the bench";

ReadingChoice asRole(const std::string& role) {
  ReadingChoice choice;
  choice.role = role;
  return choice;
}

ReadingChoice limitedTo(double critical) {
  ReadingChoice choice;
  choice.limits["critical"] = critical;
  return choice;
}

/// A book, and people with a folder of settings each.
struct Bench {
  Bench() { becomes("reviewer"); }
  ~Bench() { unsetenv("XDG_CONFIG_HOME"); }
  void becomes(const std::string& person) const { setenv("XDG_CONFIG_HOME", folder.path(person).c_str(), 1); }
  SortedChoices sorted() const {
    const auto choices = choicesOn(book, kMachine);
    REQUIRE(choices);
    return *choices;
  }
  tests::TempFolder folder;
  Book book = std::move(*Book::create(folder.path("b.ashbook")));
};

}  // namespace

TEST_CASE("whatAPersonSaysCountsForThatPersonAndIsAProposalToAnother") {
  Bench bench;
  REQUIRE(sayOfReading(bench.book, kMachine, "chip/temp1", asRole("cpu.temp")));
  CHECK(bench.sorted().accepted.at("chip/temp1").role == "cpu.temp");
  CHECK(bench.sorted().proposed.empty());
  CHECK(proposalSentence(bench.sorted()).empty());
  bench.becomes("stranger");
  CHECK(bench.sorted().accepted.empty());
  CHECK(bench.sorted().proposed.at("chip/temp1").role == "cpu.temp");
  CHECK(proposalSentence(bench.sorted()).find("of 1 reading of") != std::string::npos);
  REQUIRE(acceptProposals(bench.book, kMachine));
  CHECK(bench.sorted().proposed.empty());
  CHECK(bench.sorted().accepted.size() == 1);
}

TEST_CASE("anAcceptedChoiceThatTheBookChangesLaterIsAProposalAgain") {
  Bench bench;
  REQUIRE(sayOfReading(bench.book, kMachine, "chip/temp1", limitedTo(90)));
  REQUIRE(bench.sorted().accepted.at("chip/temp1").limits.at("critical") == 90);
  // Somebody else writes another limit into the book.
  REQUIRE(bench.book.putReadingChoice(kMachine, "chip/temp1", limitedTo(120)));
  CHECK(bench.sorted().accepted.empty());
  CHECK(bench.sorted().proposed.at("chip/temp1").limits.at("critical") == 120);
  // What was accepted once is known again when it comes back.
  REQUIRE(bench.book.putReadingChoice(kMachine, "chip/temp1", limitedTo(90)));
  CHECK(bench.sorted().proposed.empty());
}

TEST_CASE("aRoleThatGoesToAnotherReadingLeavesTheRestOfWhatWasSaid") {
  Bench bench;
  ReadingChoice both = asRole("cpu.temp");
  both.limits["critical"] = 90;
  REQUIRE(sayOfReading(bench.book, kMachine, "chip/temp1", both));
  REQUIRE(sayOfReading(bench.book, kMachine, "chip/temp2", asRole("cpu.temp")));
  const SortedChoices sorted = bench.sorted();
  CHECK(sorted.proposed.empty());
  CHECK(sorted.accepted.at("chip/temp2").role == "cpu.temp");
  CHECK_FALSE(sorted.accepted.at("chip/temp1").role.has_value());
  CHECK(sorted.accepted.at("chip/temp1").limits.at("critical") == 90);
}

TEST_CASE("sayingSomethingOfOneReadingAcceptsNothingElseOfTheBook") {
  Bench bench;
  bench.becomes("stranger");
  ReadingChoice hidden;
  hidden.isHidden = true;
  REQUIRE(bench.book.putReadingChoice(kMachine, "chip/temp1", hidden));
  REQUIRE(bench.book.putReadingChoice(kMachine, "chip/temp3", limitedTo(130)));
  bench.becomes("reviewer");
  REQUIRE(sayOfReading(bench.book, kMachine, "chip/temp2", asRole("room.temp")));
  const SortedChoices sorted = bench.sorted();
  CHECK(sorted.accepted.size() == 1);
  CHECK(sorted.accepted.contains("chip/temp2"));
  CHECK(sorted.proposed.size() == 2);
  CHECK(proposalSentence(sorted).find("of 2 readings of") != std::string::npos);
}

TEST_CASE("aRoleTakenByABookFromAnAcceptedReadingIsNotAcceptedWithIt") {
  Bench bench;
  REQUIRE(sayOfReading(bench.book, kMachine, "chip/temp1", asRole("cpu.temp")));
  // The book gives the watched role to a probe that stays cool.
  REQUIRE(bench.book.putReadingChoice(kMachine, "probe/temp1", asRole("cpu.temp")));
  const SortedChoices sorted = bench.sorted();
  CHECK_FALSE(sorted.accepted.contains("probe/temp1"));
  CHECK(sorted.proposed.contains("probe/temp1"));
}

TEST_CASE("choicesOfAnotherMachineAndOfNoBookAreNone") {
  Bench bench;
  REQUIRE(sayOfReading(bench.book, kMachine, "chip/temp1", asRole("cpu.temp")));
  const auto elsewhere = choicesOn(bench.book, "another machine");
  REQUIRE(elsewhere);
  CHECK(elsewhere->accepted.empty());
  CHECK(elsewhere->proposed.empty());
  const auto none = choicesFor(bench.folder.path("not there.ashbook"), "/");
  REQUIRE(none);
  CHECK(none->accepted.empty());
  CHECK_FALSE(choicesFor(bench.folder.write("rubbish.ashbook", "no book"), "/"));
}
