// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with the run: too short, not settled, other work, a fan that moved, no room.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/quality/problems.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kShortLoadS = 60;
constexpr double kBusyAtRestPercent = 10;
constexpr size_t kMostBurstsTold = 6;
constexpr double kRoomMovedK = 1;
constexpr double kCooledAtRestK = 3;      // a device that cools by so much at rest had not cooled down before
constexpr double kSurplusK = 5;           // over what its power at rest accounts for
constexpr double kRestShareAtMost = 0.4;  // of the power under load, where rest was not logged
constexpr double kBusyWithOthersPercent = 5;

void add(std::vector<Problem>& problems, ProblemKind kind, std::string channel, const TimeSpan& span,
         std::string text) {
  problems.push_back({std::move(kind), std::move(channel), span.startS, span.endS, std::move(text)});
}

void checkRoom(const RunContext& context, std::vector<Problem>& problems) {
  const bool anyTemperature = !context.watched.empty();
  if (!anyTemperature || context.knowsRoom()) return;
  problems.push_back(
      {ProblemKind::MissingRoom, roles::kRoom, kMissing, kMissing,
       "The room temperature was neither logged nor stated, so no figure over room can be given: state it."});
}

void checkSettled(const RunContext& context, const Figures& figures, std::vector<Problem>& problems) {
  const ChannelFigures* watched = figures.channel(context.watched);
  if (!context.load || watched == nullptr || !watched->settled || watched->settled->isSettled) return;
  const SettlingVerdict& verdict = *watched->settled;
  if (verdict.isGoverned) {
    const std::string held = heldWords(verdict.held);
    add(problems, ProblemKind::NotSettled, context.watched, *context.load,
        fmt::format("{} was held at its limit, and what it delivers had not settled when the load ended{}: run it "
                    "longer.",
                    context.watched, held.empty() ? "" : "; it will hold " + held));
    return;
  }
  const std::string forecast = std::isfinite(verdict.forecast)
                                   ? fmt::format("; the forecast is {:.1f} °C ({:.1f} to {:.1f})", verdict.forecast,
                                                 verdict.forecastLow, verdict.forecastHigh)
                                   : std::string();
  add(problems, ProblemKind::NotSettled, context.watched, *context.load,
      fmt::format("{} had not settled when the load ended{}: run it longer.", context.watched, forecast));
}

void checkLoads(const RunContext& context, std::vector<Problem>& problems) {
  if (context.loads.size() < 2 || !context.load) return;
  add(problems, ProblemKind::SeveralLoads, "", *context.load,
      fmt::format("This log holds {} loads and the figures are of {} (from {:.0f} s to {:.0f} s): take another with "
                  "--load-number N.",
                  context.loads.size(),
                  context.loadIndex + 1 == context.loads.size() ? "the last one"
                                                                : fmt::format("number {}", context.loadIndex + 1),
                  context.load->startS, context.load->endS));
}

void checkLength(const RunContext& context, std::vector<Problem>& problems) {
  if (!context.load || context.load->lengthS() >= kShortLoadS) return;
  add(problems, ProblemKind::ShortRun, "", *context.load,
      fmt::format("The load lasted {:.0f} s only; less than {:.0f} s says little, so run it longer.",
                  context.load->lengthS(), kShortLoadS));
}

// Bursts of work before the load, and work that never ceased there.
void checkRest(const RunContext& context, std::vector<Problem>& problems) {
  if (!context.idle) return;
  const TimeSpan& idle = *context.idle;
  for (const char* channel : {roles::kCpuLoad, roles::kGpuLoad}) {
    const SeriesView* series = context.find(channel);
    if (series == nullptr) continue;
    // The median: single bursts are told one by one below.
    const SeriesView part = viewOf(*series, idle);
    const double load = medianOf({part.v.begin(), part.v.end()});
    if (!(load > kBusyAtRestPercent)) continue;
    add(problems, ProblemKind::BackgroundLoad, channel, idle,
        fmt::format("{} was {:.0f} % during rest: something else was running, so close it and rest again.", channel,
                    load));
  }
  std::vector<TimeSpan> bursts;
  for (const TimeSpan& span : context.activity.busy) {
    if (span.startS >= idle.startS && span.endS <= idle.endS + 1e-9) bursts.push_back(span);
  }
  for (size_t i = 0; i < std::min(bursts.size(), kMostBurstsTold); ++i) {
    const bool isLastTold = i + 1 == kMostBurstsTold && bursts.size() > kMostBurstsTold;
    const TimeSpan told{bursts[i].startS, isLastTold ? bursts.back().endS : bursts[i].endS};
    add(problems, ProblemKind::BackgroundLoad, "", told,
        fmt::format("Something worked for {:.0f} s at {:.0f} s, before the load began: close it and rest again.",
                    told.lengthS(), told.startS));
  }
}

