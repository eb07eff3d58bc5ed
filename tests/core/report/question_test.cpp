// SPDX-License-Identifier: GPL-3.0-or-later
// The answer by the kind of question: its first word, its figure, its chance, and what would decide it. The logs are
// made so that the truth is known by formula.
#include <fmt/format.h>

#include <catch2/catch.hpp>

#include "analysis/analyze.h"
#include "analysis/comparison/chance.h"
#include "report/answer/holds_answer.h"
#include "report/answer/question_answer.h"
#include "report/answer/stated.h"
#include "report/page_blocks.h"
#include "tests/support/made_study.h"

using namespace ash;
using namespace ash::tests;

namespace {

std::string answerTo(const std::vector<Made>& all, const StudyQuestion& question, StudyPlan plan = {}) {
  plan.asks = question;
  const StudyReport report = madeStudy(all, plan);
  return plainText(questionSentences(report, report.loads.at(0)));
}

bool begins(const std::string& text, const std::string& start) {
  INFO(text);
  CHECK(text.starts_with(start));
  return text.starts_with(start);
}

bool tells(const std::string& text, const std::string& part) {
  INFO(text);
  CHECK(text.find(part) != std::string::npos);
  return text.find(part) != std::string::npos;
}

}  // namespace

TEST_CASE("aRoomIsHeldClearlyOrClearlyNot") {
  const Made box{"Box"};
  const std::string warm = answerTo({box}, {QuestionKind::HoldsInRoom, 35});
  begins(warm, "Yes: Box stays below its limit in a room of 35\u202F°C.");
  // 95 °C less 50 K.
  tells(warm, "reaches its limit in a room of 45.0\u202F°C");
  tells(warm, "worked out from one of 22.0\u202F°C");
  tells(warm, "over 99.9\u202F%");
  const std::string hot = answerTo({box}, {QuestionKind::HoldsInRoom, 55});
  begins(hot, "No: Box does not stay below its limit in a room of 55\u202F°C.");
  tells(hot, "under 0.1\u202F%");
}

TEST_CASE("aRoomAtTheVeryEdgeCannotBeTold") {
  const std::string edge =
      answerTo({{"Box", 50, Json::object(), kMissing, 80, 3, 1.0}}, {QuestionKind::HoldsInRoom, 45});
  begins(edge, "Cannot tell whether Box stays below its limit in a room of 45\u202F°C.");
  tells(edge, "measure it in a room of 45\u202F°C itself");
}

TEST_CASE("ofSeveralSetupsItIsSaidWhoHolds") {
  const std::string words = answerTo({{"Solid", 57}, {"Mesh", 47}, {"Foam", 75}}, {QuestionKind::HoldsInRoom, 30});
  begins(words, "Yes for Solid and Mesh, no for Foam: to stay below its limit in a room of 30\u202F°C.");
}

// Of more than four setups the answer is one sentence, and each of them follows below.
TEST_CASE("ofManySetupsTheAnswerIsOneSentence") {
  StudyPlan plan;
  plan.asks = {QuestionKind::HoldsInRoom, 30};
  const StudyReport report = madeStudy({{"Box, 1"}, {"Box, 2"}, {"Box, 3"}, {"Box, 4"}, {"Box, 5", 75}}, plan);
  const LoadStanding& load = report.loads.at(0);
  CHECK(plainText(leadSentences(report, load)) ==
        "Yes for “Box, 1”, “Box, 2”, “Box, 3” and “Box, 4”, no for Box, 5: to stay below its limit in a room of "
        "30\u202F°C.");
  const std::vector<Sentence> details = detailSentences(report, load);
  REQUIRE(details.size() == 5);
  begins(plainText({details[4]}), "Box, 5: CPU reaches its limit in a room of 20.0");
  const std::string page = htmlPage(report);
  CHECK(page.find("What it rests on") < page.find("Box, 5: CPU reaches its limit"));
  const StudyReport few = madeStudy({{"Box, 1"}, {"Box, 2"}}, plan);
  CHECK(detailSentences(few, few.loads[0]).empty());
}

