// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/lane.h"
#include "app/look/words.h"

#include <qcustomplot.h>

#include <algorithm>
#include <cmath>

#include "analysis/comparison/overlay.h"
#include "analysis/series/thinning.h"
#include "app/look/lane_frame.h"
#include "app/look/theme.h"
#include "app/watch/live_model.h"
#include "app/watch/watch_words.h"
#include "model/label_places.h"
#include "model/number_text.h"
#include "model/role.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
Lane::Lane(QCustomPlot* plot, QCPAxisRect* rect, LaneSpec spec, bool isLowest)
    : m_plot(plot), m_rect(rect), m_spec(std::move(spec)), m_isLowest(isLowest) {
  const bool isTall = m_spec.kind == LaneKind::Temperature;
  look::dressLane(rect, QMargins(px(116), isTall ? px(24) : px(6), px(118), isLowest ? px(24) : px(6)), isTall ? 5 : 2,
                  QStringLiteral("%m:%s"), isLowest);
  m_earlier = plot->addGraph(rect->axis(QCPAxis::atBottom), rect->axis(QCPAxis::atLeft));
  m_earlier->setPen(QPen(theme().strongLine, 2));
  for (const LaneLine& line : m_spec.lines) {
    QCPGraph* graph = plot->addGraph(rect->axis(QCPAxis::atBottom), rect->axis(QCPAxis::atLeft));
    graph->setPen(line.pen);
    graph->setAdaptiveSampling(true);
    // Dashes along a noisy line are what drawing spends its time on; without smoothing they cost a fraction.
    graph->setAntialiased(line.pen.style() == Qt::SolidLine);
    m_graphs.push_back(graph);
  }
  if (m_spec.kind != LaneKind::Clock) return;
  m_shouldHold = plot->addGraph(rect->axis(QCPAxis::atBottom), rect->axis(QCPAxis::atLeft));
  m_shouldHold->setPen(QPen(theme().ink, 1));
  m_held = plot->addGraph(rect->axis(QCPAxis::atBottom), rect->axis(QCPAxis::atLeft));
  m_held->setPen(Qt::NoPen);
}

Series Lane::shownSeries(const LiveModel& model, const LaneLine& line, double zeroS) const {
  // Two readings per pixel are all that can be seen; more of them only cost time on the interface's thread.
  Series series = lowestAndHighest(model.series(line.column), static_cast<size_t>(std::max(200, m_rect->width())));
  const Series& room = model.series(roles::kRoom);
  for (size_t i = 0; i < series.size(); ++i) {
    if (m_spec.isOverRoom) series.v[i] -= interpolate(room, series.t[i]);
    series.v[i] *= m_spec.factor;
    series.t[i] -= zeroS;
  }
  return series;
}

// Where the data lies: for clock, power and work that is the load after its boost, so that a loss of 3 % is seen.
Lane::ValueRange Lane::rangeOf(const LiveModel& model, const std::vector<Series>& series, double) const {
  const bool isLoadOnly = m_spec.kind == LaneKind::Clock || m_spec.kind == LaneKind::Work;
  const auto load = model.loadStartS();
  double low = INFINITY, high = -INFINITY;
  const auto include = [&](double fromS, double toS) {
    for (const Series& line : series) {
      for (size_t i = 0; i < line.size(); ++i) {
        if (line.t[i] < fromS || line.t[i] > toS) continue;
        low = std::min(low, line.v[i]);
        high = std::max(high, line.v[i]);
      }
    }
  };
  if (isLoadOnly && load) {
    double endS = INFINITY;
    for (const PhaseSpan& phase : model.phases()) {
      if (phase.kind == PhaseKind::Cool) endS = std::min(endS, phase.startS - *load - 1);
    }
    include(40, endS);
  }
  if (!(high >= low)) include(-INFINITY, INFINITY);
  if (!(high >= low)) return {};
  if (m_spec.kind == LaneKind::Temperature) {
    high = std::max(high, shownLimit(model).value_or(high));
    low = std::min(low, m_spec.isOverRoom ? 0.0 : low);
  }
  const double least = isLoadOnly ? 0.04 * std::abs(high) : m_spec.kind == LaneKind::Fans ? 0.2 * std::abs(high) : 2;
  const double extra = std::max(0.08 * (high - low), (least - (high - low)) / 2);
  return {low - std::max(extra, 1e-6), high + std::max(extra, 1e-6)};
}

