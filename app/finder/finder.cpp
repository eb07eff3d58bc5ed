// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/finder/finder.h"

#include <QApplication>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::theme;
namespace {
constexpr size_t kMostRows = 200;
}

int finderRank(const QString& words, const QString& typed) {
  int rank = 0;
  for (const QString& part : typed.split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
    const qsizetype at = words.indexOf(part, 0, Qt::CaseInsensitive);
    if (at < 0) return -1;
    const bool beginsWord = at == 0 || !words[at - 1].isLetterOrNumber();
    rank += (beginsWord ? 0 : 100) + static_cast<int>(std::min<qsizetype>(at, 90));
  }
  return rank;
}

Finder::Finder(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("finder"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(12), px(12), px(12), px(12));
  column->setSpacing(px(8));
  m_line = new QLineEdit(this);
  m_line->setObjectName(QStringLiteral("finder-line"));
  m_line->setAccessibleName(tr("Find a command, study, setup or run"));
  m_line->setPlaceholderText(tr("Find a command, study, setup or run"));
  m_line->setFont(look::font(14));
  m_list = new QListWidget(this);
  m_list->setObjectName(QStringLiteral("finder-list"));
  m_list->setFont(look::font(13));
  m_list->setFocusPolicy(Qt::NoFocus);
  m_list->setWordWrap(true);
  column->addWidget(m_line);
  column->addWidget(m_list, 1);
  m_line->installEventFilter(this);
  connect(m_line, &QLineEdit::textChanged, this, &Finder::fill);
  connect(m_line, &QLineEdit::returnPressed, this, &Finder::choose);
  connect(m_list, &QListWidget::itemClicked, this, &Finder::choose);
  hide();
}

void Finder::open(std::vector<FinderEntry> entries) {
  m_entries = std::move(entries);
  m_line->clear();
  const int width = std::min(px(620), parentWidget()->width() - px(40));
  setGeometry((parentWidget()->width() - width) / 2, px(64), width,
              std::min(px(420), parentWidget()->height() - px(100)));
  fill();
  show();
  raise();
  m_line->setFocus();
}

void Finder::fill() {
  std::vector<std::pair<int, size_t>> ranked;
  for (size_t i = 0; i < m_entries.size(); ++i) {
    const int rank = finderRank(m_entries[i].words + QLatin1Char(' ') + m_entries[i].kind, m_line->text());
    if (rank >= 0) ranked.emplace_back(rank, i);
  }
  std::stable_sort(ranked.begin(), ranked.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  m_list->clear();
  for (size_t i = 0; i < std::min(kMostRows, ranked.size()); ++i) {
    const FinderEntry& entry = m_entries[ranked[i].second];
    auto* item =
        new QListWidgetItem(entry.words + QStringLiteral("   ·  ") +
                                (entry.keys.isEmpty() ? entry.kind : entry.kind + QStringLiteral(", ") + entry.keys),
                            m_list);
    item->setData(Qt::UserRole, static_cast<int>(ranked[i].second));
    item->setSizeHint({0, px(26)});
  }
  if (ranked.empty()) {
    auto* nothing = new QListWidgetItem(tr("Nothing is called “%1”. Runs, setups and studies of the open book, and all "
                                           "commands, are found by any part of their name.")
                                            .arg(m_line->text().trimmed()),
                                        m_list);
    nothing->setFlags(Qt::NoItemFlags);
    nothing->setSizeHint({0, px(40)});
    return;
  }
  m_list->setCurrentRow(0);
}

void Finder::choose() {
  const QListWidgetItem* item = m_list->currentItem();
  if (item == nullptr || !(item->flags() & Qt::ItemIsEnabled)) return;
  const auto action = m_entries[static_cast<size_t>(item->data(Qt::UserRole).toInt())].action;
  hide();
  action();
}

bool Finder::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::FocusOut) {
    // A click elsewhere closes it; one into the list does not take the focus, nor does another window end it.
    if (static_cast<QFocusEvent*>(event)->reason() != Qt::ActiveWindowFocusReason) hide();
    return false;
  }
  if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  auto* key = static_cast<QKeyEvent*>(event);
  if (key->key() == Qt::Key_Escape) {
    hide();
    return true;
  }
  const bool isMove = key->key() == Qt::Key_Up || key->key() == Qt::Key_Down || key->key() == Qt::Key_PageUp ||
                      key->key() == Qt::Key_PageDown;
  if (isMove) QApplication::sendEvent(m_list, event);
  return isMove;
}

void Finder::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme().panel);
  painter.setPen(theme().ink);
  painter.drawRect(rect().adjusted(0, 0, -1, -1));
}

}  // namespace ash

#include "moc_finder.cpp"
