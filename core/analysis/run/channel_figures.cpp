// SPDX-License-Identifier: GPL-3.0-or-later
// One channel: statistics of rest, load and window; over room, headroom, settled.
#include <cmath>

#include "analysis/run/channel_figures.h"
#include "analysis/run/worked_device.h"
#include "model/role.h"

namespace ash {
namespace {

Series overRoomIn(const RunContext& context, const SeriesView& temperature, const TimeSpan& span) {
  Series over = slice(temperature, span);
  if (context.room.empty()) {
    for (double& value : over.v) value -= context.statedRoomC.value_or(kMissing);
    return over;
  }
  const std::vector<double> room = interpolateAt(context.room, over.t);
  for (size_t i = 0; i < over.size(); ++i) over.v[i] -= room[i];
  return over;
}

void addOverRoom(const RunContext& context, const SeriesView& series, ChannelFigures& figures) {
  if (!context.window || !context.knowsRoom() || Role(figures.name).isRoom()) return;
  const Stats over = statsOf(overRoomIn(context, series, context.window->span), figures.step);
  if (over.n == 0) return;
  figures.overAmbientK = over.mean;
  figures.overAmbientSeK = over.se;
}

void addHeadroom(const RunContext& context, ChannelFigures& figures) {
  figures.limit = throttleLimit(context.run.facts, figures.name);
  if (figures.limit && figures.window.n > 0) figures.headroomK = *figures.limit - figures.window.mean;
}

// The power that warms what a temperature is taken of: its own device's, else that of the whole machine.
SeriesView powerBehind(const RunContext& context, const std::string& channel) {
  const Role own(Role(channel).device(), Quantity::Power);
  for (const Role& name :
       {own, Role(roles::kWallPower), Role(roles::kCpuPower), Role(roles::kBatteryPower), Role(roles::kGpuPower)}) {
    if (const SeriesView* power = context.find(name.text())) return *power;
  }
  return {};
}

// What the device of a temperature delivers.
std::vector<Delivered> deliveredBy(const RunContext& context, const std::string& channel) {
  const Device device = Role(channel).device();
  std::vector<Delivered> delivered;
  for (const Role& role : deliveredRoles(device, workRoleOf(context, device))) {
    const SeriesView* readings = context.find(role.text());
    if (readings != nullptr) delivered.push_back({role.text(), *readings, role.quantity() == Quantity::Power});
  }
  return delivered;
}

}  // namespace

std::optional<SettlingVerdict> settlingOf(const RunContext& context, const std::string& channel) {
  const SeriesView* series = context.find(channel);
  if (series == nullptr || !context.load) return std::nullopt;
  SettlingQuestion question;
  question.temperature = *series;
  question.load = *context.load;
  if (!Role(channel).isRoom()) {
    question.room = context.room;
    question.power = powerBehind(context, channel);
    question.busy = context.busy;
  }
  const auto step = context.step.find(channel);
  question.stepK = step == context.step.end() ? 0 : step->second;
  if (const auto limit = throttleLimit(context.run.facts, channel))
    question.governed = governedSpan(*series, *context.load, *limit, question.stepK);
  if (question.governed) question.delivered = deliveredBy(context, channel);
  // The trend is looked at over a measure phase, else over the last fifth of the load: a window that begins where it
  // has settled is chosen so that its own trend is small.
  const bool isMeasured = context.window && context.window->isMeasurePhase();
  question.trendS = isMeasured ? context.window->span.lengthS() : trendLength(*context.load);
  if (isMeasured) question.askedBeforeS = context.window->span.startS;
  return judgeSettling(question);
}

ChannelFigures figuresOfChannel(const RunContext& context, const Channel& channel) {
  ChannelFigures figures;
  figures.name = channel.name;
  figures.quantity = channel.quantity;
  figures.unit = channel.unit;
  figures.step = context.step.at(channel.name);
  const SeriesView& series = context.series.at(channel.name);
  if (context.idle) figures.idle = statsOf(viewOf(series, *context.idle), figures.step);
  if (context.load) figures.load = statsOf(viewOf(series, *context.load), figures.step);
  if (context.window) figures.window = statsOf(viewOf(series, context.window->span), figures.step);
  if (channel.quantity != Quantity::Temperature) return figures;
  addOverRoom(context, series, figures);
  addHeadroom(context, figures);
  // A measure phase asks for the trend over itself.
  const bool isJudged =
      channel.name == context.watched && context.watchedVerdict && context.window && !context.window->isMeasurePhase();
  figures.settled = isJudged ? context.watchedVerdict : settlingOf(context, channel.name);
  if (!figures.settled) figures.settled.emplace();
  return figures;
}

}  // namespace ash
