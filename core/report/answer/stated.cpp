// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/stated.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/catalogue/metrics.h"
#include "model/iso_date.h"
#include "model/number_text.h"
#include "model/text.h"
#include "report/answer/answer.h"

namespace ash {
namespace {

constexpr char kAgainst[] = " against ", kUnder[] = " under ", kClaimedBy[] = "claimed by ";
constexpr char kTheReference[] = "the reference";

bool endsAlike(const std::string& text, const std::string& end) {
  return text.size() >= end.size() && lowerCase(text.substr(text.size() - end.size())) == lowerCase(end);
}

// Takes " under LOAD" off the end when it names one of the loads; the longest name wins.
std::string takeLoad(std::string& line, const Study& study) {
  std::string found;
  for (const Load& load : study.loads) {
    if (load.name.size() > found.size() && endsAlike(line, kUnder + load.name)) found = load.name;
  }
  if (!found.empty()) line.resize(line.size() - found.size() - (sizeof kUnder - 1));
  return found;
}

bool takeAgainst(std::string& line, const std::string& reference) {
  for (const std::string& name : {reference, std::string(kTheReference)}) {
    if (name.empty() || !endsAlike(line, kAgainst + name)) continue;
    line.resize(line.size() - name.size() - (sizeof kAgainst - 1));
    return true;
  }
  return false;
}

// A figure by its title or its code at the beginning of a line.
std::optional<Figure> takeFigure(std::string& line) {
  const std::string small = lowerCase(line);
  std::optional<Figure> found;
  size_t length = 0;
  for (const Figure& figure : figuresToAskFor()) {
    for (const std::string& name : {figure.title(), figure.code()}) {
      if (name.size() <= length || !small.starts_with(lowerCase(name) + " ")) continue;
      found = figure;
      length = name.size();
    }
  }
  const std::string word = line.substr(0, line.find(' '));
  if (!found && Figure(word).id() != FigureId::Other) {
    found = Figure(word);
    length = word.size();
  }
  if (found) line = std::string(trimmed(std::string_view(line).substr(length)));
  return found;
}

// "−8" and "36,5" as typed on any keyboard.
std::optional<double> numberOf(std::string text) {
  text = std::string(trimmed(text));
  constexpr std::string_view kMinus = "−", kPlus = "+";
  if (text.starts_with(kMinus)) text = "-" + text.substr(kMinus.size());
  if (text.starts_with(kPlus)) text = text.substr(kPlus.size());
  if (const size_t comma = text.find(','); comma != std::string::npos && text.find('.') == std::string::npos)
    text[comma] = '.';
  return parseNumber(text);
}

bool takeRange(const std::string& text, double& low, double& high) {
  constexpr std::string_view kHalf = "±";
  if (const size_t at = text.find(kHalf); at != std::string::npos) {
    const auto middle = numberOf(text.substr(0, at)), half = numberOf(text.substr(at + kHalf.size()));
    if (!middle || !half || *half < 0) return false;
    low = *middle - *half;
    high = *middle + *half;
    return true;
  }
  for (const std::string_view parting : {" to ", "..", "–"}) {
    const size_t at = text.find(parting);
    if (at == std::string::npos) continue;
    const auto first = numberOf(text.substr(0, at)), last = numberOf(text.substr(at + parting.size()));
    if (!first || !last) return false;
    low = std::min(*first, *last);
    high = std::max(*first, *last);
    return true;
  }
  const auto value = numberOf(text);
  if (value) low = high = *value;
  return value.has_value();
}

std::string unitOf(const StatedFigure& one) {
  const Figure figure(one.figure);
  return one.isDifference ? figure.differenceUnit() : shownUnit(figure);
}

std::string numberWords(const StatedFigure& one, double value) {
  const Figure figure(one.figure);
  const double shown = shownValue(figure, value);
  // As it was written: as many decimals as it has, up to what a double tells.
  int digits = 0;
  for (double scale = 1; digits < 6 && std::abs(shown * scale - std::round(shown * scale)) > 1e-6 * scale; scale *= 10)
    ++digits;
  return one.isDifference ? signedText(shown, digits) : numberText(shown, digits);
}

std::string dayOf(const std::string& moment) { return moment.substr(0, std::min<size_t>(10, moment.find('T'))); }

bool isAbout(const StatedFigure& one, const RunInfo& info) {
  return info.setup == one.setup && (one.load.empty() || info.load == one.load);
}

enum class Written { BeforeTheFirst, AfterTheFirst, NotKnown };

// Whether the first run of it had begun when it was written; a log from elsewhere may not tell when it was made.
Written whenWritten(const StatedFigure& one, const std::vector<RunSummary>& runs) {
  const auto written = isoSeconds(one.written);
  Written when = Written::BeforeTheFirst;
  for (const RunSummary& run : runs) {
    if (!isAbout(one, run.info)) continue;
    const auto started = isoSeconds(run.info.started);
    if (started && written && *started <= *written) return Written::AfterTheFirst;
    if (!started || !written) when = Written::NotKnown;
  }
  return when;
}

std::string_view wordsOf(Written when) {
  switch (when) {
    case Written::BeforeTheFirst:
      return "before the first run of it";
    case Written::AfterTheFirst:
      return "after the first run of it had begun";
    case Written::NotKnown:
      break;
  }
  return "whether before its first run is not known: a run does not tell when it began";
}

}  // namespace

Result<StatedFigure> parseStated(const std::string& typed, const Study& study, const StudyPlan& plan,
                                 const std::string& setup) {
  StatedFigure one;
  one.setup = setup;
  const std::string plain = plainBlanks(typed);
  std::string line(trimmed(plain));
  if (lowerCase(line).starts_with(kClaimedBy)) {
    const size_t colon = line.find(':');
    if (colon == std::string::npos)
      return Error::badInput("Say who claims it, then a colon: “claimed by the maker: CPU over room 45 K”.");
    one.kind = StatedKind::Claimed;
    one.by = std::string(trimmed(line.substr(sizeof kClaimedBy - 1, colon - (sizeof kClaimedBy - 1))));
    line = std::string(trimmed(line.substr(colon + 1)));
    if (one.by.empty()) return Error::badInput("Say who claims it: “claimed by the maker: CPU over room 45 K”.");
  }
  one.load = takeLoad(line, study);
  const std::string reference = referenceSetup(study, plan);
  one.isDifference = takeAgainst(line, reference);
  if (one.isDifference && setup == reference)
    return Error::badInput(fmt::format("{} is the reference itself; say its figure, or one of another setup.", setup));
  const auto figure = takeFigure(line);
  if (!figure)
    return Error::badInput(
        fmt::format("“{}” names no figure; write e.g. “CPU over room 44 to 48 K”.", withoutControls(line)));
  one.figure = figure->code();
  const std::string unit = unitOf(one);
  if (!unit.empty() && endsAlike(line, unit)) line = std::string(trimmed(line.substr(0, line.size() - unit.size())));
  if (!takeRange(line, one.low, one.high))
    return Error::badInput(fmt::format("“{}” is no value in {}; write one, or a range such as 44 to 48.",
                                       withoutControls(line), unit.empty() ? "its unit" : unit));
  const double scale = shownValue(*figure, 1);
  one.low /= scale;
  one.high /= scale;
  return one;
}

std::string statedRange(const StatedFigure& one) {
  const std::string unit = unitOf(one), low = numberWords(one, one.low);
  const std::string range = one.low == one.high ? low : low + " to " + numberWords(one, one.high);
  return unit.empty() ? range : range + "\u202F" + unit;
}

std::string statedText(const StatedFigure& one) {
  std::string text = Figure(one.figure).title() + " " + statedRange(one);
  if (one.isDifference) text += fmt::format("{}{}", kAgainst, kTheReference);
  if (!one.load.empty()) text += kUnder + one.load;
  return text;
}

std::string statedBy(const StatedFigure& one) {
  return one.kind == StatedKind::Expected ? "expected" : "claimed by " + one.by;
}

std::string statedHistory(const StatedFigure& one, const std::vector<RunSummary>& runs) {
  std::string text = "written " + dayOf(one.written);
  if (one.kind == StatedKind::Expected) text += fmt::format(", {}", wordsOf(whenWritten(one, runs)));
  for (const StatedBefore& was : one.before) {
    StatedFigure earlier = one;
    earlier.low = was.low;
    earlier.high = was.high;
    text += fmt::format("; until {}, with a result there, it said {}", dayOf(was.until), statedRange(earlier));
  }
  if (!one.takenBack.empty()) text += fmt::format("; taken back {}, with a result there", dayOf(one.takenBack));
  return text;
}

bool hasResult(const StatedFigure& one, const std::vector<RunSummary>& runs) {
  return std::any_of(runs.begin(), runs.end(), [&](const RunSummary& run) { return isAbout(one, run.info); });
}

namespace {

StatedOutcome outcomeOf(const StatedFigure& one, const ComparisonRow& row, const StudyPlan& plan) {
  StatedOutcome outcome{&one, &row};
  const Figure figure(one.figure);
  const MetricRow& measured = row.metrics.at(figure);
  double value = one.isDifference ? measured.difference : measured.value;
  double low = one.isDifference ? measured.differenceLow : measured.ciLow;
  double high = one.isDifference ? measured.differenceHigh : measured.ciHigh;
  if (!std::isfinite(value)) return outcome;
  if (!std::isfinite(low) || !std::isfinite(high)) low = high = value;
  if (measured.bound == Bound::AtLeast) high = INFINITY;
  if (measured.bound == Bound::AtMost) low = -INFINITY;
  const double slack = one.low == one.high && figure.isTemperature() ? plan.marginK.value_or(0) : 0;
  const double from = one.low - slack, to = one.high + slack;
  using Kind = StatedOutcome::Kind;
  outcome.kind = low > to ? Kind::Higher : high < from ? Kind::Lower : Kind::AsStated;
  if (outcome.kind == Kind::Higher) outcome.away = value - one.high;
  if (outcome.kind == Kind::Lower) outcome.away = one.low - value;
  return outcome;
}

}  // namespace

std::vector<StatedOutcome> outcomesOf(const StudyReport& report, const LoadStanding& load) {
  std::vector<StatedOutcome> all;
  for (const StatedFigure& one : report.plan.stated) {
    if (!one.load.empty() && one.load != load.load) continue;
    const auto& rows = load.comparison.rows;
    const auto row =
        std::find_if(rows.begin(), rows.end(), [&](const ComparisonRow& known) { return known.setup == one.setup; });
    if (row == rows.end() || !row->metrics.contains(Figure(one.figure)))
      all.push_back({&one});
    else
      all.push_back(outcomeOf(one, *row, report.plan));
  }
  return all;
}

std::string outcomeWords(const StatedOutcome& outcome) {
  using Kind = StatedOutcome::Kind;
  if (outcome.kind == Kind::NotKnown) return "not told yet";
  if (outcome.kind == Kind::AsStated)
    return outcome.stated->kind == StatedKind::Expected ? "as expected" : "as claimed";
  const Figure figure(outcome.stated->figure);
  const std::string unit = figure.differenceUnit();
  return fmt::format("{}{} {}", numberText(shownValue(figure, outcome.away), std::max(1, figure.digits())),
                     unit.empty() ? "" : "\u202F" + unit, outcome.kind == Kind::Higher ? "higher" : "lower");
}

}  // namespace ash
