// SPDX-License-Identifier: GPL-3.0-or-later
// Where a ladder goes, against made-up machines whose limit is known; nothing is run.
#include "ladder/search.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "ladder/answer.h"

using namespace ash;

namespace {

Ladder ladderOf(double from, double to, double step, LadderSearch search) {
  Ladder ladder;
  ladder.id = "l1";
  ladder.ask.study = "s";
  ladder.ask.setup = "Solid";
  ladder.ask.load = "Mixdown";
  ladder.ask.knob = "cpu.power.limit";
  ladder.ask.unit = "W";
  ladder.ask.from = from;
  ladder.ask.to = to;
  ladder.ask.step = step;
  ladder.ask.search = search;
  ladder.ask.until = {*parseLadderRule("throttled > 2% of 60s")};
  ladder.ask.rest = {PhaseKind::Idle, EndsAfter{60}};
  ladder.ask.hold = {PhaseKind::Soak, EndsAfter{600}};
  return ladder;
}

/// Climbs with a machine that holds up to a value, and confirms up to another; how many runs it took.
size_t climbTo(Ladder& ladder, double holdsTo, double confirmsTo = INFINITY) {
  size_t runs = 0;
  const double way = ladder.ask.to < ladder.ask.from ? -1 : 1;
  while (const auto next = nextStep(ladder)) {
    REQUIRE(++runs < 2000);
    // Nobody is told less than what then comes.
    const StepsLeft left = stepsLeft(ladder);
    REQUIRE(left.least >= 1);
    REQUIRE(left.least <= left.most);
    LadderStep step;
    step.index = next->index;
    step.isConfirming = next->isConfirming;
    const double bound = next->isConfirming ? confirmsTo : holdsTo;
    step.held = way * ladder.ask.valueAt(next->index) <= way * bound;
    if (!*step.held) step.why = "Too hot.";
    ladder.steps.push_back(step);
  }
  ladder.isOver = true;
  return runs;
}

double valueOf(const Ladder& ladder, const std::optional<size_t>& index) {
  return index ? ladder.ask.valueAt(*index) : NAN;
}

}  // namespace

TEST_CASE("bothSearchesFindTheLastStepThatHoldsWhereverItIs") {
  for (const LadderSearch search : {LadderSearch::Steps, LadderSearch::Halving}) {
    for (int limit = 60; limit <= 125; ++limit) {
      INFO("limit " << limit);
      Ladder ladder = ladderOf(65, 120, 5, search);
      const size_t runs = climbTo(ladder, limit);
      const LadderBounds bounds = boundsOf(ladder);
      // Of 65, 70 … 120 the last one that is not above the limit.
      const int highest = limit / 5 * 5;
      CHECK(bounds.holds.has_value() == (limit >= 65));
      CHECK(bounds.fails.has_value() == (limit < 120));
      if (bounds.holds) CHECK(valueOf(ladder, bounds.holds) == std::min(highest, 120));
      if (bounds.fails) CHECK(valueOf(ladder, bounds.fails) == highest + 5);
      CHECK(bounds.chosen == bounds.holds);
      // Twelve steps: halves need no more than both ends and log2 of what is between.
      CHECK(runs <= (search == LadderSearch::Halving ? 6U : 12U));
    }
  }
}

TEST_CASE("aLadderGoesDownAndInFractionsAsWell") {
  Ladder ladder = ladderOf(1.2, 1.0, 0.0125, LadderSearch::Halving);
  CHECK(ladder.ask.stepCount() == 17);
  CHECK(ladder.ask.valueAt(1) == 1.1875);
  CHECK(ladder.ask.valueAt(16) == 1.0);
  climbTo(ladder, 1.06);
  CHECK(valueOf(ladder, boundsOf(ladder).holds) == 1.0625);
  CHECK(valueOf(ladder, boundsOf(ladder).fails) == 1.05);
  // 0.1 + 2 · 0.1 is 0.3, as a person would write it.
  CHECK(ladderOf(0.1, 1, 0.1, LadderSearch::Steps).ask.valueAt(2) == 0.3);
}

