// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>

#include "analysis/metrics.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "report/effect_words.h"

namespace ash {
namespace {

bool isOverRoomOrTemperature(const std::string& metric) {
  return metric.ends_with(".over_ambient_k") || metric.ends_with(".temp") || metric.ends_with(".peak_c");
}

// "cooler" says more than "lower"; a figure that is neither better nor worse is only higher or lower.
std::string comparative(const std::string& metric, double difference) {
  if (isOverRoomOrTemperature(metric)) return difference < 0 ? "cooler" : "warmer";
  if (metric == "noise") return difference < 0 ? "quieter" : "louder";
  if (metric.ends_with(".clock") || metric == "work.rate") return difference < 0 ? "slower" : "faster";
  return difference < 0 ? "less" : "more";
}

// "runs 10 K cooler", "is 1 dBA louder", "has 1.2 1/J more".
std::string verbFor(const std::string& metric) {
  if (metric == "noise") return "is";
  const bool isPace = metric.ends_with(".clock") || metric == "work.rate";
  return isOverRoomOrTemperature(metric) || isPace ? "runs" : "has";
}

const MetricRow* figureOf(const ComparisonRow& row, const std::string& metric) {
  const auto found = row.metrics.find(metric);
  return found == row.metrics.end() || !std::isfinite(found->second.value) ? nullptr : &found->second;
}

// A difference in temperature is in kelvin.
std::string differenceUnit(const std::string& metric) {
  const std::string unit = shownUnit(metric);
  return unit == "°C" ? "K" : unit;
}

int digitsOfMargin(double half, int digits) { return half > 0 && half < std::pow(10, -digits) ? digits + 1 : digits; }

Sentence sentenceFor(const ComparisonRow& row, const ComparisonRow& reference, const std::string& metric) {
  const MetricRow* figure = figureOf(row, metric);
  if (figure == nullptr) return {{fmt::format("{} has no figure for {}.", row.setup, metricTitle(metric))}};
  const auto interval = [&] {
    const int digits = shownDigits(metric);
    return fmt::format("{} to {}", signedText(shownValue(metric, figure->differenceLow), digits),
                       withUnit(shownValue(metric, figure->differenceHigh), digits, differenceUnit(metric)));
  };
  if (figure->verdict == Verdict::NotComparable)
    return {{fmt::format("{} cannot be compared with {}: {}", row.setup, reference.setup, figure->reason)}};
  if (figure->verdict == Verdict::WithinMargin) {
    return {{fmt::format("{} and {} do not differ beyond the margin (", row.setup, reference.setup)},
            {interval(), &row, metric, true},
            {")."}};
  }
  if (figure->verdict == Verdict::TooFewRepeats) {
    return {{fmt::format("Between {} and {} nothing is shown either way (", row.setup, reference.setup)},
            {interval(), &row, metric, true},
            {"). " + figure->reason}};
  }
  // At the level the setting lies between those that were measured.
  const std::string setting = std::isfinite(row.levelSetting)
                                  ? fmt::format(" ({} {})", lowerFirst(fieldTitle(row.levelField)),
                                                fieldText(row.levelField, std::round(row.levelSetting)))
                                  : std::string();
  Sentence sentence = {{fmt::format("{}{} {} ", row.setup, setting, verbFor(metric))},
                       {differenceText(row, metric), &row, metric, true},
                       {fmt::format(" than {} (", reference.setup)},
                       {interval(), &row, metric, true},
                       {fmt::format("): {}.", wordsOf(figure->verdict))}};
  // The bound stands before the figure; here only why it is one.
  if (figure->bound != Bound::None)
    sentence.push_back({" " + figure->reason.substr(0, figure->reason.find(':')) + ", so this is a bound."});
  return sentence;
}

struct Group {
  const char* title;
  std::vector<std::string> metrics;
};

std::vector<Group> allGroups() {
  const auto of = [](const char* device, std::initializer_list<const char*> figures) {
    std::vector<std::string> names;
    for (const char* figure : figures) names.push_back(std::string(device) + figure);
    return names;
  };
  const auto join = [](std::initializer_list<std::vector<std::string>> lists) {
    std::vector<std::string> all;
    for (const auto& list : lists) all.insert(all.end(), list.begin(), list.end());
    return all;
  };
  const auto heat = {".over_ambient_k",     ".temp",       ".peak_c",        ".headroom_k",
                     ".resistance_k_per_w", ".headroom_w", ".hottest_room_c"};
  return {{"Temperature", join({of("cpu", heat),
                                of("gpu", {".over_ambient_k", ".temp", ".headroom_k"}),
                                {"board.vrm.over_ambient_k", "storage.over_ambient_k"}})},
          {"Speed", join({of("cpu", {".clock", ".throttled_share_thermal"}),
                          of("gpu", {".clock", ".throttled_share_thermal"}),
                          {"work.rate", "score", "frame.rate", "stability_percent", "task_s"}})},
          {"Power",
           {"cpu.power", "gpu.power", "wall.power", "idle.wall.power", "work_per_joule", "score_per_watt", "energy_j"}},
          {"Noise and fans", {"noise", "idle.noise", "fan.cpu", "fan.rear", "fan.case"}},
          {"Value", {"price"}}};
}

}  // namespace

std::string lowerFirst(std::string words) {
  // "CPU power" keeps its letters, "Noise" does not.
  if (words.size() > 1 && std::islower(static_cast<unsigned char>(words[1])) != 0)
    words[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(words[0])));
  return words;
}

