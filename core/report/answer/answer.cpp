// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/answer.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <set>
#include <utility>

#include "analysis/catalogue/metrics.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "report/answer/effect_words.h"
#include "report/answer/row_figure.h"

namespace ash {
namespace {

// "cooler" says more than "lower".
std::string comparative(const Figure& metric, double difference) {
  const FigureWords& words = metric.kind().words;
  return std::string(difference < 0 ? words.less : words.more);
}

// The assumption of single runs is said once, not of every setup again.
Sentence sentenceFor(const ComparisonRow& row, const ComparisonRow& reference, const Figure& metric,
                     bool& isAssumptionTold) {
  const MetricRow* figure = figureIn(row, metric);
  if (figure == nullptr) return {{fmt::format("{} has no figure for {}.", row.setup, metric.title())}};
  const auto interval = [&] {
    const int digits = digitsOfDifference(*figure, metric);
    return fmt::format("{} to {}", signedText(shownValue(metric, figure->differenceLow), digits),
                       withUnit(shownValue(metric, figure->differenceHigh), digits, metric.differenceUnit()));
  };
  if (figure->verdict == Verdict::NotComparable)
    return {{fmt::format("{} cannot be compared with {}: {}", row.setup, reference.setup, figure->reason)}};
  std::string assumed;
  if (figure->isAssumed && !std::exchange(isAssumptionTold, true)) assumed = " " + assumptionWords(metric);
  if (figure->verdict == Verdict::WithinMargin) {
    return {{fmt::format("{} and {} do not differ beyond the margin (", row.setup, reference.setup)},
            {interval(), &row, metric, true},
            {")." + assumed}};
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
  Sentence sentence = {{fmt::format("{}{} {} ", row.setup, setting, metric.kind().words.verb)},
                       {differenceText(row, metric), &row, metric, true},
                       {fmt::format(" than {} (", reference.setup)},
                       {interval(), &row, metric, true},
                       {fmt::format("): {}.{}", wordsOf(figure->verdict), assumed)}};
  // The bound stands before the figure; here only why it is one.
  if (figure->bound != Bound::None)
    sentence.push_back({" " + figure->reason.substr(0, figure->reason.find(':')) + ", so this is a bound."});
  return sentence;
}

// Of the processor and the graphics all is told; of what stands beside the question how warm it is and how far from its
// limit.
bool isListed(const Figure& figure, const std::set<Figure>& all) {
  const FigureKind& kind = figure.kind();
  const Device& device = figure.device();
  if (kind.group == FigureGroup::None) return false;
  const bool isBesideTheQuestion = kind.isOfDevice && !device.is(DeviceKind::Cpu) && !device.is(DeviceKind::Gpu);
  if (!isBesideTheQuestion) return true;
  if (device.is(DeviceKind::Surface)) return kind.id == FigureId::Temperature || kind.id == FigureId::OverRoom;
  const bool hasNoOverRoom = !all.contains({device, FigureId::OverRoom});
  return kind.ofEveryDevice || (kind.id == FigureId::Temperature && hasNoOverRoom);
}

}  // namespace

std::string lowerFirst(std::string words) {
  // "CPU power" keeps its letters, "Noise" does not.
  if (words.size() > 1 && std::islower(static_cast<unsigned char>(words[1])) != 0)
    words[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(words[0])));
  return words;
}

double shownValue(const Figure& metric, double value) { return metric.kind().scale * value; }

std::string shownUnit(const Figure& metric) { return metric.unit(); }

namespace {

// The uncertainty's two digits at most (JCGM 100:2008, 7.2.6), no more than are usual unless it would be shown as zero.
int digitsWithin(double half, int usual) {
  if (!(half > 0) || !std::isfinite(half)) return usual;
  int digits = usual;
  constexpr int kMore = 2;
  while (half < 0.5 * std::pow(10, -digits) && digits < usual + kMore) ++digits;
  return std::min(digits, decimalsFor(half, digits));
}

}  // namespace

int digitsOf(const MetricRow& figure, const Figure& metric) {
  return digitsWithin(shownValue(metric, (figure.ciHigh - figure.ciLow) / 2), metric.digits());
}

int digitsOfDifference(const MetricRow& figure, const Figure& metric) {
  return digitsWithin(shownValue(metric, (figure.differenceHigh - figure.differenceLow) / 2), metric.digits());
}

namespace {

std::string valueWith(const MetricRow& figure, const Figure& metric, int digits) {
  return (figure.isEstimate ? "about " : "") + withUnit(shownValue(metric, figure.value), digits, shownUnit(metric));
}

}  // namespace

std::string valueText(const ComparisonRow& row, const Figure& metric) {
  const MetricRow* figure = figureIn(row, metric);
  return figure == nullptr ? "–" : valueWith(*figure, metric, std::min(digitsOf(*figure, metric), metric.digits()));
}

std::string valueBesideMargin(const ComparisonRow& row, const Figure& metric) {
  const MetricRow* figure = figureIn(row, metric);
  return figure == nullptr ? "–" : valueWith(*figure, metric, digitsOf(*figure, metric));
}

std::string marginText(const ComparisonRow& row, const Figure& metric) {
  const MetricRow* figure = figureIn(row, metric);
  if (figure == nullptr || !std::isfinite(figure->ciHigh)) return "";
  const double half = shownValue(metric, (figure->ciHigh - figure->ciLow) / 2);
  // Repeats to the digit alike tell no scatter, and none is not shown as one of nothing.
  if (half == 0) return "";
  return "± " + withUnit(half, digitsOf(*figure, metric), metric.differenceUnit());
}

std::string valueAndMargin(const ComparisonRow& row, const Figure& metric) {
  const std::string margin = marginText(row, metric);
  return valueBesideMargin(row, metric) + (margin.empty() ? "" : " " + margin);
}

std::string differenceText(const ComparisonRow& row, const Figure& metric) {
  const MetricRow* figure = figureIn(row, metric);
  return figure == nullptr ? std::string() : differenceText(*figure, metric);
}

std::string differenceText(const MetricRow& figure, const Figure& metric) {
  if (figure.verdict == Verdict::None) return "";
  if (figure.verdict == Verdict::NotComparable) return "not comparable";
  const double difference = shownValue(metric, figure.difference);
  const std::string size = withUnit(std::abs(difference), digitsOfDifference(figure, metric), metric.differenceUnit());
  if (figure.verdict == Verdict::WithinMargin) return "≈ " + size;
  if (figure.verdict == Verdict::TooFewRepeats) return "? " + size;
  // A bound on the difference is one on its size: what lies further from zero is "at least".
  std::string bound;
  if (figure.bound != Bound::None)
    bound = (figure.bound == Bound::AtLeast) == (difference > 0) ? "at least " : "at most ";
  return bound + size + " " + comparative(metric, difference);
}

std::vector<const ComparisonRow*> ranked(const Comparison& comparison, const Figure& metric) {
  std::vector<const ComparisonRow*> rows;
  for (const ComparisonRow& row : comparison.rows) {
    if (figureIn(row, metric) != nullptr) rows.push_back(&row);
  }
  const bool highestFirst = betterOf(comparison, metric) == Better::Higher;
  std::stable_sort(rows.begin(), rows.end(), [&](const ComparisonRow* a, const ComparisonRow* b) {
    const double x = a->metrics.at(metric).value, y = b->metrics.at(metric).value;
    return highestFirst ? x > y : x < y;
  });
  return rows;
}

namespace {

// At which level, and what the reference has.
std::vector<Sentence> openingSentences(const LoadStanding& load, const ComparisonRow& reference, const Figure& metric) {
  std::vector<Sentence> sentences;
  if (load.comparison.equalBy) {
    const Figure& by = *load.comparison.equalBy;
    sentences.push_back({{fmt::format("Read off between measured settings at equal {}, {}.", lowerFirst(by.title()),
                                      withUnit(load.comparison.equalAt, by.digits(), by.unit()))}});
  }
  if (figureIn(reference, metric) != nullptr) {
    sentences.push_back({{fmt::format("{} of {}: ", metric.title(), reference.setup)},
                         {valueAndMargin(reference, metric), &reference, metric},
                         {"."}});
  } else {
    sentences.push_back({{fmt::format("{} has no figure for {}.", reference.setup, metric.title())}});
  }
  return sentences;
}

// Each setup against the reference, the best first.
std::vector<Sentence> pairsAgainst(const Comparison& comparison, const ComparisonRow& reference, const Figure& metric) {
  std::vector<Sentence> sentences;
  bool isAssumptionTold = false;
  for (const ComparisonRow* row : ranked(comparison, metric)) {
    if (row != &reference) sentences.push_back(sentenceFor(*row, reference, metric, isAssumptionTold));
  }
  for (const ComparisonRow& row : comparison.rows) {
    if (&row != &reference && figureIn(row, metric) == nullptr)
      sentences.push_back(sentenceFor(row, reference, metric, isAssumptionTold));
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
  const Figure metric = leadingMetric(report, load.comparison);
  std::vector<Sentence> sentences = openingSentences(load, *reference, metric);
  append(sentences, pairsAgainst(load.comparison, *reference, metric));
  append(sentences, ratioSentences(load.comparison));
  append(sentences, waySentences(load.comparison));
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
  const Figure metric = leadingMetric(report, load.comparison);
  std::vector<Sentence> sentences;
  if (Sentence ranking = rankingSentence(report, load); !ranking.empty()) sentences.push_back(std::move(ranking));
  append(sentences, openingSentences(load, *reference, metric));
  std::vector<Sentence> pairs = pairsAgainst(load.comparison, *reference, metric);
  if (!pairs.empty()) sentences.push_back(pairs.front());
  append(sentences, ratioSentences(load.comparison));
  append(sentences, factorSentences(load.comparison, metric));
  return sentences;
}

namespace {

std::optional<Comparison> comparedBy(const StudyReport& report, const LoadStanding& load,
                                     const CompareOptions& options) {
  std::vector<const AnalyzedRun*> runs;
  for (const auto& run : report.runs) {
    if (run->run.facts.load == load.load) runs.push_back(run.get());
  }
  auto compared = compareRuns(runs, options);
  if (!compared) return std::nullopt;
  return std::move(*compared);
}

}  // namespace

std::optional<Comparison> comparedWith(const StudyReport& report, const LoadStanding& load, const ComparisonRow& row,
                                       const std::vector<Figure>& metrics) {
  CompareOptions options = compareOptionsOf(report.plan, report.study.setups.size());
  options.reference = row.run;
  options.metrics = metrics;
  return comparedBy(report, load, options);
}

std::optional<Comparison> comparedAsRun(const StudyReport& report, const LoadStanding& load) {
  CompareOptions options = compareOptionsOf(report.plan, report.study.setups.size());
  options.equal = {};
  options.reference = load.comparison.reference;
  return comparedBy(report, load, options);
}

Sentence rankingSentence(const StudyReport& report, const LoadStanding& load) {
  const Figure metric = leadingMetric(report, load.comparison);
  const auto rows = ranked(load.comparison, metric);
  if (rows.size() < 3 || betterOf(load.comparison, metric) == Better::Neither) return {};
  const ComparisonRow& best = *rows.front();
  if (load.comparison.equalBy) return {{fmt::format("{} comes out first of {}.", best.setup, rows.size())}};
  // All held against the first, so that it is known which of them it is really ahead of.
  const auto against = comparedWith(report, load, best, {metric});
  if (!against) return {};
  std::string ahead, open;
  for (const ComparisonRow& row : against->rows) {
    const MetricRow* figure = figureIn(row, metric);
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
  std::set<Figure> all;
  for (const ComparisonRow& row : comparison.rows) {
    for (const auto& [figure, value] : row.metrics) {
      if (std::isfinite(value.value)) all.insert(figure);
    }
  }
  std::vector<Figure> listed;
  std::copy_if(all.begin(), all.end(), std::back_inserter(listed),
               [&](const Figure& figure) { return isListed(figure, all); });
  std::sort(listed.begin(), listed.end(), isListedBefore);
  std::vector<MetricGroup> groups;
  for (const Figure& figure : listed) {
    const std::string_view title = titleOf(figure.group());
    if (groups.empty() || groups.back().title != title) groups.push_back({std::string(title), {}});
    groups.back().metrics.push_back(figure);
  }
  return groups;
}

}  // namespace ash
