// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/effect_words.h"

#include <catch2/catch.hpp>

#include "report/effect_table.h"
#include "report/page_blocks.h"
#include "tests/support/made_runs.h"

using namespace ash;
using namespace ash::tests;

namespace {

MetricRow ratioOf(double ratio, double low, double high) {
  MetricRow row;
  row.ratio = ratio;
  row.ratioLow = low;
  row.ratioHigh = high;
  return row;
}

AnalyzedRun taskRun(const std::string& setup, int number, double seconds, double joules) {
  AnalyzedRun run = madeRun(setup + std::to_string(number), setup, 40 + 0.1 * number);
  run.run.facts.work = RunFacts::Work{1, "mixdown", seconds + number};
  run.figures.efficiency.powerRole = "cpu.power";
  Energy energy;
  energy.channel = "cpu.power";
  energy.loadJ = joules + 10 * number;
  run.figures.energy.push_back(energy);
  return run;
}

Comparison compareTask(double seconds, double joules, double otherSeconds, double otherJoules) {
  std::vector<AnalyzedRun> runs;
  for (int i = 0; i < 3; ++i) runs.push_back(taskRun("Old box", i, seconds, joules));
  for (int i = 0; i < 3; ++i) runs.push_back(taskRun("New box", i, otherSeconds, otherJoules));
  return *compareRuns(runs, {});
}

}  // namespace

TEST_CASE("partsAreSaidAsPartsWhereTheyAreSome") {
  CHECK(fractionWords(0.5) == "half");
  CHECK(fractionWords(0.3366) == "a third");
  CHECK(fractionWords(0.1105) == "a ninth");
  CHECK(fractionWords(0.0833) == "a twelfth");
  CHECK(fractionWords(0.38) == "38\u202F%");
  CHECK(fractionWords(0.97) == "97\u202F%");
  CHECK(fractionWords(0.02) == "2\u202F%");
}

TEST_CASE("ratiosAreSaidInTheWordsOfTheirFigure") {
  CHECK(ratioWords(ratioOf(1 / 20.4, 1 / 20.5, 1 / 20.3), "task_s") == "20.4\u202F× faster");
  CHECK(ratioWords(ratioOf(1.8, 1.79, 1.81), "task_s") == "1.80\u202F× the time");
  CHECK(ratioWords(ratioOf(1.8, 1.5, 2.1), "task_s") == "1.8\u202F× the time");
  CHECK(ratioWords(ratioOf(1.8, 1.0, 2.6), "task_s") == "2\u202F× the time");
  CHECK(ratioWords(ratioOf(0.111, 0.11, 0.112), "energy_j") == "a ninth of the energy");
  CHECK(ratioWords(ratioOf(1.25, 1.24, 1.26), "runtime_s") == "1.25\u202F× as long");
  CHECK(ratioWords(ratioOf(1.1, 1.09, 1.11), "score") == "1.10\u202F× the score");
  CHECK(ratioWords(MetricRow(), "task_s").empty());
}

TEST_CASE("aTaskIsToldWithItsEnergyWhereBothAreShown") {
  const auto faster = ratioSentences(compareTask(2040, 90000, 100, 10000));
  REQUIRE(faster.size() == 1);
  CHECK(plainText(faster) == "New box does the task 20.2\u202F× faster, with a ninth of the energy, against Old box.");
  const auto slower = ratioSentences(compareTask(100, 10000, 200, 10005));
  REQUIRE(slower.size() == 1);
  // What the energies show is nothing, so nothing is said of them.
  CHECK(plainText(slower) == "New box does the task in 1.99\u202F× the time, against Old box.");
  CHECK(ratioSentences(compareTask(100, 10000, 100, 10000)).empty());
}

