// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/owed_readings.h"

#include <algorithm>
#include <cmath>

#include "model/json_cursor.h"
#include "model/sound_level.h"

namespace ash {

namespace {

bool isSamePlace(const std::string& a, const std::string& b) {
  const auto metresA = distanceM(a), metresB = distanceM(b);
  return metresA && metresB ? std::abs(*metresA - *metresB) < 1e-6 : a == b;
}

}  // namespace

std::vector<OwedReading> stillToTake(const std::vector<OwedReading>& byHand, const std::vector<Event>& events,
                                     const std::vector<PhaseSpan>& phases, double settledS,
                                     const std::set<std::string>& measured) {
  double measureS = INFINITY, loadEndS = INFINITY;
  for (const PhaseSpan& phase : phases) {
    if (phase.kind == PhaseKind::Measure) measureS = std::min(measureS, phase.startS);
    if (phase.kind == PhaseKind::Cool) loadEndS = std::min(loadEndS, phase.startS);
  }
  if (std::isfinite(settledS)) measureS = std::min(measureS, settledS);
  std::vector<OwedReading> owed;
  for (const OwedReading& reading : byHand) {
    const bool isSettledAsked = reading.when == OwedReading::When::Settled;
    if (measured.contains(reading.role.text()) && (!isSettledAsked || std::isfinite(measureS))) continue;
    const bool isTaken = std::any_of(events.begin(), events.end(), [&](const Event& event) {
      if (event.kind != EventKind::Reading || event.role != reading.role) return false;
      // Places are compared only where both are told.
      const std::string place = event.extra.is_object() ? valueIn(event.extra, "place", std::string()) : std::string();
      if (!place.empty() && !reading.place.empty() && !isSamePlace(place, reading.place)) return false;
      return reading.when != OwedReading::When::Settled || !std::isfinite(event.atS) || event.atS >= measureS ||
             event.atS >= loadEndS;
    });
    if (!isTaken) owed.push_back(reading);
  }
  return owed;
}

std::set<std::string> toldByInstruments(const Json& bench) {
  JsonCursor::Mistakes passedOver;
  std::set<std::string> columns;
  for (const JsonCursor& instrument : JsonCursor(bench, passedOver).objects("instruments")) {
    for (const JsonCursor& reading : instrument.objects("readings")) columns.insert(reading.text("reading"));
  }
  return columns;
}

}  // namespace ash
