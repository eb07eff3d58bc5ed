// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/reading_editor.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/look/parts.h"
#include "app/look/roles_offered.h"
#include "app/look/theme.h"
#include "app/readings/bench_rows.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
namespace {

// The limit that a person may state for a reading: where it slows down, or how much it may draw for long.
const char* limitNameOf(const Reading& reading) {
  if (reading.quantity == Quantity::Temperature) return "throttle";
  return reading.quantity == Quantity::Power ? "sustained" : "";
}

}  // namespace

ReadingEditor::ReadingEditor(QWidget* parent) : QWidget(parent) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(6));
  m_name = look::label({}, 14, QFont::DemiBold, this);
  m_name->setWordWrap(true);
  m_origin = look::softLabel({}, this);
  m_origin->setWordWrap(true);
  m_origin->setTextInteractionFlags(Qt::TextSelectableByMouse);
  m_hint =
      look::softLabel(tr("Choose a reading in the list: here stands what it means on this machine, where its limit "
                         "comes from, and what else it could be."),
                      this);
  m_hint->setWordWrap(true);
  column->addWidget(m_name);
  column->addWidget(m_origin);
  column->addWidget(m_hint);
  m_form = new QWidget(this);
  auto* form = new QFormLayout(m_form);
  form->setContentsMargins(0, 0, 0, 0);
  form->setLabelAlignment(Qt::AlignLeft);
  m_role = new QComboBox(m_form);
  m_role->setObjectName(QStringLiteral("reading-role"));
  m_role->setAccessibleName(tr("What it means"));
  m_role->setToolTip(
      tr("A role lets readings of different machines be compared. What you say here is kept in the book for this "
         "machine."));
  m_role->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  form->addRow(tr("Means"), m_role);
  m_limit = new QLineEdit(m_form);
  m_limit->setObjectName(QStringLiteral("reading-limit"));
  m_limit->setAccessibleName(tr("Its limit"));
  m_limit->setToolTip(
      tr("Where the device slows itself down (for power: what it may draw for long). From the device where it tells "
         "it, else from you."));
  form->addRow(tr("Limit"), m_limit);
  m_limitOrigin = look::softLabel({}, m_form);
  form->addRow(QString(), m_limitOrigin);
  m_isLogged = new QCheckBox(tr("Show and log it"), m_form);
  m_isLogged->setObjectName(QStringLiteral("reading-logged"));
  form->addRow(QString(), m_isLogged);
  auto* buttons = new QHBoxLayout;
  m_keep = new QPushButton(tr("Keep it so"), m_form);
  m_keep->setObjectName(QStringLiteral("reading-keep"));
  m_forget = new QPushButton(tr("As the rules say"), m_form);
  m_forget->setObjectName(QStringLiteral("reading-forget"));
  m_forget->setToolTip(tr("Forgets what was said of this reading; its driver's rule counts again."));
  buttons->addWidget(m_keep);
  buttons->addWidget(m_forget);
  buttons->addStretch();
  form->addRow(buttons);
  column->addWidget(m_form);
  connect(m_role, &QComboBox::currentIndexChanged, this, &ReadingEditor::refreshButtons);
  connect(m_limit, &QLineEdit::textChanged, this, &ReadingEditor::refreshButtons);
  connect(m_isLogged, &QCheckBox::toggled, this, &ReadingEditor::refreshButtons);
  const auto keep = [this] {
    if (m_keep->isEnabled()) emit choiceMade(m_id, std::make_shared<ReadingChoice>(typed()));
  };
  connect(m_keep, &QPushButton::clicked, this, keep);
  connect(m_limit, &QLineEdit::returnPressed, this, keep);
  connect(m_forget, &QPushButton::clicked, this, [this] { emit choiceMade(m_id, std::make_shared<ReadingChoice>()); });
  show(nullptr, {});
}

void ReadingEditor::setCanKeep(bool canKeep, const QString& why) {
  m_canKeep = canKeep;
  m_keep->setToolTip(why);
  refreshButtons();
}

