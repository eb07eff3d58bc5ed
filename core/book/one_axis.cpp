// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/one_axis.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace ash {
namespace {

std::string freeName(const Log& log, const Reading& reading) {
  std::string name = reading.column();
  for (int number = 2; log.find(name) != nullptr; ++number) name = fmt::format("{} ({})", reading.column(), number);
  return name;
}

// Where each row of a source stands on the log's axis.
std::vector<size_t> placesOnAxis(const std::vector<double>& rows, const std::vector<double>& axis, double intervalS) {
  std::vector<size_t> places(rows.size(), axis.size());
  size_t at = 0;
  for (size_t row = 0; row < rows.size(); ++row) {
    while (at + 1 < axis.size() && axis[at + 1] <= rows[row]) ++at;
    if (at < axis.size() && std::abs(axis[at] - rows[row]) <= intervalS / 4 + 1e-9) places[row] = at;
  }
  return places;
}

double usualStep(const std::vector<double>& axis) {
  std::vector<double> steps;
  for (size_t i = 1; i < axis.size(); ++i) steps.push_back(axis[i] - axis[i - 1]);
  if (steps.empty()) return 0;
  std::nth_element(steps.begin(), steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2), steps.end());
  return steps[steps.size() / 2];
}

// The moment nearest to each row, none where the run itself has a gap there.
std::vector<size_t> nearestOnAxis(const std::vector<double>& rows, const std::vector<double>& axis) {
  const double reachS = 0.75 * usualStep(axis);
  std::vector<size_t> places(rows.size(), axis.size());
  size_t at = 0;
  for (size_t row = 0; row < rows.size() && !axis.empty(); ++row) {
    while (at + 1 < axis.size() && std::abs(axis[at + 1] - rows[row]) <= std::abs(axis[at] - rows[row])) ++at;
    if (std::abs(axis[at] - rows[row]) <= reachS) places[row] = at;
  }
  return places;
}

// The mean of what lies at each moment.
std::vector<double> meansAt(const std::vector<size_t>& places, const std::vector<double>& rows, size_t moments) {
  std::vector<double> sums(moments, 0.0), counts(moments, 0.0);
  for (size_t row = 0; row < rows.size(); ++row) {
    if (places[row] >= moments || std::isnan(rows[row])) continue;
    sums[places[row]] += rows[row];
    counts[places[row]] += 1;
  }
  for (size_t i = 0; i < moments; ++i) sums[i] = counts[i] > 0 ? sums[i] / counts[i] : kMissing;
  return sums;
}

std::vector<double> valuesAt(const std::vector<size_t>& places, const std::vector<double>& rows, size_t moments) {
  std::vector<double> values(moments, kMissing);
  for (size_t row = 0; row < rows.size(); ++row) {
    if (places[row] < moments) values[places[row]] = rows[row];
  }
  return values;
}

}  // namespace

std::vector<double> mergedAxis(const std::vector<SourceSamples>& sources, double intervalS, double afterS) {
  std::vector<double> all;
  for (const SourceSamples& source : sources) {
    if (!source.isBeside) all.insert(all.end(), source.timeS.begin(), source.timeS.end());
  }
  std::sort(all.begin(), all.end());
  std::vector<double> axis;
  for (const double t : all) {
    if (std::isfinite(afterS) && t <= afterS + intervalS / 4) continue;
    if (axis.empty() || t - axis.back() > intervalS / 4) axis.push_back(t);
  }
  return axis;
}

void appendSource(SourceSamples& source, double intervalS, Log& log) {
  const bool isWhole = source.timeS == log.timeS;
  std::vector<size_t> places;
  if (source.isBeside)
    places = nearestOnAxis(source.timeS, log.timeS);
  else if (!isWhole)
    places = placesOnAxis(source.timeS, log.timeS, intervalS);
  for (size_t c = 0; c < source.readings.size(); ++c) {
    const Reading& reading = source.readings[c];
    Channel channel;
    channel.name = freeName(log, reading);
    channel.role = channel.name == reading.role ? reading.role : "";
    channel.quantity = reading.quantity;
    channel.unit = reading.unit;
    channel.stepHint = reading.step;
    channel.values = source.isBeside ? meansAt(places, source.columns[c], log.timeS.size())
                     : isWhole       ? std::move(source.columns[c])
                                     : valuesAt(places, source.columns[c], log.timeS.size());
    log.channels.push_back(std::move(channel));
  }
}

}  // namespace ash
