// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/log_look.h"

#include <algorithm>
#include <cmath>

namespace ash {
namespace {

constexpr size_t kMostSteps = 1200;

/// Steps of rows; when there are too many, two become one.
class Steps : public LogSink {
 public:
  Status begin(const LogFacts&, const std::vector<PlannedColumn>& columns) override {
    for (const PlannedColumn& column : columns) m_lanes.push_back({column.title(), {}, {}, {}});
    return {};
  }
  Status row(double timeS, const std::vector<double>& values) override {
    take(timeS, values);
    return {};
  }
  Status event(const Event&) override { return {}; }

  void setTitles(std::vector<LaneShape> lanes) { m_lanes = std::move(lanes); }
  void take(double timeS, const std::vector<double>& values) {
    if (m_lanes.empty()) return;
    if (m_rows++ % m_rowsOfAStep == 0) {
      if (m_lanes.front().timeS.size() >= kMostSteps) halve();
      for (LaneShape& lane : m_lanes) {
        lane.timeS.push_back(timeS);
        lane.low.push_back(kMissing);
        lane.high.push_back(kMissing);
      }
    }
    for (size_t c = 0; c < m_lanes.size(); ++c) {
      m_lanes[c].low.back() = std::fmin(m_lanes[c].low.back(), values[c]);
      m_lanes[c].high.back() = std::fmax(m_lanes[c].high.back(), values[c]);
    }
  }
  std::vector<LaneShape> lanes() { return std::move(m_lanes); }

 private:
  void halve() {
    m_rowsOfAStep *= 2;
    for (LaneShape& lane : m_lanes) {
      const size_t half = lane.timeS.size() / 2;
      for (size_t i = 0; i < half; ++i) {
        lane.timeS[i] = lane.timeS[2 * i];
        lane.low[i] = std::fmin(lane.low[2 * i], lane.low[2 * i + 1]);
        lane.high[i] = std::fmax(lane.high[2 * i], lane.high[2 * i + 1]);
      }
      for (auto* row : {&lane.timeS, &lane.low, &lane.high}) row->resize(half);
    }
  }

  std::vector<LaneShape> m_lanes;
  size_t m_rows = 0, m_rowsOfAStep = 1;
};

}  // namespace

Result<LogLook> lookAtLog(const std::string& path, const ImportWishes& wishes, const ImportProgress& progress) {
  Steps steps;
  auto facts = readForeignLog(path, wishes, &steps, progress);
  if (!facts) return facts.error();
  return LogLook{std::move(*facts), steps.lanes()};
}

LaneShape laneOf(const std::vector<double>& timeS, const std::vector<double>& values, std::string title) {
  Steps steps;
  steps.setTitles({{std::move(title), {}, {}, {}}});
  for (size_t i = 0; i < timeS.size(); ++i) steps.take(timeS[i], {values[i]});
  return std::move(steps.lanes().front());
}

}  // namespace ash
