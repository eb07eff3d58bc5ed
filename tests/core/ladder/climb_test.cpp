// SPDX-License-Identifier: GPL-3.0-or-later
// Ladders climbed on the simulated bench, held against what the model says of itself, and cut off in every way.
#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

#include "model/knob_condition.h"
#include "model/load_way.h"
#include "system/confirmed.h"
#include "tests/support/recording.h"
#include "tests/support/sim_ladder.h"

using namespace ash;
using namespace ash::tests;

namespace {

struct LadderBook : Place {
  LadderBook() { setenv("XDG_CONFIG_HOME", path("config").c_str(), 1); }
  /// What stands in a run's row, as if it had been so.
  void alter(const std::string& sql) const { SQLite::Database(book(), SQLite::OPEN_READWRITE).exec(sql); }
};

Ladder climbed(const LadderBook& place, LadderAsk ask, uint64_t seed, double& benchS) {
  auto ladder = beginLadder(place.book(), std::move(ask));
  REQUIRE(ladder);
  auto done = climb(place.book(), std::move(*ladder), simHands(place.book(), seed, benchS));
  if (!done) FAIL(done.error().message);
  return *done;
}

}  // namespace

TEST_CASE("aLadderFindsTheHighestPowerLimitThatHeatDoesNotHoldBack") {
  uint64_t seed = 5;
  for (const auto& [setup, conditions] : warmSetups()) {
    INFO(setup);
    const auto byForce = highestByForce(setup, conditions, 60, 120, 10);
    REQUIRE(byForce);
    // Neither end of the range: there is something to find.
    CHECK(*byForce > 60);
    CHECK(*byForce < 120);
    const LadderBook place;
    double benchS = 0;
    REQUIRE(keepSetup(place.book(), setup, conditions));
    LadderAsk ask = powerLadder(setup, 60, 120, 10);
    ask.search = seed % 2 == 0 ? LadderSearch::Steps : LadderSearch::Halving;
    const Ladder ladder = climbed(place, ask, seed++, benchS);
    const LadderBounds bounds = boundsOf(ladder);
    REQUIRE(bounds.holds);
    CHECK(ladder.isOver);
    CHECK(std::abs(ladder.ask.valueAt(*bounds.holds) - *byForce) <= 10);
    // Every step is a setup of its own with its run, that says what the knob had.
    const auto book = Book::open(place.book(), BookAccess::ReadOnly);
    const auto study = book->study("How far?");
    REQUIRE(study);
    CHECK(study->setups.size() == ladder.steps.size() + 1);
    for (const LadderStep& step : ladder.steps) {
      CHECK(step.setup == fmt::format("{}, {} W", setup, ladder.ask.valueAt(step.index)));
      CHECK(step.readBack == ladder.ask.valueAt(step.index));
      CHECK(book->run(step.runId)->info.setup == step.setup);
      // How near it came to a limit, by the log itself.
      CHECK(step.leftK.has_value() == step.held.value_or(false));
      if (!step.leftK) continue;
      const auto run = book->readRun(step.runId);
      REQUIRE(run);
      const Channel* temperature = run->log.find("cpu.temp");
      REQUIRE(temperature != nullptr);
      const double leftK = run->facts.limits.at("cpu.temp").at("throttle") - temperature->values.back();
      CHECK(std::abs(*step.leftK - leftK) < 3);
      CHECK(step.leftOf == "Processor temperature");
    }
  }
}

