// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/plan_grid.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/plan/cell_words.h"
#include "app/study/run_column.h"
#include "app/study/study_desk.h"
#include "load/load_options.h"
#include "model/condition_field.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr double kHead = 48, kRow = 124, kSetup = 168, kLeastCell = 216;
constexpr double kPlace = 14, kPitch = 25, kFoot = 98, kPxPerK = 1.1;
constexpr int kMostPlaces = 4;

}  // namespace

PlanGrid::PlanGrid(const StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  setFocusPolicy(Qt::StrongFocus);
  setObjectName(QStringLiteral("plan-grid"));
  setAccessibleName(tr("Grid of setups and loads"));
  connect(&desk, &StudyDesk::changed, this, [this] {
    select(m_setup, m_load);
    updateGeometry();
    update();
  });
  connect(&desk, &StudyDesk::reportChanged, this, [this] { update(); });
}

QSize PlanGrid::sizeHint() const { return minimumSizeHint(); }

QSize PlanGrid::minimumSizeHint() const {
  const Study* study = m_desk.study();
  const auto loads = study == nullptr ? 1 : std::max<size_t>(1, study->loads.size());
  const auto setups = study == nullptr ? 1 : std::max<size_t>(1, study->setups.size());
  return {px(kSetup + kLeastCell * static_cast<double>(loads)), px(kHead + kRow * static_cast<double>(setups))};
}

void PlanGrid::select(int setup, int load) {
  const Study* study = m_desk.study();
  if (study == nullptr) return;
  m_setup = std::clamp(setup, 0, std::max(0, static_cast<int>(study->setups.size()) - 1));
  m_load = std::clamp(load, 0, std::max(0, static_cast<int>(study->loads.size()) - 1));
  if (!study->setups.empty() && !study->loads.empty()) {
    const CellWords words = cellWords(m_desk, study->setups[static_cast<size_t>(m_setup)].name,
                                      study->loads[static_cast<size_t>(m_load)].name);
    setAccessibleDescription(tr("%1, %2: %3 %4 %5")
                                 .arg(text(study->setups[static_cast<size_t>(m_setup)].name),
                                      text(study->loads[static_cast<size_t>(m_load)].name), words.bound, words.figure,
                                      words.lines.join(QStringLiteral(", "))));
  }
  update();
  emit selected();
}

PlanGrid::Columns PlanGrid::columns() const {
  const Study* study = m_desk.study();
  const double loads = study == nullptr ? 1 : std::max<double>(1, static_cast<double>(study->loads.size()));
  const double first = px(kSetup);
  return {first, std::min<double>((width() - first) / loads, px(320))};
}

QRectF PlanGrid::cellRect(int setup, int load) const {
  const Columns c = columns();
  return {c.first + c.width * load, px(kHead) + static_cast<double>(px(kRow)) * setup, c.width,
          static_cast<double>(px(kRow))};
}

void PlanGrid::paintHeads(QPainter& painter) const {
  const auto& t = theme();
  painter.setFont(look::font(13, QFont::DemiBold));
  painter.setPen(t.ink);
  painter.drawText(QRectF(px(16), px(8), px(kSetup), px(20)), Qt::AlignVCenter, tr("Setups × loads"));
  const auto& loads = m_desk.study()->loads;
  for (size_t i = 0; i < loads.size(); ++i) {
    const QRectF cell = cellRect(0, static_cast<int>(i));
    painter.setFont(look::font(13, QFont::DemiBold));
    painter.setPen(t.ink);
    painter.drawText(
        QRectF(cell.left() + px(12), px(6), cell.width() - px(12), px(20)), Qt::AlignVCenter,
        painter.fontMetrics().elidedText(text(loads[i].name), Qt::ElideRight, static_cast<int>(cell.width()) - px(16)));
    painter.setFont(look::font(12));
    painter.setPen(t.softInk);
    const auto load = loadFromJson("", loads[i].spec);
    const QString words = load && !load->kind.text().empty() ? tr("load %1").arg(text(loadKindText(*load))) : QString();
    painter.drawText(QRectF(cell.left() + px(12), px(25), cell.width() - px(12), px(18)), Qt::AlignVCenter, words);
  }
}

