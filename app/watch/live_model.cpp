// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/live_model.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/series/thinning.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr size_t kMostPoints = 12'000;

// Of the older three quarters the lowest and highest of each stretch stay: a spike is never lost.
void thin(Series& series) {
  const auto older = static_cast<std::ptrdiff_t>(series.size() * 3 / 4);
  Series kept = lowestAndHighest(
      {{series.t.begin(), series.t.begin() + older}, {series.v.begin(), series.v.begin() + older}}, kMostPoints / 8);
  kept.t.insert(kept.t.end(), series.t.begin() + older, series.t.end());
  kept.v.insert(kept.v.end(), series.v.begin() + older, series.v.end());
  series = std::move(kept);
}

}  // namespace

void LiveModel::take(const std::shared_ptr<const LiveBatch>& batch) {
  if (batch->begun) {
    m_info = batch->begun;
    m_series.clear();
    m_highest.clear();
    m_state.reset();
    m_outcome.reset();
    m_reason.clear();
    m_phases.clear();
    m_events.clear();
    m_throttling.clear();
    m_lastS = 0;
  }
  for (const auto& [column, more] : batch->samples) append(column, more);
  if (batch->state) m_state = batch->state;
  if (!batch->phases.empty()) m_phases = batch->phases;
  m_events.insert(m_events.end(), batch->events.begin(), batch->events.end());
  if (batch->hasThrottling) m_throttling = batch->throttling;
  if (batch->outcome) {
    m_outcome = batch->outcome;
    m_reason = batch->reason;
  }
  emit changed();
}

void LiveModel::append(const std::string& column, const Series& more) {
  if (more.empty()) return;
  Series& series = m_series[column];
  series.t.insert(series.t.end(), more.t.begin(), more.t.end());
  series.v.insert(series.v.end(), more.v.begin(), more.v.end());
  const double top = *std::max_element(more.v.begin(), more.v.end());
  const auto [place, isNew] = m_highest.try_emplace(column, top);
  if (!isNew) place->second = std::max(place->second, top);
  m_lastS = std::max(m_lastS, series.t.back());
  if (series.size() > kMostPoints) thin(series);
}

const Series& LiveModel::series(const std::string& column) const {
  static const Series kNone;
  const auto found = m_series.find(column);
  return found == m_series.end() ? kNone : found->second;
}

const Phase* LiveModel::currentPhase() const {
  const size_t reached = m_phases.size();
  if (!isGoingOn() || reached == 0 || reached > info().procedure.phases.size()) return nullptr;
  return &info().procedure.phases[reached - 1];
}

double LiveModel::latest(const std::string& column) const {
  const Series& known = series(column);
  // A reading that has not come for a while is missing, not old news.
  if (known.empty() || (m_info && known.t.back() < m_lastS - std::max(10.0, 6 * m_info->intervalS))) return kMissing;
  return known.v.back();
}

double LiveModel::highest(const std::string& column) const {
  const auto found = m_highest.find(column);
  return found == m_highest.end() ? kMissing : found->second;
}

std::optional<double> LiveModel::loadStartS() const {
  for (const PhaseSpan& phase : m_phases) {
    if (isUnderLoad(phase.kind)) return phase.startS;
  }
  return std::nullopt;
}

double LiveModel::roomC() const {
  const double read = latest(roles::kRoom);
  if (std::isfinite(read)) return read;
  for (auto event = m_events.rbegin(); event != m_events.rend(); ++event) {
    if (event->kind == EventKind::Reading && event->role == roles::kRoom && std::isfinite(event->value))
      return event->value;
  }
  return m_info ? m_info->roomC : kMissing;
}

std::optional<double> LiveModel::limit(const std::string& column, const char* which) const {
  if (!m_info) return std::nullopt;
  const auto reading = m_info->readings.find(column);
  if (reading == m_info->readings.end()) return std::nullopt;
  const auto limit = reading->second.limits.find(which);
  if (limit == reading->second.limits.end()) return std::nullopt;
  return limit->second;
}

std::vector<std::string> LiveModel::budgetColumns() const {
  constexpr std::array kOrder = {roles::kCpuTemp, roles::kGpuTemp, roles::kVrmTemp, roles::kStorageTemp,
                                 roles::kMemoryTemp};
  std::vector<std::string> columns;
  for (const char* role : kOrder) {
    if (columns.size() < 4 && !series(role).empty()) columns.emplace_back(role);
  }
  for (const auto& [column, samples] : m_series) {
    const bool isListed = std::find(columns.begin(), columns.end(), column) != columns.end();
    const bool hasLimit = limit(column, "throttle").has_value();
    if (columns.size() < 4 && !isListed && Role(column).isLoadedTemperature() && hasLimit) columns.push_back(column);
  }
  return columns;
}

void LiveModel::setEarlier(std::shared_ptr<const AnalyzedRun> run, const QString& label) {
  if (m_earlier == run) return;
  m_earlier = std::move(run);
  m_earlierLabel = label;
  emit changed();
}

}  // namespace ash

#include "moc_live_model.cpp"
