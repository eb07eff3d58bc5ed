// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/far_view.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/look/theme.h"
#include "app/look/words.h"
#include "app/watch/budget_spec.h"
#include "app/watch/live_model.h"
#include "app/watch/watch_words.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"
#include "model/unit.h"
#include "runner/drain_watch.h"

namespace ash {
using look::text;
using look::theme;
namespace {

constexpr int kMostFigures = 6;

// In px of the screen, not of the design: what is far away grows with the screen.
QFont fontOf(double px, QFont::Weight weight = QFont::Normal) {
  QFont font = look::font(12, weight);
  font.setPixelSize(std::max(8, int(px)));
  return font;
}

// As large as the longest of the words allows within a width, in px.
double fittedPx(const QStringList& words, double px, double wide, QFont::Weight weight) {
  double needed = wide;
  for (const QString& one : words) needed = std::max(needed, QFontMetricsF(fontOf(px, weight)).horizontalAdvance(one));
  return px * wide / needed;
}

bool isHot(const look::ColumnSpec& spec) {
  return spec.state == look::ColumnState::AtLimit || spec.state == look::ColumnState::OverLimit ||
         spec.state == look::ColumnState::Tripped;
}

struct FarFigure {
  QString figure, below;
  bool isHot = false;
};

// Kelvin left; where no limit is known the temperature.
FarFigure farFigure(const LiveModel& model) {
  const std::string& watched = model.info().watched;
  const double now = model.latest(watched);
  const QString name = text(Role(watched).shortName());
  if (!std::isfinite(now)) return {QStringLiteral("–"), QObject::tr("%1 is not read").arg(name)};
  const auto limit = model.limit(watched, "throttle");
  if (!limit) return {text(withUnit(now, 1, "°C")), QObject::tr("%1, no limit known").arg(name)};
  if (isHot(budgetSpec(model, watched)))
    return {text(withUnit(now, 1, "°C")), QObject::tr("%1 at its limit").arg(name), true};
  return {text(withUnit(*limit - now, 1, "K")), QObject::tr("%1, left to its limit").arg(name)};
}

// "Soak, 12:31 so far, at most 27:29 left"; over, what became of it.
QString phaseWords(const LiveModel& model) {
  if (!model.isGoingOn()) return outcomeSentence(model);
  if (model.phases().empty() || !model.state()) return {};
  const PhaseSpan& phase = model.phases().back();
  QString words = QObject::tr("%1, %2 so far")
                      .arg(phaseTitle(phase.kind), text(clockText(std::max(0.0, model.lastTimeS() - phase.startS))));
  const Phase* now = model.currentPhase();
  const std::string drained = now == nullptr ? std::string() : drainedInWords(model.state()->drainedInS, *now);
  if (!drained.empty()) return words + QStringLiteral(", ") + text(drained);
  const double left = model.state()->longestLeftS;
  if (std::isfinite(left) && left > 0) words += QObject::tr(", at most %1 left").arg(text(clockText(left)));
  return words;
}

// What a run is asked for most, of the readings that it has.
QStringList usualFigures(const LiveModel& model) {
  QStringList all = {text(model.info().watched)};
  for (const char* role :
       {roles::kCpuClock, roles::kCpuPower, roles::kGpuTemp, roles::kFanCpu, roles::kNoise, roles::kWorkRate}) {
    const QString name = QLatin1String(role);
    if (all.size() < kMostFigures && !all.contains(name) && !model.series(role).empty()) all << name;
  }
  return all;
}

QString valueText(const LiveModel& model, const std::string& reading) {
  const double now = model.latest(reading);
  if (!std::isfinite(now)) return QStringLiteral("–");
  const std::string unit(unitOf(Role(reading).quantity()));
  return text(withUnit(now, usualDigits(unit), unit));
}

}  // namespace

QString farWords(const LiveModel& model) {
  if (!model.hasRun()) return QObject::tr("No run is watched");
  const FarFigure figure = farFigure(model);
  return QStringLiteral("%1 %2. %3").arg(figure.figure, figure.below, phaseWords(model));
}

FarView::FarView(const LiveModel& model, FarForm form, QWidget* parent)
    : QWidget(parent), m_model(model), m_form(form) {
  setObjectName(QStringLiteral("far-view"));
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(form == FarForm::Across ? tr("The run from across the room") : tr("Figures of the run"));
  connect(&model, &LiveModel::changed, this, [this] {
    setAccessibleDescription(farWords(m_model));
    update();
  });
}

QStringList FarView::chosen() const {
  if (!m_model.hasRun()) return {};
  QStringList there;
  for (const QString& reading : m_chosen) {
    if (!m_model.series(reading.toStdString()).empty()) there << reading;
  }
  return there.isEmpty() ? usualFigures(m_model) : there;
}

void FarView::toggle(const QString& reading) {
  QStringList now = chosen();
  if (!now.removeOne(reading) && now.size() < kMostFigures) now << reading;
  m_chosen = now;
  emit chosenAnew(now);
  update();
}

void FarView::paintNothing(QPainter& painter, const QString& words) const {
  painter.setFont(fontOf(height() * 0.06));
  painter.setPen(theme().softInk);
  painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, words);
}

