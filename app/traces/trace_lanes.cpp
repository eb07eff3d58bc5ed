// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/traces/trace_lanes.h"

#include <fmt/format.h>
#include <qcustomplot.h>

#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <utility>

#include "analysis/series/thinning.h"
#include "app/look/lane_frame.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kLanesLeft = 128, kLanesRight = 200;

QString scaleTitle(Scale scale) {
  return scale == Scale::Celsius    ? QObject::tr("Temperature")
         : scale == Scale::OverRoom ? QObject::tr("Over room")
                                    : QObject::tr("Headroom");
}

}  // namespace

TraceLanes::TraceLanes(QWidget* parent) : QWidget(parent), m_plot(new QCustomPlot(this)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(m_plot);
  setFocusPolicy(Qt::StrongFocus);
  setObjectName(QStringLiteral("trace-lanes"));
  setAccessibleName(tr("Lanes with the chosen runs laid over each other"));
  setToolTip(
      tr("Move the mouse to read all runs at a moment; the wheel zooms, dragging moves, a double click shows all. By "
         "keyboard: arrows move the cursor, + and − zoom, 0 shows all, P opens the "
         "picture nearest to the cursor. Lanes are fitted to what is shown; H holds their scale."));
  m_plot->setBackground(QBrush(theme().ground));
  m_plot->setFocusPolicy(Qt::NoFocus);
  m_plot->setPlottingHint(QCP::phFastPolylines, true);
  m_plot->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
  m_plot->setMinimumSize(px(200), px(80));
  m_plot->plotLayout()->clear();
  m_plot->plotLayout()->setRowSpacing(0);
  connect(m_plot, &QCustomPlot::mouseMove, this, [this](QMouseEvent* event) {
    setCursor(timeAt(event->position().x()));
    const Flag* flag = flagAt(event->position());
    m_plot->setToolTip(flag == nullptr ? QString() : flag->words);
    m_plot->QWidget::setCursor(flag == nullptr ? Qt::ArrowCursor : Qt::PointingHandCursor);
  });
  connect(m_plot, &QCustomPlot::mouseDoubleClick, this, &TraceLanes::resetRange);
  connect(m_plot, &QCustomPlot::mousePress, this, [this](QMouseEvent* event) {
    setFocus();
    if (const Flag* flag = flagAt(event->position())) emit flagPressed(flag->id);
  });
}

std::vector<TraceLanes::LaneSpec> TraceLanes::specs() const {
  std::vector<LaneSpec> all;
  if (!m_report || m_groups.empty()) return all;
  const std::string watched = m_groups.front().runs.front()->figures.watched;
  const Device device = Role(watched).device();
  const QString unit = m_choice.scale == Scale::Celsius ? QStringLiteral("°C") : QStringLiteral("K");
  const QString name = text(Role(watched).shortName());
  all.push_back({scaleTitle(m_choice.scale), unit + QStringLiteral(", ") + name, watched, 1, 1, 200, false});
  if (!m_choice.subtract.empty())
    all.push_back({tr("Difference"), tr("K, to %1").arg(text(m_choice.subtract)), watched, 1, 1, 130, true});
  all.push_back({tr("Clock"), tr("GHz, %1").arg(name), Role(device, Quantity::Clock).text(), 1e-3, 2, 90, false});
  all.push_back({tr("Power"), tr("W, %1").arg(name), Role(device, Quantity::Power).text(), 1, 1, 64, false});
  for (const QString& lane : m_choice.lanes) {
    const Role role(lane.toStdString());
    const QString laneUnit = role.isLoadedTemperature() ? unit : text(std::string(unitOf(role.quantity())));
    all.push_back({text(role.title()), laneUnit, role.text(), 1, 1, 70, false});
  }
  return all;
}

// Those of which a run has readings, with what is drawn of each group.
std::vector<std::pair<TraceLanes::LaneSpec, std::vector<std::shared_ptr<const TracedGroup>>>>
TraceLanes::lanesToDraw() {
  std::vector<std::pair<LaneSpec, std::vector<std::shared_ptr<const TracedGroup>>>> all;
  m_cache.begin();
  for (LaneSpec& spec : specs()) {
    std::vector<std::shared_ptr<const TracedGroup>> groups;
    for (const TraceGroup& group : m_groups) groups.push_back(tracedOf(spec, group));
    const bool hasReadings =
        std::any_of(groups.begin(), groups.end(), [](const auto& traced) { return !traced->mean.empty(); });
    if (hasReadings) all.emplace_back(std::move(spec), std::move(groups));
  }
  m_cache.end();
  return all;
}

