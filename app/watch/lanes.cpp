// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/lanes.h"

#include <qcustomplot.h>

#include <QVBoxLayout>
#include <algorithm>

#include "app/look/theme.h"
#include "app/watch/lane.h"
#include "app/watch/live_model.h"

namespace ash {
namespace {
constexpr int kDrawAfterMs = 180;
}

Lanes::Lanes(const LiveModel& model, QWidget* parent) : QWidget(parent), m_model(model), m_plot(new QCustomPlot(this)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(m_plot);
  m_plot->setBackground(QBrush(look::theme().ground));
  m_plot->plotLayout()->setRowSpacing(0);
  m_plot->setPlottingHint(QCP::phFastPolylines, true);
  m_plot->setMinimumSize(look::px(200), look::px(80));
  m_plot->setFocusPolicy(Qt::NoFocus);
  m_plot->setAccessibleName(tr("Lanes of temperature, clock, power, fans and work rate"));
  m_plot->plotLayout()->clear();
  m_soon.setSingleShot(true);
  m_soon.setInterval(kDrawAfterMs);
  connect(&m_soon, &QTimer::timeout, this, &Lanes::refresh);
  connect(&model, &LiveModel::changed, this, [this] {
    if (!m_soon.isActive()) m_soon.start();
  });
}

Lanes::~Lanes() = default;

int Lanes::visibleLaneCount() const { return static_cast<int>(m_lanes.size()); }

double Lanes::zeroS() const { return m_model.loadStartS().value_or(0); }

// Lanes come and go with the readings of a run.
void Lanes::rebuild() {
  m_lanes.clear();
  m_plot->clearItems();
  m_plot->clearGraphs();
  m_plot->plotLayout()->clear();
  const std::vector<LaneSpec> specs = laneSpecs(m_model);
  for (size_t i = 0; i < specs.size(); ++i) {
    auto* rect = new QCPAxisRect(m_plot);
    m_plot->plotLayout()->addElement(static_cast<int>(i), 0, rect);
    m_plot->plotLayout()->setRowStretchFactor(static_cast<int>(i), specs[i].stretch);
    m_lanes.push_back(std::make_unique<Lane>(m_plot, rect, specs[i], i + 1 == specs.size()));
  }
  // Pixel positions of labels need the layout's sizes before the first drawing.
  m_plot->replot(QCustomPlot::rpImmediateRefresh);
}

namespace {

// Lanes are made anew when another run is shown or a reading has appeared.
bool fits(const std::vector<LaneSpec>& specs, const std::vector<std::unique_ptr<Lane>>& lanes) {
  if (specs.size() != lanes.size()) return false;
  for (size_t i = 0; i < specs.size(); ++i) {
    const LaneSpec& old = lanes[i]->spec();
    if (old.title != specs[i].title || old.lines.size() != specs[i].lines.size()) return false;
    for (size_t l = 0; l < old.lines.size(); ++l) {
      if (old.lines[l].column != specs[i].lines[l].column || old.lines[l].pen != specs[i].lines[l].pen) return false;
    }
  }
  return true;
}

}  // namespace

void Lanes::refresh() {
  if (!m_model.hasRun() || !isVisible() || m_plot->height() < look::px(60)) return;
  if (!fits(laneSpecs(m_model), m_lanes)) rebuild();
  Lane::Frame frame;
  frame.zeroS = zeroS();
  frame.firstS = -frame.zeroS;
  const double elapsed = m_model.lastTimeS();
  const double ahead = m_model.isGoingOn() ? std::max(30.0, 0.2 * elapsed) : 0;
  frame.lastS = elapsed - frame.zeroS + ahead;
  if (frame.lastS - frame.firstS < 30) frame.lastS = frame.firstS + 30;
  frame.isFirst = true;
  for (const auto& lane : m_lanes) {
    lane->refresh(m_model, frame);
    frame.isFirst = false;
  }
  m_plot->replot(QCustomPlot::rpQueuedReplot);
}

void Lanes::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void Lanes::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  if (!m_soon.isActive()) m_soon.start();
}

}  // namespace ash

#include "moc_lanes.cpp"
