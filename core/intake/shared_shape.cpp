// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/shared_shape.h"

#include <fmt/format.h>

#include <algorithm>
#include <iterator>
#include <map>

#include "model/number_text.h"

namespace ash {
namespace {

constexpr size_t kMostOfAKind = 3;   // readings of one quantity on either side that are tried
constexpr double kLeastKnown = 5.0;  // samples

/// Kinds of pairs, the surest first.
enum class PairKind { SameRole, Powers, LoadAndPower, SameQuantity, None };
constexpr PairKind kInOrder[] = {PairKind::SameRole, PairKind::Powers, PairKind::LoadAndPower, PairKind::SameQuantity};

// How busy a processor or graphics is: it draws power with it.
bool isBusy(const Role& role) {
  return role.isMain() && role.quantity() == Quantity::Percent &&
         (role.device().is(DeviceKind::Cpu) || role.device().is(DeviceKind::Gpu));
}

PairKind kindOf(const Channel& run, const LooseReading& log) {
  if (!run.role.empty() && run.role == log.role) return PairKind::SameRole;
  if (run.quantity == Quantity::Power && log.quantity == Quantity::Power) return PairKind::Powers;
  if ((run.quantity == Quantity::Power && isBusy(log.role)) || (log.quantity == Quantity::Power && isBusy(run.role)))
    return PairKind::LoadAndPower;
  constexpr Quantity kAlike[] = {Quantity::Temperature, Quantity::FanSpeed, Quantity::Clock,
                                 Quantity::Percent,     Quantity::Current,  Quantity::Noise};
  const bool isAlike =
      run.quantity == log.quantity && std::find(std::begin(kAlike), std::end(kAlike), run.quantity) != std::end(kAlike);
  return isAlike ? PairKind::SameQuantity : PairKind::None;
}

class Search {
 public:
  Search(const Log& run, const std::vector<LooseReading>& readings, const std::function<bool(double)>& progress)
      : m_run(run), m_readings(readings), m_progress(progress) {}

  std::optional<SharedShape> find(std::string& why) {
    for (const PairKind kind : kInOrder) m_pairs.push_back(pairsOf(kind));
    for (const auto& pairs : m_pairs) {
      for (const Pair& pair : pairs) {
        if (m_progress && !m_progress(share())) return std::nullopt;
        tryPair(*pair.channel, *pair.reading);
      }
      if (!m_found.empty()) return judged(why);
    }
    why = m_tried == 0
              ? "the log and the run have no readings that would move together (power with power, load with "
                "power, temperature with temperature)"
              : "what both have recorded does not tell it: no changes of the one stand beside changes of the other";
    return std::nullopt;
  }

 private:
  struct Pair {
    const Channel* channel;
    const LooseReading* reading;
  };

  double share() const {
    size_t all = 0;
    for (const auto& pairs : m_pairs) all += pairs.size();
    return static_cast<double>(m_tried) / static_cast<double>(std::max<size_t>(all, 1));
  }

  std::vector<Pair> pairsOf(PairKind kind) const {
    std::vector<Pair> pairs;
    std::map<Quantity, size_t> ofLog;
    for (const LooseReading& reading : m_readings) {
      std::vector<const Channel*> partners;
      for (const Channel& channel : m_run.channels) {
        if (kindOf(channel, reading) == kind) partners.push_back(&channel);
      }
      if (partners.empty() || ofLog[reading.quantity]++ >= kMostOfAKind) continue;
      // Those with a role are the ones that mean a whole device.
      std::stable_sort(partners.begin(), partners.end(),
                       [](const Channel* a, const Channel* b) { return a->role.empty() < b->role.empty(); });
      partners.resize(std::min(partners.size(), kMostOfAKind));
      for (const Channel* channel : partners) pairs.push_back({channel, &reading});
    }
    return pairs;
  }

  void tryPair(const Channel& channel, const LooseReading& reading) {
    ++m_tried;
    const Series series = seriesOf(m_run, channel);
    const auto offset = findClockOffset(series, reading.series);
    if (!offset) return;
    m_found.push_back({*offset, reading.name, channel.name});
    m_stepS = std::max({m_stepS, medianInterval(series.t), medianInterval(reading.series.t)});
  }

  std::optional<SharedShape> judged(std::string& why) const {
    const auto best = std::max_element(m_found.begin(), m_found.end(), [](const SharedShape& a, const SharedShape& b) {
      return a.offset.likeness < b.offset.likeness;
    });
    const ClockOffset& one = best->offset;
    if (one.offsetHighS - one.offsetLowS > 2 * kLeastKnown * m_stepS) {
      why = fmt::format("{} with {} tells it to ± {} s only", best->ofLog, best->ofRun,
                        roundedText((one.offsetHighS - one.offsetLowS) / 2, 1));
      return std::nullopt;
    }
    for (const SharedShape& other : m_found) {
      const double apartS =
          std::max(other.offset.offsetLowS - one.offsetHighS, one.offsetLowS - other.offset.offsetHighS);
      if (apartS < kLeastKnown * m_stepS || other.offset.likeness < 0.8 * one.likeness) continue;
      why = fmt::format("{} with {} says {} s, {} with {} says {} s", best->ofLog, best->ofRun,
                        roundedText(one.offsetS, 1), other.ofLog, other.ofRun, roundedText(other.offset.offsetS, 1));
      return std::nullopt;
    }
    return *best;
  }

  const Log& m_run;
  const std::vector<LooseReading>& m_readings;
  const std::function<bool(double)>& m_progress;
  std::vector<std::vector<Pair>> m_pairs;  // the surest first
  std::vector<SharedShape> m_found;
  size_t m_tried = 0;
  double m_stepS = 0;
};

}  // namespace

std::optional<SharedShape> findSharedShape(const Log& run, const std::vector<LooseReading>& readings, std::string& why,
                                           const std::function<bool(double)>& progress) {
  return Search(run, readings, progress).find(why);
}

}  // namespace ash
