// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/run/context.h"

#include <cmath>

#include "analysis/run/spikes.h"
#include "model/condition_field.h"
#include "model/role.h"

namespace ash {
namespace {

// The temperature in question: as stated, else cpu.temp, else the first temperature of something that is loaded.
std::string watchedChannel(const RunLog& run) {
  if (!run.facts.watched.empty() && run.log.find(run.facts.watched) != nullptr) return run.facts.watched;
  if (run.log.find(roles::kCpuTemp) != nullptr) return roles::kCpuTemp;
  for (const Channel& channel : run.log.channels) {
    if (channel.role.isLoadedTemperature()) return channel.name;
  }
  for (const Channel& channel : run.log.channels) {
    if (channel.quantity == Quantity::Temperature && !channel.role.isRoom()) return channel.name;
  }
  return {};
}

// The room as typed during the run, where none was logged.
Series typedRoom(const RunFacts& facts) {
  Series room;
  for (const Event& event : facts.events) {
    if (event.kind != EventKind::Reading || event.role != roles::kRoom || !std::isfinite(event.value)) continue;
    const double at = std::isfinite(event.atS) ? event.atS : 0;
    if (!room.empty() && at <= room.t.back()) continue;
    room.t.push_back(at);
    room.v.push_back(event.value);
  }
  return room;
}

// The temperature by which a load is known to have ended; its misreadings are no matter there.
SeriesView readingsOfWatched(const RunContext& context, std::deque<Series>& kept) {
  const Channel* watched = context.run.log.find(context.watched);
  return watched == nullptr ? SeriesView() : readingsOf(context.run.log, *watched, kept);
}

}  // namespace

RunContext makeContext(const RunLog& run, std::vector<Problem>& problems, std::optional<size_t> loadNumber) {
  RunContext context{.run = run,
                     .watched = watchedChannel(run),
                     .activity = activityOf(run),
                     .intervalS = medianInterval(run.log.timeS)};
  context.statedRoomC = run.facts.conditionNumber(fields::kRoom);
  std::deque<Series> keptWatched;
  context.phases = phasesOf(run, context.activity, readingsOfWatched(context, keptWatched));
  context.loads = loadPhases(run, context.phases, context.activity);
  context.loadIndex = loadNumber ? *loadNumber - 1 : lastWithWindow(context.loads, run.log.timeS);
  if (context.loadIndex < context.loads.size()) context.load = context.loads[context.loadIndex];
  if (context.load) context.busy = busyWithin(context.activity, run.log, *context.load);
  context.idle = idlePhase(context.phases);
  for (const Channel& channel : run.log.channels) {
    std::vector<size_t> leftOut;
    const auto spikes = findSpikes(run.log, channel, leftOut);
    problems.insert(problems.end(), spikes.begin(), spikes.end());
    const SeriesView series = readingsOf(run.log, channel, context.kept, leftOut);
    context.step[channel.name] = channel.stepHint > 0 ? channel.stepHint : estimateStep(series.v);
    context.series[channel.name] = series;
  }
  if (const SeriesView* room = context.find(roles::kRoom))
    context.room = *room;
  else
    context.room = context.kept.emplace_back(typedRoom(run.facts));
  return context;
}

std::optional<double> throttleLimit(const RunFacts& facts, const std::string& role) {
  return facts.limit(role, "throttle");
}

double meanIn(const RunContext& context, const std::string& channel, const TimeSpan& span) {
  const SeriesView* series = context.find(channel);
  return series == nullptr ? kMissing : meanOf(viewOf(*series, span).v);
}

bool isDeviceLoaded(const RunContext& context, const Device& device, const TimeSpan& span) {
  const double load = meanIn(context, Role(device, Quantity::Percent).text(), span);
  if (std::isfinite(load)) return load >= 20;
  const double atRest = context.idle ? meanIn(context, Role(device, Quantity::Power).text(), *context.idle) : kMissing;
  return !(meanIn(context, Role(device, Quantity::Power).text(), span) < 1.3 * atRest);
}

}  // namespace ash
