// SPDX-License-Identifier: GPL-3.0-or-later
// The run that is watched, kept up to date on the interface's thread; every part of the station reads from here.
#pragma once

#include <QObject>
#include <map>
#include <memory>
#include <optional>

#include "analysis/comparison/compare.h"
#include "app/follow/live_run.h"

namespace ash {

class LiveModel : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;

  void take(const std::shared_ptr<const LiveBatch>& batch);

  bool hasRun() const { return m_info != nullptr; }
  bool isGoingOn() const { return m_info && !m_outcome; }
  const LiveRunInfo& info() const { return *m_info; }
  const std::optional<LiveState>& state() const { return m_state; }
  const std::optional<Outcome>& outcome() const { return m_outcome; }
  const std::string& reason() const { return m_reason; }
  const std::vector<PhaseSpan>& phases() const { return m_phases; }
  /// The phase that goes on, as it was planned; null before the first and where none goes on.
  const Phase* currentPhase() const;
  const std::vector<Event>& events() const { return m_events; }
  const std::vector<Throttling>& throttling() const { return m_throttling; }

  /// An earlier repeat to be drawn behind the run; null = none.
  void setEarlier(std::shared_ptr<const AnalyzedRun> run, const QString& label);
  const AnalyzedRun* earlier() const { return m_earlier.get(); }
  const QString& earlierLabel() const { return m_earlierLabel; }

  /// Readings of a column; empty when there is none. Older ones are thinned to their extremes, so that a long run stays
  /// quick to draw.
  const Series& series(const std::string& column) const;
  double latest(const std::string& column) const;
  double highest(const std::string& column) const;
  double lastTimeS() const { return m_lastS; }
  /// The first sample of the first phase under load; missing before.
  std::optional<double> loadStartS() const;
  /// Room now: as read, else as it was typed last in this run, else as it was stated for it; missing where nobody
  /// knows.
  double roomC() const;
  std::optional<double> limit(const std::string& column, const char* which) const;
  /// Temperatures that have a budget column, in their fixed order.
  std::vector<std::string> budgetColumns() const;

 signals:
  /// Something of the run has changed.
  void changed();

 private:
  void append(const std::string& column, const Series& more);

  std::shared_ptr<const LiveRunInfo> m_info;
  std::shared_ptr<const AnalyzedRun> m_earlier;
  QString m_earlierLabel;
  std::map<std::string, Series> m_series;
  std::map<std::string, double> m_highest;
  std::optional<LiveState> m_state;
  std::optional<Outcome> m_outcome;
  std::string m_reason;
  std::vector<PhaseSpan> m_phases;
  std::vector<Event> m_events;
  std::vector<Throttling> m_throttling;
  double m_lastS = 0;
};

}  // namespace ash
