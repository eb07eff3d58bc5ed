// SPDX-License-Identifier: GPL-3.0-or-later
// Where a device delivered less than it held before under the same load, and what held it.
#include <algorithm>
#include <cmath>

#include "analysis/run/worked_device.h"
#include "analysis/throttling/delivery.h"
#include "analysis/throttling/throttle_cause.h"
#include "analysis/throttling/throttling.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kJoinS = 5;  // contract: recoveries shorter than that, or 3 samples, are joined
constexpr double kJoinSamples = 3;
constexpr size_t kFewSamples = 2;  // so few, without a reason and hardly low, are noise
constexpr double kHardlyLow = 0.06;
constexpr double kLowShare = 0.03, kSigmas = 3;
constexpr double kClusterAtWork = 1.2;  // times its clock at rest: else the load does not use it

/// A stretch of samples with one cause.
struct Stretch {
  size_t first = 0, end = 0;  // half-open
  HeldBack held;
};

class Judge {
 public:
  Judge(const RunContext& context, const Device& device, Delivery delivery)
      : m_delivery(std::move(delivery)),
        m_causes(context, device),
        m_joinS(std::max(kJoinS, kJoinSamples * m_delivery.intervalS) + 1e-9) {}

  std::vector<ThrottleInterval> intervals() {
    std::vector<Stretch> stretches;
    for (size_t i = 0; i < m_delivery.rate.size();) {
      size_t end = i;
      while (end < m_delivery.rate.size() && m_delivery.isLow(end)) ++end;
      if (end > i) addLow(i, end, stretches);
      i = std::max(end, i + 1);
    }
    std::vector<ThrottleInterval> intervals;
    for (const Stretch& stretch : joined(stretches)) intervals.push_back(intervalOf(stretch));
    callBoost(intervals);
    return intervals;
  }

  const Delivery& delivery() const { return m_delivery; }

 private:
  // Splits a stretch that is low throughout where its cause changes for longer than a recovery may last.
  void addLow(size_t first, size_t end, std::vector<Stretch>& stretches) const {
    const auto times = m_delivery.rate.t.subspan(first, end - first);
    const std::vector<HeldBack> causes = m_causes.causesOf(times, m_delivery.intervalS);
    std::vector<Stretch> parts;
    for (size_t i = 0; i < causes.size(); ++i) {
      if (parts.empty() || !(parts.back().held == causes[i])) parts.push_back({first + i, first + i, causes[i]});
      parts.back().end = first + i + 1;
    }
    const size_t before = stretches.size();
    for (const Stretch& part : parts) {
      const bool isShort = m_delivery.endOf(part.end - 1) - m_delivery.rate.t[part.first] <= m_joinS;
      const bool hasNeighbour = stretches.size() > before;
      if (hasNeighbour && (isShort || stretches.back().held == part.held))
        stretches.back().end = part.end;
      else if (hasNeighbour && lengthS(stretches.back()) <= m_joinS)
        stretches.back() = {stretches.back().first, part.end, part.held};
      else
        stretches.push_back(part);
    }
    const Stretch& last = stretches.back();
    const bool hasReason = last.held.cause == Cause::Thermal || last.held.cause == Cause::Power;
    if (hasReason) return;
    const auto count = static_cast<double>(last.end - last.first);
    const double couldBeNoise = kLowShare + kSigmas * m_delivery.noise / std::sqrt(count);
    const bool isShort = lengthS(last) <= 2 * m_joinS;
    if ((count <= kFewSamples && share(last) < kHardlyLow) || (isShort && share(last) < couldBeNoise))
      stretches.pop_back();
  }

  double lengthS(const Stretch& stretch) const {
    return m_delivery.endOf(stretch.end - 1) - m_delivery.rate.t[stretch.first];
  }
  double share(const Stretch& stretch) const { return lost(stretch) / m_delivery.reference[stretch.first]; }
  double lost(const Stretch& stretch) const {
    double sum = 0;
    for (size_t i = stretch.first; i < stretch.end; ++i) sum += m_delivery.reference[i] - m_delivery.rate.v[i];
    return sum / static_cast<double>(stretch.end - stretch.first);
  }
  // Nothing between them was left out: no pause, no setting.
  bool isUnbroken(size_t from, size_t to) const {
    return std::all_of(m_delivery.counts.begin() + long(from), m_delivery.counts.begin() + long(to),
                       [](bool counts) { return counts; });
  }