double shownValue(const std::string& metric, double value) {
  return metric.find("throttled_share") != std::string::npos ? 100 * value : value;
}

std::string shownUnit(const std::string& metric) { return metricUnit(metric); }

int shownDigits(const std::string& metric) {
  return metric.find("throttled_share") != std::string::npos || metric == "price" ? 0 : usualDigits(metricUnit(metric));
}

std::string valueText(const ComparisonRow& row, const std::string& metric) {
  const MetricRow* figure = figureOf(row, metric);
  if (figure == nullptr) return "–";
  return (figure->isEstimate ? "about " : "") +
         withUnit(shownValue(metric, figure->value), shownDigits(metric), shownUnit(metric));
}

std::string marginText(const ComparisonRow& row, const std::string& metric) {
  const MetricRow* figure = figureOf(row, metric);
  if (figure == nullptr || !std::isfinite(figure->ciHigh)) return "";
  const double half = shownValue(metric, (figure->ciHigh - figure->ciLow) / 2);
  return "± " + withUnit(half, digitsOfMargin(half, shownDigits(metric)), differenceUnit(metric));
}

std::string differenceText(const ComparisonRow& row, const std::string& metric) {
  const MetricRow* figure = figureOf(row, metric);
  return figure == nullptr ? std::string() : differenceText(*figure, metric);
}

std::string differenceText(const MetricRow& figure, const std::string& metric) {
  if (figure.verdict == Verdict::None) return "";
  if (figure.verdict == Verdict::NotComparable) return "not comparable";
  const double difference = shownValue(metric, figure.difference);
  const std::string size = withUnit(std::abs(difference), shownDigits(metric), differenceUnit(metric));
  if (figure.verdict == Verdict::WithinMargin) return "≈ " + size;
  if (figure.verdict == Verdict::TooFewRepeats) return "? " + size;
  // A bound on the difference is one on its size: what lies further from zero is "at least".
  std::string bound;
  if (figure.bound != Bound::None)
    bound = (figure.bound == Bound::AtLeast) == (difference > 0) ? "at least " : "at most ";
  return bound + size + " " + comparative(metric, difference);
}

std::vector<const ComparisonRow*> ranked(const Comparison& comparison, const std::string& metric) {
  std::vector<const ComparisonRow*> rows;
  for (const ComparisonRow& row : comparison.rows) {
    if (figureOf(row, metric) != nullptr) rows.push_back(&row);
  }
  const bool highestFirst = betterDirection(metric, false) == Better::Higher;
  std::stable_sort(rows.begin(), rows.end(), [&](const ComparisonRow* a, const ComparisonRow* b) {
    const double x = a->metrics.at(metric).value, y = b->metrics.at(metric).value;
    return highestFirst ? x > y : x < y;
  });
  return rows;
}

