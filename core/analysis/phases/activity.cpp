// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/phases/activity.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <optional>

#include "analysis/phases/governed_gaps.h"
#include "analysis/series/statistics.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kBusyFrom = 0.35;       // of the way from rest to work, for a load in percent
constexpr double kBusyPowerFrom = 0.25;  // for the others: a governor may hold them far down
constexpr double kExtremeReadings = 3;   // the outermost do not say where rest and work are
constexpr double kHoldIntervals = 5;     // a reading speaks for this long after it was taken
constexpr double kWarmsUpK = 6;

enum class Voice { Device, Work, Supply };

struct SignalKind {
  const char* role;
  DeviceKind device;  // readings of one device count together
  Voice voice;
  double weight;
  double leastRatio;  // of work to rest
};

// Weights within a group. A clock is also raised by an idle processor's moments of work.
constexpr std::array kSignals = {SignalKind{roles::kCpuLoad, DeviceKind::Cpu, Voice::Device, 2, 0},
                                 SignalKind{roles::kCpuPower, DeviceKind::Cpu, Voice::Device, 1, 1.5},
                                 SignalKind{roles::kCpuClock, DeviceKind::Cpu, Voice::Device, 0.3, 1.3},
                                 SignalKind{roles::kGpuLoad, DeviceKind::Gpu, Voice::Device, 2, 0},
                                 SignalKind{roles::kGpuPower, DeviceKind::Gpu, Voice::Device, 1, 1.5},
                                 SignalKind{roles::kGpuClock, DeviceKind::Gpu, Voice::Device, 0.3, 1.3},
                                 SignalKind{roles::kStorageWrite, DeviceKind::Storage, Voice::Device, 1, 2},
                                 SignalKind{roles::kStorageRead, DeviceKind::Storage, Voice::Device, 1, 2},
                                 SignalKind{roles::kWorkRate, DeviceKind::Work, Voice::Work, 1, 2},
                                 SignalKind{roles::kFrameRate, DeviceKind::Work, Voice::Work, 1, 2},
                                 SignalKind{roles::kWallPower, DeviceKind::Wall, Voice::Supply, 1, 1.25},
                                 SignalKind{roles::kBatteryPower, DeviceKind::Battery, Voice::Supply, 1, 1.25}};

struct Signal {
  SignalKind kind;
  SeriesView series;
  double threshold = 0;
};

struct Levels {
  double rest = 0, work = 0, middle = 0;
};

// Median of a reading and two on either side: what stands alone says nothing of rest or work.
double middleOfFive(const SeriesView& series, size_t i) {
  if (i < 2 || i + 2 >= series.size()) return series.v[i];
  std::array<double, 5> five;
  std::copy_n(series.v.begin() + static_cast<std::ptrdiff_t>(i - 2), 5, five.begin());
  std::nth_element(five.begin(), five.begin() + 2, five.end());
  return five[2];
}

Levels levelsOf(const SeriesView& series) {
  // Twenty thousand readings tell where rest and work are.
  const size_t stride = series.size() / 20'000 + 1;
  std::vector<double> sorted;
  for (size_t i = 0; i < series.size(); i += stride) sorted.push_back(middleOfFive(series, i));
  std::sort(sorted.begin(), sorted.end());
  const double edge = std::min(0.2, kExtremeReadings / static_cast<double>(sorted.size()));
  const double lowest = quantileOfSorted(sorted, edge / 2), highest = quantileOfSorted(sorted, 1 - edge / 2);
  const auto upper = std::lower_bound(sorted.begin(), sorted.end(), (lowest + highest) / 2);
  const auto lower = std::upper_bound(sorted.begin(), sorted.end(), lowest + 0.2 * (highest - lowest));
  const std::span<const double> above(upper, sorted.end()), below(sorted.begin(), lower);
  return {below.empty() ? lowest : quantileOfSorted(below, 0.5), above.empty() ? highest : quantileOfSorted(above, 0.5),
          quantileOfSorted(sorted, 0.5)};
}

bool tellsApart(const SignalKind& kind, Quantity quantity, const Levels& levels) {
  if (quantity == Quantity::Percent) return levels.work - levels.rest > 20 && levels.rest < 70;
  return levels.work > kind.leastRatio * std::max(levels.rest, 0.0) && levels.work > 0;
}

/// The votes of one group at the samples of the log; missing where it has no reading.
struct Votes {
  Voice voice = Voice::Device;
  std::vector<float> sum, weight;
};

void addVotes(const Log& log, const Signal& signal, Votes& votes) {
  const SeriesView& series = signal.series;
  const double holdS = kHoldIntervals * std::max(medianInterval(series.t), 1e-9);
  size_t next = 0;
  for (size_t i = 0; i < log.timeS.size(); ++i) {
    while (next < series.size() && series.t[next] <= log.timeS[i]) ++next;
    if (next == 0 || log.timeS[i] - series.t[next - 1] > holdS) continue;
    const auto weight = static_cast<float>(signal.kind.weight);
    if (series.v[next - 1] >= signal.threshold) votes.sum[i] += weight;
    votes.weight[i] += weight;
  }
}

std::vector<Signal> readSignals(const Log& log, std::deque<Series>& kept) {
  std::vector<Signal> signals;
  for (const SignalKind& kind : kSignals) {
    const Channel* channel = log.find(kind.role);
    if (channel == nullptr) continue;
    Signal signal{kind, readingsOf(log, *channel, kept), 0};
    if (signal.series.size() >= 4) signals.push_back(signal);
  }
  return signals;
}

