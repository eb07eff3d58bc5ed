// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/setup_panel.h"

#include <QAbstractItemDelegate>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cstring>

#include "app/attached/picture_strip.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/plan/stated_panel.h"
#include "app/plan/way_field.h"
#include "app/study/study_desk.h"
#include "model/condition_field.h"
#include "model/setup_edit.h"
#include "model/text.h"
#include "report/answer/answer.h"

namespace ash {
using look::px;
using look::text;
namespace {

constexpr const char* kPart = "part/";
const QString kAddField = QStringLiteral("add …");

QString differenceWords(const ComparisonRow& row, const Figure& metric) {
  const auto found = row.metrics.find(metric);
  if (found == row.metrics.end()) return QObject::tr("no figure");
  return text(differenceText(row, metric));
}

}  // namespace

SetupPanel::SetupPanel(StudyDesk& desk, Pictures& pictures, QWidget* parent) : QWidget(parent), m_desk(desk) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(12), px(10), px(16), px(8));
  column->setSpacing(px(4));
  auto* head = new QHBoxLayout;
  m_sign = new look::SetupSign(this);
  m_name = new QLineEdit(this);
  m_name->setProperty("role", "heading");
  m_name->setObjectName(QStringLiteral("setup-name"));
  m_name->setAccessibleName(tr("Name of the setup"));
  m_name->setFont(look::font(13, QFont::DemiBold));
  m_price = look::label({}, 13, QFont::DemiBold, this);
  head->addWidget(m_sign);
  head->addWidget(m_name, 1);
  head->addWidget(m_price);
  column->addLayout(head);
  m_strip = new PictureStrip(pictures, this);
  column->addWidget(m_strip);
  m_differs = look::softLabel({}, this);
  column->addWidget(m_differs);
  m_table = look::plainTable({tr("Field"), tr("value")}, this);
  m_table->setObjectName(QStringLiteral("setup-fields"));
  m_table->setAccessibleName(tr("Fields of the setup"));
  m_table->horizontalHeader()->hide();
  m_table->verticalHeader()->setDefaultSectionSize(px(22));
  m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  m_table->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
  m_table->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                           QAbstractItemView::AnyKeyPressed);
  m_table->setToolTip(
      tr("Settings and parts of this setup; those that differ from the reference stand first. F2 edits, "
         "the last row adds a field, an empty value removes one."));
  // What was typed is taken at once, the setup changed a moment later: that fills the table anew.
  connect(m_table, &QTableWidget::cellChanged, this, [this](int row, int at) {
    const QString field = row < m_fields.size() ? m_fields[row] : QString();
    if (field.isEmpty() ? at != 0 : at != 1) return;
    const std::string typed = m_table->item(row, at)->text().trimmed().toStdString();
    QMetaObject::invokeMethod(
        this, [=, this, of = m_setup] { takeField(of, field, typed); }, Qt::QueuedConnection);
  });
  // What came while a cell was typed into is shown once it is closed.
  connect(m_table->itemDelegate(), &QAbstractItemDelegate::closeEditor, this, &SetupPanel::fillFields,
          Qt::QueuedConnection);
  column->addWidget(m_table, 3);
  auto* row = new QHBoxLayout;
  m_fold = new QPushButton(this);
  m_fold->setProperty("role", "quiet");
  m_reference = new QPushButton(tr("Make it the reference"), this);
  m_reference->setProperty("role", "quiet");
  m_remove = new QPushButton(tr("Remove"), this);
  m_remove->setProperty("role", "quiet");
  m_remove->setObjectName(QStringLiteral("remove-setup"));
  for (QPushButton* button : {m_fold, m_reference, m_remove}) row->addWidget(button);
  row->addStretch(1);
  column->addLayout(row);
  column->addWidget(look::rule(this));
  m_stated = new StatedPanel(desk, this);
  column->addWidget(m_stated);
  m_soFar = look::softLabel({}, this);
  m_soFar->setTextFormat(Qt::RichText);
  m_soFar->setWordWrap(true);
  column->addWidget(m_soFar);
  column->addWidget(look::rule(this));
  buildRuns();
  connect(m_name, &QLineEdit::editingFinished, this, &SetupPanel::takeName);
  connect(m_fold, &QPushButton::clicked, this, [this] {
    m_showsAll = !m_showsAll;
    fillFields();
  });
  connect(m_reference, &QPushButton::clicked, this, [this] {
    if (const Setup* now = setup()) {
      const std::string name = now->name;
      m_desk.edit(tr("Change the reference"), [&](Study&, StudyPlan& plan) { plan.reference = name; });
    }
  });
  connect(m_remove, &QPushButton::clicked, this, &SetupPanel::removeSetup);
  connect(&desk, &StudyDesk::changed, this, &SetupPanel::refresh);
  connect(&desk, &StudyDesk::reportChanged, this, [this] {
    fillSoFar();
    fillRuns();
  });
}

