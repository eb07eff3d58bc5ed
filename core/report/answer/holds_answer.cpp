// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/holds_answer.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/comparison/chance.h"
#include "analysis/comparison/pooling.h"
#include "analysis/comparison/taking_part.h"
#include "model/number_text.h"
#include "report/answer/row_figure.h"

namespace ash {
namespace {

// The devices that are asked about: the one of the figure that the study asks for, else each that has it.
std::vector<Figure> figuresOf(const StudyReport& report, const ComparisonRow& row, FigureId id) {
  std::vector<Figure> all;
  for (const auto& [figure, value] : row.metrics) {
    if (figure.id() == id && std::isfinite(value.value)) all.push_back(figure);
  }
  if (report.plan.figure.empty()) return all;
  const Device asked = Figure(report.plan.figure).device();
  const auto own = std::find_if(all.begin(), all.end(), [&](const Figure& one) { return one.device() == asked; });
  if (!asked.empty() && own != all.end()) return {*own};
  return all;
}

std::vector<const AnalyzedRun*> runsOf(const StudyReport& report, const ComparisonRow& row) {
  std::vector<const AnalyzedRun*> runs;
  for (const auto& run : report.runs) {
    if (std::find(row.runs.begin(), row.runs.end(), run->run.name) != row.runs.end()) runs.push_back(run.get());
  }
  return runs;
}

// A mean over the runs that have it; missing where none has.
template <typename Of>
double meanOf(const std::vector<const AnalyzedRun*>& runs, Of of) {
  double sum = 0;
  int count = 0;
  for (const AnalyzedRun* run : runs) {
    const double value = of(*run);
    if (!std::isfinite(value)) continue;
    sum += value;
    ++count;
  }
  return count == 0 ? kMissing : sum / count;
}

double measuredRoomC(const StudyReport& report, const ComparisonRow& row, const Device& device) {
  return meanOf(runsOf(report, row), [&](const AnalyzedRun& run) {
    const ChannelFigures* channel = run.figures.channel(Role(device, Quantity::Temperature).text());
    return channel == nullptr || !channel->overAmbientK ? kMissing : channel->window.mean - *channel->overAmbientK;
  });
}

double wantedPowerW(const StudyReport& report, const ComparisonRow& row, const Device& device) {
  return meanOf(runsOf(report, row), [&](const AnalyzedRun& run) {
    for (const Heat& heat : run.figures.heat) {
      if (heat.device == device) return heat.wantedPowerW.value_or(kMissing);
    }
    return kMissing;
  });
}

// The kelvin that the watched part still had to warm up when it was measured, in the run of the row that had most to
// go.
double stillToComeK(const StudyReport& report, const ComparisonRow& row, const Device& device) {
  double most = 0;
  for (const AnalyzedRun* run : runsOf(report, row)) {
    if (Role(run->figures.watched).device() == device) most = std::max(most, leftOf(*run));
  }
  return most;
}

// What would tell, for a figure whose interval reaches over the target.
std::string decideWords(const Believed& figure, double target, int repeats, const std::string& elseWhat) {
  const Leaning leaning = leaningOf(chanceAbove(figure, target));
  if (leaning == Leaning::Yes || leaning == Leaning::No) return "";
  constexpr int kWorthIt = 12;
  const auto needed = repeatsToDecide(figure, target, repeats);
  if (!needed || *needed > kWorthIt) return fmt::format("Too close for repeats to decide it: {}.", elseWhat);
  return fmt::format("About {} repeats instead of {} would decide it, if they scatter as these do; or {}.", *needed,
                     repeats, elseWhat);
}

// Of several parts the one that is least sure to hold.
void keepWeaker(std::optional<Holding>& weakest, Holding one) {
  if (!weakest || !(one.chance >= weakest->chance)) weakest = std::move(one);
}

Holding notKnown(const ComparisonRow& row, std::string why) { return {row.setup, kMissing, {{std::move(why)}}, ""}; }

Holding inRoom(const StudyReport& report, const ComparisonRow& row, double roomC) {
  if (std::string why = whyNotWhole(report, row); !why.empty()) return notKnown(row, std::move(why));
  std::optional<Holding> weakest;
  for (const Figure& metric : figuresOf(report, row, FigureId::HottestRoom)) {
    const MetricRow& figure = *figureIn(row, metric);
    Holding one{row.setup,
                chanceAbove(believed(figure), roomC),
                {{metric.device().shortName() + " reaches its limit in a room of "}}};
    addFigure(one.figure, row, metric);
    const double measuredC = measuredRoomC(report, row, metric.device());
    if (std::isfinite(measuredC)) one.figure.push_back({", worked out from one of " + withUnit(measuredC, 1, "°C")});
    one.wouldDecide = decideWords(believed(figure), roomC, row.repeats,
                                  "measure it in a room of " + withUnit(roomC, 0, "°C") + " itself");
    keepWeaker(weakest, std::move(one));
  }
  if (weakest) return *weakest;
  return notKnown(row, "the room, the power and the limit of a part that works have to be known for it");
}

// Its headroom in watts, and what that makes in all.
Holding atPower(const StudyReport& report, const ComparisonRow& row, double watts) {
  if (std::string why = whyNotWhole(report, row); !why.empty()) return notKnown(row, std::move(why));
  const std::vector<Figure> all = figuresOf(report, row, FigureId::HeadroomW);
  if (all.empty())
    return notKnown(row, "the room, the power and the limit of a part that works have to be known for it");
  const Figure& metric = all.front();
  const MetricRow& figure = *figureIn(row, metric);
  const double wanted = wantedPowerW(report, row, metric.device());
  if (!std::isfinite(wanted)) return notKnown(row, "what its chip draws is not known");
  const Believed carries{figure.value + wanted, figure.ciLow + wanted, figure.ciHigh + wanted, figure.ciDegrees};
  Holding holding{row.setup, chanceAbove(carries, watts), {{metric.device().shortName() + " carries "}}};
  holding.figure.push_back({fmt::format("{} ({} to {})", withUnit(carries.value, 1, "W"), numberText(carries.low, 1),
                                        withUnit(carries.high, 1, "W"))});
  holding.figure.push_back({fmt::format(": the {} it takes and a headroom of ", withUnit(wanted, 1, "W"))});
  holding.figure.push_back({valueText(row, metric), &row, metric});
  const double roomC = measuredRoomC(report, row, metric.device());
  if (std::isfinite(roomC)) holding.figure.push_back({", in a room of " + withUnit(roomC, 1, "°C")});
  holding.wouldDecide =
      decideWords(carries, watts, row.repeats, "run it with a power limit of " + withUnit(watts, 0, "W"));
  return holding;
}

Holding atNoise(const StudyReport& report, const ComparisonRow& row, double dba) {
  if (std::string why = whyNotWhole(report, row); !why.empty()) return notKnown(row, std::move(why));
  const Figure noise(FigureId::Noise);
  Sentence limit;
  const double below = chanceBelowLimit(report, row, limit);
  const MetricRow* figure = figureIn(row, noise);
  if (figure == nullptr) return notKnown(row, "its noise was not read");
  if (std::isnan(below)) return notKnown(row, "the limit of no part that works is known");
  const double quiet = 1 - chanceAbove(believed(*figure), dba);
  Holding holding{row.setup, std::min(quiet, below), {{"it makes "}}};
  addFigure(holding.figure, row, noise);
  holding.figure.insert(holding.figure.end(), limit.begin(), limit.end());
  if (quiet < below)
    holding.wouldDecide =
        decideWords(believed(*figure), dba, row.repeats, "take the noise with a meter of a better class");
  return holding;
}

// Setups that were walked up a ladder of settings are read off at that noise, each at its own.
std::vector<Holding> readOffAtNoise(const StudyReport& report, const LoadStanding& load, double dba) {
  CompareOptions options = compareOptionsOf(report.plan, report.study.setups.size());
  options.equal = {EqualBy::What::Noise, dba};
  options.reference = load.comparison.reference;
  std::vector<const AnalyzedRun*> runs;
  for (const auto& run : report.runs) {
    if (run->run.facts.load == load.load) runs.push_back(run.get());
  }
  const auto levelled = compareRuns(runs, options);
  std::vector<Holding> all;
  for (const ComparisonRow& row : load.comparison.rows) {
    const ComparisonRow* at = levelled ? rowOf(*levelled, row.setup) : nullptr;
    Sentence limit;
    const double below = at == nullptr ? kMissing : chanceBelowLimit(report, *at, limit);
    if (std::isnan(below)) {
      all.push_back(notKnown(row, "it was not measured at settings as loud and as quiet as that"));
      all.back().wouldDecide = fmt::format("A rung on either side of {} would tell.", withUnit(dba, 1, "dBA"));
      continue;
    }
    Holding holding{row.setup, below, {{"at that noise it runs"}}};
    // The rows of the levelled field are gone after this: their numbers stay as words.
    for (const AnswerPart& part : limit) holding.figure.push_back({part.text});
    all.push_back(std::move(holding));
  }
  return all;
}

std::string asked(const StudyQuestion& question) {
  const double target = question.target.value_or(kMissing);
  if (question.kind == QuestionKind::HoldsInRoom)
    return fmt::format("below its limit in a room of {:g}\u202F°C", target);
  if (question.kind == QuestionKind::HoldsAtPower) return fmt::format("below its limit at {:g}\u202FW", target);
  return fmt::format("below its limit with no more than {:g}\u202FdBA", target);
}

std::string answerOfOne(const Holding& one, const std::string& what) {
  const Leaning leaning = leaningOf(one.chance);
  if (leaning == Leaning::CannotTell) return fmt::format("Cannot tell whether {} stays {}.", one.setup, what);
  const bool holds = leaning == Leaning::Yes || leaning == Leaning::Probably;
  return fmt::format("{}: {} {} {}.", wordsOf(leaning), one.setup, holds ? "stays" : "does not stay", what);
}

// "Yes for Mesh and Foam, no for Solid".
std::string whoHolds(const std::vector<Holding>& all) {
  std::string words;
  for (const Leaning leaning :
       {Leaning::Yes, Leaning::Probably, Leaning::ProbablyNot, Leaning::No, Leaning::CannotTell}) {
    std::vector<std::string> names;
    for (const Holding& one : all) {
      if (leaningOf(one.chance) == leaning) names.push_back(one.setup);
    }
    if (names.empty()) continue;
    const std::string word(wordsOf(leaning));
    words += (words.empty() ? word : ", " + lowerFirst(word)) + " for " + joinedNames(names);
  }
  return words;
}

}  // namespace

std::string whyNotWhole(const StudyReport& report, const ComparisonRow& row) {
  const std::vector<const AnalyzedRun*> runs = runsOf(report, row);
  if (runs.empty() || std::any_of(runs.begin(), runs.end(), [](const AnalyzedRun* run) { return didComplete(*run); }))
    return "";
  return fmt::format("its run did not complete ({}), and of one that was cut short this cannot be told",
                     outcomeText(*runs.front()->run.facts.outcome));
}

double chanceBelowLimit(const StudyReport& report, const ComparisonRow& row, Sentence& words) {
  double chance = kMissing, leastK = kMissing;
  for (const Figure& metric : figuresOf(report, row, FigureId::HeadroomK)) {
    const MetricRow* slowed = figureIn(row, {metric.device(), FigureId::ThrottledThermal});
    const bool isSlowed = slowed != nullptr && slowed->value > 0;
    const double toComeK = stillToComeK(report, row, metric.device());
    Believed left = believed(*figureIn(row, metric));
    for (double* end : {&left.value, &left.low, &left.high}) *end -= toComeK;
    const double own = isSlowed ? 0 : chanceAbove(left, 0);
    if (std::isnan(own)) continue;
    // The least sure part counts; of parts that are as good as sure the one that is nearest to its limit is told.
    const bool areAsSure = leaningOf(own) == leaningOf(chance);
    const bool isTold = std::isnan(chance) || (areAsSure ? left.value < leastK : own < chance);
    if (!(own >= chance)) chance = own;
    if (!isTold) continue;
    leastK = left.value;
    words = {{" with " + lowerFirst(metric.title()) + " "}};
    addFigure(words, row, metric);
    if (toComeK > 0) words.push_back({fmt::format(" of which {} were still to go", withUnit(toComeK, 1, "K"))});
    if (!isSlowed) continue;
    const Figure share(metric.device(), FigureId::ThrottledThermal);
    words.push_back({", slowed by heat for "});
    words.push_back({valueText(row, share), &row, share});
    words.push_back({" of the load"});
  }
  return chance;
}

std::vector<Holding> holdingsOf(const StudyReport& report, const LoadStanding& load) {
  const StudyQuestion& question = report.plan.asks;
  if (!question.target) return {};
  const double target = *question.target;
  if (question.kind == QuestionKind::HoldsAtNoise && load.comparison.equalBy)
    return readOffAtNoise(report, load, target);
  std::vector<Holding> all;
  for (const ComparisonRow& row : load.comparison.rows) {
    all.push_back(question.kind == QuestionKind::HoldsInRoom    ? inRoom(report, row, target)
                  : question.kind == QuestionKind::HoldsAtPower ? atPower(report, row, target)
                                                                : atNoise(report, row, target));
  }
  return all;
}

std::vector<Sentence> holdsSentences(const StudyReport& report, const LoadStanding& load) {
  const std::vector<Holding> all = holdingsOf(report, load);
  if (all.empty()) return {};
  const std::string what = asked(report.plan.asks);
  std::vector<Sentence> sentences;
  sentences.push_back(
      {{all.size() == 1 ? answerOfOne(all.front(), what) : fmt::format("{}: to stay {}.", whoHolds(all), what)}});
  for (const Holding& one : all) {
    Sentence sentence = {{one.setup + ": "}};
    sentence.insert(sentence.end(), one.figure.begin(), one.figure.end());
    if (std::isfinite(one.chance)) sentence.push_back({"; the chance that it holds is " + chanceWords(one.chance)});
    sentence.push_back({one.wouldDecide.empty() ? "." : ". " + one.wouldDecide});
    sentences.push_back(std::move(sentence));
  }
  return sentences;
}

}  // namespace ash
