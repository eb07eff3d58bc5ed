// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/catalogue/accuracy.h"

#include <cmath>

namespace ash {
namespace {

constexpr double kRectangle = 1.7320508075688772;  // √3
constexpr std::string_view kAtRest = "idle.";      // before the reading's name

class Instruments {
 public:
  Instruments(const RunFacts& facts, const std::vector<SecondSource>& seconds, FigureAccuracy& into)
      : m_facts(facts), m_seconds(seconds), m_into(into) {}

  void add(const std::string& role, double value) {
    if (const Accuracy* accuracy = find(role))
      put(*accuracy, accuracy->plusMinus + accuracy->percent / 100 * std::abs(value));
    addDisagreement(role, 1);
  }
  /// The share of a figure by which its instrument may be off at `at`.
  void addShare(const std::string& role, double at, double value) {
    if (!(at > 0)) return;
    if (const Accuracy* accuracy = find(role))
      put(*accuracy, (accuracy->plusMinus / at + accuracy->percent / 100) * std::abs(value));
    addDisagreement(role, std::abs(value) / at);
  }

 private:
  // Another meter of the same thing says something else: either may be right.
  void addDisagreement(const std::string& role, double scale) {
    for (const SecondSource& one : m_seconds) {
      if (one.quoted == role && one.disagrees()) m_into.se = std::hypot(m_into.se, scale * one.apart() / kRectangle);
    }
  }
  const Accuracy* find(const std::string& role) const {
    const auto found = m_facts.accuracies.find(role);
    return found == m_facts.accuracies.end() ? nullptr : &found->second;
  }
  void put(const Accuracy& accuracy, double plusMinus) {
    if (!std::isfinite(plusMinus)) return;
    m_into.se = std::hypot(m_into.se, plusMinus / kRectangle);
    if (!accuracy.instrument.empty())
      m_into.instrument += (m_into.instrument.empty() ? "" : ", ") + accuracy.instrument;
  }
  const RunFacts& m_facts;
  const std::vector<SecondSource>& m_seconds;
  FigureAccuracy& m_into;
};

double windowMean(const Figures& figures, const std::string& channel) {
  const ChannelFigures* found = figures.channel(channel);
  return found == nullptr ? kMissing : found->window.mean;
}

}  // namespace

FigureAccuracy accuracyOf(const RunFacts& facts, const Figures& figures, const Figure& figure, double value) {
  FigureAccuracy accuracy;
  Instruments instruments(facts, figures.seconds, accuracy);
  const std::string temperature = Role(figure.device(), Quantity::Temperature).text();
  switch (figure.kind().measuredBy) {
    case MeasuredBy::PowerShare:
      instruments.addShare(figures.efficiency.powerRole, windowMean(figures, figures.efficiency.powerRole), value);
      break;
    case MeasuredBy::OverRoom:
      instruments.add(temperature, windowMean(figures, temperature));
      instruments.add(roles::kRoom, windowMean(figures, roles::kRoom));
      break;
    case MeasuredBy::TemperatureMean:
      instruments.add(temperature, windowMean(figures, temperature));
      break;
    case MeasuredBy::Temperature:
      instruments.add(temperature, value);
      break;
    case MeasuredBy::AtRest:
      instruments.add(figure.code().substr(kAtRest.size()), value);
      break;
    case MeasuredBy::Itself:
      instruments.add(figure.code(), value);
  }
  return accuracy;
}

}  // namespace ash