void SetupPanel::buildRuns() {
  auto* column = static_cast<QVBoxLayout*>(layout());
  m_runsHead = look::label({}, 13, QFont::DemiBold, this);
  m_runsHead->setWordWrap(true);
  column->addWidget(m_runsHead);
  m_way = new WayField(m_desk, this);
  column->addWidget(m_way);
  m_runs = new QListWidget(this);
  m_runs->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  m_runs->setTextElideMode(Qt::ElideRight);
  m_runs->setObjectName(QStringLiteral("cell-runs"));
  m_runs->setAccessibleName(tr("Runs of the selected cell"));
  m_runs->setFont(look::font(12));
  column->addWidget(m_runs, 2);
  auto* row = new QHBoxLayout;
  m_reason = new QLineEdit(this);
  m_reason->setObjectName(QStringLiteral("void-reason"));
  m_reason->setAccessibleName(tr("Why the run does not count"));
  m_reason->setPlaceholderText(tr("why it does not count"));
  m_reason->setFont(look::font(12));
  m_void = new QPushButton(tr("Void"), this);
  m_void->setObjectName(QStringLiteral("void-run"));
  m_watch = new QPushButton(tr("Show"), this);
  m_watch->setObjectName(QStringLiteral("show-run"));
  m_watch->setToolTip(tr("Shows the run on Watch"));
  row->addWidget(m_reason, 1);
  row->addWidget(m_void);
  row->addWidget(m_watch);
  column->addLayout(row);
  connect(m_runs, &QListWidget::currentRowChanged, this, &SetupPanel::runChosen);
  connect(m_reason, &QLineEdit::textChanged, this, &SetupPanel::runChosen);
  connect(m_reason, &QLineEdit::returnPressed, this, &SetupPanel::toggleVoid);
  connect(m_void, &QPushButton::clicked, this, &SetupPanel::toggleVoid);
  const auto watch = [this] {
    if (m_runs->currentItem() != nullptr) emit watchWanted(m_runs->currentItem()->data(Qt::UserRole).toString());
  };
  connect(m_watch, &QPushButton::clicked, this, watch);
  connect(m_runs, &QListWidget::itemActivated, this, watch);
}

const Setup* SetupPanel::setup() const {
  const Study* study = m_desk.study();
  if (study == nullptr || m_setup >= static_cast<int>(study->setups.size())) return nullptr;
  return &study->setups[static_cast<size_t>(m_setup)];
}

void SetupPanel::show(int setup, int load) {
  m_setup = setup;
  m_load = load;
  refresh();
}

std::string SetupPanel::runAt(const QPoint& onScreen) const {
  const QListWidgetItem* item =
      m_runs->isVisible() ? m_runs->itemAt(m_runs->viewport()->mapFromGlobal(onScreen)) : nullptr;
  return item == nullptr ? std::string() : item->data(Qt::UserRole).toString().toStdString();
}

void SetupPanel::focusName() {
  m_name->setFocus();
  m_name->selectAll();
}

void SetupPanel::refresh() {
  const Setup* now = setup();
  setEnabled(now != nullptr);
  if (now == nullptr) return;
  m_sign->setSetup(m_setup);
  if (!m_name->hasFocus() || !m_name->isModified()) m_name->setText(text(now->name));
  const Json price = valueIn(now->conditions, "price", Json());
  m_price->setText(price.is_number() ? text(fieldText("price", price)) + QStringLiteral("\u202F") +
                                           text(valueIn(now->conditions, "currency", std::string()))
                                     : QString());
  fillFields();
  fillSoFar();
  fillRuns();
  fillPictures();
  m_way->show(m_setup, m_load);
  m_stated->show(m_setup);
}

