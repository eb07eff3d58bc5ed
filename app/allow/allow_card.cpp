// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/allow/allow_card.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <utility>

#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kFewestLines = 3, kMostLines = 9;
constexpr int kLeastForStation = 640;  // what a station needs below the card, px

QString wholeText(const std::vector<ActivePart>& parts) {
  QStringList lines;
  for (const ActivePart& part : parts) {
    if (!lines.isEmpty()) lines << QString();
    lines << text(part.where);
    for (const std::string& line : detailLines(part)) lines << QStringLiteral("    ") + text(line);
  }
  return lines.join(QLatin1Char('\n'));
}

}  // namespace

AllowCard::AllowCard(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("allow-card"));
  look::withGround(this, theme().selected);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(16), px(10), px(16), px(12));
  column->setSpacing(px(8));
  m_head = look::label({}, 13, QFont::DemiBold, this);
  m_head->setObjectName(QStringLiteral("allow-head"));
  m_head->setWordWrap(true);
  column->addWidget(m_head);
  m_whole = new QPlainTextEdit(this);
  m_whole->setObjectName(QStringLiteral("allow-whole"));
  m_whole->setAccessibleName(tr("All that would be used, whole"));
  m_whole->setReadOnly(true);
  m_whole->setTabChangesFocus(true);
  m_whole->setLineWrapMode(QPlainTextEdit::WidgetWidth);
  m_whole->setWordWrapMode(QTextOption::WrapAnywhere);
  column->addWidget(m_whole);
  auto* row = new QHBoxLayout;
  row->addWidget(
      look::softLabel(tr("It is asked once: what is allowed stays so on this machine until any of it is changed."),
                      this),
      1);
  m_notNow = new QPushButton(tr("Not now"), this);
  m_notNow->setObjectName(QStringLiteral("allow-not-now"));
  m_allow = new QPushButton(tr("Allow on this machine"), this);
  m_allow->setObjectName(QStringLiteral("allow-here"));
  row->addWidget(m_notNow);
  row->addWidget(m_allow);
  column->addLayout(row);
  connect(m_notNow, &QPushButton::clicked, this, &AllowCard::dismiss);
  connect(m_allow, &QPushButton::clicked, this, [this] {
    const auto onAllow = std::exchange(m_onAllow, nullptr);
    emit allowed(m_parts);
    hide();
    if (onAllow) onAllow();
  });
  hide();
}

void AllowCard::ask(const QString& head, std::vector<ActivePart> parts, std::function<void()> onAllow) {
  m_parts = std::move(parts);
  m_onAllow = std::move(onAllow);
  m_head->setText(head);
  m_whole->setPlainText(wholeText(m_parts));
  // A window that is low keeps its station: the rest is scrolled to.
  const int spare = (window()->height() - px(kLeastForStation)) / m_whole->fontMetrics().lineSpacing();
  const int most = std::clamp(spare, kFewestLines, kMostLines);
  const int lines = std::clamp(m_whole->document()->blockCount(), kFewestLines, most);
  m_whole->setFixedHeight(lines * m_whole->fontMetrics().lineSpacing() + px(16));
  show();
  m_whole->setFocus();
}

void AllowCard::dismiss() {
  m_onAllow = nullptr;
  hide();
}

void AllowCard::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return dismiss();
  QWidget::keyPressEvent(event);
}

}  // namespace ash

#include "moc_allow_card.cpp"