void PlanGrid::paintSetup(QPainter& painter, int setup) const {
  const auto& t = theme();
  const Setup& row = m_desk.study()->setups[static_cast<size_t>(setup)];
  const QRectF cell(0, cellRect(setup, 0).top(), px(kSetup), px(kRow));
  painter.fillRect(cell, setup == m_setup ? t.panel : t.ground);
  look::paintSetupSign(painter, setup, {static_cast<double>(px(22)), cell.top() + px(22)}, px(11));
  painter.setPen(t.ink);
  painter.setFont(look::font(13, QFont::DemiBold));
  painter.drawText(
      QRectF(px(36), cell.top() + px(12), cell.width() - px(40), px(20)), Qt::AlignVCenter,
      painter.fontMetrics().elidedText(text(row.name), Qt::ElideRight, static_cast<int>(cell.width()) - px(42)));
  // What is under test, then the price.
  QStringList lines;
  for (const std::string& field : m_desk.plan().underTest) {
    if (row.conditions.contains(field) && lines.size() < 2) lines << text(fieldText(field, row.conditions[field]));
  }
  const Json price = valueIn(row.conditions, "price", Json());
  if (price.is_number())
    lines << tr("price %1 %2")
                 .arg(text(fieldText("price", price)), text(valueIn(row.conditions, "currency", std::string())));
  painter.setFont(look::font(12));
  painter.setPen(t.softInk);
  double y = cell.top() + px(34);
  for (const QString& line : lines) {
    painter.drawText(QRectF(px(14), y, cell.width() - px(18), px(18)), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(line, Qt::ElideRight, static_cast<int>(cell.width()) - px(20)));
    y += px(17);
  }
  if (row.name == referenceSetup(*m_desk.study(), m_desk.plan())) {
    QFont italic = look::font(12);
    italic.setItalic(true);
    painter.setFont(italic);
    painter.setPen(t.ink);
    painter.drawText(QRectF(px(14), y + px(2), cell.width() - px(18), px(18)), Qt::AlignVCenter, tr("the reference"));
  }
}

std::vector<const RunSummary*> PlanGrid::runsOf(int setup, int load) const {
  std::vector<const RunSummary*> runs;
  const Study& study = *m_desk.study();
  for (const RunSummary& run : m_desk.runs()) {
    if (run.info.setup == study.setups[static_cast<size_t>(setup)].name &&
        run.info.load == study.loads[static_cast<size_t>(load)].name)
      runs.push_back(&run);
  }
  return runs;
}

void PlanGrid::paintPlaces(QPainter& painter, const QRectF& cell, int setup, int load) const {
  const auto& t = theme();
  const auto runs = runsOf(setup, load);
  std::vector<Outcome> outcomes;
  for (const RunSummary* run : runs) outcomes.push_back(run->info.outcome);
  std::vector<CellPlace> places = cellPlaces(outcomes, m_desk.plan().repeats);
  const Study& study = *m_desk.study();
  // What is decided is run no more.
  if (m_desk.isDecided(study.setups[static_cast<size_t>(setup)].name, study.loads[static_cast<size_t>(load)].name))
    std::erase_if(places, [](const CellPlace& place) { return !place.run; });
  // Four places fit; of more, the last ones tell most.
  if (places.size() > kMostPlaces) places.erase(places.begin(), places.end() - kMostPlaces);
  const double foot = cell.top() + px(kFoot);
  double x = cell.left() + px(14);
  for (const CellPlace& place : places) {
    look::ColumnSpec column;
    column.limitK = 73;
    column.state = look::ColumnState::Planned;
    if (place.run) {
      column = columnOfRun(m_desk, *runs[*place.run]);
      if (!column.limitK) column.limitK = std::max(73.0, column.usedK);
    }
    look::paintBudgetColumn(painter, column, x, foot, px(kPlace), px(kPxPerK * 100) / 100.0, t);
    painter.setFont(look::font(12));
    painter.setPen(place.run ? t.ink : t.softInk);
    painter.drawText(QRectF(x - px(8), foot + px(4), px(kPlace + 16), px(18)), Qt::AlignCenter, text(place.label));
    x += px(kPitch);
  }
}

