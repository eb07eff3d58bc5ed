// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/readings_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QShortcut>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/readings/bench_rows.h"
#include "app/readings/outside_panel.h"
#include "app/readings/reading_editor.h"
#include "app/readings/which_one_panel.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {
constexpr int kSideWide = 336;
}

ReadingsPage::ReadingsPage(const QString& program, QWidget* parent) : QWidget(parent) {
  look::withGround(this, theme().panel);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(makeBar());
  column->addWidget(look::rule(this));
  auto* middle = new QHBoxLayout;
  middle->setSpacing(0);
  auto* scroll = new QScrollArea(this);
  scroll->setAccessibleName(tr("All readings"));
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  auto* inside = new QWidget(scroll);
  auto* stack = new QVBoxLayout(inside);
  stack->setContentsMargins(0, 0, 0, 0);
  stack->setSpacing(0);
  m_rows = new BenchRows(inside);
  m_outside = new OutsidePanel(inside);
  stack->addWidget(m_rows);
  stack->addWidget(m_outside);
  stack->addStretch();
  scroll->setWidget(inside);
  auto* list = new QVBoxLayout;
  list->setContentsMargins(px(16), px(4), px(8), 0);
  list->addWidget(scroll, 1);
  m_legend = look::softLabel(
      tr("Strip: where it has been. Bar: now. Line: where the device slows down. ▽ the stop rule that is always on. "
         "Untick what need not be logged."),
      this);
  m_legend->setWordWrap(true);
  list->addWidget(m_legend);
  middle->addLayout(list, 1);
  middle->addWidget(makeSide(program));
  column->addLayout(middle, 1);
  column->addWidget(look::rule(this));
  column->addWidget(makeFoot());
  connect(m_rows, &BenchRows::selectionChanged, this, &ReadingsPage::showSelected);
  connect(m_rows, &BenchRows::logToggled, this, &ReadingsPage::toggleLog);
  // Once it has been laid out.
  connect(m_outside, &OutsidePanel::opened, scroll, [this, scroll] {
    QTimer::singleShot(0, scroll, [this, scroll] { scroll->ensureVisible(0, m_outside->geometry().bottom(), 0, 0); });
  });
  connect(m_rows, &BenchRows::rowWanted, scroll,
          [scroll](const QRect& row) { scroll->ensureVisible(row.left(), row.center().y(), 0, row.height()); });
}

QWidget* ReadingsPage::makeBar() {
  auto* bar = new QWidget(this);
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(px(16), px(8), px(16), px(8));
  row->setSpacing(px(12));
  row->addWidget(look::label(tr("Readings"), 16, QFont::DemiBold, bar));
  m_summary = look::softLabel(tr("looking at the machine …"), bar);
  row->addWidget(m_summary, 1);
  row->addWidget(look::softLabel(tr("Show"), bar));
  m_filter = new look::Segments(tr("Which readings are shown"), {tr("with a meaning"), tr("moving"), tr("all")}, bar);
  m_filter->choose(0);
  row->addWidget(m_filter);
  m_search = new QLineEdit(bar);
  m_search->setObjectName(QStringLiteral("reading-search"));
  m_search->setPlaceholderText(tr("Search (Ctrl+F)"));
  m_search->setAccessibleName(tr("Search readings"));
  m_search->setClearButtonEnabled(true);
  m_search->setFixedWidth(px(180));
  row->addWidget(m_search);
  auto* find = new QShortcut(QKeySequence::Find, this);
  find->setContext(Qt::WidgetWithChildrenShortcut);
  connect(find, &QShortcut::activated, m_search, qOverload<>(&QWidget::setFocus));
  connect(m_filter, &look::Segments::changed, this,
          [this](int chosen) { m_rows->setFilter(static_cast<RowFilter>(chosen)); });
  connect(m_search, &QLineEdit::textChanged, this, [this](const QString& words) { m_rows->setSearch(words); });
  return bar;
}

QWidget* ReadingsPage::makeSide(const QString& program) {
  auto* scroll = new QScrollArea(this);
  scroll->setAccessibleName(tr("The reading that is chosen"));
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setFixedWidth(px(kSideWide));
  auto* side = look::withGround(new QWidget(scroll), theme().ground);
  auto* column = new QVBoxLayout(side);
  column->setContentsMargins(px(16), px(12), px(16), px(12));
  column->setSpacing(px(12));
  m_editor = new ReadingEditor(side);
  m_which = new WhichOnePanel(program, side);
  column->addWidget(m_editor);
  column->addWidget(m_which);
  column->addStretch();
  scroll->setWidget(side);
  connect(m_editor, &ReadingEditor::choiceMade, this,
          [this](const QString& id, const std::shared_ptr<const ReadingChoice>& choice) {
            if (m_readings) emit choiceMade(text(m_readings->machineKey), id, choice);
          });
  connect(m_which, &WhichOnePanel::roleSuggested, m_editor, &ReadingEditor::suggest);
  return scroll;
}

