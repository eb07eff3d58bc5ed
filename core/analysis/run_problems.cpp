// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with the run: too short, not settled, other work, a fan that moved, no room.
#include <fmt/format.h>

#include <cmath>

#include "analysis/context.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kShortestLoadS = 60;
constexpr double kBusyAtRestPercent = 15;
constexpr double kBusyWithOthersPercent = 5;

void add(std::vector<Problem>& problems, std::string kind, std::string channel, const TimeSpan& span,
         std::string text) {
  problems.push_back({std::move(kind), std::move(channel), span.startS, span.endS, std::move(text)});
}

void checkRoom(const RunContext& context, std::vector<Problem>& problems) {
  const bool anyTemperature = !context.watched.empty();
  if (!anyTemperature || context.knowsRoom()) return;
  problems.push_back({"missing_room", "room.temp", kMissing, kMissing,
                      "The room temperature was neither logged nor stated, so no figure over room can be given."});
}

void checkSettled(const RunContext& context, const Figures& figures, std::vector<Problem>& problems) {
  const ChannelFigures* watched = figures.channel(context.watched);
  if (!context.load || watched == nullptr || !watched->settled || watched->settled->isSettled) return;
  const SettlingVerdict& verdict = *watched->settled;
  const std::string forecast = std::isfinite(verdict.forecast)
                                   ? fmt::format("; the forecast is {:.1f} °C ({:.1f} to {:.1f})", verdict.forecast,
                                                 verdict.forecastLow, verdict.forecastHigh)
                                   : std::string();
  add(problems, "not_settled", context.watched, *context.load,
      fmt::format("{} had not settled when the load ended{}.", context.watched, forecast));
}

void checkLength(const RunContext& context, std::vector<Problem>& problems) {
  if (!context.load || context.load->lengthS() >= kShortestLoadS) return;
  add(problems, "short_run", "", *context.load,
      fmt::format("The load lasted {:.0f} s only; less than {:.0f} s says little.", context.load->lengthS(),
                  kShortestLoadS));
}

void checkRest(const RunContext& context, std::vector<Problem>& problems) {
  if (!context.idle) return;
  const double load = meanIn(context, "cpu.load", *context.idle);
  if (!(load > kBusyAtRestPercent)) return;
  add(problems, "background_load", "cpu.load", *context.idle,
      fmt::format("The processor was {:.0f} % busy during rest: something else was running.", load));
}

// Under load only what was told apart from the load under test can be judged.
void checkOthers(const RunContext& context, std::vector<Problem>& problems) {
  if (!context.load) return;
  const double other = meanIn(context, "cpu.load.other", *context.load);
  if (!(other > kBusyWithOthersPercent)) return;
  add(problems, "background_load", "cpu.load.other", *context.load,
      fmt::format("Something else took {:.0f} % of the processor while it was under load.", other));
}

void checkFans(const RunContext& context, const Figures& figures, std::vector<Problem>& problems) {
  if (!context.window) return;
  for (const FanFigures& fan : figures.fans) {
    if (fan.heldConstant.value_or(true)) continue;
    add(problems, "fan_moved", fan.channel, context.window->span,
        fmt::format("{} did not hold its speed in the window, so the cooling changed while it was measured.",
                    fan.channel));
  }
}

}  // namespace

std::vector<Problem> findRunProblems(const RunContext& context, const Figures& figures) {
  std::vector<Problem> problems;
  checkRoom(context, problems);
  checkSettled(context, figures, problems);
  checkLength(context, problems);
  checkRest(context, problems);
  checkOthers(context, problems);
  checkFans(context, figures, problems);
  return problems;
}

}  // namespace ash