void SetupPanel::fillFields() {
  const Setup* now = setup();
  if (now == nullptr || look::isBeingEdited(m_table)) return;
  const Study& study = *m_desk.study();
  const std::string referenceName = referenceSetup(study, m_desk.plan());
  const int referenceIndex = setupIndexIn(study, referenceName);
  const Setup& reference = study.setups[static_cast<size_t>(std::max(0, referenceIndex))];
  const bool isReference = now->name == referenceName;
  struct Row {
    std::string field;
    bool isPart, differs;
    Json value;
  };
  std::vector<Row> rows;
  const auto collect = [&](const Json& own, const Json& others, bool isPart) {
    for (const auto& [field, value] : own.items())
      rows.push_back({field, isPart, !isReference && others.value(field, Json()) != value, value});
  };
  collect(now->conditions, reference.conditions, false);
  collect(now->parts, reference.parts, true);
  std::stable_partition(rows.begin(), rows.end(), [](const Row& row) { return row.differs; });
  const auto same = std::count_if(rows.begin(), rows.end(), [](const Row& row) { return !row.differs; });
  const bool foldsSame = !isReference && !m_showsAll;
  if (foldsSame) std::erase_if(rows, [](const Row& row) { return !row.differs; });
  m_differs->setText(isReference ? tr("the reference, all of its fields")
                                 : tr("Differs from %1").arg(text(referenceName)));
  m_fold->setVisible(!isReference);
  m_fold->setText(m_showsAll ? tr("Only what differs") : tr("%1 as the reference").arg(same));
  m_reference->setVisible(!isReference);
  const bool hasRuns = std::any_of(m_desk.runs().begin(), m_desk.runs().end(),
                                   [&](const RunSummary& run) { return run.info.setup == now->name; });
  m_remove->setVisible(!hasRuns);
  const QSignalBlocker quiet(m_table);
  m_table->setRowCount(static_cast<int>(rows.size()) + 1);
  m_fields.clear();
  for (int i = 0; i <= static_cast<int>(rows.size()); ++i) {
    const bool isNew = i == static_cast<int>(rows.size());
    const Row row = isNew ? Row{} : rows[static_cast<size_t>(i)];
    auto* name = new QTableWidgetItem(isNew ? kAddField : text(fieldTitle(row.field)));
    auto* value = new QTableWidgetItem(isNew ? QString() : text(fieldText(row.field, row.value)));
    value->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    if (row.differs || isReference) value->setFont(look::font(12, QFont::DemiBold));
    if (!isNew) name->setFlags(name->flags() & ~Qt::ItemIsEditable);
    if (isNew) value->setFlags(value->flags() & ~Qt::ItemIsEditable);
    if (isNew) name->setForeground(look::theme().softInk);
    if (isNew) name->setToolTip(tr("Type here to add a field, e.g. Fan duty."));
    m_table->setItem(i, 0, name);
    m_table->setItem(i, 1, value);
    if (!isNew) m_fields << (row.isPart ? QString::fromLatin1(kPart) : QString()) + text(row.field);
  }
}

void SetupPanel::fillSoFar() {
  const Setup* now = setup();
  if (now == nullptr) return;
  QString rows;
  const std::string reference = referenceSetup(*m_desk.study(), m_desk.plan());
  if (m_desk.report() && now->name != reference) {
    for (const LoadStanding& load : m_desk.report()->loads) {
      const Figure metric = leadingMetric(*m_desk.report(), load.comparison);
      for (const ComparisonRow& row : load.comparison.rows) {
        if (row.setup != now->name || row.metrics.count(metric) == 0 || row.metrics.at(metric).verdict == Verdict::None)
          continue;
        rows += QStringLiteral("<tr><td>%1</td><td align=right width=150><b>%2</b></td></tr>")
                    .arg(text(load.load).toHtmlEscaped(), differenceWords(row, metric).toHtmlEscaped());
      }
    }
  }
  if (rows.isEmpty())
    m_soFar->setText(now->name == reference
                         ? tr("The others are held against this one.")
                         : tr("No run to hold against %1 yet.").arg(text(reference).toHtmlEscaped()));
  else
    m_soFar->setText(tr("<b>What the runs so far say</b>, against %1").arg(text(reference).toHtmlEscaped()) +
                     QStringLiteral("<table width='100%' cellspacing=2>%1</table>").arg(rows));
}

void SetupPanel::fillRuns() {
  const Setup* now = setup();
  if (now == nullptr || m_desk.study()->loads.empty()) return;
  const Load& load =
      m_desk.study()
          ->loads[static_cast<size_t>(std::min<int>(m_load, static_cast<int>(m_desk.study()->loads.size()) - 1))];
  const QString chosen =
      m_runs->currentItem() == nullptr ? QString() : m_runs->currentItem()->data(Qt::UserRole).toString();
  const QSignalBlocker quiet(m_runs);
  m_runs->clear();
  for (const RunSummary& run : m_desk.runs()) {
    if (run.info.setup != now->name || run.info.load != load.name) continue;
    const bool isVoid = run.info.outcome == Outcome::Void;
    auto* item = new QListWidgetItem(
        tr("%1   %2, %3")
                .arg(run.info.repeat)
                .arg(text(std::string(outcomeText(run.info.outcome))), text(clockText(run.lastSampleS))) +
            (run.info.reason.empty() ? QString() : QStringLiteral(" · ") + text(run.info.reason)),
        m_runs);
    item->setData(Qt::UserRole, text(run.info.id));
    item->setData(Qt::UserRole + 1, isVoid);
    item->setToolTip(tr("Run %1, started %2").arg(text(run.info.id), text(run.info.started)));
    if (text(run.info.id) == chosen) m_runs->setCurrentItem(item);
  }
  if (m_runs->currentItem() == nullptr && m_runs->count() > 0) m_runs->setCurrentRow(m_runs->count() - 1);
  m_runsHead->setText(m_runs->count() == 0 ? tr("No run of %1 yet").arg(text(load.name))
                                           : tr("Runs, %1").arg(text(load.name)));
  for (QWidget* widget : std::initializer_list<QWidget*>{m_runs, m_reason, m_void, m_watch})
    widget->setVisible(m_runs->count() > 0);
  runChosen();
}