  std::vector<Stretch> joined(const std::vector<Stretch>& stretches) const {
    std::vector<Stretch> all;
    for (const Stretch& next : stretches) {
      const bool joins = !all.empty() &&
                         m_delivery.rate.t[next.first] - m_delivery.endOf(all.back().end - 1) < m_joinS &&
                         isUnbroken(all.back().end, next.first);
      if (joins && all.back().held == next.held)
        all.back().end = next.end;
      else if (joins && lengthS(all.back()) <= m_joinS && lengthS(next) > m_joinS)
        all.back() = {all.back().first, next.end, next.held};
      else if (joins && lengthS(next) <= m_joinS && next.held.cause == Cause::Unknown)
        all.back().end = next.end;
      else
        all.push_back(next);
    }
    return all;
  }

  ThrottleInterval intervalOf(const Stretch& stretch) const {
    ThrottleInterval interval;
    interval.span = {m_delivery.rate.t[stretch.first], m_delivery.endOf(stretch.end - 1)};
    interval.cause = stretch.held.cause;
    interval.isPlanned = stretch.held.isPlanned;
    interval.lostShare = share(stretch);
    interval.depthMhz = m_delivery.isClock ? lost(stretch) : kMissing;
    return interval;
  }

  void callBoost(std::vector<ThrottleInterval>& intervals) const {
    if (intervals.empty()) return;
    ThrottleInterval& last = intervals.back();
    if (last.cause != Cause::Other && last.cause != Cause::Unknown) return;
    if (m_causes.isBoostRunOut(last.span, m_delivery.rate)) last.cause = Cause::Power;
  }

  Delivery m_delivery;
  CauseFinder m_causes;
  double m_joinS;
};

void addUp(const RunContext& context, Throttling& result) {
  const double loadS = context.load->lengthS();
  double throttledS = 0, lost = 0;
  for (const ThrottleInterval& interval : result.intervals) {
    const double lengthS = interval.span.lengthS();
    throttledS += lengthS;
    lost += lengthS * interval.lostShare;
    double& share = interval.cause == Cause::Thermal ? result.shareThermal
                    : interval.cause == Cause::Power ? result.sharePower
                                                     : result.shareOther;
    share += lengthS / loadS;
    if (interval.cause == Cause::Thermal && !result.timeToLimitS)
      result.timeToLimitS = std::max(0.0, interval.span.startS - context.load->startS);
  }
  result.share = throttledS / loadS;
  result.lostClockShare = throttledS > 0 ? lost / throttledS : 0;
}

// Work lost while it was slowed, against the same load when it was not.
std::optional<double> lostWork(const RunContext& context, const Throttling& throttling) {
  const SeriesView* work = context.find(workRoleOf(context, throttling.device).text());
  if (work == nullptr || throttling.intervals.empty()) return std::nullopt;
  std::vector<double> slowed, free;
  const SeriesView part = viewOf(*work, *context.load);
  size_t next = 0;
  for (size_t i = 0; i < part.size(); ++i) {
    while (next < throttling.intervals.size() && part.t[i] >= throttling.intervals[next].span.endS) ++next;
    const bool isSlowed = next < throttling.intervals.size() && throttling.intervals[next].span.contains(part.t[i]);
    if (part.v[i] > 0) (isSlowed ? slowed : free).push_back(part.v[i]);
  }
  if (slowed.size() < 3 || free.size() < 3) return std::nullopt;
  return std::max(0.0, 1 - meanOf(slowed) / medianOf(std::move(free)));
}

double rated(const RunContext& context, const std::string& channel) {
  const auto of = context.run.facts.rated.find(channel);
  if (of == context.run.facts.rated.end()) return kMissing;
  const auto all = of->second.find("all_core");
  return all == of->second.end() ? kMissing : all->second;
}

std::optional<Throttling> judge(const RunContext& context, const Device& device, const Device& name,
                                const std::string& channel) {
  Delivery delivery = deliveryOf(context, channel, rated(context, channel));
  if (delivery.rate.size() < 4) return std::nullopt;
  delivery.isClock = Role(channel).quantity() == Quantity::Clock;
  Judge judge(context, device, std::move(delivery));
  Throttling result;
  result.device = name;
  result.referenceMhz = judge.delivery().isClock ? judge.delivery().reference.front() : kMissing;
  result.intervals = judge.intervals();
  addUp(context, result);
  result.lostWorkShare = lostWork(context, result);
  return result;
}

