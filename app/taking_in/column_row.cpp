// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/taking_in/column_row.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/roles_offered.h"
#include "app/look/theme.h"
#include "app/taking_in/lane_drawing.h"
#include "model/number_text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;

namespace {
constexpr int kNamePx = 210;  // a longer name is cut in its middle: names of a row of sensors differ at their ends
}

ColumnLane::ColumnLane(QWidget* parent) : QWidget(parent) {
  setMinimumSize(px(150), px(40));
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void ColumnLane::show(LaneShape shape, int colour) {
  m_shape = std::move(shape);
  m_colour = colour;
  update();
}

void ColumnLane::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(rect(), theme().panel);
  painter.setPen(theme().line);
  painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
  const auto [low, high] = extentOf(m_shape);
  if (!(high >= low) || m_shape.timeS.size() < 2) return;
  const double lengthS = std::max(m_shape.timeS.back() - m_shape.timeS.front(), 1e-9);
  const double labels = px(46), pad = px(5);
  painter.setPen(QPen(theme().series(m_colour), 1.2));
  drawLane(painter, m_shape, [&, low = low, high = high](double t, double v) {
    const double share = high > low ? (v - low) / (high - low) : 0.5;
    return QPointF(pad + (t - m_shape.timeS.front()) / lengthS * (width() - labels - 2 * pad),
                   height() - pad - share * (height() - 2 * pad));
  });
  painter.setPen(theme().softInk);
  painter.setFont(look::font(11));
  const int digits = high - low < 1 ? 2 : high - low < 10 ? 1 : 0;
  const QRectF right(width() - labels, 0, labels - px(4), height());
  painter.drawText(right.adjusted(0, px(1), 0, 0), Qt::AlignRight | Qt::AlignTop, text(numberText(high, digits)));
  if (high > low)
    painter.drawText(right.adjusted(0, 0, 0, -px(1)), Qt::AlignRight | Qt::AlignBottom, text(numberText(low, digits)));
}

QString reasonWords(const ColumnFacts& facts) {
  const PlannedColumn& column = facts.column;
  if (column.kind == ColumnKind::Words) return QObject::tr("words: kept as events when they change");
  if (!column.doubt.empty()) return QObject::tr("no role: %1").arg(text(column.doubt));
  switch (column.why) {
    case RoleReason::Map:
      return column.role.empty() ? QObject::tr("no role, as you say") : QObject::tr("as you say");
    case RoleReason::Earlier:
      return QObject::tr("as you said of an earlier log");
    case RoleReason::Rule:
      return QObject::tr("by the words of its name and its unit");
    case RoleReason::None:
      return QObject::tr("kept under its own name: no rule fits");
  }
  return {};
}

ColumnRow::ColumnRow(const ColumnFacts& facts, const LaneShape* shape, int colour, QWidget* parent) : QWidget(parent) {
  build(text(facts.column.name), true);
  fillRoles(facts.column);
  QString why = reasonWords(facts);
  if (facts.refused > 0)
    why += tr("; %1 no number, the first in line %2, column %3: “%4”")
               .arg(facts.refused == 1 ? tr("1 cell is") : tr("%1 cells are").arg(facts.refused))
               .arg(facts.firstRefused->line)
               .arg(facts.firstRefused->column)
               .arg(text(facts.firstRefused->text));
  m_why->setText(why);
  if (facts.refused > 0 || !facts.column.doubt.empty())
    m_why->setStyleSheet(QStringLiteral("color: %1;").arg(theme().ember.name()));
  m_role->setEnabled(facts.column.kind != ColumnKind::Words);
  if (shape != nullptr)
    m_lane->show(*shape, colour);
  else
    m_lane->hide();
}

ColumnRow::ColumnRow(const QString& name, QWidget* parent) : QWidget(parent) {
  build(name, false);
  m_role->hide();
  m_lane->hide();
  m_why->setText(tr("left out"));
}

void ColumnRow::build(const QString& name, bool isTaken) {
  m_name = name;
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, px(3), 0, px(3));
  row->setSpacing(px(10));
  auto* words = new QVBoxLayout;
  words->setSpacing(px(2));
  auto* top = new QHBoxLayout;
  m_taken = new QCheckBox(QFontMetrics(font()).elidedText(name, Qt::ElideMiddle, px(kNamePx)), this);
  m_taken->setAccessibleName(name);
  m_taken->setObjectName(QStringLiteral("take-") + name);
  m_taken->setChecked(isTaken);
  m_taken->setToolTip(tr("%1: taken in. Off: the column is left out.").arg(name));
  m_role = new QComboBox(this);
  m_role->setObjectName(QStringLiteral("role-") + name);
  m_role->setAccessibleName(tr("What %1 means").arg(name));
  m_role->setToolTip(
      tr("What it means, so that it can be compared. What you say here is remembered by the column's name."));
  m_role->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  m_role->setMinimumContentsLength(18);
  top->addWidget(m_taken, 1);
  top->addWidget(m_role);
  words->addLayout(top);
  m_why = look::softLabel({}, this);
  m_why->setWordWrap(true);
  words->addWidget(m_why);
  m_lane = new ColumnLane(this);
  row->addLayout(words, 5);
  row->addWidget(m_lane, 4);
  connect(m_taken, &QCheckBox::toggled, this, [this](bool isTaken_) { emit takenSaid(m_name, isTaken_); });
  connect(m_role, &QComboBox::activated, this,
          [this](int index) { emit roleSaid(m_name, m_role->itemData(index).toString()); });
}

// Of its own quantity, where that is known, else all.
void ColumnRow::fillRoles(const PlannedColumn& column) {
  m_role->addItem(tr("nothing that is compared"), QString());
  const Quantity quantity = column.hasUnit ? column.unit.quantity : Quantity::Other;
  for (const std::string& role : look::rolesOffered(quantity)) m_role->addItem(text(Role(role).title()), text(role));
  const QString now = text(column.role.text());
  if (m_role->findData(now) < 0) m_role->addItem(text(column.role.title()), now);
  m_role->setCurrentIndex(m_role->findData(now));
}

}  // namespace ash

#include "moc_column_row.cpp"