void checkRoomMoved(const RunContext& context, std::vector<Problem>& problems) {
  if (!context.load || context.room.size() < 4) return;
  const SeriesView part = viewOf(context.room, *context.load);
  if (part.size() < 4) return;
  std::vector<double> sorted(part.v.begin(), part.v.end());
  std::sort(sorted.begin(), sorted.end());
  const double low = quantileOfSorted(sorted, 0.03), high = quantileOfSorted(sorted, 0.97);
  const auto step = context.step.find(roles::kRoom);
  if (high - low < std::max(kRoomMovedK, step == context.step.end() ? 0 : 1.5 * step->second)) return;
  add(problems, ProblemKind::RoomMoved, roles::kRoom, *context.load,
      fmt::format("The room moved by {:.1f} K under load ({:.1f} to {:.1f} °C): quote figures over room only, and keep "
                  "it steadier.",
                  high - low, low, high));
}

// How far it fell at rest, beyond what its noise could feign.
double cooledAtRestK(const SeriesView& rest) {
  if (rest.size() < 6) return 0;
  const size_t few = std::max<size_t>(2, rest.size() / 8);
  const std::vector<double> first(rest.v.begin(), rest.v.begin() + static_cast<std::ptrdiff_t>(few));
  const std::vector<double> last(rest.v.end() - static_cast<std::ptrdiff_t>(few), rest.v.end());
  std::vector<double> steps;
  for (size_t i = 1; i < rest.size(); ++i) steps.push_back(std::abs(rest.v[i] - rest.v[i - 1]));
  const double noise = 3 * medianOf(std::move(steps)) / std::sqrt(static_cast<double>(few));
  return meanOf(first) - meanOf(last) - noise;
}

// Kelvin over what its power at rest accounts for, when the load began.
double surplusK(const RunContext& context, const Figures& figures, const ChannelFigures& figure,
                const SeriesView& watched) {
  const double startS = context.load->startS;
  // An averaged power tells of a load one sample late, when it is warmer already.
  SeriesView before = viewOf(watched, {startS - 30, startS});
  if (before.empty()) before = viewOf(watched, {startS - 30, std::nextafter(startS, INFINITY)});
  if (before.empty() || !context.knowsRoom() || !figure.overAmbientK) return 0;
  const double overK = before.v.back() - context.roomAt(startS);
  const Device device = Role(context.watched).device();
  double restShare = kMissing;
  for (const Heat& heat : figures.heat) {
    if (heat.device != device || !context.idle || !heat.powerW) continue;
    restShare = meanIn(context, Role(device, Quantity::Power).text(), *context.idle) / *heat.powerW;
  }
  // Without any rest nobody knows what it draws there: a good part of the whole is taken for it.
  if (std::isnan(restShare)) restShare = context.idle ? 0.5 : kRestShareAtMost;
  return overK - restShare * *figure.overAmbientK;
}

// It had not cooled down from what it did before.
void checkStartedWarm(const RunContext& context, const Figures& figures, std::vector<Problem>& problems) {
  const SeriesView* watched = context.find(context.watched);
  const ChannelFigures* figure = figures.channel(context.watched);
  if (!context.load || watched == nullptr || figure == nullptr) return;
  const bool restsFirst = context.idle && context.idle->endS <= context.load->startS + 1e-6;
  const double cooledK = restsFirst ? cooledAtRestK(viewOf(*watched, *context.idle)) : 0;
  const double moreK = surplusK(context, figures, *figure, *watched);
  const bool isWarm = moreK > std::max(kSurplusK, 0.12 * figure->overAmbientK.value_or(0));
  if (cooledK < kCooledAtRestK && !isWarm) return;
  add(problems, ProblemKind::StartedWarm, context.watched, {watched->t.front(), context.load->startS},
      cooledK >= kCooledAtRestK
          ? fmt::format(
                "{} was still falling at rest, by {:.1f} K: it had not cooled down from before, so rest longer.",
                context.watched, cooledK)
          : fmt::format("{} was about {:.0f} K warmer when the load began than rest accounts for: let it cool down "
                        "before a run.",
                        context.watched, moreK));
}

// Under load only what was told apart from the load under test can be judged.
void checkOthers(const RunContext& context, std::vector<Problem>& problems) {
  if (!context.load) return;
  const double other = meanIn(context, roles::kCpuLoadOther, *context.load);
  if (!(other > kBusyWithOthersPercent)) return;
  add(problems, ProblemKind::BackgroundLoad, roles::kCpuLoadOther, *context.load,
      fmt::format("Something else took {:.0f} % of the processor while it was under load: close it and repeat the run.",
                  other));
}

void checkFans(const RunContext& context, const Figures& figures, std::vector<Problem>& problems) {
  if (!context.window) return;
  for (const FanFigures& fan : figures.fans) {
    if (fan.heldConstant.value_or(true)) continue;
    add(problems, ProblemKind::FanMoved, fan.channel, context.window->span,
        fmt::format("{} did not hold its speed in the window, so the cooling changed while it was measured: {}.",
                    fan.channel,
                    fan.dutyHeld.value_or(false) ? "its duty held, so look after the fan" : "fix its duty"));
  }
}

}  // namespace

std::vector<Problem> findRunProblems(const RunContext& context, const Figures& figures) {
  std::vector<Problem> problems;
  checkRoom(context, problems);
  checkSettled(context, figures, problems);
  checkLoads(context, problems);
  checkLength(context, problems);
  checkRest(context, problems);
  checkRoomMoved(context, problems);
  checkStartedWarm(context, figures, problems);
  checkOthers(context, problems);
  checkFans(context, figures, problems);
  return problems;
}

}  // namespace ash
