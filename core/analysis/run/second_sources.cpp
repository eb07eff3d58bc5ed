// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/run/second_sources.h"

#include <cmath>

namespace ash {
namespace {

constexpr double kUnstatedShare = 0.02, kUnstatedDb = 1;

// Of what a bench has one only, however many meters look at it.
bool isOneThing(const Role& role) {
  const bool isWall = role.device().is(DeviceKind::Wall) && role.quantity() == Quantity::Power;
  return role.isMain() && (isWall || role.quantity() == Quantity::Noise);
}

bool areApart(const RunFacts& facts, const std::string& a, const std::string& b) {
  const auto first = facts.places.find(a), second = facts.places.find(b);
  return first != facts.places.end() && second != facts.places.end() && first->second != second->second;
}

// ± of one meter at a value; missing where nothing is stated.
double statedOff(const RunFacts& facts, const std::string& role, double value) {
  const auto found = facts.accuracies.find(role);
  return found == facts.accuracies.end() ? kMissing
                                         : found->second.plusMinus + found->second.percent / 100 * std::abs(value);
}

double unstatedOff(Quantity quantity, double value) {
  return quantity == Quantity::Noise ? kUnstatedDb : kUnstatedShare * std::abs(value);
}

}  // namespace

bool SecondSource::disagrees() const { return std::abs(apart()) > allowed; }

std::vector<SecondSource> secondSourcesOf(const RunFacts& facts, const Figures& figures) {
  std::vector<SecondSource> all;
  for (const ChannelFigures& channel : figures.channels) {
    const Role role(channel.name);
    if (!role.isKnown() || !isOneThing(role) || role.device().number() == Device::kNoNumber) continue;
    const Role first = role.ofNumber(1);
    const ChannelFigures* quoted = figures.channel(first.text());
    if (quoted == nullptr || quoted->window.n == 0 || channel.window.n == 0) continue;
    if (areApart(facts, first.text(), role.text())) continue;
    SecondSource second{first.text(), role.text(), channel.unit, quoted->window.mean, channel.window.mean};
    const double off =
        statedOff(facts, second.quoted, second.quotedMean) + statedOff(facts, second.other, second.otherMean);
    second.isStated = std::isfinite(off);
    second.allowed = second.isStated ? off : unstatedOff(role.quantity(), second.quotedMean);
    all.push_back(std::move(second));
  }
  return all;
}

}  // namespace ash