void Lane::addText(double xPx, double yRatio, const QString& words, int alignment, const QColor& colour, double sizePx,
                   bool isBold) {
  auto* item = new QCPItemText(m_plot);
  item->setClipToAxisRect(false);
  item->position->setTypeX(QCPItemPosition::ptAbsolute);
  item->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
  item->position->setAxisRect(m_rect);
  item->position->setCoords(xPx, yRatio);
  item->setPositionAlignment(static_cast<Qt::Alignment>(alignment));
  item->setText(words);
  item->setColor(colour);
  item->setFont(look::font(sizePx, isBold ? QFont::DemiBold : QFont::Normal));
  item->setLayer(QStringLiteral("overlay"));
  m_items.push_back(item);
}

void Lane::addRect(double x0, double y0, double x1, double y1, const QColor& fill, bool isRatioY) {
  auto* item = new QCPItemRect(m_plot);
  for (QCPItemPosition* corner : {item->topLeft, item->bottomRight}) {
    corner->setTypeX(QCPItemPosition::ptPlotCoords);
    corner->setTypeY(isRatioY ? QCPItemPosition::ptAxisRectRatio : QCPItemPosition::ptPlotCoords);
    corner->setAxes(m_rect->axis(QCPAxis::atBottom), m_rect->axis(QCPAxis::atLeft));
    corner->setAxisRect(m_rect);
  }
  item->topLeft->setCoords(x0, y0);
  item->bottomRight->setCoords(x1, y1);
  item->setClipAxisRect(m_rect);
  item->setPen(Qt::NoPen);
  item->setBrush(fill);
  item->setLayer(QStringLiteral("grid"));  // above the lane's ground, below its lines
  m_items.push_back(item);
}

void Lane::addVertical(double x, const QPen& pen) {
  auto* item = new QCPItemLine(m_plot);
  for (QCPItemPosition* end : {item->start, item->end}) {
    end->setTypeX(QCPItemPosition::ptPlotCoords);
    end->setTypeY(QCPItemPosition::ptAxisRectRatio);
    end->setAxes(m_rect->axis(QCPAxis::atBottom), m_rect->axis(QCPAxis::atLeft));
    end->setAxisRect(m_rect);
  }
  item->start->setCoords(x, 0);
  item->end->setCoords(x, 1);
  item->setClipAxisRect(m_rect);
  item->setPen(pen);
  m_items.push_back(item);
}

// An earlier repeat of the same cell in neutral grey, aligned by load start.
void Lane::drawEarlier(const LiveModel& model) {
  const AnalyzedRun* run = model.earlier();
  if (run == nullptr || !model.loadStartS()) return m_earlier->data()->clear();
  const std::string column = m_spec.kind == LaneKind::Temperature ? model.info().watched : m_spec.lines.front().column;
  const Scale scale = m_spec.isOverRoom ? Scale::OverRoom : Scale::Celsius;
  const Series series = lowestAndHighest(tracedSeries(*run, column, Align::LoadStart, scale, 5), 400);
  QVector<double> values;
  for (const double value : series.v) values << value * m_spec.factor;
  m_earlier->setData(QVector<double>(series.t.begin(), series.t.end()), values, true);
}

void Lane::drawPhases(const LiveModel& model, const Frame& frame) {
  const auto& t = theme();
  for (const PhaseSpan& phase : model.phases()) {
    const double x0 = phase.startS - frame.zeroS;
    const double x1 = std::min(phase.endS - frame.zeroS, frame.lastS);
    if (phase.kind == PhaseKind::Idle) addRect(x0, 0, x1, 1, t.shade2, true);
    if (phase.kind == PhaseKind::Measure || phase.kind == PhaseKind::Cool) addRect(x0, 0, x1, 1, t.shade, true);
    if (!frame.isFirst || phase.startS > model.lastTimeS()) continue;
    const double pixel = m_rect->axis(QCPAxis::atBottom)->coordToPixel(x0) + px(4);
    const double room = m_rect->axis(QCPAxis::atBottom)->coordToPixel(x1) - pixel;
    if (room > px(44))
      addText(pixel, 0.985, phaseTitle(phase.kind).toLower(), Qt::AlignLeft | Qt::AlignBottom, t.softInk, 12, false);
  }
}

// The watched device's throttle limit where this lane can show it.
std::optional<double> Lane::shownLimit(const LiveModel& model) const {
  const auto limit = model.limit(model.info().watched, "throttle");
  const double foot = m_spec.isOverRoom ? model.roomC() : 0;
  if (m_spec.kind != LaneKind::Temperature || !limit || !std::isfinite(foot)) return std::nullopt;
  return *limit - foot;
}

