// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/help/help_card.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QShortcut>
#include <QTextBrowser>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::theme;
namespace {

constexpr int kCardWidth = 440, kEdge = 16;

}  // namespace

HelpCard::HelpCard(QWidget* over) : QWidget(over) {
  setObjectName(QStringLiteral("help"));
  setFocusPolicy(Qt::StrongFocus);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(kEdge), px(12), px(kEdge), px(12));
  auto* head = new QHBoxLayout;
  m_title = look::label({}, 17, QFont::DemiBold, this);
  m_title->setObjectName(QStringLiteral("help-title"));
  m_title->setWordWrap(true);
  auto* leave = new QPushButton(tr("Close"), this);
  leave->setToolTip(tr("Closes it (Esc)"));
  leave->setObjectName(QStringLiteral("help-close"));
  connect(leave, &QPushButton::clicked, this, &HelpCard::close);
  head->addWidget(m_title, 1);
  head->addWidget(leave, 0, Qt::AlignTop);
  column->addLayout(head);
  m_words = new QTextBrowser(this);
  m_words->setObjectName(QStringLiteral("help-words"));
  m_words->setFont(look::font(13));
  m_words->setAccessibleName(tr("Explanation"));
  m_words->setOpenLinks(false);
  m_words->setFrameShape(QFrame::NoFrame);
  m_words->setStyleSheet(QStringLiteral("QTextBrowser { background: %1; border: 0; color: %2; }")
                             .arg(theme().panel.name(), theme().ink.name()));
  column->addWidget(m_words, 1);
  over->installEventFilter(this);
  hide();
}

void HelpCard::show(const HelpWords& help) {
  if (!isVisible()) m_before = QApplication::focusWidget();
  m_title->setText(help.title);
  m_words->setMarkdown(help.words);
  m_words->moveCursor(QTextCursor::Start);
  setAccessibleName(tr("Help: %1").arg(help.title));
  setAccessibleDescription(m_words->toPlainText());
  fit();
  QWidget::show();
  raise();
  m_words->setFocus();
}

void HelpCard::close() {
  hide();
  if (m_before != nullptr) m_before->setFocus();
}

void HelpCard::fit() {
  const int width = std::min(px(kCardWidth), parentWidget()->width());
  setGeometry(parentWidget()->width() - width, 0, width, parentWidget()->height());
}

bool HelpCard::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::Resize) fit();
  return QWidget::eventFilter(watched, event);
}

void HelpCard::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return close();
  QWidget::keyPressEvent(event);
}

void HelpCard::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme().panel);
  painter.fillRect(0, 0, 3, height(), theme().ink);
}

TourStrip::TourStrip(QWidget* parent) : QWidget(parent), m_steps(tourSteps()) {
  setObjectName(QStringLiteral("tour"));
  look::withGround(this, theme().selected);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(px(kEdge), px(8), px(kEdge), px(8));
  row->setSpacing(px(12));
  m_count = look::softLabel({}, this);
  m_sentence = look::label({}, 14, QFont::Medium, this);
  m_sentence->setObjectName(QStringLiteral("tour-sentence"));
  m_sentence->setWordWrap(true);
  m_next = new QPushButton(this);
  m_next->setObjectName(QStringLiteral("tour-next"));
  m_next->setProperty("role", "main");
  m_leave = new QPushButton(tr("Leave the tour"), this);
  m_leave->setObjectName(QStringLiteral("tour-leave"));
  m_leave->setToolTip(tr("Esc leaves it, too"));
  row->addWidget(m_count);
  row->addWidget(m_sentence, 1);
  row->addWidget(m_next);
  row->addWidget(m_leave);
  connect(m_next, &QPushButton::clicked, this, &TourStrip::goOn);
  connect(m_leave, &QPushButton::clicked, this, &TourStrip::leave);
  // Wherever the keys are; it is there only while the tour is shown.
  connect(new QShortcut(Qt::Key_Escape, this), &QShortcut::activated, this, &TourStrip::leave);
  hide();
}

void TourStrip::begin() {
  m_at = 0;
  show();
  showStep();
}

void TourStrip::showStep() {
  const TourStep& step = m_steps[m_at];
  m_count->setText(tr("%1 of %2").arg(m_at + 1).arg(m_steps.size()));
  m_sentence->setText(step.sentence);
  setAccessibleName(step.sentence);
  m_next->setText(m_at + 1 < m_steps.size() ? tr("Go on") : tr("Done"));
  emit placeWanted(step.place);
  m_next->setFocus();
}

void TourStrip::goOn() {
  if (++m_at >= m_steps.size()) return leave();
  showStep();
}

void TourStrip::leave() {
  hide();
  emit left();
}

void TourStrip::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return goOn();
  QWidget::keyPressEvent(event);
}

}  // namespace ash

#include "moc_help_card.cpp"