QWidget* ReadingsPage::makeFoot() {
  auto* foot = new QWidget(this);
  auto* column = new QVBoxLayout(foot);
  column->setContentsMargins(px(16), px(6), px(16), px(8));
  column->setSpacing(px(4));
  auto* row = new QHBoxLayout;
  m_skippedHead = look::label({}, 12, QFont::DemiBold, foot);
  m_skippedToggle = new QPushButton(tr("Show why"), foot);
  m_skippedToggle->setObjectName(QStringLiteral("skipped-toggle"));
  m_skippedToggle->setCheckable(true);
  row->addWidget(m_skippedHead);
  row->addWidget(m_skippedToggle);
  row->addStretch();
  column->addLayout(row);
  m_missing = look::softLabel({}, foot);
  m_missing->setWordWrap(true);
  column->addWidget(m_missing);
  m_skipped = look::plainTable({tr("Not read"), tr("why")}, foot);
  m_skipped->setObjectName(QStringLiteral("skipped"));
  m_skipped->setAccessibleName(tr("What is not read, and why"));
  m_skipped->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
  m_skipped->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  m_skipped->setFixedHeight(px(150));
  m_skipped->hide();
  column->addWidget(m_skipped);
  connect(m_skippedToggle, &QPushButton::toggled, this, &ReadingsPage::showSkipped);
  return foot;
}

void ReadingsPage::showEvent(QShowEvent*) { emit looking(true); }
void ReadingsPage::hideEvent(QHideEvent*) { emit looking(false); }

void ReadingsPage::setRunGoesOn(bool goesOn) { m_which->setRunGoesOn(goesOn); }

void ReadingsPage::setHasBook(bool hasBook) {
  m_editor->setCanKeep(hasBook, hasBook ? QString() : tr("What you say is kept in a book; open one first."));
}

void ReadingsPage::toggleLog(const QString& id) {
  if (!m_readings) return;
  ReadingChoice choice;
  const auto said = m_readings->choices.find(id.toStdString());
  if (said != m_readings->choices.end()) choice = said->second;
  choice.isHidden = !choice.isHidden;
  emit choiceMade(text(m_readings->machineKey), id, std::make_shared<ReadingChoice>(choice));
}

void ReadingsPage::showSelected() {
  const ReadingNow* now = m_rows->selected();
  ReadingChoice said;
  if (now != nullptr && m_readings->choices.contains(now->reading.id)) said = m_readings->choices.at(now->reading.id);
  m_editor->show(now, said);
  m_which->select(now);
}

void ReadingsPage::showSkipped() {
  const bool isWanted = m_skippedToggle->isChecked();
  m_skipped->setVisible(isWanted);
  m_skippedToggle->setText(isWanted ? tr("Hide") : tr("Show why"));
}

void ReadingsPage::show(const std::shared_ptr<const MachineSnapshot>& readings) {
  const bool isNewMachine = !m_readings || m_readings->skipped.size() != readings->skipped.size();
  m_readings = readings;
  m_rows->show(readings);
  m_outside->show(*readings);
  m_which->take(*readings);
  showSelected();
  const auto hidden = std::count_if(readings->readings.begin(), readings->readings.end(),
                                    [](const ReadingNow& now) { return now.isHidden; });
  const auto all = static_cast<long>(readings->readings.size());
  m_summary->setText(tr("%1: %2 found, twice a second%3")
                         .arg(text(readings->machine))
                         .arg(all)
                         .arg(hidden > 0 ? tr(", %1 not logged").arg(hidden) : QString()));
  QString missing;
  for (const std::string& sentence : readings->missing) missing += (missing.isEmpty() ? "" : " ") + text(sentence);
  m_missing->setText(missing);
  m_missing->setVisible(!missing.isEmpty());
  m_skippedHead->setText(readings->skipped.empty()
                             ? tr("Nothing was left out")
                             : tr("%1 not read, each with its reason").arg(readings->skipped.size()));
  m_skippedToggle->setVisible(!readings->skipped.empty());
  if (!isNewMachine) return;
  m_skipped->setRowCount(0);
  for (const SkippedReading& skipped : readings->skipped) {
    const int row = m_skipped->rowCount();
    m_skipped->insertRow(row);
    m_skipped->setItem(row, 0, new QTableWidgetItem(text(skipped.path)));
    m_skipped->setItem(row, 1, new QTableWidgetItem(text(skipped.why)));
  }
}

}  // namespace ash

#include "moc_readings_page.cpp"