namespace {

// The runs of a group as the report holds them.
void addHeld(const StudyReport& report, const TraceGroup& group,
             std::vector<std::shared_ptr<const AnalyzedRun>>& held) {
  const auto add = [&](const std::vector<std::shared_ptr<const AnalyzedRun>>& runs) {
    for (const auto& run : runs) {
      if (std::find(group.runs.begin(), group.runs.end(), run.get()) != group.runs.end()) held.push_back(run);
    }
  };
  add(report.runs);
  for (const EarlierSetup& earlier : report.earlier) add(earlier.runs);
}

}  // namespace

std::shared_ptr<const TracedGroup> TraceLanes::tracedOf(const LaneSpec& spec, const TraceGroup& group) {
  std::vector<std::shared_ptr<const AnalyzedRun>> runs;
  addHeld(*m_report, group, runs);
  std::string key = fmt::format("{} {} {} {} {} {} {}", spec.channel, spec.isDifference, spec.factor,
                                static_cast<int>(m_choice.align), static_cast<int>(m_choice.scale), m_choice.smoothS,
                                m_choice.epochS);
  if (spec.isDifference) {
    key += m_choice.subtract;
    for (const TraceGroup& reference : m_groups) {
      if (reference.setup == m_choice.subtract) addHeld(*m_report, reference, runs);
    }
  }
  return m_cache.of(runs, key, [&] {
    Band band = bandFor(spec, group);
    for (auto* values : {&band.mean, &band.low, &band.high}) {
      for (double& value : *values) value *= spec.factor;
    }
    TracedGroup traced;
    if (group.runs.size() > 1) {
      traced.low = Pyramid(Series{band.t, std::move(band.low)});
      traced.high = Pyramid(Series{band.t, std::move(band.high)});
    }
    traced.mean = Pyramid(Series{std::move(band.t), std::move(band.mean)});
    return traced;
  });
}

Band TraceLanes::bandFor(const LaneSpec& spec, const TraceGroup& group) const {
  Band band = traceOf(group, spec.channel, m_choice);
  if (!spec.isDifference || band.t.empty()) return band;
  for (const TraceGroup& reference : m_groups) {
    if (reference.setup != m_choice.subtract) continue;
    const Band other = traceOf(reference, spec.channel, m_choice);
    const Series against{other.t, other.mean};
    const Series mean = differenceOf({band.t, band.mean}, against);
    return {mean.t, mean.v, differenceOf({band.t, band.low}, against).v, differenceOf({band.t, band.high}, against).v};
  }
  return {};
}

void TraceLanes::show(const std::shared_ptr<const StudyReport>& report, const TraceChoice& choice, bool resetsRange) {
  m_report = report;
  m_choice = choice;
  m_groups = report ? traceGroups(*report, choice) : std::vector<TraceGroup>();
  m_resetsRange |= resetsRange;
  // Nobody looks: it is drawn when somebody does.
  m_isStale = !isVisible() || m_plot->width() < px(kLanesLeft + kLanesRight) || m_plot->height() < px(60);
  if (m_isStale) return;
  resetsRange = std::exchange(m_resetsRange, false);
  const QCPRange before = m_lanes.empty() ? QCPRange() : m_lanes.front().rect->axis(QCPAxis::atBottom)->range();
  const bool keeps = !resetsRange && !m_lanes.empty();
  rebuild();
  if (m_lanes.empty()) {
    m_plot->replot();
    emit moved();
    return;
  }
  const QCPRange range = keeps ? before : QCPRange(m_firstS, m_lastS);
  for (Lane& lane : m_lanes) lane.rect->axis(QCPAxis::atBottom)->setRange(range);
  fillShown();
  m_plot->replot(QCustomPlot::rpImmediateRefresh);  // the layout's sizes are needed for the labels
  placeEndMarks();
  drawCursor();
  emit moved();
}