void Lane::drawLimit(const LiveModel& model, const ValueRange& range) {
  const auto limit = shownLimit(model);
  if (!limit || *limit > range.high || *limit < range.low) return;
  const auto& t = theme();
  const double y = *limit;
  const bool wasReached = model.highest(model.info().watched) >= *model.limit(model.info().watched, "throttle") - 1.5;
  addRect(-1e9, y + (range.high - range.low) * (wasReached ? 0.005 : 0.002), 1e9,
          y - (range.high - range.low) * (wasReached ? 0.005 : 0.002), wasReached ? t.ember : t.softInk, false);
}

void Lane::drawForecast(const LiveModel& model, const Frame& frame) {
  const auto& state = model.state();
  if (m_spec.kind != LaneKind::Temperature || !model.isGoingOn() || !state || !std::isfinite(state->forecast.value) ||
      isPinned(model))
    return;
  const double foot = m_spec.isOverRoom ? model.roomC() : 0;
  const double x = model.lastTimeS() - frame.zeroS;
  const QColor tint = theme().seriesTint(model.info().setupIndex);
  addRect(x, state->forecast.high - foot, frame.lastS, state->forecast.low - foot, tint, false);
  const double half = m_rect->axis(QCPAxis::atLeft)->range().size() * 0.002;
  addRect(x, state->forecast.value - foot + half, frame.lastS, state->forecast.value - foot - half,
          theme().series(model.info().setupIndex), false);
}

// The gap from the clock it should hold down to the one it held, in the pattern of its cause.
void Lane::drawThrottling(const LiveModel& model, const Frame& frame, const Series& clock) {
  if (m_spec.kind != LaneKind::Clock) return;
  const auto& t = theme();
  QVector<double> times, should, held;
  Cause worst = Cause::Unknown;
  bool isPlanned = false;
  double shouldMhz = kMissing;
  for (const Throttling& throttling : model.throttling()) {
    if (throttling.device != Device(DeviceKind::Cpu)) continue;
    shouldMhz = throttling.referenceMhz;
    for (const ThrottleInterval& interval : throttling.intervals) {
      // A power limit that the plan itself sets is what the clock should hold at.
      if (interval.isPlanned && interval.span.lengthS() > 20) {
        shouldMhz = throttling.referenceMhz - interval.depthMhz;
        isPlanned = true;
      }
    }
    for (const ThrottleInterval& interval : throttling.intervals) {
      if (interval.isPlanned) continue;
      if (interval.cause == Cause::Thermal)
        worst = Cause::Thermal;
      else if (worst != Cause::Thermal)
        worst = interval.cause;
      const Series part = slice(clock, {interval.span.startS - frame.zeroS, interval.span.endS - frame.zeroS});
      for (size_t i = 0; i < part.size(); ++i) {
        times << part.t[i];
        should << shouldMhz * m_spec.factor;
        held << std::min(part.v[i], shouldMhz * m_spec.factor);
      }
      if (!times.isEmpty()) {
        times << times.back() + 1e-6;
        should << qQNaN();
        held << qQNaN();
      }
    }
  }
  m_held->setData(times, held);
  QCPGraph* line = m_shouldHold;
  line->setData(times, should);
  line->setChannelFillGraph(m_held);
  const Qt::BrushStyle pattern = worst == Cause::Thermal ? Qt::SolidPattern
                                 : worst == Cause::Power ? Qt::BDiagPattern
                                 : worst == Cause::Other ? Qt::Dense5Pattern
                                                         : Qt::NoBrush;
  line->setBrush(QBrush(worst == Cause::Thermal ? t.ember : t.softInk, pattern));
  if (isPlanned && m_rect->width() >= px(200))  // beside the highest value
    addText(m_rect->right() - px(6), 0.04, QObject::tr("at set power"), Qt::AlignRight | Qt::AlignTop, t.softInk, 12,
            false);
}

void Lane::drawEvents(const LiveModel& model, const Frame& frame) {
  const auto& t = theme();
  double freeFrom = 0;
  for (const Event& event : model.events()) {
    if (!std::isfinite(event.atS)) continue;
    const double x = event.atS - frame.zeroS;
    if (event.kind == EventKind::Rule) addVertical(x, QPen(t.ember, 2));
    if (event.kind != EventKind::Note && event.kind != EventKind::Reading) continue;
    addVertical(x, QPen(t.softInk, 1, Qt::DotLine));
    if (!frame.isFirst) continue;
    const double pixel = std::max(freeFrom, m_rect->axis(QCPAxis::atBottom)->coordToPixel(x));
    QString words = text(event.text);
    if (words.size() > 18) words = words.left(17) + QStringLiteral("…");
    addText(pixel, 0, words, Qt::AlignLeft | Qt::AlignBottom, t.ink, 12, false);
    freeFrom = pixel + QFontMetrics(look::font(12)).horizontalAdvance(words) + px(12);
  }
}

