// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/throttling/drive_findings.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/run/worked_device.h"
#include "model/number_text.h"

namespace ash {
namespace {

constexpr size_t kFewestRates = 12;
constexpr double kLeastFall = 0.2;
constexpr double kStaysDown = 0.9;  // of the readings after it
constexpr size_t kFirstReadings = 3;
constexpr double kNearLimitK = 3;

double medianOfPart(std::span<const double> values) { return medianOf({values.begin(), values.end()}); }

bool isNearLimit(const RunContext& context, double t) {
  const auto limit = throttleLimit(context.run.facts, roles::kStorageTemp);
  const SeriesView* temperature = context.find(roles::kStorageTemp);
  return limit && temperature != nullptr && interpolate(*temperature, t) > *limit - kNearLimitK;
}

Problem finding(ProblemKind kind, const std::string& channel, const TimeSpan& span, std::string text) {
  return {std::move(kind), channel, span.startS, span.endS, std::move(text)};
}

std::string rateText(double rate, const std::string& unit) { return withUnit(rate, rate < 10 ? 1 : 0, unit); }

}  // namespace

std::optional<CacheEnd> cacheEndOf(const RunContext& context, const SeriesView& rate) {
  const SeriesView part = viewOf(rate, *context.load);
  if (part.size() < kFewestRates) return std::nullopt;
  const double sustained = medianOfPart(part.v.subspan(part.size() / 2));
  // The first reading may be of a transfer that only begins.
  const double first = medianOfPart(part.v.subspan(1, kFirstReadings));
  if (!(sustained < (1 - kLeastFall) * first)) return std::nullopt;
  const double middle = (first + sustained) / 2;
  size_t at = 1;
  while (at < part.size() && part.v[at] >= middle) ++at;
  if (at < kFirstReadings || at == part.size()) return std::nullopt;
  const auto after = part.v.subspan(at);
  const auto below = std::count_if(after.begin(), after.end(), [middle](double value) { return value < middle; });
  if (static_cast<double>(below) < kStaysDown * static_cast<double>(after.size())) return std::nullopt;
  if (isNearLimit(context, part.t[at])) return std::nullopt;
  return CacheEnd{part.t[at], medianOfPart(part.v.subspan(1, at - 1)), medianOfPart(after)};
}

std::vector<Problem> findDriveChanges(const RunContext& context, const std::vector<Throttling>& throttling) {
  std::vector<Problem> found;
  if (!context.load) return found;
  const Role role = workRoleOf(context, DeviceKind::Storage);
  const SeriesView* rate = role.isKnown() ? context.find(role.text()) : nullptr;
  if (rate == nullptr) return found;
  const std::string unit(unitOf(role.quantity()));
  if (const auto cache = cacheEndOf(context, *rate)) {
    found.push_back(finding(
        ProblemKind::CacheFull, role.text(), {cache->atS, context.load->endS},
        fmt::format("{} fell from {} to {} after {:.0f} s of the load and stayed there: a short cache was full, "
                    "so quote the sustained rate.",
                    role.title(), rateText(cache->before, unit), rateText(cache->after, unit),
                    cache->atS - context.load->startS)));
  }
  for (const Throttling& one : throttling) {
    if (!one.device.is(DeviceKind::Storage)) continue;
    const auto slowed = std::find_if(one.intervals.begin(), one.intervals.end(),
                                     [](const ThrottleInterval& interval) { return interval.cause == Cause::Thermal; });
    if (slowed == one.intervals.end()) continue;
    const double within = meanOf(viewOf(*rate, slowed->span).v);
    found.push_back(finding(ProblemKind::DriveSlowed, role.text(), slowed->span,
                            fmt::format("Heat slowed the drive down from {:.0f} s of the load on, from {} to {}: cool "
                                        "it, or say so.",
                                        slowed->span.startS - context.load->startS,
                                        rateText(within / (1 - slowed->lostShare), unit), rateText(within, unit))));
  }
  return found;
}

}  // namespace ash