void PlanGrid::paintCell(QPainter& painter, int setup, int load) const {
  const auto& t = theme();
  const Study& study = *m_desk.study();
  const QRectF cell = cellRect(setup, load);
  painter.fillRect(cell, setup == m_setup ? t.panel : t.ground);
  painter.setPen(t.line);
  painter.drawLine(cell.topLeft(), cell.bottomLeft());
  paintPlaces(painter, cell, setup, load);
  const CellWords words =
      cellWords(m_desk, study.setups[static_cast<size_t>(setup)].name, study.loads[static_cast<size_t>(load)].name);
  const double left = cell.left() + px(120), wide = cell.width() - px(124);
  double y = cell.top() + px(12);
  const auto line = [&](const QString& what, const QFont& font, const QColor& colour, double high) {
    painter.setFont(font);
    painter.setPen(colour);
    painter.drawText(QRectF(left, y, wide, high), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(what, Qt::ElideRight, static_cast<int>(wide)));
    y += high;
  };
  if (!words.bound.isEmpty()) line(words.bound, look::font(12, QFont::DemiBold), t.ember, px(16));
  if (!words.figure.isEmpty()) line(words.figure, look::font(17, QFont::DemiBold), t.ink, px(24));
  for (const QString& what : words.lines) {
    if (y + px(16) > cell.bottom()) break;
    const bool isHot = words.isHot && (what.startsWith(tr("slowed")) || what.startsWith(tr("since")));
    line(what, look::font(12), isHot ? t.ember : t.softInk, px(16));
  }
  if (setup == m_setup && load == m_load) {
    painter.setPen(QPen(t.ink, hasFocus() ? 2 : 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(cell.adjusted(1, 1, -1, -1));
  }
}

void PlanGrid::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  const auto& t = theme();
  painter.fillRect(rect(), t.ground);
  const Study* study = m_desk.study();
  if (study == nullptr) return;
  painter.setRenderHint(QPainter::Antialiasing);
  paintHeads(painter);
  for (int setup = 0; setup < static_cast<int>(study->setups.size()); ++setup) {
    paintSetup(painter, setup);
    for (int load = 0; load < static_cast<int>(study->loads.size()); ++load) paintCell(painter, setup, load);
    const double y = cellRect(setup, 0).top();
    painter.setPen(t.line);
    painter.drawLine(QPointF(0, y), QPointF(width(), y));
    if (setup == m_setup) painter.fillRect(QRectF(0, y, 3, px(kRow)), t.ink);
  }
  const double bottom = px(kHead) + static_cast<double>(px(kRow)) * static_cast<double>(study->setups.size());
  painter.setPen(t.line);
  painter.drawLine(QPointF(0, bottom), QPointF(width(), bottom));
  if (height() - bottom > px(22) && !study->setups.empty()) {
    painter.setFont(look::font(12));
    painter.setPen(t.softInk);
    const QString legend =
        tr("K over room. Foot: room. Top: limit. Ember frame: at its limit. Teeth: went down. Stroke: void. Dots: "
           "planned.");
    painter.drawText(QRectF(px(16), bottom + px(3), width() - px(20), px(18)), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(legend, Qt::ElideRight, width() - px(20)));
  }
  if (study->setups.empty() || study->loads.empty()) {
    painter.setPen(t.softInk);
    painter.setFont(look::font(13));
    painter.drawText(rect().adjusted(px(16), px(kHead), -px(16), 0), Qt::AlignCenter | Qt::TextWordWrap,
                     tr("A study compares setups under loads.\nAdd a setup and a load with the buttons below."));
  }
}

void PlanGrid::mousePressEvent(QMouseEvent* event) {
  if (const auto cell = cellUnder(event->position())) select(cell->first, cell->second);
  setFocus();
}

// On the names of the setups it is the cell of the load that is selected.
std::optional<std::pair<int, int>> PlanGrid::cellUnder(const QPointF& place) const {
  if (place.y() < px(kHead)) return std::nullopt;
  const Columns c = columns();
  const int load = place.x() < c.first ? m_load : static_cast<int>((place.x() - c.first) / c.width);
  return std::pair(static_cast<int>((place.y() - px(kHead)) / px(kRow)), load);
}

void PlanGrid::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Up:
      return select(m_setup - 1, m_load);
    case Qt::Key_Down:
      return select(m_setup + 1, m_load);
    case Qt::Key_Left:
      return select(m_setup, m_load - 1);
    case Qt::Key_Right:
      return select(m_setup, m_load + 1);
    default:
      QWidget::keyPressEvent(event);
  }
}

void PlanGrid::focusInEvent(QFocusEvent*) { update(); }
void PlanGrid::focusOutEvent(QFocusEvent*) { update(); }

bool PlanGrid::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(),
                       tr("Foot: the room. Top: where the device slows itself down. Ember frame: at its limit. Teeth: "
                          "went down. Stroke: void. Dots: planned."),
                       this);
    return true;
  }
  return QWidget::event(event);
}

}  // namespace ash

#include "moc_plan_grid.cpp"
