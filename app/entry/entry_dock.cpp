// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/entry/entry_dock.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {
constexpr size_t kRows = 3;
constexpr int kMostHistory = 50;
}  // namespace

EntryDock::EntryDock(QWidget* parent) : QWidget(parent) {
  look::withGround(this, theme().panel);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(16), px(6), px(16), px(10));
  column->setSpacing(px(4));
  m_chips = new QWidget(this);
  m_chipRow = new QHBoxLayout(m_chips);
  m_chipRow->setContentsMargins(0, 0, 0, 0);
  m_chipRow->setSpacing(px(8));
  column->addWidget(m_chips);
  auto* rows = new QHBoxLayout;
  m_left = look::label({}, 12, QFont::Normal, this);
  m_left->setTextFormat(Qt::RichText);
  m_left->setObjectName(QStringLiteral("entry-completions"));
  m_right = look::label({}, 12, QFont::Normal, this);
  m_right->setTextFormat(Qt::RichText);
  m_right->setWordWrap(true);
  m_right->setObjectName(QStringLiteral("entry-preview"));
  for (QLabel* label : {m_left, m_right}) {
    label->setAlignment(Qt::AlignTop);
    label->setFixedHeight(px(54));
  }
  rows->addWidget(m_left, 1);
  rows->addWidget(m_right, 1);
  column->addLayout(rows);
  auto* row = new QHBoxLayout;
  m_line = new QLineEdit(this);
  m_line->setObjectName(QStringLiteral("entry"));
  m_line->setAccessibleName(tr("Entry line"));
  m_line->setFont(look::font(14));
  m_line->setMaxLength(500);
  m_line->setPlaceholderText(
      tr("noise 38.5 50cm · surface hinge 47.5 · score 11493 · wall 162 · room 22.4 · set power-limit 65 W · note … · "
         "void …"));
  m_line->installEventFilter(this);
  m_hint = look::softLabel({}, this);
  row->addWidget(m_line, 1);
  row->addWidget(m_hint);
  column->addLayout(row);
  connect(m_line, &QLineEdit::textChanged, this, &EntryDock::refresh);
  connect(m_line, &QLineEdit::returnPressed, this, &EntryDock::take);
  refresh();
}

void EntryDock::setContext(const Context& context) {
  const auto same = [](const std::vector<OwedReading>& a, const std::vector<OwedReading>& b) {
    return a.size() == b.size() &&
           std::equal(a.begin(), a.end(), b.begin(),
                      [](const OwedReading& x, const OwedReading& y) { return owedWords(x) == owedWords(y); });
  };
  const bool isSame = context.run == m_context.run && context.moment == m_context.moment &&
                      context.last == m_context.last && context.isSettled == m_context.isSettled &&
                      same(context.owed, m_context.owed);
  const bool hasOtherChips = !same(context.owed, m_context.owed) || !same(context.byHand, m_context.byHand);
  m_context = context;
  if (hasOtherChips) fillChips();
  if (!isSame || hasOtherChips) refresh();
}

void EntryDock::focusLine() { m_line->setFocus(); }

void EntryDock::fillChips() {
  while (QLayoutItem* item = m_chipRow->takeAt(0)) {
    if (item->widget() != nullptr) item->widget()->deleteLater();
    delete item;
  }
  m_chips->setVisible(!m_context.byHand.empty());
  m_chipRow->addWidget(look::label(m_context.owed.empty() ? tr("All readings by hand are taken") : tr("Still to take"),
                                   13, QFont::DemiBold, m_chips));
  for (const OwedReading& owed : m_context.owed) {
    auto* chip = new QPushButton(text(owedWords(owed)), m_chips);
    chip->setObjectName(QStringLiteral("owed-") + text(owed.role.text()));
    chip->setFont(look::font(12));
    chip->setToolTip(tr("Begins the line with it"));
    connect(chip, &QPushButton::clicked, this, [this, owed] {
      const auto all = completeEntry("", {owed});
      if (!all.empty()) m_line->setText(text(all.front().line));
      m_line->setFocus();
    });
    m_chipRow->addWidget(chip);
  }
  m_chipRow->addStretch(1);
  m_chipRow->addWidget(
      look::softLabel(tr("%1 taken in this run").arg(m_context.byHand.size() - m_context.owed.size()), m_chips));
}