TEST_CASE("aPowerIsHeldByWhatTheCoolerCarries") {
  // (95 − 22) K / (50 K / 80 W) = 116.8 W.
  const std::string words = answerTo({{"Box"}}, {QuestionKind::HoldsAtPower, 100});
  begins(words, "Yes: Box stays below its limit at 100\u202FW.");
  tells(words, "carries 116.8\u202FW");
  tells(words, "the 80.0\u202FW it takes");
  begins(answerTo({{"Box"}}, {QuestionKind::HoldsAtPower, 140}), "No: ");
}

TEST_CASE("aNoiseIsHeldOnlyWithHeadroom") {
  const std::vector<Made> all = {{"Quiet", 50, Json::object(), 33}, {"Loud", 40, Json::object(), 41}};
  const std::string words = answerTo(all, {QuestionKind::HoldsAtNoise, 36});
  begins(words, "Yes for Quiet, no for Loud: to stay below its limit with no more than 36\u202FdBA.");
  tells(words, "Quiet: it makes 33.0\u202FdBA");
  // Without a reading nothing is told.
  begins(answerTo({{"Deaf"}}, {QuestionKind::HoldsAtNoise, 36}), "Cannot tell whether Deaf stays");
}

TEST_CASE("aQuestionWithoutItsTargetIsAnOpenOne") {
  StudyPlan plan;
  plan.asks = {QuestionKind::HoldsInRoom, {}};
  const StudyReport report = madeStudy({{"Box"}}, plan);
  CHECK(questionSentences(report, report.loads[0]).empty());
  CHECK(plainText(leadSentences(report, report.loads[0])).starts_with("CPU over room of Box"));
}

TEST_CASE("theBestIsNamedWithItsPriceAndForWhomAnotherIsRight") {
  StudyPlan plan;
  plan.figure = "cpu.over_ambient_k";
  plan.marginK = 0.5;
  plan.reference = "Solid";
  const std::vector<Made> all = {{"Solid", 57, {{"price", 10}, {"currency", "EUR"}}, 33, 80, 3},
                                 {"Mesh", 47, {{"price", 29}, {"currency", "EUR"}}, 36, 80, 3}};
  const std::string words = answerTo(all, {QuestionKind::WhichIsBest, {}}, plan);
  begins(words, "Mesh is best by CPU over room, with 47.0\u202FK");
  tells(words, "; Solid, the next, runs 10.0\u202FK warmer");
  tells(words, "In return, against Solid: 19\u202FEUR dearer and 3.0\u202FdBA louder");
  tells(words,
        "Solid is right for who minds the price (19\u202FEUR cheaper), or who minds the noise (3.0\u202FdBA quieter): "
        "it runs 10.0\u202FK warmer.");
}

TEST_CASE("theBestIsNotNamedWhereNothingTellsIt") {
  StudyPlan plan;
  plan.figure = "cpu.over_ambient_k";
  const std::vector<Made> all = {{"A", 50, Json::object(), kMissing, 80, 3, 1.5},
                                 {"B", 50.1, Json::object(), kMissing, 80, 3, 1.5}};
  begins(answerTo(all, {QuestionKind::WhichIsBest, {}}, plan),
         "Cannot tell which is best by CPU over room: A comes out first");
  begins(answerTo({{"Alone"}}, {QuestionKind::WhichIsBest, {}}, plan),
         "Cannot tell which is best: only one of the setups");
}