TEST_CASE("stepsBackAreTakenFromWhatDoesNotHold") {
  Ladder ladder = ladderOf(65, 120, 5, LadderSearch::Steps);
  ladder.ask.back = 2;
  climbTo(ladder, 107);
  CHECK(valueOf(ladder, boundsOf(ladder).fails) == 110);
  CHECK(valueOf(ladder, boundsOf(ladder).chosen) == 100);
  // There is nothing so far back.
  Ladder low = ladderOf(65, 120, 5, LadderSearch::Steps);
  low.ask.back = 2;
  climbTo(low, 67);
  CHECK_FALSE(boundsOf(low).chosen);
  CHECK(answerOf(low) == "cpu.power.limit: 65 W holds, 70 W does not (too hot); 2 steps back from it there is none.");
}

TEST_CASE("aConfirmingRunThatFailsGoesOneStepFurtherBackFourTimesAtMost") {
  Ladder ladder = ladderOf(65, 120, 5, LadderSearch::Steps);
  ladder.ask.confirmS = 1800;
  ladder.ask.confirmLoad = "Cores + graphics";
  climbTo(ladder, 107, 97);
  CHECK(valueOf(ladder, boundsOf(ladder).chosen) == 95);
  CHECK(boundsOf(ladder).confirmed == true);
  CHECK(answerOf(ladder) ==
        "cpu.power.limit: 105 W holds, 110 W does not (too hot); 95 W is chosen, 15 W away from what does not hold, "
        "and 30 min of Cores + graphics confirmed it.");
  // What the confirming run left to the nearest limit, not what its step had.
  for (LadderStep& step : ladder.steps) {
    if (step.index != 6 || !step.held.value_or(false)) continue;
    step.leftK = step.isConfirming ? 12.34 : 20;
    step.leftOf = "Processor temperature";
  }
  CHECK(answerOf(ladder) ==
        "cpu.power.limit: 105 W holds, 110 W does not (too hot); 95 W is chosen, 15 W away from what does not hold, "
        "with 12.3\u202FK left to the limit of processor temperature, and 30 min of Cores + graphics confirmed it.");
  CHECK(answerOf(*fromKept(toKept(ladder))) == answerOf(ladder));
  Ladder never = ladderOf(65, 120, 5, LadderSearch::Steps);
  never.ask.confirmS = 1800;
  climbTo(never, 107, 0);
  std::vector<double> confirming;
  for (const LadderStep& step : never.steps) {
    if (step.isConfirming) confirming.push_back(never.ask.valueAt(step.index));
  }
  CHECK(confirming == std::vector<double>{105, 100, 95, 90, 85});
  CHECK_FALSE(boundsOf(never).chosen);
  CHECK(boundsOf(never).confirmed == false);
  CHECK(answerOf(never) ==
        "cpu.power.limit: 105 W holds, 110 W does not (too hot); no value was confirmed by 30 min of Mixdown.");
  // Nor below the first step.
  Ladder first = ladderOf(65, 120, 5, LadderSearch::Steps);
  first.ask.confirmS = 60;
  climbTo(first, 72, 0);
  CHECK(first.steps.back().index == 0);
  CHECK(boundsOf(first).confirmed == false);
}

TEST_CASE("aStepThatHasToBeDoneAgainCountsForNothing") {
  Ladder ladder = ladderOf(65, 120, 5, LadderSearch::Steps);
  ladder.steps = {{0, false, "a", "r1", {}, true, {}}, {1, false, "b", "r2", {}, {}, {}}};
  REQUIRE(nextStep(ladder));
  CHECK(nextStep(ladder)->index == 1);
  CHECK(answerOf(ladder) == "cpu.power.limit: 65 W holds, as far as it was to go so far.");
}