TEST_CASE("aTaskDoneInTwoWaysIsToldWithThePowerOfEachKind") {
  std::vector<AnalyzedRun> runs;
  for (const bool isCard : {false, true}) {
    for (int i = 0; i < 3; ++i) {
      AnalyzedRun run = taskRun(isCard ? "Card" : "Cores", i, isCard ? 200 : 600, isCard ? 30000 : 60000);
      run.run.facts.load = "Mixdown";
      run.run.facts.loadSpec = {{"kind", isCard ? "graphics" : "integer"}};
      addMean(run, "cpu.power", Quantity::Power, isCard ? 22 : 88, 0.01);
      addMean(run, "wall.power", Quantity::Power, isCard ? 180 : 135, 0.01);
      runs.push_back(run);
    }
  }
  const Comparison comparison = *compareRuns(runs, {});
  CHECK(plainText(waySentences(comparison)) ==
        "Card carries Mixdown out by graphics, Cores by integer. Mean power of Card: CPU power 22.0\u202FW instead of "
        "88.0\u202FW (0.25\u202F×); wall power 180.0\u202FW instead of 135.0\u202FW (1.33\u202F×).");
  for (AnalyzedRun& run : runs) run.run.facts.loadSpec = {{"kind", "integer"}};
  CHECK(waySentences(*compareRuns(runs, {})).empty());
}

TEST_CASE("aFactorIsToldWithinEachLevelAndOnAverage") {
  std::vector<AnalyzedRun> runs;
  for (const char* cooler : {"Teasel", "Plover"}) {
    for (const int duty : {30, 60}) {
      for (int i = 0; i < 3; ++i) {
        const std::string setup = std::string(cooler) + std::to_string(duty);
        const double kelvin = (duty == 30 ? 50 : 40) + (*cooler == 'P' ? 8 : 0) + 0.1 * i;
        runs.push_back(madeRun(setup + std::to_string(i), setup, kelvin));
        runs.back().run.facts.conditions = {{"cooler", cooler}, {"fan_duty", duty}};
        runs.back().run.facts.underTest = {"cooler", "fan_duty"};
      }
    }
  }
  // Of two differences of means of three: ± 2.306·√(4·0.01/3/4), 8 degrees of freedom.
  const std::string text = plainText(factorSentences(*compareRuns(runs, {}), "cpu.over_ambient_k"));
  INFO(text);
  CHECK(text.find("Cooler Plover instead of Teasel: 8.0\u202FK warmer with fan duty 30\u202F%, 8.0\u202FK warmer with "
                  "fan duty 60\u202F%; 8.0\u202FK warmer on average (+7.9 to 8.1\u202FK).") != std::string::npos);
  CHECK(text.find("Fan duty 60\u202F% instead of 30\u202F%: 10.0\u202FK cooler with cooler Teasel") !=
        std::string::npos);
}

TEST_CASE("ofManyLevelsTheLeastAndTheGreatestEffectAreTold") {
  std::vector<AnalyzedRun> runs;
  for (const char* cooler : {"Teasel", "Plover"}) {
    for (int duty = 30; duty <= 80; duty += 10) {
      for (int i = 0; i < 2; ++i) {
        const std::string setup = std::string(cooler) + std::to_string(duty);
        // The flat one is warmer by 10 K at 30 %, by a kelvin less for each step.
        const double kelvin = 60 - 0.2 * duty + (*cooler == 'P' ? 10 - (duty - 30) / 10.0 : 0) + 0.1 * i;
        runs.push_back(madeRun(setup + std::to_string(i), setup, kelvin));
        runs.back().run.facts.conditions = {{"cooler", cooler}, {"fan_duty", duty}};
        runs.back().run.facts.underTest = {"cooler", "fan_duty"};
      }
    }
  }
  const Comparison comparison = *compareRuns(runs, {});
  const std::string text = plainText(factorSentences(comparison, "cpu.over_ambient_k"));
  CHECK(
      text.find("Cooler Plover instead of Teasel: 5.0\u202FK warmer with fan duty 80\u202F% to 10.0\u202FK warmer with "
                "fan duty 30\u202F%; 7.5\u202FK warmer on average") != std::string::npos);
  // A figure that nobody has makes no sentence, and no harm.
  CompareOptions options;
  options.metrics = {"noise"};
  CHECK(factorSentences(*compareRuns(runs, options), "noise").empty());
}

