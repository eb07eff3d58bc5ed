// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/way_field.h"

#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "load/load_text.h"
#include "model/load_way.h"

namespace ash {
using look::px;
using look::text;
namespace {

QString lineOf(const Json& spec) {
  const auto load = loadFromJson("", spec);
  return load ? text(loadText(*load)) : QString();
}

}  // namespace

WayField::WayField(StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(2));
  m_line = new QLineEdit(this);
  m_line->setObjectName(QStringLiteral("way"));
  m_line->setProperty("role", "heading");
  m_line->setFont(look::font(12));
  m_line->setToolTip(
      tr("How this setup carries the load out, where it does so otherwise: “graphics work=900000”. Empty: as every "
         "setup does. In the line of a command {field} stands for a field of the setup. One task done in two ways is "
         "compared by time, power and energy; temperatures only where the same part works."));
  column->addWidget(m_line);
  m_runs = look::softLabel({}, this);
  m_runs->setObjectName(QStringLiteral("way-runs"));
  m_runs->setWordWrap(true);
  column->addWidget(m_runs);
  m_problem = look::softLabel({}, this);
  m_problem->setObjectName(QStringLiteral("way-problem"));
  m_problem->setProperty("problem", true);
  m_problem->setWordWrap(true);
  m_problem->hide();
  column->addWidget(m_problem);
  connect(m_line, &QLineEdit::editingFinished, this, &WayField::take);
  connect(m_line, &QLineEdit::textEdited, m_problem, &QWidget::hide);
}

void WayField::show(int setup, int load) {
  m_setup = setup;
  m_load = load;
  fill();
}

void WayField::fill() {
  const Study* study = m_desk.study();
  const auto setupAt = static_cast<size_t>(m_setup), loadAt = static_cast<size_t>(m_load);
  const bool isThere = study != nullptr && setupAt < study->setups.size() && loadAt < study->loads.size();
  setVisible(isThere);
  if (!isThere) return;
  const Setup& setup = study->setups[setupAt];
  const Load& load = study->loads[loadAt];
  const QString of = text(setup.name) + QLatin1Char('\n') + text(load.name);
  const bool isOther = of != m_shown;
  m_shown = of;
  if (isOther) m_problem->hide();
  if (isOther || !m_line->isModified()) m_line->setText(lineOf(wayOf(load, setup.name)));
  const Json asAll = commonSpec(load);
  m_line->setPlaceholderText(tr("%1 here: as in every setup (%2)").arg(text(load.name), lineOf(asAll)));
  m_line->setAccessibleName(tr("How %1 is carried out by %2").arg(text(load.name), text(setup.name)));
  // What a line becomes with the fields of the setup in it.
  const auto spec = specOf(*study, load, setup.name);
  const Json own = wayOf(load, setup.name);
  const QString runs = spec ? text(valueIn(*spec, "command", "")) : text(spec.error().message);
  const bool isFilled = !spec || valueIn(*spec, "command", "") != valueIn(own.empty() ? asAll : own, "command", "");
  m_runs->setVisible(isFilled);
  m_runs->setText(spec ? tr("runs %1").arg(runs) : runs);
}

void WayField::take() {
  const Study* study = m_desk.study();
  if (study == nullptr || !m_line->isModified()) return;
  const std::string typed = m_line->text().trimmed().toStdString();
  Json way = Json::object();
  if (!typed.empty()) {
    const auto load = parseLoadText(typed);
    if (!load) {
      m_problem->setText(text(load.error().message));
      m_problem->show();
      return;
    }
    way = loadToJson(*load);
  }
  m_line->setModified(false);
  const auto setupAt = static_cast<size_t>(m_setup), loadAt = static_cast<size_t>(m_load);
  if (setupAt >= study->setups.size() || loadAt >= study->loads.size()) return;
  const std::string setup = study->setups[setupAt].name, load = study->loads[loadAt].name;
  m_desk.edit(tr("Carry a load out otherwise"),
              [&](Study& changed, StudyPlan&) { setWay(changed.loads[loadAt], setup, way); });
  // What was typed in this window has been confirmed by that.
  if (const auto parts = activeParts(*m_desk.study(), setup, load); !way.empty() && !parts.empty())
    emit m_desk.confirmWanted(parts);
}

}  // namespace ash
