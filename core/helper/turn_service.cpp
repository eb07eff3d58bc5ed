// SPDX-License-Identifier: GPL-3.0-or-later
#include "helper/turn_service.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "knobs/find_knobs.h"

namespace ash {
namespace {

constexpr auto kFresh = std::chrono::seconds(3);
constexpr size_t kLongestId = 64;

// Ids are of our own making: anything else is not even looked for.
bool isPlainId(const std::string& id) {
  return !id.empty() && id.size() <= kLongestId && std::all_of(id.begin(), id.end(), [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '.' || c == '_' || c == '-';
  });
}

}  // namespace

const std::vector<Knob>& TurnService::knobsNow() {
  const auto now = std::chrono::steady_clock::now();
  if (!m_foundAt || now - *m_foundAt > kFresh) {
    m_knobs = findKnobs(m_root);
    m_foundAt = std::chrono::steady_clock::now();
  }
  return m_knobs;
}

// The number as the knob takes it: a number in its unit, or its word.
Result<std::string> TurnService::valueOf(const TurnAsk& ask) {
  if (!isPlainId(ask.knob)) return Error::badInput("This is no id of a knob; `ashg knobs` lists them.");
  if (!std::isfinite(ask.number)) return Error::badInput(fmt::format("{} takes a number.", ask.knob));
  const auto& knobs = knobsNow();
  const auto knob = std::find_if(knobs.begin(), knobs.end(), [&](const Knob& one) { return one.id == ask.knob; });
  if (knob == knobs.end())
    return Error::badInput(fmt::format("There is no knob \"{}\" on this machine; `ashg knobs` lists them.", ask.knob));
  if (knob->isNumber()) return fmt::format("{}", ask.number);
  const double last = static_cast<double>(knob->choices.size()) - 1;
  if (ask.number != std::floor(ask.number) || ask.number < 0 || ask.number > last)
    return Error::badInput(fmt::format("{} takes the number of one of its words, 0 to {}.", ask.knob, last));
  return knob->choices[static_cast<size_t>(ask.number)].word;
}

Result<std::string> TurnService::check(const TurnAsk& ask) {
  const auto value = valueOf(ask);
  if (!value) return value.error();
  const Knob& knob = *std::find_if(m_knobs.begin(), m_knobs.end(), [&](const Knob& one) { return one.id == ask.knob; });
  if (!knob.isTurnable()) return Error::environment(fmt::format("{} cannot be turned. {}", knob.id, knob.whyNot));
  if (const auto target = targetOf(knob, *value); !target) return target.error();
  return knob.name;
}

Result<Turned> TurnService::turn(const std::string& caller, const TurnAsk& ask) {
  const auto value = valueOf(ask);
  if (!value) return value.error();
  const auto nearest = [this] { return nearestToLimit(m_root); };
  if (ask.by == TurnedBy::Hand) {
    auto turner = Turner::open(m_root, TurnedBy::Hand);
    return turner ? turner->turn(ask.knob, *value, nearest) : Result<Turned>(turner.error());
  }
  if (m_turner && m_holder != caller)
    return Error::environment("Another run has knobs of this machine turned; wait until it is over.");
  if (!m_turner) {
    auto turner = Turner::open(m_root, TurnedBy::Run);
    if (!turner) return turner.error();
    m_turner.emplace(std::move(*turner));
    m_holder = caller;
  }
  auto turned = m_turner->turn(ask.knob, *value, nearest);
  // Who has nothing turned is in nobody's way.
  if (m_turner->turned().empty()) static_cast<void>(putBack(caller));
  return turned;
}

std::vector<std::string> TurnService::putBack(const std::string& caller) {
  if (!m_turner || m_holder != caller) return {};
  auto troubles = m_turner->restore(false);
  m_turner.reset();
  m_holder.clear();
  return troubles;
}

std::vector<std::string> TurnService::releaseFans(const std::string& caller) {
  return m_turner && m_holder == caller ? m_turner->releaseFans() : std::vector<std::string>();
}

Result<PutBack> TurnService::restore() {
  auto turner = Turner::open(m_root, TurnedBy::Hand);
  if (!turner) return turner.error();
  const size_t before = turner->turned().size();
  PutBack back{0, turner->restore(true)};
  back.files = before - turner->turned().size();
  return back;
}

void TurnService::callerIsGone(const std::string& caller) { static_cast<void>(putBack(caller)); }

void TurnService::guardFans() {
  if (hasFansToGuard() && nearestToLimit(m_root).isNear()) static_cast<void>(m_turner->releaseFans());
}

}  // namespace ash