TEST_CASE("aLadderComesBackFromTheBookAsItWas") {
  Ladder ladder = ladderOf(65, 120, 5, LadderSearch::Halving);
  ladder.ask.until.push_back(*parseLadderRule("work.rate < 98% of first"));
  ladder.ask.rest = {PhaseKind::Cool, EndsBelow{45, 0, 1200}};
  ladder.ask.confirmS = 600;
  ladder.ask.bench = {{"sim", "larch12"}, {"seed", 3}};
  climbTo(ladder, 83);
  ladder.steps.front().readBack = 65;
  const auto back = fromKept(toKept(ladder));
  REQUIRE(back);
  CHECK(differencesOf(back->ask, ladder.ask).empty());
  CHECK(jsonText(ladderToJson(*back)) == jsonText(ladderToJson(ladder)));
  LadderAsk other = ladder.ask;
  other.step = 2.5;
  other.until.pop_back();
  CHECK(differencesOf(other, ladder.ask) == std::vector<std::string>{"step", "until"});
  // What a stranger's book holds: nothing of it speaks to a terminal.
  KeptLadder loud = toKept(ladder);
  loud.asked["knob"] = "fan\x1B[2J, V";
  loud.asked["load"] = std::string("a\x1B]0;b\x07");
  const auto quiet = fromKept(loud);
  REQUIRE(quiet);
  CHECK(answerOf(*quiet).find('\x1B') == std::string::npos);
  CHECK(ladderToJson(*quiet)["knob"] == "fan [2J, V");
  KeptLadder wrong = toKept(ladder);
  wrong.state["steps"][0]["index"] = 99;
  CHECK_FALSE(fromKept(wrong));
  for (const char* key : {"step", "until", "hold", "from"}) {
    KeptLadder broken = toKept(ladder);
    broken.asked[key] = "lots";
    INFO(key);
    CHECK_FALSE(fromKept(broken));
  }
}

TEST_CASE("whatNoLadderCanBeIsRefusedWithAReason") {
  const auto sentence = [](const LadderAsk& ask) {
    const Status checked = checkAsk(ask);
    return checked ? std::string() : checked.error().message;
  };
  const LadderAsk good = ladderOf(65, 120, 5, LadderSearch::Steps).ask;
  CHECK(sentence(good).empty());
  LadderAsk bad = good;
  bad.step = 0;
  CHECK(sentence(bad).find("above 0") != std::string::npos);
  bad = good;
  bad.to = 66;
  CHECK(sentence(bad) == "From 65 to 66 there is no step of 5.");
  bad.step = 1e-4;
  CHECK(sentence(bad).find("too many") != std::string::npos);
  bad = good;
  bad.until.clear();
  CHECK(sentence(bad).find("--until") != std::string::npos);
  bad = good;
  bad.back = 12;
  CHECK(sentence(bad).find("--back") != std::string::npos);
  bad = good;
  bad.rest = {PhaseKind::Soak, EndsAfter{60}};
  CHECK(sentence(bad).find("rest") != std::string::npos);
}

TEST_CASE("aLaddersRuleIsAStopRuleOrHeldAgainstTheFirstStep") {
  const auto first = parseLadderRule(" work.rate < 98% of first ");
  REQUIRE(first);
  REQUIRE(std::holds_alternative<OfFirst>(*first));
  CHECK(std::get<OfFirst>(*first).percent == 98);
  CHECK(ladderRuleText(*first) == "work.rate < 98% of first");
  const auto warns = parseLadderRule("cpu.temp > 90 for 10s then warn");
  REQUIRE(warns);
  CHECK(ladderRuleText(*warns) == "cpu.temp > 90 for 10s");
  for (const char* text :
       {"", "of first", "work.rate < 98 of first", "work.rate = 98% of first", "nothing < 9% of first",
        "work.rate < -1% of first", "work.rate < % of first", "throttled"}) {
    INFO(text);
    CHECK_FALSE(parseLadderRule(text));
  }
}
