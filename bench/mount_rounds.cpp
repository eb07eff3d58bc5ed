// SPDX-License-Identifier: GPL-3.0-or-later
// mount_rounds [STUDIES] [FIRST SEED]: a cooler against the one before it, each mounted once, on each kind of made
// bench: how often a mount is pointed at where both sit well and the coolers simply differ, and where the new one's
// contact is worse. Coolers: masses of half to twice, ways behind the contact of 0.6 to 1.6 times; good mounts scatter
// by 4 %.
#include <fmt/format.h>

#include <cmath>
#include <cstdlib>
#include <random>

#include "analysis/analyze.h"
#include "analysis/comparison/compare.h"
#include "analysis/heat/contact.h"
#include "bench/made_benches.h"

namespace {

using namespace ash;

constexpr double kIdleS = 60, kLoadS = 400, kCoolS = 60, kMountScatter = 0.04;

class Rounds {
 public:
  Rounds(const BenchKind& kind, double stepK, double intervalS, uint64_t seed)
      : m_kind(kind), m_stepK(stepK), m_intervalS(intervalS), m_random(seed) {}

  /// Studies in which a mount is pointed at, in which it is the new cooler's, and in which both tell their contact.
  struct Counts {
    int any = 0, right = 0, told = 0;
  };
  Counts pointedAt(int studies, double worseBy) {
    Counts counts;
    for (int i = 0; i < studies; ++i) {
      const std::vector<AnalyzedRun> runs = {mounted(m_kind, "old", 1), mounted(another(), "new", 1 + worseBy)};
      counts.told += isTold(runs[0]) && isTold(runs[1]);
      CompareOptions options;
      options.metrics = {"cpu.over_ambient_k"};
      const Comparison comparison = *compareRuns(runs, options);
      for (const ComparisonCheck& check : comparison.checks) {
        if (check.kind != CheckKind::FirstMount) continue;
        ++counts.any;
        counts.right += check.between.back() == "new";
      }
    }
    return counts;
  }

  static bool isTold(const AnalyzedRun& run) {
    return contactOf(run.run, Role("cpu.temp").device(), run.figures.loads).sd > 0;
  }

 private:
  BenchKind another() {
    std::uniform_real_distribution<double> mass(std::log(0.5), std::log(2)), way(std::log(0.6), std::log(1.6));
    BenchKind kind = m_kind;
    for (size_t i = 1; i < kind.chain.size(); ++i) {
      kind.chain[i].jPerK *= std::exp(mass(m_random));
      kind.chain[i].wPerK *= std::exp(way(m_random));
    }
    return kind;
  }

  AnalyzedRun mounted(BenchKind kind, const std::string& setup, double contact) {
    std::normal_distribution<double> scatter(0, kMountScatter);
    kind.chain[0].wPerK /= contact * std::exp(scatter(m_random));
    sim::Bench bench(specOf(kind, m_stepK), m_random());
    AnalyzedRun run;
    run.run.name = setup;
    run.run.facts.setup = setup;
    run.run.facts.outcome = Outcome::Completed;
    run.run.facts.underTest = {"cooler"};
    for (const sim::SensorSpec& sensor : bench.spec().sensors) {
      Channel channel;
      channel.name = sensor.role.text();
      channel.role = sensor.role;
      channel.quantity = sensor.role.quantity();
      channel.unit = unitOf(channel.quantity);
      run.run.log.channels.push_back(std::move(channel));
    }
    const auto record = [&](double untilS) {
      for (double t = run.run.log.timeS.empty() ? 0 : run.run.log.timeS.back() + m_intervalS; t < untilS;
           t += m_intervalS) {
        bench.advanceTo(t);
        run.run.log.timeS.push_back(t);
        for (size_t i = 0; i < run.run.log.channels.size(); ++i)
          run.run.log.channels[i].values.push_back(bench.sense(i));
      }
    };
    record(kIdleS);
    bench.setLoad("vector", 1);
    record(kIdleS + kLoadS);
    bench.clearLoad();
    record(kIdleS + kLoadS + kCoolS);
    run.figures = analyzeRun(run.run);
    return run;
  }

  const BenchKind& m_kind;
  double m_stepK, m_intervalS;
  std::mt19937_64 m_random;
};

}  // namespace

int main(int argc, char** argv) {
  const int studies = argc > 1 ? std::atoi(argv[1]) : 40;
  const uint64_t seed = argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 1;
  int all = 0, told[3] = {0, 0, 0}, falsely = 0, found[2] = {0, 0};
  for (const ash::BenchKind& kind : ash::benchKinds()) {
    for (const auto& [stepK, intervalS] : {std::pair(0.125, 0.5), std::pair(1.0, 1.0)}) {
      Rounds rounds(kind, stepK, intervalS, seed);
      const auto good = rounds.pointedAt(studies, 0), third = rounds.pointedAt(studies, 0.3),
                 half = rounds.pointedAt(studies, 0.5);
      fmt::print(
          "{:<26} step {:<6} every {:.1f} s: good ones told {:>3} of {}, pointed at {:>3}; +30 % told {:>3}, found "
          "{:>3}; +50 % told {:>3}, found {:>3}\n",
          kind.name, stepK, intervalS, good.told, studies, good.any, third.told, third.right, half.told, half.right);
      std::fflush(stdout);
      all += studies;
      falsely += good.any;
      told[0] += good.told;
      told[1] += third.told;
      told[2] += half.told;
      found[0] += third.right;
      found[1] += half.right;
    }
  }
  fmt::print(
      "all: of {} studies each {} told and {} pointed at though good ({:.1f} %); +30 %: {} told, {} found ({:.1f} % of "
      "those); +50 %: {} told, {} found ({:.1f} %)\n",
      all, told[0], falsely, 100.0 * falsely / all, told[1], found[0], 100.0 * found[0] / std::max(1, told[1]), told[2],
      found[1], 100.0 * found[1] / std::max(1, told[2]));
}
