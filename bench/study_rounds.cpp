// SPDX-License-Identifier: GPL-3.0-or-later
// Bench hours to a right verdict: studies of two setups on simulated benches, carried out the usual way (a soak of 30
// min, three repeats, the difference of the means with its interval) and until decided (soaks that end when they have
// settled, rounds until the figure is told). Usage: study_rounds [STUDIES [FIRST_SEED]]
#include <fmt/format.h>
#include <unistd.h>

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <random>

#include "analysis/analyze.h"
#include "analysis/comparison/pooling.h"
#include "analysis/decision/decision.h"
#include "bench/made_benches.h"
#include "book/book.h"
#include "runner/run_recorder.h"
#include "runner/sim_bench.h"

using namespace ash;

namespace {

namespace fs = std::filesystem;

constexpr double kMarginK = 0.5;
constexpr int kMostRounds = 6;
constexpr int kUsualRepeats = 3;
constexpr char kUsual[] = "idle 5min, soak 30min, measure 10min";
constexpr char kSettled[] = "idle 5min, soak settled 5min..120min, measure 5min";

/// A question: two coolers on one bench, and how far its mounts scatter.
struct Question {
  BenchKind kind;
  double stepK = 0.5, differenceK = 0, mountSdK = 0.2;
  double ownK = 0;  // over the room, of the reference
};

Question askAnything(std::mt19937_64& random) {
  std::uniform_real_distribution<double> any(0, 1);
  const auto& kinds = benchKinds();
  Question question;
  question.kind = kinds[std::uniform_int_distribution<size_t>(0, kinds.size() - 1)(random)];
  question.stepK = std::array{0.125, 0.5, 1.0}[std::uniform_int_distribution<size_t>(0, 2)(random)];
  // A quarter of all changes change nothing.
  question.differenceK = any(random) < 0.25 ? 0 : (any(random) < 0.5 ? -1 : 1) * (0.3 + 2.7 * any(random));
  question.mountSdK = 0.1 + 0.25 * any(random);
  question.ownK = trueEnd(specOf(question.kind, 0)).overRoomK;
  return question;
}

// The bench so many kelvin warmer at its end: its last way to the room is worse by that much.
BenchKind warmerBy(BenchKind kind, double ownK, double kelvin) {
  double resistance = 0;
  for (const ChainNode& node : kind.chain) resistance += 1 / node.wPerK;
  const double more = resistance * kelvin / ownK;
  kind.chain.back().wPerK = 1 / (1 / kind.chain.back().wPerK + more);
  return kind;
}

struct Recorded {
  AnalyzedRun run;
  double hours = 0;
};

Recorded record(const Question& question, bool isOther, const char* phases, unsigned seed, const fs::path& folder,
                std::mt19937_64& random) {
  std::normal_distribution<double> mount(0, question.mountSdK);
  const double kelvin = (isOther ? question.differenceK : 0) + mount(random);
  const std::string book = (folder / "study.ashbook").string();
  for (const char* tail : {"", "-wal", "-shm"}) fs::remove(book + tail);
  RunPlan plan;
  plan.bookPath = book;
  plan.study = "s";
  plan.setup = isOther ? "other" : "reference";
  plan.intervalS = 1;
  plan.procedure = *parsePhases(phases);
  SimRunBench bench({specOf(warmerBy(question.kind, question.ownK, kelvin), question.stepK), "", seed}, 1e6);
  RunRecorder recorder(plan, bench);
  const auto result = recorder.run([](const RunProgress&) {});
  if (!result) {
    fmt::print(stderr, "{}\n", result.error().message);
    std::exit(1);
  }
  Recorded recorded{{*Book::open(book, BookAccess::ReadOnly)->readRun(result->runId), {}}, 0};
  recorded.run.figures = analyzeRun(recorded.run.run);
  recorded.hours = recorded.run.run.log.timeS.back() / 3600;
  return recorded;
}

enum class Answer { More, Less, Same, None };

struct Tally {
  int right = 0, wrong = 0, open = 0;
  double hours = 0;
  int runs = 0;
  void add(Answer answer, double differenceK) {
    const bool isWrong = (answer == Answer::More && differenceK <= 0) || (answer == Answer::Less && differenceK >= 0) ||
                         (answer == Answer::Same && std::abs(differenceK) > kMarginK);
    ++(answer == Answer::None ? open : isWrong ? wrong : right);
  }
  void print(const char* name) const {
    const int all = right + wrong + open;
    fmt::print("{:22} {:4} studies: right {:4}, wrong {:3} ({:4.1f} %), not told {:3}; {:5} runs, {:7.1f} h\n", name,
               all, right, wrong, 100.0 * wrong / std::max(1, all), open, runs, hours);
    std::fflush(stdout);
  }
};

Answer answerOf(double low, double high) {
  if (low > 0) return Answer::More;
  if (high < 0) return Answer::Less;
  return low >= -kMarginK && high <= kMarginK ? Answer::Same : Answer::None;
}

// Means of the last ten minutes, whatever they had settled to.
void usualWay(const Question& question, unsigned seed, const fs::path& folder, std::mt19937_64& random, Tally& tally) {
  std::vector<double> values[2];
  for (int repeat = 0; repeat < kUsualRepeats; ++repeat) {
    for (const bool isOther : {false, true}) {
      const Recorded one = record(question, isOther, kUsual, seed++, folder, random);
      tally.hours += one.hours;
      ++tally.runs;
      values[isOther].push_back(one.run.figures.channel("cpu.temp")->overAmbientK.value_or(kMissing));
    }
  }
  const std::vector<double> exact(kUsualRepeats, 0.0);
  const auto interval = differenceInterval(pooledValues(values[1], exact), pooledValues(values[0], exact));
  tally.add(answerOf(interval.low, interval.high), question.differenceK);
}

void untilDecided(const Question& question, unsigned seed, const fs::path& folder, std::mt19937_64& random,
                  Tally& tally) {
  StudyPlan plan;
  plan.isUntilDecided = true;
  plan.repeats = kMostRounds;
  plan.marginK = kMarginK;
  CompareOptions options = compareOptionsOf(plan, 2);
  const Figure figure("cpu.over_ambient_k");
  std::vector<AnalyzedRun> runs;
  std::vector<SetupDecision> decisions;
  for (int round = 0; round < kMostRounds; ++round) {
    for (const bool isOther : {false, true}) {
      Recorded one = record(question, isOther, kSettled, seed++, folder, random);
      tally.hours += one.hours;
      ++tally.runs;
      runs.push_back(std::move(one.run));
    }
    std::vector<const AnalyzedRun*> all;
    for (const AnalyzedRun& run : runs) all.push_back(&run);
    options.reference = runs.front().run.name;
    decisions = decisionsOf(all, options, figure, kMostRounds);
    if (!decisions.empty() && !decisions.front().isOpen) break;
  }
  const Verdict verdict = decisions.empty() ? Verdict::None : decisions.front().verdict;
  tally.add(verdict == Verdict::Worse          ? Answer::More
            : verdict == Verdict::Better       ? Answer::Less
            : verdict == Verdict::WithinMargin ? Answer::Same
                                               : Answer::None,
            question.differenceK);
}

}  // namespace

int main(int count, char** arguments) {
  const int studies = count > 1 ? std::atoi(arguments[1]) : 200;
  const auto first = static_cast<unsigned>(count > 2 ? std::atoi(arguments[2]) : 1);
  const fs::path folder = fs::temp_directory_path() / fmt::format("study_rounds.{}", ::getpid());
  fs::create_directories(folder);
  ::setenv("XDG_RUNTIME_DIR", folder.c_str(), 1);
  std::mt19937_64 random(first);
  Tally usual, decided;
  for (int study = 0; study < studies; ++study) {
    const Question question = askAnything(random);
    const unsigned seed = first * 100000 + static_cast<unsigned>(study) * 100;
    usualWay(question, seed, folder, random, usual);
    untilDecided(question, seed + 50, folder, random, decided);
    if (study % 20 != 19 && study + 1 != studies) continue;
    usual.print("30 min, three repeats");
    decided.print("until decided");
  }
  fmt::print("hours until decided over the usual: {:.2f}\n", decided.hours / usual.hours);
  fs::remove_all(folder);
}