namespace {

// At which level, and what the reference has.
std::vector<Sentence> openingSentences(const LoadStanding& load, const ComparisonRow& reference,
                                       const std::string& metric) {
  std::vector<Sentence> sentences;
  if (!load.comparison.equalBy.empty()) {
    const std::string by = load.comparison.equalBy;
    sentences.push_back(
        {{fmt::format("Read off between measured settings at equal {}, {}.", lowerFirst(metricTitle(by)),
                      withUnit(load.comparison.equalAt, shownDigits(by), metricUnit(by)))}});
  }
  if (figureOf(reference, metric) != nullptr) {
    sentences.push_back({{fmt::format("{} of {}: ", metricTitle(metric), reference.setup)},
                         {valueText(reference, metric) + " " + marginText(reference, metric), &reference, metric},
                         {"."}});
  } else {
    sentences.push_back({{fmt::format("{} has no figure for {}.", reference.setup, metricTitle(metric))}});
  }
  return sentences;
}

// Each setup against the reference, the best first.
std::vector<Sentence> pairsAgainst(const Comparison& comparison, const ComparisonRow& reference,
                                   const std::string& metric) {
  std::vector<Sentence> sentences;
  for (const ComparisonRow* row : ranked(comparison, metric)) {
    if (row != &reference) sentences.push_back(sentenceFor(*row, reference, metric));
  }
  for (const ComparisonRow& row : comparison.rows) {
    if (&row != &reference && figureOf(row, metric) == nullptr)
      sentences.push_back(sentenceFor(row, reference, metric));
  }
  return sentences;
}

void append(std::vector<Sentence>& sentences, std::vector<Sentence> more) {
  std::move(more.begin(), more.end(), std::back_inserter(sentences));
}

}  // namespace

bool isCrowded(const LoadStanding& load) {
  constexpr size_t kFewSetups = 4;
  return load.comparison.rows.size() > kFewSetups;
}

std::vector<Sentence> verdictSentences(const StudyReport& report, const LoadStanding& load) {
  const ComparisonRow* reference = referenceRow(load.comparison);
  if (reference == nullptr) return {{{"There is no run to answer from yet."}}};
  const std::string metric = leadingMetric(report, load.comparison);
  std::vector<Sentence> sentences = openingSentences(load, *reference, metric);
  append(sentences, pairsAgainst(load.comparison, *reference, metric));
  append(sentences, ratioSentences(load.comparison));
  append(sentences, factorSentences(load.comparison, metric));
  if (Sentence ranking = rankingSentence(report, load); !ranking.empty()) sentences.push_back(std::move(ranking));
  return sentences;
}

std::vector<Sentence> pairSentences(const StudyReport& report, const LoadStanding& load) {
  const ComparisonRow* reference = referenceRow(load.comparison);
  if (reference == nullptr) return {};
  return pairsAgainst(load.comparison, *reference, leadingMetric(report, load.comparison));
}

std::vector<Sentence> headlineSentences(const StudyReport& report, const LoadStanding& load) {
  const ComparisonRow* reference = referenceRow(load.comparison);
  if (reference == nullptr || !isCrowded(load)) return verdictSentences(report, load);
  const std::string metric = leadingMetric(report, load.comparison);
  std::vector<Sentence> sentences;
  if (Sentence ranking = rankingSentence(report, load); !ranking.empty()) sentences.push_back(std::move(ranking));
  append(sentences, openingSentences(load, *reference, metric));
  std::vector<Sentence> pairs = pairsAgainst(load.comparison, *reference, metric);
  if (!pairs.empty()) sentences.push_back(pairs.front());
  append(sentences, ratioSentences(load.comparison));
  append(sentences, factorSentences(load.comparison, metric));
  return sentences;
}

