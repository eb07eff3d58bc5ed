// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/choice_answer.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/comparison/chance.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "report/answer/leaning.h"
#include "report/answer/row_figure.h"

namespace ash {
namespace {

// What a choice is paid with, and whom each of it matters to. The first of a row that was measured counts.
struct Interest {
  std::array<FigureId, 3> figures;
  const char* who;
};
constexpr std::array kInterests = {
    Interest{{FigureId::Price, kNoFigure, kNoFigure}, "minds the price"},
    Interest{{FigureId::Noise, FigureId::NoiseOverRest, kNoFigure}, "minds the noise"},
    Interest{{FigureId::OverRoom, FigureId::Temperature, kNoFigure}, "wants it cooler"},
    Interest{{FigureId::TaskTime, FigureId::Score, FigureId::WorkRate}, "wants it done sooner"},
    Interest{{FigureId::Energy, FigureId::WorkPerJoule, FigureId::WallPower}, "minds the energy"}};

bool isAbout(const Interest& interest, const Figure& lead) {
  return std::find(interest.figures.begin(), interest.figures.end(), lead.id()) != interest.figures.end();
}

// The figure of an interest that the row has: of the device that is asked about, else of the processor.
std::optional<Figure> figureOf(const Interest& interest, const ComparisonRow& row, const Device& device) {
  for (const FigureId id : interest.figures) {
    if (id == kNoFigure) continue;
    const FigureKind& kind = Figure(id).kind();
    for (const Device& of : {device.empty() ? Device(DeviceKind::Cpu) : device, Device(DeviceKind::Cpu)}) {
      const Figure metric = kind.isOfDevice ? Figure(of, id) : Figure(id);
      if (figureIn(row, metric) != nullptr) return metric;
    }
  }
  return std::nullopt;
}

std::vector<Figure> figuresOfInterest(const ComparisonRow& row, const Figure& lead) {
  std::vector<Figure> all = {lead};
  for (const Interest& interest : kInterests) {
    const auto metric = figureOf(interest, row, lead.device());
    if (metric && !isAbout(interest, lead)) all.push_back(*metric);
  }
  return all;
}

bool isPrice(const Figure& metric) { return metric.id() == FigureId::Price; }

// "19 EUR": the only figure whose unit stands with the setup.
std::string pricesUnit(const StudyReport& report) {
  const std::string currency = currencyOf(report.study);
  return currency.empty() ? "" : "\u202F" + currency;
}

// "10.2 K cooler", "19 EUR dearer", "44 % more time".
std::string moreOrLess(const StudyReport& report, const ComparisonRow& row, const Figure& metric) {
  const MetricRow& figure = *figureIn(row, metric);
  if (isPrice(metric))
    return numberText(std::abs(figure.difference), 0) + pricesUnit(report) +
           (figure.difference > 0 ? " dearer" : " cheaper");
  const FigureWords& words = metric.kind().words;
  const bool isPlain = words.more == FigureWords().more;
  const std::string of =
      !isPlain ? "" : " " + (words.ratio.empty() ? lowerFirst(metric.title()) : std::string(words.ratio));
  if (!metric.kind().hasRatio || !std::isfinite(figure.differencePercent)) return differenceText(row, metric) + of;
  const double percent = std::abs(figure.differencePercent);
  return fmt::format("{} {}{}", withUnit(percent, percent < 10 ? 1 : 0, "%"),
                     figure.difference < 0 ? words.less : words.more, of);
}

AnswerPart differencePart(const StudyReport& report, const ComparisonRow& row, const Figure& metric) {
  return {moreOrLess(report, row, metric), &row, metric, true};
}

// A price is known, all else has to be shown.
bool isTold(const MetricRow& figure, const Figure& metric) {
  return isPrice(metric) ? std::abs(figure.difference) > 0 : isShown(figure.verdict);
}

bool isGain(const MetricRow& figure, const Figure& metric) {
  if (isPrice(metric)) return figure.difference < 0;
  return figure.verdict == Verdict::Better ||
         (figure.verdict == Verdict::Lower && metric.kind().group == FigureGroup::Power);
}

// What a row takes more than what it is held against, and what it gives, beside the figure that leads.
struct Exchange {
  std::vector<AnswerPart> gains, costs;
  std::vector<std::string> alike;  ///< figures that are not shown to differ
};

Exchange exchangeOf(const StudyReport& report, const ComparisonRow& row, const Figure& lead) {
  Exchange all;
  for (const Interest& interest : kInterests) {
    const auto metric = figureOf(interest, row, lead.device());
    if (!metric || isAbout(interest, lead)) continue;
    const MetricRow& figure = *figureIn(row, *metric);
    if (figure.verdict == Verdict::NotComparable && !isPrice(*metric)) continue;
    if (!isTold(figure, *metric))
      all.alike.push_back(lowerFirst(metric->title()));
    else
      (isGain(figure, *metric) ? all.gains : all.costs).push_back(differencePart(report, row, *metric));
  }
  return all;
}

void addList(Sentence& sentence, const std::vector<AnswerPart>& parts) {
  for (size_t i = 0; i < parts.size(); ++i) {
    if (i > 0) sentence.push_back({i + 1 == parts.size() ? " and " : ", "});
    sentence.push_back(parts[i]);
  }
}

// Who of the others is not shown to be behind, and how likely the first is ahead of the nearest of them.
struct Field {
  std::vector<std::string> open, behind;
  const ComparisonRow* next = nullptr;  ///< the one that comes nearest
  double chance = 1;
  bool isComparable = true;  ///< with every one that is open
  std::string wouldDecide;
};

Field fieldBehind(const Comparison& against, const std::string& best, const Figure& metric, Better better) {
  Field field;
  for (const ComparisonRow* row : ranked(against, metric)) {
    if (row->setup == best) continue;
    const MetricRow& figure = *figureIn(*row, metric);
    if (field.next == nullptr) field.next = row;
    (figure.verdict == Verdict::Worse ? field.behind : field.open).push_back(row->setup);
    if (figure.verdict == Verdict::Worse) continue;
    if (field.wouldDecide.empty() && !figure.reason.empty()) field.wouldDecide = figure.reason;
    field.isComparable &= figure.verdict != Verdict::NotComparable;
    const double above = chanceAbove({figure.difference, figure.differenceLow, figure.differenceHigh}, 0);
    const double chance = better == Better::Higher ? 1 - above : above;
    if (!(chance >= field.chance)) field.chance = chance;
  }
  if (!field.isComparable) field.chance = kMissing;
  return field;
}

// Which of several setups, how surely, and by how much it is ahead of the next.
Sentence firstSentence(const ComparisonRow& best, const Field& field, const Figure& metric) {
  const std::string title = lowerFirst(metric.title());
  Sentence sentence;
  // One that is ahead of all but for a margin is no more than probably the best.
  Leaning leaning = leaningOf(field.chance);
  if (field.open.empty())
    leaning = Leaning::Yes;
  else if (leaning == Leaning::Yes)
    leaning = Leaning::Probably;
  if (leaning == Leaning::Yes)
    sentence.push_back({fmt::format("{} is best by {}", best.setup, title)});
  else if (leaning == Leaning::Probably)
    sentence.push_back({fmt::format("Probably {}, by {}", best.setup, title)});
  else
    sentence.push_back({fmt::format("Cannot tell which is best by {}: {} comes out first", title, best.setup)});
  sentence.push_back({", with "});
  sentence.push_back({valueAndMargin(best, metric), &best, metric});
  if (field.next != nullptr) {
    const MetricRow& figure = *figureIn(*field.next, metric);
    const bool isCompared = figure.verdict != Verdict::NotComparable;
    sentence.push_back({fmt::format("; {}, the next, {} ", field.next->setup,
                                    isCompared ? metric.kind().words.verb : "cannot be compared with it")});
    if (isCompared) sentence.push_back({differenceText(*field.next, metric), field.next, metric, true});
    if (isCompared) sentence.push_back({differenceIntervalWords(figure, metric)});
  }
  if (leaning != Leaning::Yes) {
    sentence.push_back({fmt::format("; it is not shown to be ahead of {}", joinedNames(field.open))});
    if (std::isfinite(field.chance)) sentence.push_back({fmt::format(" (chance {})", chanceWords(field.chance))});
    if (!field.wouldDecide.empty()) sentence.push_back({". " + field.wouldDecide});
  }
  if (sentence.back().text.empty() || sentence.back().text.back() != '.') sentence.push_back({"."});
  return sentence;
}

void addAlike(Sentence& sentence, const Exchange& exchange) {
  if (exchange.alike.empty()) return;
  sentence.push_back({fmt::format("; {} not shown to differ", joinedNames(exchange.alike))});
}

// "Against Solid: 10.2 K cooler (−10.5 to −9.9 K); in return 19 EUR dearer; noise not shown to differ."
Sentence priceSentence(const StudyReport& report, const ComparisonRow& row, const std::string& other,
                       const Figure& lead, bool isLeadTold) {
  const Exchange exchange = exchangeOf(report, row, lead);
  const MetricRow* figure = figureIn(row, lead);
  const bool isLeadShown = !isLeadTold && figure != nullptr && isShown(figure->verdict);
  if (exchange.gains.empty() && exchange.costs.empty() && exchange.alike.empty()) return {};
  const bool followsGain = isLeadTold && exchange.gains.empty() && !exchange.costs.empty();
  Sentence sentence = {{fmt::format("{} {}: ", followsGain ? "In return, against" : "Against", other)}};
  if (isLeadShown) {
    sentence.push_back({differenceText(row, lead), &row, lead, true});
    sentence.push_back({differenceIntervalWords(*figure, lead)});
  }
  if (isLeadShown && !exchange.gains.empty()) sentence.push_back({", "});
  addList(sentence, exchange.gains);
  const bool hasGain = isLeadShown || !exchange.gains.empty();
  sentence.push_back({exchange.costs.empty()
                          ? hasGain ? "; it takes nothing that was shown" : "nothing else is shown to differ"
                      : hasGain ? "; in return "
                                : ""});
  addList(sentence, exchange.costs);
  if (hasGain || !exchange.costs.empty()) addAlike(sentence, exchange);
  sentence.push_back({"."});
  return sentence;
}

// How much better a row is by an interest than what it is held against; none where that is not shown.
std::optional<double> gainOf(const ComparisonRow& row, const Interest& interest, const Figure& lead) {
  const auto metric = figureOf(interest, row, lead.device());
  if (!metric || isAbout(interest, lead)) return std::nullopt;
  const MetricRow& figure = *figureIn(row, *metric);
  if (!isTold(figure, *metric) || !isGain(figure, *metric)) return std::nullopt;
  return std::abs(figure.difference);
}

// "Solid is right for who minds the noise (1.2 dBA quieter): it runs 10.2 K warmer." Of many others only who gains most
// by an interest.
std::vector<Sentence> otherChoices(const StudyReport& report, const Comparison& against, const std::string& best,
                                   const Figure& lead) {
  constexpr size_t kFew = 3;
  std::vector<const ComparisonRow*> others = ranked(against, lead);
  std::erase_if(others, [&](const ComparisonRow* row) { return row->setup == best; });
  const auto isTheMost = [&](const ComparisonRow& row, const Interest& interest, double gain) {
    return others.size() <= kFew || std::none_of(others.begin(), others.end(), [&](const ComparisonRow* other) {
             return other != &row && gainOf(*other, interest, lead).value_or(0) > gain;
           });
  };
  std::vector<Sentence> sentences;
  for (const ComparisonRow* row : others) {
    Sentence sentence;
    for (const Interest& interest : kInterests) {
      const auto gain = gainOf(*row, interest, lead);
      if (!gain || !isTheMost(*row, interest, *gain)) continue;
      sentence.push_back({(sentence.empty() ? row->setup + " is right for who " : ", or who ") + interest.who + " ("});
      sentence.push_back(differencePart(report, *row, *figureOf(interest, *row, lead.device())));
      sentence.push_back({")"});
    }
    if (sentence.empty()) continue;
    sentence.push_back({fmt::format(": it {} ", lead.kind().words.verb)});
    sentence.push_back({differenceText(*row, lead), row, lead, true});
    sentence.push_back({"."});
    sentences.push_back(std::move(sentence));
  }
  return sentences;
}

// "1.86 EUR per kelvin", for a price that is paid for something.
std::string priceOfOne(const StudyReport& report, const ComparisonRow& row, const Figure& metric, const char* what) {
  const auto price = pricePerUnit(row, metric);
  return price ? fmt::format("{}{} {}", numberText(price->value, 2), pricesUnit(report), what) : "";
}

Sentence costSentence(const StudyReport& report, const ComparisonRow& row, const std::string& reference,
                      const Figure& lead) {
  Exchange exchange = exchangeOf(report, row, lead);
  const MetricRow* figure = figureIn(row, lead);
  const bool isLeadShown = figure != nullptr && isShown(figure->verdict);
  if (isLeadShown) {
    auto& side = figure->verdict == Verdict::Worse ? exchange.costs : exchange.gains;
    side.insert(side.begin(), {moreOrLess(report, row, lead), &row, lead, true});
  }
  if (exchange.costs.empty() && exchange.gains.empty())
    return {{fmt::format("Cannot tell what {} costs against {}: nothing is shown to differ.", row.setup, reference)}};
  Sentence sentence = {{fmt::format("{} against {}: ", row.setup, reference)}};
  if (exchange.costs.empty()) sentence.push_back({"it costs nothing that was shown"});
  addList(sentence, exchange.costs);
  sentence.push_back({exchange.gains.empty() ? "; nothing is shown in return" : "; in return "});
  addList(sentence, exchange.gains);
  for (const std::string& price : {priceOfOne(report, row, lead, lead.isTemperature() ? "per kelvin" : ""),
                                   priceOfOne(report, row, FigureId::Noise, "per decibel")}) {
    if (!price.empty() && !price.ends_with(" ")) sentence.push_back({"; " + price});
  }
  addAlike(sentence, exchange);
  sentence.push_back({"."});
  return sentence;
}

}  // namespace

std::vector<Sentence> bestSentences(const StudyReport& report, const LoadStanding& load) {
  const Figure metric = leadingMetric(report, load.comparison);
  const Better better = betterOf(load.comparison, metric);
  if (better == Better::Neither)
    return {{{fmt::format("Cannot tell which is best: neither more nor less {} is better. Choose another figure.",
                          lowerFirst(metric.title()))}}};
  const auto rows = ranked(load.comparison, metric);
  if (rows.size() < 2)
    return {{{fmt::format("Cannot tell which is best: {} of the setups has a figure for {}. Run another one.",
                          rows.empty() ? "none" : "only one", lowerFirst(metric.title()))}}};
  const ComparisonRow& best = *rows.front();
  const std::vector<Figure> metrics = figuresOfInterest(best, metric);
  const auto against = comparedWith(report, load, best, metrics);
  if (!against) return {{{"Cannot tell which is best: the setups cannot be held against each other."}}};
  const Field field = fieldBehind(*against, best.setup, metric, better);
  std::vector<Sentence> sentences = {firstSentence(best, field, metric)};
  const ComparisonRow* reference = referenceRow(load.comparison);
  const ComparisonRow* other = reference != nullptr && reference->setup != best.setup ? reference : rows[1];
  // As the load was compared, or turned round where the best is the reference itself.
  const std::optional<Comparison> turned =
      other == reference ? std::nullopt : comparedWith(report, load, *other, metrics);
  const ComparisonRow* row = other == reference ? &best : turned ? rowOf(*turned, best.setup) : nullptr;
  const bool isLeadTold = field.next != nullptr && field.next->setup == other->setup;
  Sentence price = row == nullptr ? Sentence() : priceSentence(report, *row, other->setup, metric, isLeadTold);
  if (!price.empty()) sentences.push_back(std::move(price));
  std::vector<Sentence> others = otherChoices(report, *against, best.setup, metric);
  sentences.insert(sentences.end(), others.begin(), others.end());
  return wordsOnly(std::move(sentences), load.comparison);
}

std::vector<Sentence> costSentences(const StudyReport& report, const LoadStanding& load) {
  const ComparisonRow* reference = referenceRow(load.comparison);
  if (reference == nullptr || load.comparison.rows.size() < 2)
    return {{{"Cannot tell what it costs: there is nothing to hold it against. Run another setup."}}};
  const Figure lead = leadingMetric(report, load.comparison);
  std::vector<Sentence> sentences;
  for (const ComparisonRow& row : load.comparison.rows) {
    if (&row != reference) sentences.push_back(costSentence(report, row, reference->setup, lead));
  }
  return sentences;
}

}  // namespace ash