namespace {

/// A study of setups by name, each with its conditions and how warm it runs; two repeats each.
struct MadeSetup {
  std::string name;
  Json conditions;
  double kelvin;
};

StudyReport reportOf(const std::vector<MadeSetup>& setups, const std::vector<std::string>& underTest) {
  Study study;
  study.name = "Made up";
  StudyPlan plan;
  plan.underTest = underTest;
  study.plan = planToJson(plan);
  study.loads = {{"All cores", Json::object()}};
  std::vector<std::shared_ptr<const AnalyzedRun>> runs;
  std::vector<RunSummary> summaries;
  for (const MadeSetup& made : setups) {
    Setup setup;
    setup.name = made.name;
    setup.conditions = made.conditions;
    study.setups.push_back(setup);
    for (int i = 0; i < 2; ++i) {
      AnalyzedRun run = madeRun(made.name + std::to_string(i), made.name, made.kelvin + 0.1 * i);
      run.run.facts.load = "All cores";
      run.run.facts.conditions = made.conditions;
      run.run.facts.underTest = underTest;
      RunSummary summary;
      summary.info.id = run.run.name;
      summary.info.setup = made.name;
      summary.info.load = "All cores";
      summary.info.outcome = Outcome::Completed;
      summaries.push_back(summary);
      runs.push_back(std::make_shared<const AnalyzedRun>(std::move(run)));
    }
  }
  return *assembleStudy(study, summaries, runs);
}

size_t countOf(const std::string& text, const std::string& part) {
  size_t count = 0;
  for (size_t at = text.find(part); at != std::string::npos; at = text.find(part, at + 1)) ++count;
  return count;
}

}  // namespace

TEST_CASE("thePageHasATableOfWhatEachChangeDoes") {
  std::vector<MadeSetup> setups;
  for (const char* cooler : {"Teasel", "Plover"}) {
    for (const char* paste : {"A", "<B>"})
      setups.push_back(
          {std::string(cooler) + paste, {{"cooler", cooler}, {"paste", paste}}, *cooler == 'P' ? 48. : 40.});
  }
  const StudyReport report = reportOf(setups, {"cooler", "paste"});
  const std::string table = effectTable(report, report.loads.at(0)).str();
  // A heading; two factors, each within two levels of the other and on average.
  CHECK(countOf(table, "<tr>") == 1 + 2 * 3);
  CHECK(table.find("Cooler Plover instead of Teasel") != std::string::npos);
  CHECK(table.find("<td>paste &lt;B&gt;</td>") != std::string::npos);
  CHECK(table.find("8.0\u202FK warmer") != std::string::npos);
  CHECK(table.find("<B>") == std::string::npos);
  // One factor alone is no such study.
  StudyReport plain = report;
  plain.loads[0].comparison.factors.clear();
  CHECK(effectTable(plain, plain.loads[0]).isEmpty());
}

TEST_CASE("ofManySetupsTheHeadlineIsShortAndThePageListsThePairs") {
  std::vector<MadeSetup> setups;
  for (int i = 0; i < 6; ++i) setups.push_back({"panel " + std::to_string(i), {{"panel", i}}, 50. - 2 * i});
  const StudyReport report = reportOf(setups, {"panel"});
  const LoadStanding& load = report.loads.at(0);
  const std::string headline = plainText(headlineSentences(report, load));
  CHECK(headline.starts_with("panel 5 is first of 6, ahead of every other."));
  CHECK(headline.find("panel 5 runs 10.0\u202FK cooler than panel 0") != std::string::npos);
  CHECK(headline.find("panel 3 runs") == std::string::npos);
  CHECK(pairSentences(report, load).size() == 5);
  const std::string answer = pageBlocks(report).at(1).body.str();
  CHECK(countOf(answer, "<li>") == 5);
  CHECK(answer.find("panel 3 runs") != std::string::npos);
  // Of few setups the one paragraph says all.
  setups.resize(3);
  const StudyReport few = reportOf(setups, {"panel"});
  CHECK(headlineSentences(few, few.loads.at(0)).size() == verdictSentences(few, few.loads.at(0)).size());
  CHECK(countOf(pageBlocks(few).at(1).body.str(), "<li>") == 0);
}
