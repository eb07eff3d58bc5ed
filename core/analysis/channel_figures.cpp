// SPDX-License-Identifier: GPL-3.0-or-later
// One channel: statistics of rest, load and window; over room, headroom, settled.
#include <cmath>

#include "analysis/context.h"
#include "model/role.h"

namespace ash {
namespace {

Series overRoomIn(const RunContext& context, const Series& temperature, const TimeSpan& span) {
  Series over = slice(temperature, span);
  for (size_t i = 0; i < over.size(); ++i) over.v[i] -= context.roomAt(over.t[i]);
  return over;
}

void addOverRoom(const RunContext& context, const Series& series, ChannelFigures& figures) {
  if (!context.window || !context.knowsRoom() || isRoomRole(figures.name)) return;
  const Stats over = statsOf(overRoomIn(context, series, context.window->span), figures.step);
  if (over.n == 0) return;
  figures.overAmbientK = over.mean;
  figures.overAmbientSeK = over.se;
}

void addHeadroom(const RunContext& context, ChannelFigures& figures) {
  figures.limit = throttleLimit(context.run.facts, figures.name);
  if (figures.limit && figures.window.n > 0) figures.headroomK = *figures.limit - figures.window.mean;
}

}  // namespace

std::optional<SettlingVerdict> settlingOf(const RunContext& context, const std::string& channel) {
  const Series* series = context.find(channel);
  if (series == nullptr || !context.load) return std::nullopt;
  const Series underLoad = slice(*series, *context.load);
  const auto step = context.step.find(channel);
  const bool isRoom = isRoomRole(channel);
  // The trend is looked at over a measure phase, else over the last fifth of the load: a window that begins where it
  // has settled is chosen so that its own trend is small.
  const bool isMeasured = context.window && context.window->reason == "measure phase";
  const double trendS = isMeasured ? context.window->span.lengthS() : 0.2 * context.load->lengthS();
  return judgeSettling(underLoad, isRoom ? Series() : slice(context.room, *context.load),
                       step == context.step.end() ? 0 : step->second, trendS);
}

ChannelFigures figuresOfChannel(const RunContext& context, const Channel& channel) {
  ChannelFigures figures;
  figures.name = channel.name;
  figures.quantity = channel.quantity;
  figures.unit = channel.unit;
  figures.step = context.step.at(channel.name);
  const Series& series = context.series.at(channel.name);
  if (context.idle) figures.idle = statsOf(slice(series, *context.idle), figures.step);
  if (context.load) figures.load = statsOf(slice(series, *context.load), figures.step);
  if (context.window) figures.window = statsOf(slice(series, context.window->span), figures.step);
  if (channel.quantity != Quantity::Temperature) return figures;
  addOverRoom(context, series, figures);
  addHeadroom(context, figures);
  figures.settled = settlingOf(context, channel.name).value_or(SettlingVerdict());
  return figures;
}

}  // namespace ash