// A run that was cut short tells nothing of whether a setup holds, and no setup is ahead of one it cannot be compared
// with.
TEST_CASE("whatWasCutShortIsNotTakenForAnAnswer") {
  StudyPlan plan;
  plan.figure = "cpu.over_ambient_k";
  plan.underTest = {"power_limit_w"};
  const auto answer = [&](const StudyQuestion& question) {
    plan.asks = question;
    std::vector<AnalyzedRun> runs = {madeRunOf({"45 W", 31, {{"power_limit_w", 45}}, kMissing, 45}, 0),
                                     madeRunOf({"88 W", 62, {{"power_limit_w", 88}}, kMissing, 88}, 0)};
    for (AnalyzedRun& run : runs) run.run.facts.outcome = Outcome::Completed;
    runs[1].run.facts.outcome = Outcome::MachineWentDown;
    Study study;
    study.loads = {{"All cores", Json::object()}};
    study.setups = {{"45 W", Json::object(), {{"power_limit_w", 45}}, Json::object()},
                    {"88 W", Json::object(), {{"power_limit_w", 88}}, Json::object()}};
    const StudyReport report = madeReport(study, plan, runs);
    return plainText(questionSentences(report, report.loads.at(0)));
  };
  const std::string room = answer({QuestionKind::HoldsInRoom, 25});
  begins(room, "Yes for 45 W, cannot tell for 88 W");
  tells(room, "88 W: its run did not complete (machine went down)");
  const std::string far = answer({QuestionKind::HowFar, {}});
  begins(far, "45 W is the furthest that holds");
  tells(far, "88 W may not hold, its run did not complete (machine went down)");
  CHECK(far.find("nan") == std::string::npos);
  const std::string best = answer({QuestionKind::WhichIsBest, {}});
  begins(best, "Cannot tell which is best by CPU over room");
  tells(best, "88 W, the next, cannot be compared with it");
  CHECK(best.find("chance") == std::string::npos);
}

TEST_CASE("aCostIsSaidWithWhatItBuysAndPerKelvin") {
  StudyPlan plan;
  plan.figure = "cpu.over_ambient_k";
  plan.reference = "Solid";
  const std::vector<Made> all = {{"Solid", 57, {{"price", 10}, {"currency", "EUR"}}, 33, 80, 3},
                                 {"Mesh", 47, {{"price", 29}, {"currency", "EUR"}}, 36, 80, 3}};
  const std::string words = answerTo(all, {QuestionKind::WhatItCosts, {}}, plan);
  begins(words, "Mesh against Solid: 19\u202FEUR dearer and 3.0\u202FdBA louder; in return 10.0\u202FK cooler");
  // 19 EUR for 10 K.
  tells(words, "1.90\u202FEUR per kelvin");
}

TEST_CASE("theFurthestThatHoldsIsNamedWithTheNextThatDoesNot") {
  StudyPlan plan;
  plan.underTest = {"power_limit_w"};
  const auto rung = [](const char* name, double watts, double overRoomK) {
    return Made{name, overRoomK, {{"power_limit_w", watts}}, kMissing, watts};
  };
  const std::string words =
      answerTo({rung("105 W", 105, 74), rung("45 W", 45, 31), rung("88 W", 88, 62)}, {QuestionKind::HowFar, {}}, plan);
  begins(words, "88 W is the furthest that holds, by power limit, with CPU headroom 11.0\u202FK");
  tells(words, "; 105 W does not hold, with CPU headroom −1.0\u202FK");
  const std::string all = answerTo({rung("45 W", 45, 31), rung("88 W", 88, 62)}, {QuestionKind::HowFar, {}}, plan);
  tells(all, "88 W is the furthest that holds");
  tells(all, "Nothing further was run.");
  // Nothing to walk: the room and the watts that are left, (95 − 22)/0.625 − 80.
  const std::string alone = answerTo({{"Box"}}, {QuestionKind::HowFar, {}});
  begins(alone, "Box: CPU could go to a room of 45.0\u202F°C");
  tells(alone, "or carry 36.8\u202FW");
}