TEST_CASE("aLadderThatWasCutOffGoesOnWhereItWas") {
  const LadderBook place;
  double benchS = 0;
  LadderAsk ask = powerLadder("Mesh", 60, 120, 20);
  auto begun = beginLadder(place.book(), ask);
  REQUIRE(begun);
  LadderHands hands = simHands(place.book(), 1, benchS);
  const auto whole = hands.carryOut;
  int runs = 0;
  // The second run is recorded, and then nobody is there any more.
  hands.carryOut = [&](const LadderRun& run) -> Status {
    const Status done = whole(run);
    return ++runs < 2 ? done : Status(Error::environment("gone"));
  };
  CHECK_FALSE(climb(place.book(), *begun, hands));
  // Other arguments are another ladder.
  LadderAsk other = ask;
  other.step = 10;
  const auto refused = resumeLadder(place.book(), other, "");
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message.find("(step)") != std::string::npos);
  // What was recorded counts, though nobody had looked at it.
  auto back = resumeLadder(place.book(), ask, "");
  REQUIRE(back);
  REQUIRE(back->steps.size() == 2);
  CHECK(back->steps[1].held == true);
  SECTION("the step was killed with its recorder: it is done again") {
    place.alter(fmt::format("UPDATE run SET outcome = 'recorder died' WHERE id = '{}'", back->steps[1].runId));
    place.alter("UPDATE ladder SET state = json_set(state, '$.steps[1].held', NULL)");
    back = resumeLadder(place.book(), ask, "");
    REQUIRE(back);
    CHECK(back->steps.size() == 1);
  }
  SECTION("the machine went down with it: it did not hold") {
    place.alter(fmt::format("UPDATE run SET outcome = 'running', recorder_boot = 'another' WHERE id = '{}'",
                            back->steps[1].runId));
    place.alter("UPDATE ladder SET state = json_set(state, '$.steps[1].held', NULL)");
    back = resumeLadder(place.book(), ask, "");
    REQUIRE(back);
    REQUIRE(back->steps.size() == 2);
    CHECK(back->steps[1].held == false);
    CHECK(back->steps[1].why.find("started anew") != std::string::npos);
    const auto done = climb(place.book(), *back, simHands(place.book(), 1, benchS));
    REQUIRE(done);
    CHECK(done->ask.valueAt(*boundsOf(*done).chosen) == 60);
    // It is over: there is nothing to go on with.
    CHECK_FALSE(resumeLadder(place.book(), ask, ""));
  }
  SECTION("its run was called void: it is done again") {
    CHECK(Book::open(place.book(), BookAccess::ReadWrite)->voidRun(back->steps[1].runId, "the door was open"));
    back = resumeLadder(place.book(), ask, "");
    REQUIRE(back);
    CHECK(back->steps.size() == 1);
  }
}

TEST_CASE("aStepCarriesItsLoadOutAsTheLaddersOwnSetupDoes") {
  const bool isSeen = GENERATE(false, true);
  const LadderBook place;
  Load load{"vector", {{"kind", "vector"}}, 0};
  setWay(load, "Mesh", {{"kind", "command"}, {"command", "work.sh --watts {power_limit_w}"}});
  {
    auto book = Book::openOrCreate(place.book());
    Study study;
    study.name = "How far?";
    study.setups = {{"Mesh", Json::object(), {{"power_limit_w", 88}}}};
    study.loads = {load};
    const auto kept = book->putStudy({}, study);
    REQUIRE(kept);
    if (isSeen) REQUIRE(confirm(activeParts(*kept, "Mesh", "vector")));
  }
  std::string line;
  std::vector<ActivePart> open;
  LadderHands hands;
  hands.isAsked = [] { return false; };
  hands.tell = [](const Ladder&) {};
  hands.carryOut = [&](const LadderRun& run) -> Status {
    const auto found = findPlace(place.book(), "How far?", run.setup, run.load);
    if (!found) return found.error();
    line = valueIn(found->loadSpec, "command", "");
    open = unconfirmedOf(found->active);
    return Error::environment("no more is wanted");
  };
  auto ladder = beginLadder(place.book(), powerLadder("Mesh", 60, 120, 20));
  REQUIRE(ladder);
  CHECK_FALSE(climb(place.book(), std::move(*ladder), hands));
  CHECK(line == "work.sh --watts 60");
  // Who has seen the line of the setup, and asked for the ladder, has seen those of its steps.
  const bool isLineOpen =
      std::any_of(open.begin(), open.end(), [](const ActivePart& part) { return part.kind == ActiveKind::Command; });
  CHECK(isLineOpen == !isSeen);
}

TEST_CASE("aStepIsHeldAgainstTheWorkOfTheFirst") {
  const LadderBook place;
  double benchS = 0;
  LadderAsk ask = powerLadder("Mesh", 100, 40, 20);
  ask.until = {*parseLadderRule("work.rate < 90% of first")};
  const Ladder ladder = climbed(place, ask, 3, benchS);
  const LadderBounds bounds = boundsOf(ladder);
  REQUIRE(bounds.fails);
  // By the bench itself: work at a limit against that at 100 W.
  const auto workAt = [](double watts) {
    sim::Bench bench(*sim::loadBench("larch12", "Mesh", Json{{"power_limit_w", watts}}), 1);
    bench.setLoad("vector", 1);
    bench.advanceTo(600);
    return bench.clockMhz(0);
  };
  for (size_t i = 0; i < ladder.ask.stepCount(); ++i) {
    const double share = workAt(ladder.ask.valueAt(i)) / workAt(100);
    INFO(ladder.ask.valueAt(i) << " W: " << share);
    if (i < *bounds.fails) CHECK(share > 0.89);
    if (i == *bounds.fails) CHECK(share < 0.91);
  }
  CHECK(ladder.steps.back().why.find("of the first step's") != std::string::npos);
}