void FarView::paintAcross(QPainter& painter) const {
  const double high = height(), wide = width(), margin = high * 0.06;
  const look::ColumnSpec spec = budgetSpec(m_model, m_model.info().watched);
  const double top = std::max({60.0, spec.limitK.value_or(0), spec.usedK, spec.highestK.value_or(0)});
  const double footY = high - margin, columnPx = wide * 0.16;
  look::paintBudgetColumn(painter, spec, margin, footY, columnPx, (footY - margin) / top, theme());
  const FarFigure figure = farFigure(m_model);
  const double left = margin + columnPx + wide * 0.07, room = wide - left - margin;
  const QRectF large(left, margin, room, high * 0.48);
  painter.setPen(figure.isHot ? theme().ember : theme().ink);
  painter.setFont(fontOf(fittedPx({figure.figure}, high * 0.42, room, QFont::DemiBold), QFont::DemiBold));
  painter.drawText(large, Qt::AlignLeft | Qt::AlignVCenter, figure.figure);
  painter.setFont(fontOf(fittedPx({figure.below}, high * 0.1, room, QFont::DemiBold), QFont::DemiBold));
  painter.drawText(QRectF(left, high * 0.55, room, high * 0.14), Qt::AlignLeft | Qt::AlignVCenter, figure.below);
  painter.setPen(theme().ink);
  painter.setFont(fontOf(high * 0.065));
  painter.drawText(QRectF(left, high * 0.71, room, high - margin - high * 0.71),
                   Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, phaseWords(m_model));
}

void FarView::paintFigures(QPainter& painter) const {
  const QStringList shown = chosen();
  const int columns = shown.size() > 1 ? 2 : 1, rows = int(shown.size() + columns - 1) / columns;
  const double margin = height() * 0.06;
  const QSizeF cell((width() - 2 * margin) / columns, (height() - 2 * margin) / std::max(1, rows));
  const double room = cell.width() * 0.94;
  QStringList titles, values;
  for (const QString& reading : shown) {
    titles << text(Role(reading.toStdString()).title());
    values << valueText(m_model, reading.toStdString());
  }
  const double name = fittedPx(titles, std::min(cell.height() * 0.16, height() * 0.06), room, QFont::Normal);
  const double large = fittedPx(values, cell.height() * 0.5, room, QFont::DemiBold);
  for (int i = 0; i < shown.size(); ++i) {
    const std::string reading = shown[i].toStdString();
    const QRectF box(QPointF(margin + (i % columns) * cell.width(), margin + (i / columns) * cell.height()), cell);
    const bool hot = reading == m_model.info().watched && isHot(budgetSpec(m_model, reading));
    painter.setPen(theme().softInk);
    painter.setFont(fontOf(name));
    painter.drawText(QRectF(box.left(), box.top(), room, name * 1.5), Qt::AlignLeft | Qt::AlignVCenter, titles[i]);
    painter.setPen(hot ? theme().ember : theme().ink);
    painter.setFont(fontOf(large, QFont::DemiBold));
    painter.drawText(QRectF(box.left(), box.top() + name * 1.5, room, large * 1.3), Qt::AlignLeft | Qt::AlignVCenter,
                     values[i]);
  }
}

void FarView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(rect(), theme().panel);
  if (!m_model.hasRun()) return paintNothing(painter, tr("No run is watched. Esc goes back."));
  if (m_form == FarForm::Across) return paintAcross(painter);
  paintFigures(painter);
}

void FarView::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return emit left();
  QWidget::keyPressEvent(event);
}

void FarView::mouseDoubleClickEvent(QMouseEvent*) { emit left(); }

// Which readings are shown; up to six.
void FarView::contextMenuEvent(QContextMenuEvent* event) {
  if (m_form != FarForm::Figures || !m_model.hasRun()) return;
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  const QStringList now = chosen();
  for (const auto& [reading, described] : m_model.info().readings) {
    if (m_model.series(reading).empty()) continue;
    const QString name = text(reading);
    QAction* action = menu->addAction(text(Role(reading).title()));
    action->setCheckable(true);
    action->setChecked(now.contains(name));
    action->setEnabled(now.contains(name) || now.size() < kMostFigures);
    connect(action, &QAction::triggered, this, [this, name] { toggle(name); });
  }
  menu->popup(event->globalPos());
}

}  // namespace ash

#include "moc_far_view.cpp"