TraceLanes::Lane TraceLanes::makeLane(const LaneSpec& spec, int row, bool isLowest) {
  Lane lane;
  lane.unit = spec.unit.section(QLatin1Char(','), 0, 0);
  lane.digits = spec.digits;
  lane.factor = spec.factor;
  lane.channel = spec.channel;
  lane.isDifference = spec.isDifference;
  auto* rect = new QCPAxisRect(m_plot);
  lane.rect = rect;
  m_plot->plotLayout()->addElement(row, 0, rect);
  m_plot->plotLayout()->setRowStretchFactor(row, spec.stretch);
  look::dressLane(rect, QMargins(px(kLanesLeft), px(7), px(kLanesRight), isLowest ? px(24) : px(7)),
                  spec.stretch > 100 ? 5 : 2,
                  m_lastS - m_firstS > 7200 ? QStringLiteral("%h:%m") : QStringLiteral("%m:%s"), isLowest);
  rect->setRangeDrag(Qt::Horizontal);
  rect->setRangeZoom(Qt::Horizontal);
  connect(rect->axis(QCPAxis::atBottom), qOverload<const QCPRange&>(&QCPAxis::rangeChanged), this,
          [this](const QCPRange& range) {
            if (m_follows) return;
            m_follows = true;
            for (Lane& other : m_lanes) {
              if (other.rect->axis(QCPAxis::atBottom)->range() != range)
                other.rect->axis(QCPAxis::atBottom)->setRange(range);
            }
            m_follows = false;
            fillShown();
            fitToShown();
            placeEndMarks();
            emit moved();
          });
  return lane;
}

void TraceLanes::rebuild() {
  m_cursorItems.clear();
  m_flags.clear();
  m_endMarks.clear();
  m_lanes.clear();
  m_plot->clearItems();
  m_plot->clearGraphs();
  m_plot->plotLayout()->clear();
  m_firstS = INFINITY;
  m_lastS = -INFINITY;
  auto all = lanesToDraw();
  if (!all.empty()) {
    for (const auto& traced : all.front().second) {
      if (traced->mean.empty()) continue;
      m_firstS = std::min(m_firstS, traced->mean.series().t.front());
      m_lastS = std::max(m_lastS, traced->mean.series().t.back());
    }
  }
  if (!(m_lastS > m_firstS)) {
    m_firstS = 0;
    m_lastS = 1;
  }
  findSteps();
  for (size_t i = 0; i < all.size(); ++i) {
    const auto& [spec, traced] = all[i];
    m_lanes.push_back(makeLane(spec, static_cast<int>(i), i + 1 == all.size()));
    Lane& lane = m_lanes.back();
    for (size_t g = 0; g < m_groups.size(); ++g) {
      drawGroup(lane, m_groups[g], traced[g]);
      drawLostWork(lane, spec, m_groups[g]);
    }
    drawSteps(lane);
    fitRange(lane);
    drawLimit(lane, spec);
  }
  if (lineCount() > kManyLines) drawFast();
  // Titles stand left of their lanes; they need the sizes of the layout.
  m_plot->plotLayout()->setMargins(QMargins(0, 0, 0, 0));
  m_plot->replot(QCustomPlot::rpImmediateRefresh);
  for (size_t i = 0; i < all.size(); ++i) {
    QCPAxisRect* rect = m_lanes[i].rect;
    const auto fitted = [](const QString& words, const QFont& font) {
      return QFontMetrics(font).elidedText(words, Qt::ElideRight, px(kLanesLeft - 50));
    };
    addText(rect, px(16), rect->top(), fitted(all[i].first.title, look::font(13, QFont::DemiBold)),
            Qt::AlignLeft | Qt::AlignTop, theme().ink, 13, true);
    addText(rect, px(16), rect->top() + px(17), fitted(all[i].first.unit, look::font(12)), Qt::AlignLeft | Qt::AlignTop,
            theme().softInk, 12, false);
    // Between this lane and the next, where it hides no reading.
    // Below the lowest stand the times.
    const bool isLowest = i + 1 == all.size();
    const QString note = QFontMetrics(look::font(12)).elidedText(m_lanes[i].note, Qt::ElideRight, rect->width());
    if (!note.isEmpty())
      addText(rect, rect->right() - (isLowest ? px(4) : 0), isLowest ? rect->top() + 1 : rect->bottom() - 1, note,
              Qt::AlignRight | Qt::AlignTop, theme().softInk, 12, false);
  }
  m_cursorItems.clear();  // titles stay
  drawFlags();
}
bool TraceLanes::isZoomed() const {
  return !m_lanes.empty() &&
         m_lanes.front().rect->axis(QCPAxis::atBottom)->range().size() < 0.95 * (m_lastS - m_firstS);
}