// A warm-up that ends far over the limit, looked at before it got there.
TEST_CASE("whatStillWarmsUpIsNotTakenForHeldAtItsHeadroomOfThatMoment") {
  StudyPlan plan;
  plan.underTest = {"fan_duty"};
  plan.asks = {QuestionKind::HowFar, {}};
  std::vector<AnalyzedRun> runs;
  Study study;
  study.loads = {{"All cores", Json::object()}};
  for (const auto& [name, duty, tauS] : {std::tuple("60 %", 60, 40.0), std::tuple("30 %", 30, 600.0)}) {
    WarmUp warm;
    warm.restK = 8;
    warm.riseK = duty == 60 ? 40 : 80;  // 102 K over room in the end, where 73 are allowed
    warm.tauS = tauS;
    warm.noiseK = 0.02;
    LogMaker maker(700, 1);
    maker.add("cpu.temp", warm.function()).add("room.temp", [](double) { return 22.0; });
    maker.add("cpu.power", [](double t) { return t < 60 ? 10.0 : 80.0; });
    maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 600).phase(PhaseKind::Measure, 600, 700);
    maker.run.name = name;
    maker.run.facts.setup = name;
    maker.run.facts.load = "All cores";
    maker.run.facts.conditions = {{"fan_duty", duty}};
    maker.run.facts.limits["cpu.temp"]["throttle"] = 95;
    runs.push_back({maker.run, {}});
    runs.back().figures = analyzeRun(runs.back().run);
    study.setups.push_back({name, Json::object(), {{"fan_duty", duty}}, Json::object()});
  }
  const StudyReport report = madeReport(study, plan, runs);
  const std::string words = plainText(questionSentences(report, report.loads.at(0)));
  begins(words, "60 % is the furthest that holds, by fan duty");
  tells(words, "K were still to go");
}

// A render's score is its time: the lowest is the best.
TEST_CASE("theBestByATimeIsTheLowest") {
  StudyPlan plan;
  plan.figure = "score";
  plan.asks = {QuestionKind::WhichIsBest, {}};
  std::vector<AnalyzedRun> runs;
  Study study;
  study.loads = {{"All cores", Json::object()}};
  for (const auto& [setup, score] : {std::pair("Slow", 200.0), std::pair("Quick", 100.0)}) {
    AnalyzedRun run = madeRunOf({setup}, 0);
    run.run.facts.lowerScoreIsBetter = true;
    run.run.facts.passes = {{300, 360, score, {}}, {360, 420, score + 0.5, {}}};
    run.figures = analyzeRun(run.run);
    runs.push_back(run);
    study.setups.push_back({setup, Json::object(), Json::object(), Json::object()});
  }
  const StudyReport report = madeReport(study, plan, runs);
  begins(plainText(questionSentences(report, report.loads.at(0))), "Quick is best by score");
  CHECK(ranked(report.loads[0].comparison, "score").front()->setup == "Quick");
}

TEST_CASE("aClaimIsTrueFalseOrOpen") {
  Study study;
  study.setups = {{"Box", Json::object(), Json::object(), Json::object()}};
  const auto claim = [&](const char* line) {
    StudyPlan plan;
    auto one = parseStated(line, study, plan, "Box");
    REQUIRE(one);
    plan.stated = {*one};
    return answerTo({{"Box"}}, {QuestionKind::IsClaimTrue, {}}, plan);
  };
  begins(claim("claimed by the maker: CPU over room 40 to 60 K"),
         "Yes (Box, CPU over room 40 to 60\u202FK, claimed by the maker)");
  const std::string no = claim("claimed by the maker: CPU over room 40 to 45 K");
  begins(no, "No (Box, ");
  tells(no, "5.0\u202FK higher");
  begins(claim("claimed by the maker: Noise 30 to 33 dBA"), "Cannot tell (Box, ");
  // One value, and an interval that is narrow around it.
  begins(claim("claimed by the maker: CPU over room 50.0 K"), "Probably (Box, ");
  begins(answerTo({{"Box"}}, {QuestionKind::IsClaimTrue, {}}), "Cannot tell: nothing is claimed");
}

