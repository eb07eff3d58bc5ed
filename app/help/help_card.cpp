// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/help/help_card.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QShortcut>
#include <QTextBrowser>
#include <QVBoxLayout>

#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::theme;
namespace {

constexpr int kCardWidth = 440, kStripEdge = 16;

}  // namespace

HelpCard::HelpCard(QWidget* over) : SideSheet(QStringLiteral("help"), kCardWidth, over) {
  m_words = new QTextBrowser(this);
  m_words->setObjectName(QStringLiteral("help-words"));
  m_words->setFont(look::font(13));
  m_words->setAccessibleName(tr("Explanation"));
  m_words->setOpenLinks(false);
  m_words->setFrameShape(QFrame::NoFrame);
  m_words->setStyleSheet(QStringLiteral("QTextBrowser { background: %1; border: 0; color: %2; }")
                             .arg(theme().panel.name(), theme().ink.name()));
  column()->addWidget(m_words, 1);
}

void HelpCard::explain(const HelpWords& help) {
  setTitle(help.title);
  m_words->setMarkdown(help.words);
  m_words->moveCursor(QTextCursor::Start);
  setAccessibleName(tr("Help: %1").arg(help.title));
  setAccessibleDescription(m_words->toPlainText());
  open(m_words);
}

TourStrip::TourStrip(QWidget* parent) : QWidget(parent), m_steps(tourSteps()) {
  setObjectName(QStringLiteral("tour"));
  look::withGround(this, theme().selected);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(px(kStripEdge), px(8), px(kStripEdge), px(8));
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
