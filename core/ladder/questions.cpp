// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/questions.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/knob_condition.h"

namespace ash {
namespace {

constexpr double kAboutSteps = 12, kLeastFanPercent = 20;

// 1, 2 or 5 times a power of ten, so that about a dozen steps fill the range.
double stepFor(double range) {
  const double wanted = range / kAboutSteps;
  const double power = std::pow(10, std::floor(std::log10(wanted)));
  for (const double factor : {1.0, 2.0, 5.0}) {
    if (factor * power >= wanted) return factor * power;
  }
  return 10 * power;
}

const Knob* knobFor(const LadderQuestion& question, const std::vector<Knob>& knobs) {
  const auto found = std::find_if(knobs.begin(), knobs.end(), [&](const Knob& knob) {
    return question.knob.starts_with('.') ? knob.id.ends_with(question.knob) : knob.id == question.knob;
  });
  return found == knobs.end() ? nullptr : &*found;
}

// From half of what it has by default (a fan from where it still turns) to its most.
void fillRange(const LadderQuestion& question, const Knob& knob, LadderAsk& ask) {
  const double most = knob.most.value_or(knob.value.value_or(0));
  const double least = knob.least.value_or(0);
  const double usual = knob.byDefault.value_or(knob.value.value_or(most));
  double low = knob.id.ends_with(".duty") ? kLeastFanPercent : std::max(least, usual / 2);
  if (low >= most) low = least;
  ask.step = stepFor(most - low);
  // On whole steps, which read better and are the same for the next ladder.
  low = std::max(least, std::ceil(low / ask.step) * ask.step);
  const double high = std::floor(most / ask.step + 1e-9) * ask.step;
  ask.from = question.goesDown ? high : low;
  ask.to = question.goesDown ? low : high;
  ask.unit = knob.unit;
}

}  // namespace

const std::vector<LadderQuestion>& ladderQuestions() {
  static const std::vector<LadderQuestion> kAll = {
      {"highest-power", "The highest power limit that heat does not hold back", kPowerLimitKnob, false,
       "throttled > 2% of 60s", "", 0},
      {"highest-clock", "The highest clock that holds and computes rightly", "cpu.clock.most", false, "wrong result",
       "", 0},
      {"lowest-voltage", "The lowest voltage that computes rightly, set by hand", "core voltage, V", true,
       "wrong result", "", 0, 1.2, 0.9, 0.0125},
      {"lowest-fan", "The lowest fan duty that still holds the clock", ".duty", true, "throttled > 2% of 60s", "", 0},
      {"least-power", "As fast as the first step, with the least power", kPowerLimitKnob, true,
       "work.rate < {}% of first", "Of the first step's work, %", 98},
      {"wall-power", "The highest power limit that stays below so much at the wall", kPowerLimitKnob, false,
       "wall.power > {} for 10s", "At the wall, W", 100},
      {"quiet", "The highest fan duty that is no louder than so much", ".duty", false, "noise > {} for 10s",
       "Noise, dBA", 36},
  };
  return kAll;
}

const LadderQuestion* findQuestion(std::string_view id) {
  const auto& all = ladderQuestions();
  const auto found = std::find_if(all.begin(), all.end(), [&](const LadderQuestion& one) { return one.id == id; });
  return found == all.end() ? nullptr : &*found;
}

Status fillIn(const LadderQuestion& question, const std::vector<Knob>& knobs, std::optional<double> wanted,
              LadderAsk& ask) {
  const std::string number = fmt::format("{}", wanted.value_or(question.usualWanted));
  auto rule = parseLadderRule(fmt::format(fmt::runtime(question.rule), number));
  if (!rule) return rule.error();
  ask.until = {std::move(*rule)};
  if (question.ownStep > 0) {
    ask.knob = question.knob;
    ask.unit = ownKnob(question.knob).unit;
    ask.from = question.ownFrom;
    ask.to = question.ownTo;
    ask.step = question.ownStep;
    return {};
  }
  const Knob* knob = knobFor(question, knobs);
  if (knob == nullptr)
    return Error::badInput(fmt::format("“{}” needs a knob {} and there is none here; `ashg knobs` lists them.",
                                       question.words, question.knob));
  if (!knob->isTurnable()) return Error::environment(knob->whyNot);
  ask.knob = knob->id;
  fillRange(question, *knob, ask);
  return {};
}

}  // namespace ash