// Points of the normal and of Student's distribution with two degrees, whose form is closed: F(t) = ½ + t/(2√(2 + t²)).
TEST_CASE("chancesAreThoseOfTheDistribution") {
  const Believed normal{10, 10 - 1.959964, 10 + 1.959964};
  CHECK(chanceAbove(normal, 10) == Approx(0.5));
  CHECK(chanceAbove(normal, 9) == Approx(0.841345).epsilon(1e-5));
  CHECK(chanceAbove(normal, 10 + 1.959964) == Approx(0.025).epsilon(1e-4));
  const Believed two{0, -4.302653, 4.302653, 2};
  for (const double t : {-3.0, -1.0, 0.5, 2.0})
    CHECK(chanceAbove(two, -t) == Approx(0.5 + t / (2 * std::sqrt(2 + t * t))).epsilon(1e-5));
  // The side of the interval that points at the target tells the scale.
  const Believed skewed{0, -1.959964, 19.59964};
  CHECK(chanceAbove(skewed, -1) == Approx(0.841345).epsilon(1e-5));
  CHECK(chanceAbove(skewed, 10) == Approx(0.158655).epsilon(1e-5));
  CHECK(std::isnan(chanceAbove({1, kMissing, kMissing}, 0)));
}

// t(n − 1)·s/√n against the distance, by a table of Student's t.
TEST_CASE("repeatsThatWouldDecideComeFromTheTable") {
  const Believed one{1, 1 - 1.959964, 1 + 1.959964};
  CHECK(repeatsToDecide(one, 0, 1) == 7);  // 2.571/√6 = 1.05, 2.447/√7 = 0.92
  CHECK_FALSE(repeatsToDecide({5, 4, 6}, 0, 3));
  CHECK_FALSE(repeatsToDecide({0, -1, 1}, 0, 3));
}

TEST_CASE("leaningsTurnWhereAnIntervalWould") {
  CHECK(wordsOf(leaningOf(0.98)) == "Yes");
  CHECK(wordsOf(leaningOf(0.97)) == "Probably");
  CHECK(wordsOf(leaningOf(0.79)) == "Cannot tell");
  CHECK(wordsOf(leaningOf(0.15)) == "Probably not");
  CHECK(wordsOf(leaningOf(0.02)) == "No");
  CHECK(wordsOf(leaningOf(kMissing)) == "Cannot tell");
  CHECK(chanceWords(0.93) == "93\u202F%");
  CHECK(chanceWords(0.9995) == "over 99.9\u202F%");
}

TEST_CASE("theAnswerLeadsThePageAndWhatItRestsOnFollows") {
  StudyPlan plan;
  plan.asks = {QuestionKind::HoldsInRoom, 35};
  const std::string page = htmlPage(madeStudy({{"Box"}}, plan));
  const size_t answer = page.find("Yes: Box stays below its limit");
  REQUIRE(answer != std::string::npos);
  const size_t rests = page.find("What it rests on");
  REQUIRE(rests != std::string::npos);
  CHECK(answer < page.find("<svg"));
  CHECK(page.find("<svg") < rests);
  CHECK(rests < page.find("<h2>"));
}

// The uncertainty to two digits at most, the value to the same place (JCGM 100:2008, 7.2.6).
TEST_CASE("aValueIsWrittenToThePlaceOfItsUncertainty") {
  ComparisonRow row;
  const auto words = [&](const char* code, double value, double half) {
    MetricRow figure;
    figure.value = value;
    figure.ciLow = value - half;
    figure.ciHigh = value + half;
    row.metrics[code] = figure;
    return valueAndMargin(row, code);
  };
  CHECK(words("energy_j", 329955, 59964) == "330\u202F000\u202FJ ± 60\u202F000\u202FJ");
  CHECK(words("energy_j", 386461, 22163) == "386\u202F000\u202FJ ± 22\u202F000\u202FJ");
  CHECK(words("cpu.over_ambient_k", 57.23, 0.31) == "57.2\u202FK ± 0.3\u202FK");
  CHECK(words("wall.power", 136.137, 0.04) == "136.14\u202FW ± 0.04\u202FW");
  CHECK(words("task_s", 646, 0) == "646.0\u202Fs");
}