Sentence rankingSentence(const StudyReport& report, const LoadStanding& load) {
  const std::string metric = leadingMetric(report, load.comparison);
  const auto rows = ranked(load.comparison, metric);
  if (rows.size() < 3 || betterDirection(metric, false) == Better::Neither) return {};
  const ComparisonRow& best = *rows.front();
  if (!load.comparison.equalBy.empty()) return {{fmt::format("{} comes out first of {}.", best.setup, rows.size())}};
  // All held against the first, so that it is known which of them it is really ahead of.
  std::vector<const AnalyzedRun*> runs;
  for (const auto& run : report.runs) {
    if (run->run.facts.load == load.load) runs.push_back(run.get());
  }
  CompareOptions options;
  options.reference = best.run;
  options.metrics = {metric};
  options.temperatureMargin = report.plan.marginK;
  options.temperatureRepeatability = report.plan.repeatabilityK;
  const auto against = compareRuns(runs, options);
  if (!against) return {};
  std::string ahead, open;
  for (const ComparisonRow& row : against->rows) {
    const MetricRow* figure = figureOf(row, metric);
    if (figure == nullptr || row.setup == best.setup) continue;
    std::string& names = figure->verdict == Verdict::Worse ? ahead : open;
    names += (names.empty() ? "" : ", ") + row.setup;
  }
  if (ahead.empty()) return {{fmt::format("None of the {} setups is shown to be ahead of the others.", rows.size())}};
  if (open.empty()) return {{fmt::format("{} is first of {}, ahead of every other.", best.setup, rows.size())}};
  return {{fmt::format("{} is first of {}: ahead of {}, but not shown to be ahead of {}.", best.setup, rows.size(),
                       ahead, open)}};
}

std::string plainText(const std::vector<Sentence>& sentences) {
  std::string text;
  for (const Sentence& sentence : sentences) {
    if (!text.empty()) text += " ";
    for (const AnswerPart& part : sentence) text += part.text;
  }
  return text;
}

std::string answerText(const StudyReport& report) {
  if (report.loads.empty()) return "There is no run to answer from yet.";
  std::string text;
  for (const LoadStanding& load : report.loads) {
    if (report.loads.size() > 1) text += (text.empty() ? "" : " ") + load.load + ": ";
    text += plainText(verdictSentences(report, load));
  }
  return text;
}

std::vector<MetricGroup> metricGroups(const Comparison& comparison) {
  std::vector<MetricGroup> groups;
  for (const Group& group : allGroups()) {
    MetricGroup shown{group.title, {}};
    for (const std::string& metric : group.metrics) {
      const bool isThere = std::any_of(comparison.rows.begin(), comparison.rows.end(),
                                       [&](const ComparisonRow& row) { return figureOf(row, metric) != nullptr; });
      if (isThere) shown.metrics.push_back(metric);
    }
    if (!shown.metrics.empty()) groups.push_back(std::move(shown));
  }
  // When fans woke, of those that did.
  for (const ComparisonRow& row : comparison.rows) {
    for (const auto& [metric, figure] : row.metrics) {
      if (!metric.ends_with(".woke_s")) continue;
      for (MetricGroup& group : groups) {
        const bool isKnown = std::find(group.metrics.begin(), group.metrics.end(), metric) != group.metrics.end();
        if (group.title == "Noise and fans" && !isKnown) group.metrics.push_back(metric);
      }
    }
  }
  // What is measured at places of the reviewer's own choice.
  MetricGroup surfaces{"Surfaces", {}};
  for (const ComparisonRow& row : comparison.rows) {
    for (const auto& [metric, figure] : row.metrics) {
      const bool isKnown =
          std::find(surfaces.metrics.begin(), surfaces.metrics.end(), metric) != surfaces.metrics.end();
      if (metric.starts_with("surface.") && metric.ends_with(".temp") && !isKnown) surfaces.metrics.push_back(metric);
    }
  }
  if (!surfaces.metrics.empty())
    groups.insert(groups.begin() + std::min<std::ptrdiff_t>(1, std::ssize(groups)), surfaces);
  return groups;
}

}  // namespace ash