// How sure the voices are that it works at sample i, 0 … 1.
double agreement(const std::map<DeviceKind, Votes>& groups, size_t i) {
  double device = kMissing, work = kMissing, supply = kMissing;
  for (const auto& [kind, votes] : groups) {
    if (votes.weight[i] <= 0) continue;
    double& voice = votes.voice == Voice::Device ? device : votes.voice == Voice::Work ? work : supply;
    const double share = static_cast<double>(votes.sum[i]) / static_cast<double>(votes.weight[i]);
    voice = std::isnan(voice) ? share : std::max(voice, share);
  }
  double sum = 0, weight = 0;
  for (const auto& [voice, counts] : {std::pair{device, 2.0}, std::pair{work, 1.5}, std::pair{supply, 0.7}}) {
    if (std::isnan(voice)) continue;
    sum += counts * voice;
    weight += counts;
  }
  return weight > 0 ? sum / weight : kMissing;
}

std::vector<TimeSpan> busySpans(const Log& log, const std::map<DeviceKind, Votes>& groups) {
  std::vector<TimeSpan> spans;
  const double interval = medianInterval(log.timeS);
  bool isOn = false;
  for (size_t i = 0; i < log.timeS.size(); ++i) {
    const double sure = agreement(groups, i);
    if (std::isnan(sure)) continue;  // nobody says anything: as before
    const bool isBusy = sure >= 0.5;
    if (isBusy && !isOn) spans.push_back({log.timeS[i], log.timeS[i]});
    if (!isBusy && isOn) spans.back().endS = log.timeS[i];
    isOn = isBusy;
  }
  if (isOn) spans.back().endS = log.timeS.back() + interval;
  return spans;
}

// Nothing changes: is it all work or all rest? By load and work; by power against its limit; by whether it warms up.
Activity::Kind steadyKind(const RunLog& run, const std::vector<Signal>& signals) {
  double share = kMissing;
  for (const Signal& signal : signals) {
    const double middle = medianOf({signal.series.v.begin(), signal.series.v.end()});
    if (std::string_view(signal.kind.role).ends_with(".load"))
      share = std::isnan(share) ? middle : std::max(share, middle);
    if (signal.kind.voice == Voice::Work && middle > 0) return Activity::Kind::AlwaysBusy;
  }
  if (share >= 50) return Activity::Kind::AlwaysBusy;
  if (share < 25) return Activity::Kind::AlwaysRest;
  for (const Signal& signal : signals) {
    const auto limit = run.facts.limit(signal.kind.role, "sustained");
    if (limit && medianOf({signal.series.v.begin(), signal.series.v.end()}) > 0.5 * *limit)
      return Activity::Kind::AlwaysBusy;
  }
  for (const Channel& channel : run.log.channels) {
    if (channel.quantity != Quantity::Temperature || channel.role.isRoom()) continue;
    const Series series = seriesOf(run.log, channel);
    if (series.size() < 8) continue;
    const size_t few = std::max<size_t>(2, series.size() / 50), many = series.size() / 5 + 1;
    const std::vector<double> first(series.v.begin(), series.v.begin() + static_cast<std::ptrdiff_t>(few));
    const std::vector<double> last(series.v.end() - static_cast<std::ptrdiff_t>(many), series.v.end());
    if (medianOf(last) - medianOf(first) > kWarmsUpK) return Activity::Kind::AlwaysBusy;
  }
  return Activity::Kind::AlwaysRest;
}

}  // namespace

Activity activityOf(const RunLog& run) {
  Activity activity;
  const Log& log = run.log;
  if (log.timeS.empty()) return activity;
  std::deque<Series> kept;
  const std::vector<Signal> signals = readSignals(log, kept);
  if (signals.empty()) return activity;
  std::map<DeviceKind, Votes> groups;
  std::vector<std::pair<Signal, Levels>> powers;
  bool tellsLoad = false;
  for (Signal signal : signals) {
    const Levels levels = levelsOf(signal.series);
    if (!tellsApart(signal.kind, log.find(signal.kind.role)->quantity, levels)) continue;
    const Quantity quantity = log.find(signal.kind.role)->quantity;
    const bool isPercent = quantity == Quantity::Percent;
    if (signal.kind.voice == Voice::Device && quantity == Quantity::Power) powers.push_back({signal, levels});
    tellsLoad |= signal.kind.voice == Voice::Device && isPercent;
    signal.threshold = levels.rest + (isPercent ? kBusyFrom : kBusyPowerFrom) * (levels.work - levels.rest);
    Votes& votes = groups[signal.kind.device];
    votes.voice = signal.kind.voice;
    votes.sum.resize(log.timeS.size());
    votes.weight.resize(log.timeS.size());
    addVotes(log, signal, votes);
  }
  if (groups.empty()) {
    activity.kind = steadyKind(run, signals);
    if (activity.kind == Activity::Kind::AlwaysBusy)
      activity.busy = {{log.timeS.front(), log.timeS.back() + medianInterval(log.timeS)}};
    return activity;
  }
  activity.kind = Activity::Kind::Changing;
  activity.busy = busySpans(log, groups);
  // A load in percent knows a pause from a governor; power alone has to be looked at.
  if (tellsLoad) return activity;
  for (const auto& [power, levels] : powers)
    activity.busy = withoutGovernedGaps(std::move(activity.busy), power.series, levels.rest, levels.work);
  return activity;
}
}  // namespace ash
