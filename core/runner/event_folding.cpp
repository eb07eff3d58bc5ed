// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/event_folding.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "model/json.h"

namespace ash {
namespace {

constexpr size_t kMostKinds = 2000;

bool isMadeByMachine(const Event& event) {
  constexpr std::array kKinds = {EventKind::Rule, EventKind::Problem, EventKind::Fault, EventKind::Change};
  return std::find(kKinds.begin(), kKinds.end(), event.kind) != kKinds.end();
}

std::string keyOf(const Event& event) {
  std::string key =
      std::string(event.kind.text()) + "|" + event.role.text() + "|" + valueIn(event.extra, "rule", "") + "|";
  for (const char c : event.text) {
    if ((c < '0' || c > '9') && c != '.') key += c;
  }
  return key;
}

std::string moreWords(long long folded) { return fmt::format(" ({} more like it since)", folded); }

}  // namespace

std::optional<Event> EventFolding::take(Event event) {
  if (!isMadeByMachine(event)) return event;
  std::string key = keyOf(event);
  // Beyond so many kinds of sentences they are alike enough.
  if (!m_alike.contains(key) && m_alike.size() >= kMostKinds) key = event.kind.text();
  Alike& alike = m_alike[key];
  const bool isFree = ++alike.count <= kFree || event.atS - alike.keptS >= kEveryS || event.atS < alike.keptS;
  if (!isFree) {
    ++alike.folded;
    alike.last = std::move(event);
    return std::nullopt;
  }
  alike.keptS = event.atS;
  if (alike.folded > 0) {
    event.text += moreWords(alike.folded);
    event.extra["folded"] = std::exchange(alike.folded, 0);
  }
  return event;
}

std::vector<Event> EventFolding::takeRest() {
  std::vector<Event> rest;
  for (auto& [key, alike] : m_alike) {
    if (alike.folded == 0) continue;
    Event event = alike.last;
    event.extra["folded"] = alike.folded - 1;
    if (alike.folded > 1) event.text += moreWords(alike.folded - 1);
    alike.folded = 0;
    rest.push_back(std::move(event));
  }
  return rest;
}

}  // namespace ash
