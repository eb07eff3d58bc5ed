// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/follow/live_messages.h"

#include <cmath>

namespace ash {
LiveRunInfo liveInfo(const RunInfo& from, const RunLog& run) {
  LiveRunInfo info;
  info.id = from.id;
  info.study = from.study;
  info.setup = from.setup;
  info.load = from.load;
  info.started = from.started;
  info.watched = from.watched;
  info.machine = valueIn(from.machine, "name", std::string());
  info.repeat = from.repeat;
  info.intervalS = from.intervalS;
  info.procedure = from.procedure;
  info.roomC = run.facts.conditionNumber("room_c").value_or(kMissing);
  for (const Channel& channel : run.log.channels) {
    Reading reading;
    reading.id = channel.name;
    reading.role = channel.role;
    reading.quantity = channel.quantity;
    reading.unit = channel.unit;
    const auto limits = run.facts.limits.find(channel.role.text());
    if (limits != run.facts.limits.end()) reading.limits = limits->second;
    info.readings[channel.name] = reading;
  }
  return info;
}

int setupIndex(const std::vector<Study>& studies, const std::string& study, const std::string& setup) {
  for (const Study& candidate : studies) {
    if (candidate.name != study) continue;
    for (size_t i = 0; i < candidate.setups.size(); ++i) {
      if (candidate.setups[i].name == setup) return static_cast<int>(i);
    }
  }
  return 0;
}

void appendRow(Log& log, const std::vector<std::string>& columns, const LiveSamples& samples, double intervalS) {
  const bool isNewRow = log.timeS.empty() || samples.timeS - log.timeS.back() > intervalS / 4;
  if (isNewRow) {
    log.timeS.push_back(samples.timeS);
    for (Channel& channel : log.channels) channel.values.push_back(kMissing);
  }
  for (size_t i = 0; i < columns.size() && i < samples.values.size(); ++i) {
    if (!std::isfinite(samples.values[i])) continue;
    for (Channel& channel : log.channels) {
      if (channel.name == columns[i]) channel.values.back() = samples.values[i];
    }
  }
}

}  // namespace ash
