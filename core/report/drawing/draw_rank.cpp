// SPDX-License-Identifier: GPL-3.0-or-later
// Ranked setups: columns with foot, top and margin beside them, or bars one below the other.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/number_text.h"
#include "report/drawing/label_text.h"
#include "report/drawing/plots.h"
#include "report/drawing/ticks.h"

namespace ash {
namespace {

constexpr double kLeastPitchEm = 11, kMostPitchEm = 19, kAxisEm = 4;
constexpr size_t kNameLines = 2;

// Values along one direction, from zero.
struct Scale {
  double low = 0, high = 1e-9;
  double share(double value) const { return (std::clamp(value, low, high) - low) / (high - low); }
};

Scale scaleOf(const RankPlot& plot) {
  Scale scale;
  if (plot.asked) scale.high = std::max(scale.high, *plot.asked);
  for (const RankedSetup& setup : plot.setups) {
    for (const double value : {setup.value, setup.low, setup.high, setup.limit.value_or(kMissing)}) {
      if (!std::isfinite(value)) continue;
      scale.low = std::min(scale.low, value);
      scale.high = std::max(scale.high, value);
    }
  }
  scale.high += 0.04 * (scale.high - scale.low);
  return scale;
}

bool areColumns(const RankPlot& plot, const ChartSheet& sheet, double width) {
  return kAxisEm * sheet.font() + kLeastPitchEm * sheet.font() * static_cast<double>(plot.setups.size()) <= width;
}

std::string askedDashes(const ChartSheet& sheet) {
  return fmt::format("{:g} {:g}", 4 * sheet.line(), 3 * sheet.line());
}

// Figure, name and what stands beside the figure.
double captionsPx(const ChartSheet& sheet) { return sheet.rowPx() * (2.3 + static_cast<double>(kNameLines)); }

struct ColumnPlace {
  double x, foot, top, pitch;
  Scale scale;
  double wide() const { return 0.32 * pitch; }
  double y(double value) const { return foot - scale.share(value) * (foot - top); }
};

void drawColumn(const RankedSetup& setup, const ColumnPlace& place, ChartSheet& sheet) {
  const double em = sheet.font(), wide = place.wide(), x = place.x;
  const double zero = place.y(0), y = place.y(setup.value);
  sheet.rectangle({x + 0.25 * em, std::min(y, zero), wide - 0.5 * em, std::abs(zero - y)},
                  sheet.palette().setup(setup.setupIndex));
  if (setup.limit) {
    const double limit = place.y(*setup.limit);
    const std::string_view colour = setup.isAtLimit ? sheet.palette().ember : sheet.palette().axis;
    sheet.path(fmt::format("M{:.1f} {:.1f}V{:.1f}H{:.1f}V{:.1f}", x, zero, limit, x + wide, zero), colour,
               setup.isAtLimit ? 1.5 * sheet.line() : sheet.line());
  }
  sheet.line(x - 0.3 * em, zero, x + wide + 0.3 * em, zero, sheet.palette().ink, 1.3 * sheet.line());
  if (std::isfinite(setup.low) && std::isfinite(setup.high)) {
    const double at = x + wide + 0.7 * em, reach = 0.25 * em;
    sheet.path(fmt::format("M{0:.1f} {1:.1f}V{2:.1f}M{3:.1f} {1:.1f}H{4:.1f}M{3:.1f} {2:.1f}H{4:.1f}", at,
                           place.y(setup.low), place.y(setup.high), at - reach, at + reach),
               sheet.palette().ink, 0.7 * sheet.line());
  }
  double at = x + wide + 1.5 * em;
  for (const double repeat : setup.repeats) {
    if (at > x + place.pitch - em) break;
    Element dot = Element::svg("circle");
    dot.at("cx", at).at("cy", place.y(repeat)).at("r", 0.22 * em);
    sheet.add(dot.set("fill", sheet.palette().setup(setup.setupIndex)));
    at += 0.66 * em;
  }
}

void writeCaptions(const RankedSetup& setup, double x, double top, double room, ChartSheet& sheet) {
  const auto fitting = [&](const std::string& words) { return brokenLabel(words, sheet.font(), room, 1).front(); };
  double y = top + sheet.rowPx();
  sheet.write({x, y, Anchor::Start, fitting(setup.figure)}, sheet.strong());
  if (!setup.under.empty()) {
    y += sheet.rowPx();
    sheet.write({x, y, Anchor::Start, fitting(setup.under)}, setup.isAtLimit ? sheet.ember() : sheet.soft());
  }
  for (const std::string& line : brokenLabel(setup.label, sheet.font(), room, kNameLines)) {
    y += sheet.rowPx();
    sheet.write({x, y, Anchor::Start, line}, sheet.plain());
  }
}

void drawColumns(const RankPlot& plot, const LabelBox& room, ChartSheet& sheet) {
  const double em = sheet.font();
  const LabelBox all{room.x, room.y - em, room.width, room.height + em};
  const double pitch =
      std::min(kMostPitchEm * em, (room.width - kAxisEm * em) / static_cast<double>(plot.setups.size()));
  ColumnPlace place{0, room.y + room.height - captionsPx(sheet), room.y + 1.6 * em, pitch, scaleOf(plot)};
  const double left = room.x + kAxisEm * em;
  const std::vector<double> ticks = niceTicks(place.scale.low, place.scale.high, 4);
  for (const double tick : ticks) {
    const double y = place.y(tick);
    sheet.line(left, y, left + pitch * static_cast<double>(plot.setups.size()), y, sheet.palette().grid,
               0.6 * sheet.line());
    sheet.writeIfFree({left - 0.5 * em, y + 0.35 * em, Anchor::End, numberText(tick, digitsOfTicks(ticks))},
                      sheet.soft(), all);
  }
  sheet.writeIfFree({left, place.top - 0.7 * em, Anchor::Start, plot.unit}, sheet.soft(), all);
  double x = left + em;
  const double right = left + pitch * static_cast<double>(plot.setups.size());
  for (const RankedSetup& setup : plot.setups) {
    place.x = x;
    drawColumn(setup, place, sheet);
    writeCaptions(setup, x - 0.3 * em, place.foot, pitch - 0.9 * em, sheet);
    x += pitch;
  }
  if (!plot.asked) return;
  const double y = place.y(*plot.asked);
  sheet.path(fmt::format("M{:.1f} {:.1f}H{:.1f}", left, y, right), sheet.palette().ink, sheet.line(),
             askedDashes(sheet));
  sheet.writeIfFree({right, y - 0.4 * em, Anchor::End, plot.askedWords}, sheet.plain(), all);
}

// A name beside its bar where there is room for both, else above it.
struct BarForm {
  bool isNameBeside;
  double namePx, figurePx, rowPx;
};

BarForm barFormOf(const RankPlot& plot, const ChartSheet& sheet, double width) {
  const double em = sheet.font();
  constexpr double kBesideFromEm = 46;
  if (width < kBesideFromEm * em) return {false, 0, 0, 3.1 * em};
  double name = 8 * em, figure = 7 * em;
  for (const RankedSetup& setup : plot.setups) {
    name = std::max(name, widthAtMost(setup.label, em) + em);
    figure = std::max(figure, widthAtMost(setup.figure + " " + setup.under, em) + em);
  }
  return {true, std::min(name, 0.33 * width), std::min(figure, 0.28 * width), 2.3 * em};
}

struct BarPlace {
  double left, width;
  Scale scale;
  double x(double value) const { return left + scale.share(value) * width; }
};

void drawBar(const RankedSetup& setup, double middle, const BarPlace& place, ChartSheet& sheet) {
  const double half = 0.55 * sheet.font();
  const double zero = place.x(0), x = place.x(setup.value);
  sheet.rectangle({std::min(zero, x), middle - half, std::abs(x - zero), 2 * half},
                  sheet.palette().setup(setup.setupIndex));
  if (setup.limit)
    sheet.line(place.x(*setup.limit), middle - 1.35 * half, place.x(*setup.limit), middle + 1.35 * half,
               setup.isAtLimit ? sheet.palette().ember : sheet.palette().axis, 1.4 * sheet.line());
  if (std::isfinite(setup.low) && std::isfinite(setup.high)) {
    // Below the bar, where it can be told from it.
    const double y = middle + 1.25 * half, reach = 0.25 * half;
    sheet.path(fmt::format("M{0:.1f} {2:.1f}H{1:.1f}M{0:.1f} {3:.1f}V{4:.1f}M{1:.1f} {3:.1f}V{4:.1f}",
                           place.x(setup.low), place.x(setup.high), y, y - reach, y + reach),
               sheet.palette().ink, 0.8 * sheet.line());
  }
}

void writeRow(const RankedSetup& setup, const LabelBox& row, const BarForm& form, ChartSheet& sheet) {
  const double em = sheet.font();
  const ChartType figureType =
      setup.isAtLimit ? ChartType{em, std::string(sheet.palette().ember), true} : sheet.strong();
  const std::string figure = setup.under.empty() ? setup.figure : setup.figure + " " + setup.under;
  if (form.isNameBeside) {
    const double y = row.y + row.height / 2 + 0.35 * em;
    sheet.write({row.x, y, Anchor::Start, brokenLabel(setup.label, em, form.namePx - em, 1).front()}, sheet.plain());
    sheet.write({row.x + row.width, y, Anchor::End, brokenLabel(figure, em, form.figurePx - 0.5 * em, 1).front()},
                figureType);
    return;
  }
  const double y = row.y + 1.1 * em;
  // The figure whole, the name with what is left of the row.
  const std::string shown = brokenLabel(figure, em, 0.62 * row.width, 1).front();
  const double left = row.width - widthAtMost(shown, em) - em;
  sheet.write({row.x, y, Anchor::Start, brokenLabel(setup.label, em, left, 1).front()}, sheet.plain());
  sheet.write({row.x + row.width, y, Anchor::End, shown}, figureType);
}

void drawBars(const RankPlot& plot, const LabelBox& room, ChartSheet& sheet) {
  const double em = sheet.font();
  const BarForm form = barFormOf(plot, sheet, room.width);
  const double axisPx = 1.7 * em;
  const auto fit = static_cast<size_t>(std::max(1.0, (room.height - axisPx) / form.rowPx));
  // A picture of a given height holds so many, the last row says how many are not shown.
  const size_t shown = plot.setups.size() <= fit ? plot.setups.size() : std::max<size_t>(1, fit - 1);
  const BarPlace place{room.x + form.namePx, room.width - form.namePx - form.figurePx, scaleOf(plot)};
  const double foot = room.y + form.rowPx * static_cast<double>(shown);
  const std::vector<double> ticks =
      niceTicks(place.scale.low, place.scale.high, std::max(2, static_cast<int>(place.width / (7 * em))));
  const LabelBox all{room.x, room.y, room.width, room.height};
  // Before the ticks, of which the nearest makes room.
  if (plot.asked) {
    const double half = widthAtMost(plot.askedWords, em) / 2;
    const double x = std::min(place.x(*plot.asked), room.x + room.width - half);
    sheet.writeIfFree({std::max(x, room.x + half), foot + 1.2 * em, Anchor::Middle, plot.askedWords}, sheet.plain(),
                      all);
  }
  for (size_t i = 0; i < ticks.size(); ++i) {
    sheet.line(place.x(ticks[i]), room.y, place.x(ticks[i]), foot, sheet.palette().grid, 0.6 * sheet.line());
    const std::string number =
        numberText(ticks[i], digitsOfTicks(ticks)) + (i + 1 == ticks.size() ? " " + plot.unit : "");
    sheet.writeIfFree({place.x(ticks[i]), foot + 1.2 * em, i == 0 ? Anchor::Start : Anchor::Middle, number},
                      sheet.soft(), all);
  }
  for (size_t i = 0; i < shown; ++i) {
    const LabelBox row{room.x, room.y + form.rowPx * static_cast<double>(i), room.width, form.rowPx};
    const double middle = form.isNameBeside ? row.y + row.height / 2 : row.y + 2.05 * em;
    drawBar(plot.setups[i], middle, place, sheet);
    // Beside each bar, where no words are.
    if (plot.asked)
      sheet.path(fmt::format("M{:.1f} {:.1f}V{:.1f}", place.x(*plot.asked), middle - 0.75 * em, middle + 0.75 * em),
                 sheet.palette().ink, 1.3 * sheet.line(), askedDashes(sheet));
    writeRow(plot.setups[i], row, form, sheet);
  }
  if (shown < plot.setups.size())
    sheet.writeIfFree(
        {room.x + room.width, foot + axisPx + em, Anchor::End, fmt::format("and {} more", plot.setups.size() - shown)},
        sheet.soft(), all);
}

}  // namespace

double rankHeight(const RankPlot& plot, const ChartSheet& sheet, double width) {
  if (areColumns(plot, sheet, width)) return sheet.look().info().plotPx + captionsPx(sheet) - 2 * sheet.rowPx();
  return barFormOf(plot, sheet, width).rowPx * static_cast<double>(plot.setups.size()) + 2 * sheet.font();
}

void drawRank(const RankPlot& plot, const LabelBox& room, ChartSheet& sheet) {
  if (areColumns(plot, sheet, room.width))
    drawColumns(plot, room, sheet);
  else
    drawBars(plot, room, sheet);
}

}  // namespace ash
