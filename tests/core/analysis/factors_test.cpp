// SPDX-License-Identifier: GPL-3.0-or-later
// What one of several factors does: within every level of the others, on average, and whether the levels agree.
#include "analysis/comparison/factors.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "analysis/figures_json.h"
#include "tests/support/made_runs.h"
#include "tests/support/words.h"

using namespace ash;
using namespace ash::tests;

namespace {

const std::string kMetric = "cpu.over_ambient_k";

/// Two coolers and three pastes; what each adds in kelvin. `extraK` comes on top with the flat cooler and paste B.
struct Bench {
  double noiseK = 0.3, flatK = 6, bK = -1.5, cK = 0.5, extraK = 0;
  int repeats = 3;

  double truth(const std::string& cooler, const std::string& paste) const {
    return 45 + (cooler == "Plover" ? flatK : 0) +
           (paste == "B"   ? bK
            : paste == "C" ? cK
                           : 0) +
           (cooler == "Plover" && paste == "B" ? extraK : 0);
  }
  std::vector<AnalyzedRun> measure(std::mt19937& random) const {
    std::normal_distribution<double> normal;
    std::vector<AnalyzedRun> runs;
    for (const char* cooler : {"Teasel", "Plover"}) {
      for (const char* paste : {"A", "B", "C"}) {
        for (int i = 0; i < repeats; ++i) {
          const std::string setup = std::string(cooler) + " with " + paste;
          runs.push_back(madeRun(setup + std::to_string(i), setup, truth(cooler, paste) + noiseK * normal(random)));
          runs.back().run.facts.conditions = {{"cooler", cooler}, {"paste", paste}};
          runs.back().run.facts.underTest = {"cooler", "paste"};
        }
      }
    }
    return runs;
  }
};

const FactorEffect& effectOf(const Comparison& comparison, const std::string& factor, const Json& level) {
  for (const FactorEffect& effect : comparison.factors) {
    if (effect.factor == factor && effect.level == level) return effect;
  }
  throw std::runtime_error("there is no such effect");
}

}  // namespace

TEST_CASE("aFactorIsHeldAgainstItsReferenceWithinEveryLevelOfTheOther") {
  std::mt19937 random(4);
  const Comparison comparison = *compareRuns(Bench{.noiseK = 0.05}.measure(random), {});
  REQUIRE(comparison.factors.size() == 3);
  const FactorEffect& paste = effectOf(comparison, "paste", "B");
  CHECK(paste.reference == "A");
  REQUIRE(paste.within.size() == 2);
  CHECK(paste.within[0].others == Json{{"cooler", "Teasel"}});
  CHECK(paste.within[0].row.setup == "Teasel with B");
  CHECK(paste.within[0].referenceSetup == "Teasel with A");
  CHECK(paste.within[1].row.setup == "Plover with B");
  CHECK(paste.within[1].referenceSetup == "Plover with A");
  for (const FactorEffect::Within& within : paste.within) {
    CHECK(within.row.metrics.at(kMetric).difference == Approx(-1.5).margin(0.2));
    CHECK(within.row.metrics.at(kMetric).verdict == "better");
  }
  CHECK(paste.mean.at(kMetric).difference == Approx(-1.5).margin(0.15));
  CHECK(effectOf(comparison, "cooler", "Plover").within.size() == 3);
  CHECK(effectOf(comparison, "cooler", "Plover").mean.at(kMetric).verdict == "worse");
  const Json json = comparisonToJson(comparison)["factors"];
  REQUIRE(json.size() == 3);
  CHECK(json[0]["factor"] == "cooler");
  CHECK(json[0]["within"].size() == 3);
  CHECK(json[0]["mean"][kMetric]["verdict"] == "worse");
}

TEST_CASE("theMeanEffectOfAFactorCoversTheTruthAndIsSurerThanOnePair") {
  std::mt19937 random(11);
  constexpr int kStudies = 600;
  int covered = 0, disagree = 0, narrower = 0;
  for (int study = 0; study < kStudies; ++study) {
    const Comparison comparison = *compareRuns(Bench{}.measure(random), {});
    const FactorEffect& cooler = effectOf(comparison, "cooler", "Plover");
    const MetricRow& mean = cooler.mean.at(kMetric);
    covered += mean.differenceLow <= 6 && mean.differenceHigh >= 6;
    disagree += cooler.dependsOnOthers.contains(kMetric);
    const MetricRow& pair = cooler.within[0].row.metrics.at(kMetric);
    narrower += mean.differenceHigh - mean.differenceLow < pair.differenceHigh - pair.differenceLow;
  }
  INFO("covered " << covered << ", taken for different " << disagree << " of " << kStudies);
  CHECK(covered >= 0.92 * kStudies);
  CHECK(covered <= 0.98 * kStudies);
  CHECK(disagree <= 0.07 * kStudies);
  CHECK(narrower >= 0.95 * kStudies);
}

TEST_CASE("anEffectThatIsNotTheSameWithinEveryLevelIsSaidToDepend") {
  std::mt19937 random(12);
  int found = 0;
  for (int study = 0; study < 50; ++study) {
    const Comparison comparison = *compareRuns(Bench{.extraK = 4}.measure(random), {});
    found += effectOf(comparison, "cooler", "Plover").dependsOnOthers.contains(kMetric);
  }
  CHECK(found >= 48);
}

TEST_CASE("aFactorThatNeverChangedAloneHasNoEffectThatCouldBeTold") {
  std::vector<AnalyzedRun> runs = {madeRun("a", "a", 50), madeRun("b", "b", 45)};
  runs[0].run.facts.conditions = {{"cooler", "Teasel"}, {"paste", "A"}};
  runs[1].run.facts.conditions = {{"cooler", "Plover"}, {"paste", "B"}};
  for (AnalyzedRun& run : runs) run.run.facts.underTest = {"cooler", "paste"};
  CHECK(compareRuns(runs, {})->factors.empty());
  // One thing under test has no factors, only setups.
  runs[1].run.facts.conditions = {{"cooler", "Plover"}, {"paste", "A"}};
  CHECK(compareRuns(runs, {})->factors.empty());
}

TEST_CASE("aPairThatCannotBeComparedLeavesNoMean") {
  std::mt19937 random(5);
  std::vector<AnalyzedRun> runs = Bench{.noiseK = 0.05}.measure(random);
  for (AnalyzedRun& run : runs) {
    if (run.run.facts.setup == "Plover with C") run.run.facts.outcome = Outcome::StoppedByHand;
  }
  const Comparison comparison = *compareRuns(runs, {});
  const FactorEffect& paste = effectOf(comparison, "paste", "C");
  CHECK(paste.within[0].row.metrics.at(kMetric).verdict == "worse");
  CHECK(paste.within[1].row.metrics.at(kMetric).verdict == "not comparable");
  CHECK_FALSE(paste.mean.contains(kMetric));
}