TEST_CASE("aRunThatCouldNotBeCarriedOutIsNoAnswer") {
  const LadderBook place;
  auto ladder = beginLadder(place.book(), powerLadder("Mesh", 60, 120, 20));
  REQUIRE(ladder);
  LadderHands hands;
  int runs = 0;
  hands.isAsked = [] { return false; };
  hands.tell = [](const Ladder&) {};
  hands.carryOut = [&](const LadderRun&) {
    ++runs;
    return Status();
  };
  // Recorders that never write a row: tried again, but not for ever.
  const auto done = climb(place.book(), *ladder, hands);
  REQUIRE_FALSE(done);
  CHECK(runs == 3);
  // A setup that is there with other knobs is not taken for the step's.
  double benchS = 0;
  auto book = Book::open(place.book(), BookAccess::ReadWrite);
  Study before = *book->study("How far?"), after = before;
  for (Setup& setup : after.setups) {
    if (setup.name == "Mesh, 60 W") setup.conditions["power_limit_w"] = 61;
  }
  REQUIRE(book->putStudy(before, after));
  const auto refused = climb(place.book(), *ladder, simHands(place.book(), 1, benchS));
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message.find("other knobs") != std::string::npos);
}

TEST_CASE("aLadderIsClimbedByOneProcessAtATime") {
  const LadderBook place;
  double benchS = 0;
  const LadderAsk ask = powerLadder("Mesh", 60, 120, 20);
  auto ladder = beginLadder(place.book(), ask);
  REQUIRE(ladder);
  LadderHands hands = simHands(place.book(), 1, benchS);
  bool isRefused = false;
  // While a step goes on somebody else wants to climb, or to go on.
  hands.carryOut = [&](const LadderRun&) -> Status {
    const auto other = climb(place.book(), *ladder, hands), resumed = resumeLadder(place.book(), ask, "");
    isRefused = !other && other.error().message.find("another process") != std::string::npos && !resumed;
    return Error::environment("enough");
  };
  CHECK_FALSE(climb(place.book(), *ladder, hands));
  CHECK(isRefused);
  CHECK(resumeLadder(place.book(), ask, ""));
}

// What a stranger's book calls a ladder is no name of a file here.
TEST_CASE("lookingAtALadderTouchesNoFileThatItsBookNames") {
  const LadderBook place;
  setenv("XDG_RUNTIME_DIR", place.path("run").c_str(), 1);
  std::filesystem::create_directories(place.path("run"));
  std::filesystem::permissions(place.path("run"), std::filesystem::perms::owner_all);
  Ladder ladder;
  for (const char* id : {"../../../evil", "/tmp/ash-evil-ladder", "", ".", "a\nb", "x/y"}) {
    INFO(id);
    ladder.id = id;
    CHECK_FALSE(isBeingClimbed(ladder));
  }
  CHECK_FALSE(std::filesystem::exists(place.path("evil")));
  CHECK_FALSE(std::filesystem::exists("/tmp/ash-evil-ladder"));
  for (const auto& entry : std::filesystem::recursive_directory_iterator(place.path("run"))) {
    if (!entry.is_regular_file()) continue;
    CHECK(entry.path().parent_path().filename() == "ladders");
    CHECK(entry.path().filename().string().size() == 16);
  }
}

TEST_CASE("aStepThatADefaultRuleEndedDidNotHoldWhateverItsReadingIsCalled") {
  const LadderBook place;
  double benchS = 0;
  auto ladder = beginLadder(place.book(), powerLadder("Mesh", 60, 120, 20));
  REQUIRE(ladder);
  LadderHands hands = simHands(place.book(), 1, benchS);
  const auto whole = hands.carryOut;
  hands.carryOut = [&](const LadderRun& run) -> Status {
    if (Status done = whole(run); !done) return done;
    // As the recorder writes it of a chip whose reading has no role.
    place.alter(
        fmt::format("UPDATE run SET outcome = 'stopped by a rule', reason = 'Too hot.' WHERE id = '{}'", run.runId));
    place.alter(
        fmt::format("INSERT INTO event (run, at_s, kind, text, extra) VALUES ('{}', 5, 'rule', 'Too hot.', "
                    "'{{\"rule\": \"chip/temp7 > 90 for 3s\", \"action\": \"stop run\"}}')",
                    run.runId));
    return {};
  };
  const auto done = climb(place.book(), *ladder, hands);
  REQUIRE(done);
  CHECK(done->steps.front().held == false);
  CHECK(done->steps.front().why == "Too hot.");
}