// Those of the setup, then those of the run that is selected.
void SetupPanel::fillPictures() {
  const Setup* now = setup();
  if (now == nullptr) return;
  Attachment owner;
  owner.setup = now->id;
  std::vector<Attachment> files = m_desk.attachmentsOf(now->id);
  if (const QListWidgetItem* item = m_runs->currentItem()) {
    const auto ofRun = m_desk.attachmentsOf(item->data(Qt::UserRole).toString().toStdString());
    files.insert(files.end(), ofRun.begin(), ofRun.end());
  }
  m_strip->show(files, owner);
}

void SetupPanel::runChosen() {
  fillPictures();
  const QListWidgetItem* item = m_runs->currentItem();
  const bool isVoid = item != nullptr && item->data(Qt::UserRole + 1).toBool();
  m_void->setText(isVoid ? tr("Count it again") : tr("Void"));
  m_reason->setVisible(item != nullptr && !isVoid);
  m_void->setEnabled(item != nullptr && (isVoid || !m_reason->text().trimmed().isEmpty()));
  m_void->setToolTip(isVoid ? tr("The run counts as it did before.")
                            : tr("The run stays in the book with its reason and takes no part."));
  m_watch->setEnabled(item != nullptr);
}

void SetupPanel::toggleVoid() {
  const QListWidgetItem* item = m_runs->currentItem();
  if (item == nullptr || !m_void->isEnabled()) return;
  const QString run = item->data(Qt::UserRole).toString();
  if (item->data(Qt::UserRole + 1).toBool()) return m_desk.restoreRun(run);
  m_desk.voidRun(run, m_reason->text().trimmed());
  m_reason->clear();
}

void SetupPanel::takeName() {
  const Setup* now = setup();
  const std::string name = m_name->text().trimmed().toStdString();
  if (now == nullptr || name.empty() || name == now->name) return;
  if (setupIndexIn(*m_desk.study(), name) >= 0) {
    m_name->setText(text(now->name));
    return;
  }
  m_name->setModified(false);
  m_desk.edit(tr("Rename a setup"),
              [&](Study& study, StudyPlan& plan) { renameSetup(study, plan, static_cast<size_t>(m_setup), name); });
}

void SetupPanel::takeField(int of, const QString& field, const std::string& typed) {
  m_desk.edit(tr("Change a setup"), [&](Study& study, StudyPlan&) {
    if (of >= static_cast<int>(study.setups.size())) return;
    Setup& changed = study.setups[static_cast<size_t>(of)];
    if (field.isEmpty()) {
      if (typed.empty() || typed == kAddField.toStdString()) return;
      changed.conditions[fieldCode(typed)] = "";
      m_showsAll = true;
      return;
    }
    const bool isPart = field.startsWith(QLatin1String(kPart));
    const std::string code = (isPart ? field.mid(static_cast<int>(strlen(kPart))) : field).toStdString();
    Json& fields = isPart ? changed.parts : changed.conditions;
    const Json value = parseFieldValue(code, typed);
    if (value.is_null())
      fields.erase(code);
    else
      fields[code] = value;
    const bool lacksCurrency = code == ash::fields::kPrice && !value.is_null() && currencyOf(study).empty();
    if (const QString& usual = m_desk.usualCurrency(); lacksCurrency && !usual.isEmpty())
      changed.conditions[ash::fields::kCurrency] = usual.toStdString();
  });
  refresh();
}

void SetupPanel::removeSetup() {
  m_desk.edit(tr("Remove a setup"),
              [&](Study& study, StudyPlan&) { ash::removeSetup(study, static_cast<size_t>(m_setup)); });
}

}  // namespace ash

#include "moc_setup_panel.cpp"