void ReadingEditor::show(const ReadingNow* now, const ReadingChoice& said) {
  m_form->setVisible(now != nullptr);
  m_name->setVisible(now != nullptr);
  m_origin->setVisible(now != nullptr);
  m_hint->setVisible(now == nullptr);
  if (now == nullptr) {
    m_id.clear();
    return;
  }
  const QString id = text(now->reading.id);
  const bool isSame = id == m_id && choicesToJson({{"x", said}}) == choicesToJson({{"x", m_said}}) &&
                      now->reading.role == m_reading.role;
  m_reading = now->reading;
  if (isSame) return;
  m_id = id;
  m_said = said;
  fill(now->reading);
}

void ReadingEditor::fill(const Reading& reading) {
  m_name->setText(readingWords(reading));
  m_origin->setText(tr("“%1” of %2 (%3)").arg(text(reading.name), text(reading.device), text(reading.driver)));
  m_origin->setToolTip(text(reading.path.empty() ? reading.id : reading.path));
  const QSignalBlocker quiet(m_role);
  m_role->clear();
  m_role->addItem(tr("nothing that is compared"), QString());
  auto roles = look::rolesOffered(reading.quantity);
  if (!reading.role.empty() && std::find(roles.begin(), roles.end(), reading.role.text()) == roles.end())
    roles.insert(roles.begin(), reading.role.text());
  for (const std::string& role : roles) m_role->addItem(text(Role(role).title()), text(role));
  m_role->setCurrentIndex(std::max(0, m_role->findData(text(reading.role.text()))));
  const std::string limitName = limitNameOf(reading);
  m_limit->setEnabled(!limitName.empty());
  const auto limit = reading.limits.find(limitName);
  m_limit->setText(limit == reading.limits.end() ? QString()
                                                 : text(numberText(limit->second, usualDigits(reading.unit))));
  m_limit->setPlaceholderText(limitName.empty() ? tr("has none") : tr("not known, in %1").arg(text(reading.unit)));
  const auto origin = reading.origins.find(limitName);
  m_limitOrigin->setText(limit == reading.limits.end()     ? QString()
                         : origin == reading.origins.end() ? tr("from the device")
                         : origin->second == "typed"       ? tr("as you said")
                                                           : tr("from the device, %1").arg(text(origin->second)));
  m_isLogged->setChecked(!m_said.isHidden);
  refreshButtons();
}

void ReadingEditor::suggest(const QString& role) {
  // What its driver says it is counts more than what a warming suggests.
  if (m_id.isEmpty() || role.isEmpty() || !m_reading.role.empty()) return;
  if (m_role->findData(role) < 0) m_role->addItem(text(Role(role.toStdString()).title()), role);
  m_role->setCurrentIndex(m_role->findData(role));
  m_keep->setFocus();
}

ReadingChoice ReadingEditor::typed() const {
  ReadingChoice choice = m_said;
  const std::string role = m_role->currentData().toString().toStdString();
  if (m_reading.role != role) choice.role = role;
  const std::string name = limitNameOf(m_reading);
  QString words = m_limit->text();
  const auto value = parseNumber(words.replace(QLatin1Char(','), QLatin1Char('.')).trimmed().toStdString());
  const auto known = m_reading.limits.find(name);
  const bool isShownValue = known != m_reading.limits.end() &&
                            m_limit->text() == text(numberText(known->second, usualDigits(m_reading.unit)));
  if (!name.empty() && value && !isShownValue) choice.limits[name] = *value;
  if (!name.empty() && m_limit->text().trimmed().isEmpty()) choice.limits.erase(name);
  choice.isHidden = !m_isLogged->isChecked();
  return choice;
}

void ReadingEditor::refreshButtons() {
  QString words = m_limit->text();
  const bool isNumber = words.trimmed().isEmpty() ||
                        parseNumber(words.replace(QLatin1Char(','), QLatin1Char('.')).trimmed().toStdString());
  const bool isNew = choicesToJson({{"x", typed()}}) != choicesToJson({{"x", m_said}});
  m_keep->setEnabled(!m_id.isEmpty() && m_canKeep && isNumber && isNew);
  m_forget->setEnabled(!m_id.isEmpty() && m_canKeep && !m_said.isEmpty());
}

}  // namespace ash

#include "moc_reading_editor.cpp"
