// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/drawing/svg_chart.h"

#include <fmt/format.h>

#include <algorithm>

#include "report/drawing/chart_sheet.h"
#include "report/drawing/label_text.h"
#include "report/drawing/plots.h"

namespace ash {
namespace {

constexpr double kBesideEm = 0.6, kTitleRowEm = 1.25, kSmall = 0.85, kBoldIsWider = 1.06;
constexpr size_t kTitleLines = 3, kWhatLines = 2, kSourceLines = 3;

// Head and foot, broken into lines.
struct Frame {
  std::vector<std::string> title, what, source;
  double besidePx, headPx, footPx;
};

Frame frameOf(const Chart& chart, const ChartLook& look) {
  const ChartSizeInfo& info = look.info();
  const double beside = look.hasPaper ? 2 * kBesideEm * info.fontPx : kBesideEm * info.fontPx;
  const double width = info.widthPx - 2 * beside;
  const auto lines = [&](const std::string& words, double px, size_t most) {
    return words.empty() ? std::vector<std::string>() : brokenLabel(words, px, width, most);
  };
  Frame frame{lines(chart.finding, kBoldIsWider * info.titlePx, kTitleLines),
              lines(chart.what, info.fontPx, kWhatLines),
              lines(chart.source, kSmall * info.fontPx, kSourceLines),
              beside,
              0,
              0};
  const double above = look.hasPaper ? kBesideEm * info.fontPx : 0;
  frame.headPx = above + kTitleRowEm * info.titlePx * static_cast<double>(frame.title.size()) +
                 1.3 * info.fontPx * static_cast<double>(frame.what.size()) + 0.6 * info.fontPx;
  frame.footPx = (frame.source.empty() ? 0 : 0.5 * info.fontPx) +
                 1.3 * kSmall * info.fontPx * static_cast<double>(frame.source.size()) + 0.5 * info.fontPx + above;
  return frame;
}

void writeHead(const Frame& frame, ChartSheet& sheet) {
  const ChartSizeInfo& info = sheet.look().info();
  double y = sheet.look().hasPaper ? kBesideEm * info.fontPx : 0;
  for (const std::string& line : frame.title) {
    y += kTitleRowEm * info.titlePx;
    sheet.write({frame.besidePx, y - 0.25 * info.titlePx, Anchor::Start, line},
                {info.titlePx, std::string(sheet.palette().ink), true});
  }
  for (const std::string& line : frame.what) {
    y += 1.3 * info.fontPx;
    sheet.write({frame.besidePx, y - 0.25 * info.fontPx, Anchor::Start, line}, sheet.soft());
  }
}

void writeFoot(const Frame& frame, double height, ChartSheet& sheet) {
  const double small = kSmall * sheet.font();
  double y = height - frame.footPx + 0.5 * sheet.font();
  for (const std::string& line : frame.source) {
    y += 1.3 * small;
    sheet.write({frame.besidePx, y - 0.25 * small, Anchor::Start, line}, {small, std::string(sheet.palette().soft)});
  }
}

}  // namespace

Element svgPicture(double width, double height, const std::string& spoken) {
  Element svg = Element::svg("svg");
  svg.set("viewBox", fmt::format("0 0 {:.0f} {:.0f}", width, height)).set("role", "img").set("aria-label", spoken);
  return std::move(svg.set("xmlns", "http://www.w3.org/2000/svg").lineEnd());
}

Markup svgChart(const Chart& chart, const ChartLook& look) {
  ChartSheet sheet(look);
  const ChartSizeInfo& info = look.info();
  const Frame frame = frameOf(chart, look);
  const double width = info.widthPx - 2 * frame.besidePx;
  const auto* rank = std::get_if<RankPlot>(&chart.plot);
  const auto* plane = std::get_if<PlanePlot>(&chart.plot);
  const double plotPx = info.heightPx > 0 ? info.heightPx - frame.headPx - frame.footPx
                        : rank != nullptr ? rankHeight(*rank, sheet, width)
                                          : planeHeight(*plane, sheet, width);
  const double height = frame.headPx + plotPx + frame.footPx;
  if (look.hasPaper) sheet.rectangle({0, 0, info.widthPx, height + 1}, look.palette().paper);
  writeHead(frame, sheet);
  const LabelBox room{frame.besidePx, frame.headPx, width, plotPx};
  if (rank != nullptr) drawRank(*rank, room, sheet);
  if (plane != nullptr) drawPlane(*plane, room, sheet);
  writeFoot(frame, height, sheet);
  Element svg = svgPicture(info.widthPx, height, chart.spoken.empty() ? chart.finding : chart.spoken);
  svg.set("id", "chart-" + chart.id + look.suffix());
  if (look.hasPaper) {
    // What a program shows it at that asks the file.
    svg.set("width", fmt::format("{:.0f}", info.widthPx)).set("height", fmt::format("{:.0f}", height));
  }
  return svg.add(sheet.drawn()).whole().lineEnd();
}

}  // namespace ash