QString EntryDock::previewOf(const QString& line) const {
  if (line.trimmed().isEmpty()) return {};
  const auto entry = parseEntry(line.toStdString());
  if (!entry) return QStringLiteral("<b>%1</b>").arg(text(entry.error().message).toHtmlEscaped());
  QString words;
  if (entry->kind == Entry::Kind::Void) {
    words = (m_context.isLive ? tr("Ends the run and makes it <b>%1</b>.") : tr("Makes the run <b>%1</b>."))
                .arg(text(entryWords(*entry)).toHtmlEscaped());
    return words + tr(" It stays in the book and takes no part.");
  }
  if (entry->kind == Entry::Kind::Fail)
    return (m_context.isLive ? tr("Ends the run as <b>%1</b>.") : tr("Makes a completed run <b>%1</b>."))
        .arg(text(entryWords(*entry)).toHtmlEscaped());
  words = tr("Will be kept as <b>%1</b>, by hand, %2, %3.")
              .arg(text(entryWords(*entry)).toHtmlEscaped(), m_context.run.toHtmlEscaped(),
                   m_context.moment.toHtmlEscaped());
  if (entry->kind != Entry::Kind::Reading) return words;
  for (const OwedReading& owed : m_context.byHand) {
    if (owed.role != entry->role) continue;
    if (!owed.place.empty() && !entry->place.empty() && owed.place != entry->place)
      words += tr("<br>The plan measures at %1.").arg(text(owed.place).toHtmlEscaped());
    else if (owed.when == OwedReading::When::Settled && m_context.isLive && !m_context.isSettled)
      words += tr("<br><b>Not settled yet:</b> the reading still to take, when settled, stays open.");
  }
  return words;
}

void EntryDock::refresh() {
  const QString line = m_line->text();
  m_completions = line.isEmpty() && !m_line->hasFocus() ? std::vector<EntryCompletion>()
                                                        : completeEntry(line.toStdString(), m_context.owed);
  QString left;
  if (line.isEmpty() && !m_context.last.isEmpty()) {
    for (int i = 0; i < std::min<int>(static_cast<int>(kRows), static_cast<int>(m_context.last.size())); ++i)
      left += m_context.last[i] + QStringLiteral("<br>");
  } else {
    for (size_t i = 0; i < std::min(kRows, m_completions.size()); ++i) {
      left += QStringLiteral("<b>%1</b> &nbsp;<span style='color:%2'>%3</span>%4<br>")
                  .arg(text(m_completions[i].line).toHtmlEscaped(), theme().softInk.name(),
                       text(m_completions[i].words).toHtmlEscaped(), i == 0 ? tr(" &nbsp;Tab") : QString());
    }
  }
  m_left->setText(left);
  m_right->setText(previewOf(line));
  m_line->setEnabled(!m_context.run.isEmpty());
  m_hint->setText(!m_line->isEnabled() ? tr("no run to write into")
                  : m_line->hasFocus() ? tr("Enter keeps it · Esc empties the line")
                                       : tr("/ to type here"));
}

void EntryDock::complete() {
  if (m_completions.empty()) return;
  m_line->setText(text(m_completions.front().line));
}

void EntryDock::fromHistory(int by) {
  if (m_history.isEmpty()) return;
  m_historyPlace = std::clamp(m_historyPlace + by, -1, static_cast<int>(m_history.size()) - 1);
  m_line->setText(m_historyPlace < 0 ? QString() : m_history[m_historyPlace]);
}

void EntryDock::take() {
  const QString line = m_line->text().trimmed();
  if (!parseEntry(line.toStdString())) return refresh();  // the reason stands in the preview
  m_history.prepend(line);
  if (m_history.size() > kMostHistory) m_history.removeLast();
  m_historyPlace = -1;
  emit entered(line);
}

void EntryDock::showAnswer(bool ok, const QString& why) {
  // What was typed stays until it is kept.
  if (ok)
    m_line->clear();
  else
    m_right->setText(QStringLiteral("<b>%1</b>").arg(why.toHtmlEscaped()));
}

bool EntryDock::eventFilter(QObject* watched, QEvent* event) {
  if (watched != m_line) return QWidget::eventFilter(watched, event);
  if (event->type() == QEvent::FocusIn || event->type() == QEvent::FocusOut) refresh();
  if (event->type() != QEvent::KeyPress) return false;
  auto* key = static_cast<QKeyEvent*>(event);
  switch (key->key()) {
    case Qt::Key_Tab:
      if (m_completions.empty() || m_line->text().isEmpty()) return false;
      complete();
      return true;
    case Qt::Key_Up:
      fromHistory(1);
      return true;
    case Qt::Key_Down:
      fromHistory(-1);
      return true;
    case Qt::Key_Escape:
      m_line->clear();
      return true;
    default:
      return false;
  }
}

}  // namespace ash

#include "moc_entry_dock.cpp"
