// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/question_field.h"

#include <QComboBox>
#include <QLineEdit>
#include <QVBoxLayout>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"

namespace ash {
using look::px;
using look::text;

QuestionField::QuestionField(StudyDesk& desk, QWidget* parent)
    : QWidget(parent), m_desk(desk), m_kind(new QComboBox(this)), m_target(new QLineEdit(this)) {
  auto* row = new QVBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(px(4));
  m_kind->setObjectName(QStringLiteral("asks"));
  m_kind->setAccessibleName(tr("What is asked"));
  m_kind->setFont(look::font(12));
  m_kind->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  for (const QuestionForm& form : questionForms()) {
    m_kind->addItem(text(std::string(form.words)), static_cast<int>(form.kind));
    m_kind->setItemData(m_kind->count() - 1, text(std::string(form.means)), Qt::ToolTipRole);
  }
  m_target->setObjectName(QStringLiteral("asks-target"));
  m_target->setProperty("role", "heading");
  m_target->setFont(look::font(12, QFont::Medium));
  row->addWidget(m_kind);
  row->addWidget(m_target);
  setFocusProxy(m_kind);
  connect(m_kind, &QComboBox::activated, this, &QuestionField::takeKind);
  connect(m_target, &QLineEdit::editingFinished, this, &QuestionField::takeTarget);
}

void QuestionField::refresh() {
  const StudyQuestion& asks = m_desk.plan().asks;
  const QuestionForm& form = formOf(asks.kind);
  m_kind->setCurrentIndex(m_kind->findData(static_cast<int>(asks.kind)));
  m_kind->setToolTip(text(std::string(form.means)));
  m_target->setVisible(form.hasTarget());
  const QString unit = text(std::string(form.unit));
  m_target->setAccessibleName(tr("Its target in %1").arg(unit));
  m_target->setPlaceholderText(tr("how many %1?").arg(unit));
  m_target->setToolTip(
      tr("The target of the question, in %1. Until it is said, the answer is that of an open question.").arg(unit));
  if (m_target->hasFocus() && m_target->isModified()) return;
  m_target->setText(asks.target ? tr("%1\u202F%2").arg(*asks.target).arg(unit) : QString());
}

void QuestionField::takeKind() {
  const auto kind = static_cast<QuestionKind>(m_kind->currentData().toInt());
  m_desk.edit(tr("Change what is asked"), [&](Study&, StudyPlan& plan) {
    // A target in one unit is none in another.
    if (plan.asks.kind != kind) plan.asks = {kind, {}};
  });
  emit problem({});
}

void QuestionField::takeTarget() {
  const QuestionKind kind = m_desk.plan().asks.kind;
  if (!formOf(kind).hasTarget() || !m_target->isModified()) return;
  const auto target = parseQuestionTarget(kind, m_target->text().toStdString());
  emit problem(target ? QString() : text(target.error().message));
  if (!target) return;
  m_target->setModified(false);
  m_desk.edit(tr("Change the target of the question"), [&](Study&, StudyPlan& plan) { plan.asks.target = *target; });
}

}  // namespace ash

#include "moc_question_field.cpp"