void TraceLanes::fitToShown() {
  if (m_holdsScale) return;
  for (Lane& lane : m_lanes) {
    if (lane.rect != nullptr && !lane.lines.empty()) fitRange(lane);
  }
  placeFlags();
}

void TraceLanes::holdScale(bool holds) {
  m_holdsScale = holds;
  fitToShown();
  m_plot->replot();
  drawCursor();
}

std::pair<double, double> TraceLanes::valueRange(int lane) const {
  const QCPRange range = m_lanes.at(static_cast<size_t>(lane)).rect->axis(QCPAxis::atLeft)->range();
  return {range.lower, range.upper};
}

std::pair<double, double> TraceLanes::plotEdges() const {
  if (m_lanes.empty()) return {px(kLanesLeft), width() - px(kLanesRight)};
  return {m_lanes.front().rect->left(), m_lanes.front().rect->right()};
}

// Scaled to where the load's data lies, not to rest; where one has zoomed in, to what is shown, so that the wave one
// zoomed to see is seen.
void TraceLanes::fitRange(Lane& lane) {
  double low = INFINITY, high = -INFINITY;
  const bool isLoadOnly = lane.channel.ends_with(".clock") || lane.channel.ends_with(".power") || lane.isDifference;
  const bool zoomed = isZoomed();
  const QCPRange shown = lane.rect->axis(QCPAxis::atBottom)->range();
  const auto include = [&](double from, bool toLoadEnd) {
    for (const Line& line : lane.lines) {
      const double first = zoomed ? std::max(from, shown.lower) : from;
      const double last = std::min(toLoadEnd ? line.endS : INFINITY, zoomed ? shown.upper : INFINITY);
      const auto [lowest, highest] = line.traced->mean.rangeWithin(first, last);
      low = std::min(low, lowest);
      high = std::max(high, highest);
    }
  };
  if (isLoadOnly && !zoomed && m_choice.align == Align::LoadStart) include(60, true);
  if (!(high >= low)) include(-INFINITY, false);
  if (!(high >= low)) return;
  const double least = zoomed                             ? 0.002 * std::max(std::abs(high), 1.0)
                       : lane.channel.ends_with(".clock") ? 0.03 * std::abs(high)
                       : lane.isDifference                ? 2
                                                          : 4;
  const double extra = std::max(0.08 * (high - low), (least - (high - low)) / 2);
  lane.rect->axis(QCPAxis::atLeft)->setRange(low - extra, high + extra);
}

void TraceLanes::addText(QCPAxisRect* rect, double xPx, double yPx, const QString& words, int alignment,
                         const QColor& colour, double size, bool isBold) {
  auto* item = new QCPItemText(m_plot);
  item->setClipToAxisRect(false);
  item->position->setTypeX(QCPItemPosition::ptAbsolute);
  item->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
  item->position->setAxisRect(rect);
  item->position->setCoords(xPx, (yPx - rect->top()) / std::max(1, rect->height()));
  item->setPositionAlignment(static_cast<Qt::Alignment>(alignment));
  item->setText(words);
  item->setColor(colour);
  item->setFont(look::font(size, isBold ? QFont::DemiBold : QFont::Normal));
  item->setPadding(QMargins(0, 0, 0, 0));
  item->setLayer(QStringLiteral("overlay"));
  m_cursorItems.push_back(item);
}

double TraceLanes::pixelOf(double t) const {
  return m_lanes.empty() ? 0 : m_lanes.front().rect->axis(QCPAxis::atBottom)->coordToPixel(t);
}
double TraceLanes::timeAt(double pixel) const {
  return m_lanes.empty() ? 0 : m_lanes.front().rect->axis(QCPAxis::atBottom)->pixelToCoord(pixel);
}

void TraceLanes::resetRange() {
  for (Lane& lane : m_lanes) lane.rect->axis(QCPAxis::atBottom)->setRange(m_firstS, m_lastS);
  m_plot->replot();
}

void TraceLanes::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (m_isStale) show(m_report, m_choice, false);
}

void TraceLanes::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  if (m_report && isVisible()) {
    m_plot->replot(QCustomPlot::rpImmediateRefresh);
    show(m_report, m_choice, false);
  }
}

}  // namespace ash

#include "moc_trace_lanes.cpp"
