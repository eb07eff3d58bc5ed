// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/stated_panel.h"

#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "report/answer/stated.h"
#include "system/clock.h"

namespace ash {
using look::px;
using look::text;
namespace {

constexpr int kRowPx = 18, kMostRows = 3;

// In the words of its day: what stands behind it is in the tooltip.
QString rowWords(const StatedFigure& one) {
  const QString words = text(statedBy(one)) + QStringLiteral(": ") + text(statedText(one));
  return one.takenBack.empty() ? words : QObject::tr("%1 (taken back)").arg(words);
}

}  // namespace

StatedPanel::StatedPanel(StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(2));
  m_list = new QListWidget(this);
  m_list->setObjectName(QStringLiteral("stated"));
  m_list->setAccessibleName(tr("What is expected of this setup, and what others claim"));
  m_list->setFrameShape(QFrame::NoFrame);
  m_list->setFont(look::font(12));
  m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  m_list->setTextElideMode(Qt::ElideRight);
  m_list->installEventFilter(this);
  column->addWidget(m_list);
  m_line = new QLineEdit(this);
  m_line->setObjectName(QStringLiteral("state"));
  m_line->setProperty("role", "heading");
  m_line->setAccessibleName(tr("What do you expect of this setup?"));
  m_line->setPlaceholderText(tr("expect: CPU over room 44 to 48 K"));
  m_line->setFont(look::font(12));
  m_line->setToolTip(tr(
      "What you expect of this setup before it is measured, or what others claim of it: “CPU over room 44 to 48 K”, "
      "“CPU over room −8 K against the reference”, “claimed by the maker: CPU over room 45 K under All cores”. It is "
      "dated; what is changed once a run of it is there shows what it said before."));
  column->addWidget(m_line);
  m_problem = look::softLabel({}, this);
  m_problem->setProperty("problem", true);
  m_problem->setObjectName(QStringLiteral("state-problem"));
  m_problem->setWordWrap(true);
  m_problem->hide();
  column->addWidget(m_problem);
  connect(m_line, &QLineEdit::returnPressed, this, &StatedPanel::take);
  connect(m_line, &QLineEdit::textEdited, m_problem, &QWidget::hide);
}

QString StatedPanel::setupName() const {
  const Study* study = m_desk.study();
  const auto index = static_cast<size_t>(m_setup);
  return study == nullptr || index >= study->setups.size() ? QString() : text(study->setups[index].name);
}

// What is being typed belongs to its setup, and waits there.
void StatedPanel::show(int setup) {
  const QString before = m_shown;
  m_setup = setup;
  m_shown = setupName();
  if (m_shown != before) {
    m_typed[before] = m_line->text();
    m_line->setText(m_typed.value(m_shown));
    m_problem->hide();
  }
  const int selected = m_shown == before ? m_list->currentRow() : -1;
  m_list->clear();
  m_places.clear();
  const auto& all = m_desk.plan().stated;
  for (size_t i = 0; i < all.size(); ++i) {
    if (text(all[i].setup) != setupName()) continue;
    auto* item = new QListWidgetItem(rowWords(all[i]), m_list);
    item->setToolTip(text(statedText(all[i])) + QStringLiteral(": ") + text(statedHistory(all[i], m_desk.runs())) +
                     tr(". Del takes it back."));
    if (!all[i].takenBack.empty() || all[i].kind == StatedKind::Claimed) item->setForeground(look::theme().softInk);
    m_places.push_back(i);
  }
  m_list->setCurrentRow(std::min(selected, m_list->count() - 1));
  m_list->setVisible(!m_places.empty());
  m_list->setFixedHeight(px(kRowPx) * std::min(kMostRows, static_cast<int>(m_places.size())) + px(4));
}

void StatedPanel::take() {
  const Study* study = m_desk.study();
  if (study == nullptr || m_line->text().trimmed().isEmpty()) return;
  auto one = parseStated(m_line->text().toStdString(), *study, m_desk.plan(), setupName().toStdString());
  m_problem->setVisible(!one);
  if (!one) return m_problem->setText(text(one.error().message));
  one->written = isoTimeNow();
  m_line->clear();
  const bool isThere = hasResult(*one, m_desk.runs());
  m_desk.edit(one->kind == StatedKind::Expected ? tr("Say what is expected") : tr("Note what is claimed"),
              [&](Study&, StudyPlan& plan) { state(plan.stated, *one, isThere); });
}

void StatedPanel::takeBackSelected() {
  const int row = m_list->currentRow();
  if (row < 0 || row >= static_cast<int>(m_places.size())) return;
  const size_t place = m_places[static_cast<size_t>(row)];
  m_desk.edit(tr("Take back what was said"), [&](Study&, StudyPlan& plan) {
    if (place < plan.stated.size())
      takeBack(plan.stated, place, isoTimeNow(), hasResult(plan.stated[place], m_desk.runs()));
  });
}

bool StatedPanel::eventFilter(QObject* watched, QEvent* event) {
  if (watched == m_list && event->type() == QEvent::KeyPress &&
      static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete) {
    takeBackSelected();
    return true;
  }
  return QWidget::eventFilter(watched, event);
}

}  // namespace ash

#include "moc_stated_panel.cpp"
