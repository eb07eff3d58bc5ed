// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/look/side_sheet.h"

#include <QApplication>
#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QShortcut>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash::look {
namespace {

constexpr int kSheetEdge = 16, kSheetRim = 3;

}  // namespace

SideSheet::SideSheet(const QString& name, int designWidth, QWidget* over)
    : QWidget(over), m_designWidth(designWidth), m_column(new QVBoxLayout(this)) {
  setObjectName(name);
  m_column->setContentsMargins(px(kSheetEdge), px(12), px(kSheetEdge), px(12));
  auto* head = new QHBoxLayout;
  m_title = label({}, 17, QFont::DemiBold, this);
  m_title->setObjectName(name + QStringLiteral("-title"));
  m_title->setWordWrap(true);
  auto* leave = new QPushButton(tr("Close"), this);
  leave->setToolTip(tr("Closes it (Esc)"));
  leave->setObjectName(name + QStringLiteral("-close"));
  connect(leave, &QPushButton::clicked, this, &SideSheet::close);
  head->addWidget(m_title, 1);
  head->addWidget(leave, 0, Qt::AlignTop);
  m_column->addLayout(head);
  // Wherever the keys are; it is there only while the sheet is shown.
  connect(new QShortcut(Qt::Key_Escape, this), &QShortcut::activated, this, &SideSheet::close);
  over->installEventFilter(this);
  hide();
}

void SideSheet::setTitle(const QString& title) { m_title->setText(title); }

void SideSheet::open(QWidget* first) {
  if (!isVisible()) m_before = QApplication::focusWidget();
  fit();
  show();
  raise();
  first->setFocus();
}

void SideSheet::close() {
  hide();
  if (m_before != nullptr) m_before->setFocus();
}

void SideSheet::fit() {
  const int width = std::min(px(m_designWidth), parentWidget()->width());
  setGeometry(parentWidget()->width() - width, 0, width, parentWidget()->height());
}

bool SideSheet::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::Resize) fit();
  return QWidget::eventFilter(watched, event);
}

void SideSheet::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme().panel);
  painter.fillRect(0, 0, kSheetRim, height(), theme().ink);
}

}  // namespace ash::look

#include "moc_side_sheet.cpp"