// A device is as slow as its slowest cluster: at each moment the one that has lost most.
void mergeClusters(const RunContext& context, Throttling& whole, const std::vector<Throttling>& clusters) {
  std::vector<const ThrottleInterval*> all;
  std::vector<double> edges;
  const auto take = [&](const Throttling& one) {
    for (const ThrottleInterval& interval : one.intervals) {
      all.push_back(&interval);
      edges.insert(edges.end(), {interval.span.startS, interval.span.endS});
    }
  };
  take(whole);
  for (const Throttling& cluster : clusters) take(cluster);
  std::sort(edges.begin(), edges.end());
  std::vector<ThrottleInterval> merged;
  for (size_t i = 1; i < edges.size(); ++i) {
    const TimeSpan span{edges[i - 1], edges[i]};
    if (span.lengthS() <= 1e-9) continue;
    const ThrottleInterval* worst = nullptr;
    for (const ThrottleInterval* one : all) {
      if (one->span.startS <= span.startS && one->span.endS >= span.endS &&
          (worst == nullptr || one->lostShare > worst->lostShare))
        worst = one;
    }
    if (worst == nullptr) continue;
    ThrottleInterval* last = merged.empty() ? nullptr : &merged.back();
    if (last != nullptr && last->span.endS == span.startS && last->cause == worst->cause &&
        last->isPlanned == worst->isPlanned) {
      const double before = last->span.lengthS(), now = span.lengthS(), length = before + now;
      last->lostShare = (last->lostShare * before + worst->lostShare * now) / length;
      last->depthMhz = (last->depthMhz * before + worst->depthMhz * now) / length;
      last->span.endS = span.endS;
    } else {
      merged.push_back(*worst);
      merged.back().span = span;
    }
  }
  const Device device = whole.device;
  const double reference = whole.referenceMhz;
  whole = {};
  whole.device = device;
  whole.referenceMhz = reference;
  whole.intervals = std::move(merged);
  addUp(context, whole);
  whole.lostWorkShare = lostWork(context, whole);
}

std::vector<Throttling> clustersOf(const RunContext& context, const Device& device) {
  std::vector<Throttling> clusters;
  for (const Channel& channel : context.run.log.channels) {
    const bool isCluster = channel.role.part() == Part::Cluster && channel.role.device() == device;
    if (!isCluster || context.find(channel.name) == nullptr) continue;
    const double atWork = meanIn(context, channel.name, *context.load);
    const double atRest = context.idle ? meanIn(context, channel.name, *context.idle) : kMissing;
    if (atWork < kClusterAtWork * atRest) continue;
    const Device name(device.kind(), channel.name.substr(channel.name.rfind('.') + 1), device.number());
    if (auto found = judge(context, device, name, channel.name)) clusters.push_back(std::move(*found));
  }
  return clusters;
}

/// What tells how much a device delivers: its clock, else its work. Empty when nothing does.
std::string deliveryChannel(const RunContext& context, const Device& device) {
  const std::string clock = Role(device, Quantity::Clock).text();
  if (context.find(clock) != nullptr) return clock;
  // A drive is only judged where it is what the run is about.
  if (device == Device(DeviceKind::Storage) && context.watched == roles::kStorageTemp) {
    for (const char* rate : {roles::kStorageWrite, roles::kStorageRead}) {
      if (meanIn(context, rate, *context.load) > 1) return rate;
    }
  }
  return workRoleOf(context, device).text();
}

std::vector<Device> devicesOf(const RunContext& context) {
  std::vector<Device> devices;
  for (const Channel& channel : context.run.log.channels) {
    const Device& device = channel.role.device();
    const bool isJudged =
        device.is(DeviceKind::Cpu) || device.is(DeviceKind::Gpu) || device == Device(DeviceKind::Storage);
    if (isJudged && std::find(devices.begin(), devices.end(), device) == devices.end()) devices.push_back(device);
  }
  return devices;
}

}  // namespace

std::vector<Throttling> findThrottling(const RunContext& context) {
  std::vector<Throttling> all;
  if (!context.load) return all;
  for (const Device& device : devicesOf(context)) {
    // A device that this load does not use has no clock to lose.
    if (!isDeviceLoaded(context, device, *context.load)) continue;
    const std::string channel = deliveryChannel(context, device);
    auto whole = channel.empty() ? std::nullopt : judge(context, device, device, channel);
    const std::vector<Throttling> clusters = clustersOf(context, device);
    if (!whole && clusters.empty()) continue;
    if (!whole) {
      whole.emplace();
      whole->device = device;
      whole->referenceMhz = clusters.front().referenceMhz;
    }
    if (!clusters.empty()) mergeClusters(context, *whole, clusters);
    all.push_back(std::move(*whole));
    all.insert(all.end(), clusters.begin(), clusters.end());
  }
  return all;
}

std::vector<Throttling> throttlingOf(const RunLog& run) {
  std::vector<Problem> ignored;
  return findThrottling(makeContext(run, ignored));
}

}  // namespace ash
