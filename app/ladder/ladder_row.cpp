// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/ladder/ladder_row.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <string>

#include "app/look/budget_column.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/run_column.h"
#include "app/study/study_desk.h"
#include "ladder/answer.h"
#include "ladder/ladder_places.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr double kPitch = 58, kWide = 22, kFoot = 128, kHigh = 178, kPxPerK = 1.4, kUsualLimitK = 73;
constexpr size_t kMostToCome = 24;  // steps that nothing is known of are drawn as long as they are few

// The run of a step, as the book has it now.
const RunSummary* runOf(const StudyDesk& desk, const LadderStep& step) {
  const auto& runs = desk.runs();
  const auto found =
      std::find_if(runs.begin(), runs.end(), [&](const RunSummary& run) { return run.info.id == step.runId; });
  return found == runs.end() ? nullptr : &*found;
}

}  // namespace

LadderRow::LadderRow(const StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  setFocusPolicy(Qt::StrongFocus);
  setObjectName(QStringLiteral("ladder-row"));
  setAccessibleName(tr("Steps of the ladder"));
  connect(&desk, &StudyDesk::reportChanged, this, [this] { update(); });
}

void LadderRow::show(const std::optional<Ladder>& ladder) {
  m_ladder = ladder;
  m_places = m_ladder ? placesOf(*m_ladder, kMostToCome) : std::vector<LadderPlace>();
  choose(std::min(m_chosen, m_places.empty() ? 0 : m_places.size() - 1));
  updateGeometry();
}

QSize LadderRow::minimumSizeHint() const {
  return {px(64 + kPitch * static_cast<double>(std::max<size_t>(1, m_places.size()))), px(kHigh)};
}

QRectF LadderRow::rectOf(size_t place) const {
  // Confirming runs stand a little apart.
  const double apart = m_places[place].isConfirming ? px(14) : 0;
  return {px(12) + apart + px(kPitch) * static_cast<double>(place), 0, static_cast<double>(px(kPitch)),
          static_cast<double>(px(kHigh))};
}

std::optional<size_t> LadderRow::placeAt(const QPointF& at) const {
  for (size_t i = 0; i < m_places.size(); ++i) {
    if (rectOf(i).contains(at)) return i;
  }
  return std::nullopt;
}

QString LadderRow::wordsOf(const LadderPlace& place) const {
  if (place.step != nullptr && place.step->held) {
    if (!*place.step->held) return tr("does not");
    return place.isConfirming ? tr("confirmed") : tr("holds");
  }
  if (place.step != nullptr) return tr("goes on");
  if (place.isNext) return place.isConfirming ? tr("to confirm") : tr("next");
  return {};
}

void LadderRow::paintPlace(QPainter& painter, size_t number, const LadderPlace& place) const {
  const auto& t = theme();
  const QRectF rect = rectOf(number);
  look::ColumnSpec column;
  column.limitK = kUsualLimitK;
  column.state = look::ColumnState::Planned;
  if (const RunSummary* run = place.step == nullptr ? nullptr : runOf(m_desk, *place.step)) {
    column = columnOfRun(m_desk, *run);
    if (!column.limitK) column.limitK = std::max(kUsualLimitK, column.usedK);
  }
  // Rungs are one setup with one thing turned: they share its tone.
  column.fill = t.series(std::max(0, setupIndexIn(*m_desk.study(), m_ladder->ask.setup)));
  look::paintBudgetColumn(painter, column, rect.center().x() - px(kWide) / 2.0, px(kFoot), px(kWide),
                          px(kPxPerK * 100) / 100.0, t);
  const LadderBounds bounds = boundsOf(*m_ladder);
  const bool isChosen =
      bounds.chosen == place.index && m_ladder->isOver && place.step != nullptr && place.step->held.value_or(false);
  const bool fails = place.step != nullptr && place.step->held && !*place.step->held;
  painter.setFont(look::font(13, isChosen ? QFont::DemiBold : QFont::Normal));
  painter.setPen(place.step == nullptr && !place.isNext ? t.softInk : t.ink);
  const QString value = QString::number(m_ladder->ask.valueAt(place.index));
  painter.drawText(QRectF(rect.left(), px(kFoot + 4), rect.width(), px(18)), Qt::AlignCenter, value);
  if (isChosen) painter.fillRect(QRectF(rect.left() + px(10), px(kFoot + 23), rect.width() - px(20), px(3)), t.ink);
  painter.setFont(look::font(12));
  painter.setPen(fails ? t.ember : t.softInk);
  painter.drawText(QRectF(rect.left() - px(4), px(kFoot + 27), rect.width() + px(8), px(18)), Qt::AlignCenter,
                   wordsOf(place));
  if (hasFocus() && number == m_chosen) {
    painter.setPen(QPen(t.ink, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(rect.adjusted(2, 2, -2, -2));
  }
}

void LadderRow::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  if (!m_ladder || m_desk.study() == nullptr) return;
  for (size_t i = 0; i < m_places.size(); ++i) paintPlace(painter, i, m_places[i]);
  if (m_places.empty()) return;
  painter.setFont(look::font(12));
  painter.setPen(theme().softInk);
  const double right = rectOf(m_places.size() - 1).right();
  painter.drawText(QRectF(right, px(kFoot + 4), px(40), px(18)), Qt::AlignVCenter, text(m_ladder->ask.unit));
}

void LadderRow::choose(size_t place) {
  m_chosen = place;
  if (place < m_places.size())
    setAccessibleDescription(tr("%1: %2").arg(
        text(valueWords(m_ladder->ask, m_ladder->ask.valueAt(m_places[place].index))), wordsOf(m_places[place])));
  update();
}

void LadderRow::wantRun() {
  if (m_chosen < m_places.size() && m_places[m_chosen].step != nullptr)
    emit runWanted(text(m_places[m_chosen].step->runId));
}

void LadderRow::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Left && m_chosen > 0) return choose(m_chosen - 1);
  if (event->key() == Qt::Key_Right && m_chosen + 1 < m_places.size()) return choose(m_chosen + 1);
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return wantRun();
  QWidget::keyPressEvent(event);
}

void LadderRow::mousePressEvent(QMouseEvent* event) {
  setFocus();
  if (const auto place = placeAt(event->position())) choose(*place);
}

void LadderRow::mouseDoubleClickEvent(QMouseEvent* event) {
  if (placeAt(event->position())) wantRun();
}

void LadderRow::focusInEvent(QFocusEvent*) { update(); }
void LadderRow::focusOutEvent(QFocusEvent*) { update(); }

bool LadderRow::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const auto place = placeAt(QPointF(help->pos()));
  const LadderStep* step = place ? m_places[*place].step : nullptr;
  const QString why = step == nullptr || step->why.empty() ? QString() : QStringLiteral("\n") + text(step->why);
  QToolTip::showText(help->globalPos(), step == nullptr ? tr("Not run yet") : text(step->setup) + why, this);
  return true;
}

}  // namespace ash

#include "moc_ladder_row.cpp"
