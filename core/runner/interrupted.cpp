// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/interrupted.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"
#include "readings/watch/kernel_log.h"

namespace ash {
namespace {

constexpr double kNearLimitK = 5;
constexpr double kJustNowS = 5;
constexpr double kEmptyPercent = 5;
constexpr double kNoWorkS = 1;

// Since when before the end the load did nothing although its phase wanted it to; missing when it worked.
double loadGoneS(const RunLog& run) {
  const Channel* work = run.log.find(roles::kWorkRate);
  // A pause has the load as it was before.
  const auto last = std::find_if(run.facts.phases.rbegin(), run.facts.phases.rend(),
                                 [](const PhaseSpan& phase) { return phase.kind != PhaseKind::Pause; });
  const bool wasUnderLoad = last != run.facts.phases.rend() && isUnderLoad(last->kind);
  if (work == nullptr || !wasUnderLoad || run.log.timeS.empty()) return kMissing;
  size_t first = work->values.size();
  while (first > 0 && !(work->values[first - 1] > 0)) --first;
  if (first == work->values.size()) return kMissing;
  const double goneS = run.log.timeS.back() - run.log.timeS[first];
  return goneS >= kNoWorkS ? goneS : kMissing;
}

// "Processor temperature was 103.2 °C, 1.8 K below its critical limit." for what came nearest to its limit at the end.
std::string nearestToLimit(const RunLog& run) {
  std::string words;
  double nearestK = kNearLimitK;
  for (const Channel& channel : run.log.channels) {
    const auto limit = run.facts.limit(channel.role.text(), "critical");
    if (!limit || channel.quantity != Quantity::Temperature) continue;
    double highest = kMissing;
    for (size_t i = run.log.timeS.size(); i-- > 0 && run.log.timeS[i] > run.log.timeS.back() - kJustNowS;) {
      if (!(highest >= channel.values[i])) highest = channel.values[i];
    }
    const double leftK = *limit - highest;
    if (!(leftK < nearestK)) continue;
    nearestK = leftK;
    words = fmt::format(" {} was {}, {} {} its critical limit.", channel.role.title(), withUnit(highest, 1, "°C"),
                        withUnit(std::abs(leftK), 1, "K"), leftK < 0 ? "above" : "below");
  }
  return words;
}

double lastBatteryPercent(const RunLog& run) {
  double percent = kMissing;
  for (const Event& event : run.facts.events) {
    if (event.kind != EventKind::Fault || valueIn(event.extra, "source", "") != "battery") continue;
    percent = valueIn(event.extra, "failure", "") == "low" ? valueIn(event.extra, "percent", kMissing) : kMissing;
  }
  return percent;
}

std::string whyTheMachineWent(const RunLog& run) {
  const double percent = lastBatteryPercent(run);
  if (percent <= kEmptyPercent) {
    return fmt::format("The machine went down: its battery was at {:.0f} % and most likely ran empty.", percent);
  }
  return "The machine was started anew while the run was going on." + nearestToLimit(run);
}

// What the battery held last: by its gauge, else by what the kernel told of it.
double lastChargePercent(const RunLog& run) {
  if (const Channel* charge = run.log.find(roles::kBatteryCharge)) {
    for (size_t i = charge->values.size(); i-- > 0;) {
      if (std::isfinite(charge->values[i])) return charge->values[i];
    }
  }
  return lastBatteryPercent(run);
}

// A run-down until the battery is empty ends as it was to end when machine or recorder go with it.
bool ranDownAsPlanned(const Procedure& procedure, const RunLog& run) {
  const size_t begun = run.facts.phases.size();
  if (begun == 0 || begun > procedure.phases.size()) return false;
  const auto* down = std::get_if<EndsAtCharge>(&procedure.phases[begun - 1].end);
  return down != nullptr && down->percent <= 0 && lastChargePercent(run) <= kEmptyPercent;
}

}  // namespace

std::string reasonOfInterruption(const RunSummary& summary, const RunLog& run, const std::string& killed) {
  if (summary.info.outcome == Outcome::MachineWentDown) return whyTheMachineWent(run);
  std::string reason =
      killed.empty()
          ? fmt::format("The recorder (process {}) was killed or crashed before it closed the run.",
                        summary.info.recorderPid)
          : fmt::format("The kernel ended the recorder (process {}) for want of memory.", summary.info.recorderPid);
  if (const double goneS = loadGoneS(run); std::isfinite(goneS))
    reason += fmt::format(" The load had done nothing for {} by then.", durationWords(goneS));
  return reason;
}

std::vector<const Channel*> tellingChannels(const Log& log, const std::string& watched, size_t most) {
  const auto rank = [&](const Channel& channel) {
    if (channel.name == watched) return 0;
    if (channel.name == roles::kCpuClock) return 1;
    if (channel.name == roles::kCpuPower) return 2;
    if (channel.name == roles::kWorkRate) return 3;
    if (channel.role.isLoadedTemperature()) return 4;
    if (channel.quantity == Quantity::FanSpeed) return 5;
    return channel.role.empty() ? 9 : 6;
  };
  std::vector<const Channel*> chosen;
  for (const Channel& channel : log.channels) {
    const bool hasValue =
        std::any_of(channel.values.begin(), channel.values.end(), [](double v) { return std::isfinite(v); });
    if (hasValue && rank(channel) < 9) chosen.push_back(&channel);
  }
  std::stable_sort(chosen.begin(), chosen.end(),
                   [&](const Channel* a, const Channel* b) { return rank(*a) < rank(*b); });
  if (chosen.size() > most) chosen.resize(most);
  return chosen;
}

Result<std::vector<InterruptedRun>> closeInterrupted(Book& book, const std::string& root) {
  const auto runs = book.interrupted();
  if (!runs) return runs.error();
  std::vector<InterruptedRun> closed;
  for (RunSummary summary : *runs) {
    const double fromS = std::isfinite(summary.lastSampleS) ? summary.lastSampleS - kLastMinuteS : kMissing;
    auto run = book.readRunAfter(summary.info.id, fromS);
    if (!run) return run.error();
    if (ranDownAsPlanned(summary.info.procedure, *run)) {
      summary.info.outcome = Outcome::Completed;
      summary.info.reason = fmt::format("The battery ran empty: it was at {:.0f} % at {}, the last reading.",
                                        lastChargePercent(*run), clockText(summary.lastSampleS));
    } else {
      summary.info.reason = reasonOfInterruption(summary, *run, killForMemory(root, summary.info.recorderPid));
    }
    if (Status written = book.close(summary.info); !written) return written.error();
    const double goneS = loadGoneS(*run);
    closed.push_back({std::move(summary), std::move(run->log), goneS});
  }
  return closed;
}

}  // namespace ash