void Lane::drawOutside(const std::vector<Series>& series, const ValueRange& range) {
  double top = -INFINITY, bottom = INFINITY;
  for (const Series& line : series) {
    for (const double value : line.v) {
      top = std::max(top, value);
      bottom = std::min(bottom, value);
    }
  }
  const double left = m_rect->left() + px(4);
  if (top > range.high)
    addText(left, 0.04, QStringLiteral("↑ ") + text(numberText(top, m_spec.digits)), Qt::AlignLeft | Qt::AlignTop,
            theme().softInk, 12, false);
  if (bottom < range.low)
    addText(left, 0.96, QStringLiteral("↓ ") + text(numberText(bottom, m_spec.digits)), Qt::AlignLeft | Qt::AlignBottom,
            theme().softInk, 12, false);
}

// Names and last values at the ends of the lines, pushed apart where they would lie on each other.
void Lane::drawLabels(const LiveModel& model, const std::vector<Series>& series, const ValueRange& range) {
  const auto& t = theme();
  addText(px(16), 0, m_spec.title, Qt::AlignLeft | Qt::AlignTop, t.ink, 13, true);
  const double unitRatio = static_cast<double>(px(17)) / std::max(1, m_rect->height());
  addText(px(16), unitRatio, m_spec.unit, Qt::AlignLeft | Qt::AlignTop, t.softInk, 12, false);
  if (m_isLowest) {
    const double below = 1 + static_cast<double>(px(5)) / std::max(1, m_rect->height());
    addText(px(16), below, QObject::tr("from load on"), Qt::AlignLeft | Qt::AlignTop, t.softInk, 12, false);
  }
  struct Label {
    double y;
    QString words;
    bool isWatched;
    bool isSoft;
  };
  std::vector<Label> labels;
  const auto place = [&](double value) {
    return std::clamp((range.high - value) / (range.high - range.low), 0.0, 1.0);
  };
  if (const auto limit = shownLimit(model)) {
    const std::string degrees = withUnit(*model.limit(model.info().watched, "throttle"), 0, "°C");
    labels.push_back({place(*limit), QObject::tr("limit %1").arg(text(degrees)), false, true});
  }
  for (size_t i = 0; i < series.size(); ++i) {
    if (series[i].empty()) continue;
    const double last = series[i].v.back();
    labels.push_back({place(last), m_spec.lines[i].label + QStringLiteral(" ") + text(numberText(last, m_spec.digits)),
                      m_spec.lines[i].column == model.info().watched, false});
  }
  std::sort(labels.begin(), labels.end(), [](const Label& a, const Label& b) { return a.y < b.y; });
  const double apart = static_cast<double>(px(14)) / std::max(1, m_rect->height());
  std::vector<double> places;
  for (const Label& label : labels) places.push_back(label.y);
  spreadApart(places, apart, 0, 1);  // those of the next lane begin below
  for (size_t i = 0; i < labels.size(); ++i) {
    const Label& label = labels[i];
    addText(m_rect->right() + px(8), places[i], label.words, Qt::AlignLeft | Qt::AlignVCenter,
            label.isSoft ? t.softInk : t.ink, 12, label.isWatched);
  }
}

void Lane::drawNow(const LiveModel& model, const Frame& frame) {
  if (model.isGoingOn()) addVertical(model.lastTimeS() - frame.zeroS, QPen(theme().ink, 1));
}

void Lane::refresh(const LiveModel& model, const Frame& frame) {
  for (QCPAbstractItem* item : m_items) m_plot->removeItem(item);
  m_items.clear();
  std::vector<Series> series;
  for (size_t i = 0; i < m_spec.lines.size(); ++i) {
    series.push_back(shownSeries(model, m_spec.lines[i], frame.zeroS));
    m_graphs[i]->setData(QVector<double>(series[i].t.begin(), series[i].t.end()),
                         QVector<double>(series[i].v.begin(), series[i].v.end()), true);
  }
  const ValueRange range = rangeOf(model, series, frame.zeroS);
  m_rect->axis(QCPAxis::atLeft)->setRange(range.low, range.high);
  m_rect->axis(QCPAxis::atBottom)->setRange(frame.firstS, frame.lastS);
  drawEarlier(model);
  drawPhases(model, frame);
  drawForecast(model, frame);
  drawLimit(model, range);
  if (!series.empty()) drawThrottling(model, frame, series.front());
  drawEvents(model, frame);
  drawOutside(series, range);
  drawLabels(model, series, range);
  drawNow(model, frame);
}

}  // namespace ash
