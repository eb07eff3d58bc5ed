// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/step_strip.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "model/procedure_preset.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr size_t kMostBoxes = 10;  // what is more is told by the last one

QString boxNote(const Phase& phase) {
  switch (phase.kind) {
    case PhaseKind::Idle:
      return QObject::tr("no load, other work stays low");
    case PhaseKind::Soak:
      return std::holds_alternative<EndsWhenSettled>(phase.end) ? QObject::tr("less than 0.5 K to go, 95 % sure")
                                                                : QObject::tr("under load");
    case PhaseKind::Measure:
      return QObject::tr("figures come from here");
    case PhaseKind::Cool:
      return QObject::tr("load off");
    case PhaseKind::Pass:
      return QObject::tr("each with its score");
    case PhaseKind::Pause:
      return QObject::tr("load and log go on");
  }
  return {};
}

}  // namespace

StepBoxes::StepBoxes(QWidget* parent) : QWidget(parent) { setAccessibleName(tr("Steps of the procedure")); }

QSize StepBoxes::sizeHint() const { return {px(600), px(52)}; }

QString StepBoxes::title(const WrittenPhase& one) const {
  const QString words = text(phaseWords(m_procedure.phases[one.index]));
  return one.times > 1 ? tr("%1 × %2").arg(one.times).arg(words) : words;
}

void StepBoxes::setProcedure(const Procedure& procedure) {
  m_procedure = procedure;
  m_written = asWritten(procedure);
  QStringList words;
  for (const WrittenPhase& one : m_written) {
    if (words.size() >= 100) break;
    words << title(one);
  }
  setToolTip(words.join(QStringLiteral(", then ")));
  setAccessibleDescription(words.join(QStringLiteral(", then ")));
  update();
}

void StepBoxes::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  double sum = 0;
  std::vector<double> weights;
  const size_t shown = m_written.size() > kMostBoxes ? kMostBoxes - 1 : m_written.size();
  const QFontMetrics heads(look::font(13, QFont::DemiBold)), notes(look::font(12));
  for (size_t i = 0; i < shown; ++i) {
    const QString note = boxNote(m_procedure.phases[m_written[i].index]);
    // Words to do may be long; they are told whole by the tooltip.
    const int most =
        std::max(heads.horizontalAdvance(title(m_written[i])) + px(34), notes.horizontalAdvance(note) + px(24));
    weights.push_back(std::min(most, px(320)));
    sum += weights.back();
  }
  const QString rest = shown == m_written.size() ? QString() : tr("… %1 more").arg(m_written.size() - shown);
  if (!rest.isEmpty()) weights.push_back(notes.horizontalAdvance(rest) + px(24)), sum += weights.back();
  if (weights.empty()) return;
  const double gap = px(21);
  const double free = width() - 2 - gap * (static_cast<double>(weights.size()) - 1);
  double x = 1;
  for (size_t i = 0; i < weights.size(); ++i) {
    const QRectF box(x, 2.5, free * weights[i] / sum, px(47));
    if (i >= shown) {
      painter.setPen(t.softInk);
      painter.setFont(look::font(12));
      painter.drawText(box, Qt::AlignCenter, rest);
      break;
    }
    const Phase& phase = m_procedure.phases[m_written[i].index];
    painter.setPen(t.strongLine);
    painter.setBrush(phase.kind == PhaseKind::Measure ? t.selected : t.ground);
    painter.drawRoundedRect(box, 3, 3);
    const QRectF words = box.adjusted(px(10), px(4), -px(6), -px(4));
    painter.setPen(t.softInk);
    painter.setFont(look::font(13));
    painter.drawText(words, Qt::AlignLeft | Qt::AlignTop, QString::number(i + 1));
    painter.setPen(t.ink);
    painter.setFont(look::font(13, QFont::DemiBold));
    painter.drawText(words.adjusted(px(15), 0, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                     painter.fontMetrics().elidedText(title(m_written[i]), Qt::ElideRight,
                                                      static_cast<int>(words.width()) - px(15)));
    painter.setPen(t.softInk);
    painter.setFont(look::font(12));
    painter.drawText(words, Qt::AlignLeft | Qt::AlignBottom,
                     painter.fontMetrics().elidedText(boxNote(phase), Qt::ElideRight, static_cast<int>(words.width())));
    x = box.right() + gap;
    if (i + 1 == weights.size()) break;
    painter.setPen(QPen(t.softInk, 1.5));
    const double y = box.center().y(), m = box.right() + gap / 2;
    painter.drawPolyline(QPolygonF() << QPointF(m - 3, y - 4) << QPointF(m + 2, y) << QPointF(m - 3, y + 4));
  }
}

StepStrip::StepStrip(StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(px(16), px(10), px(16), px(10));
  row->setSpacing(px(12));
  auto* left = new QVBoxLayout;
  left->setSpacing(px(2));
  left->addWidget(look::label(tr("Procedure"), 13, QFont::DemiBold, this));
  m_time = look::softLabel({}, this);
  left->addWidget(m_time);
  left->addStretch(1);
  auto* leftBox = new QWidget(this);
  leftBox->setLayout(left);
  left->setContentsMargins(0, 0, 0, 0);
  leftBox->setFixedWidth(px(140));
  row->addWidget(leftBox);
  m_stack = new QStackedWidget(this);
  m_boxes = new StepBoxes(m_stack);
  auto* editor = new QWidget(m_stack);
  auto* column = new QVBoxLayout(editor);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(2));
  m_line = new QLineEdit(editor);
  m_line->setObjectName(QStringLiteral("plan-phases"));
  m_line->setAccessibleName(tr("Phases"));
  m_problem = look::softLabel({}, editor);
  auto* lineRow = new QHBoxLayout;
  lineRow->setSpacing(px(8));
  lineRow->addWidget(m_line, 1);
  lineRow->addWidget(choiceOfPresets());
  column->addLayout(lineRow);
  column->addWidget(m_problem);
  m_stack->addWidget(m_boxes);
  m_stack->addWidget(editor);
  m_stack->setFixedHeight(px(56));
  row->addWidget(m_stack, 1);
  m_change = new QPushButton(tr("Change"), this);
  m_change->setObjectName(QStringLiteral("change-phases"));
  m_change->setToolTip(
      tr("Write the phases with their ends, e.g. idle 5min, soak settled 8min..40min, measure 15min, cool below 45; "
         "pause \"read the sound meter\" at most 5min waits for you, 3 x ( … ) does it three times"));
  row->addWidget(m_change);
  connect(m_change, &QPushButton::clicked, this, [this] {
    const bool opens = m_stack->currentIndex() == 0;
    if (!opens) return take();
    m_stack->setCurrentIndex(1);
    m_change->setText(tr("Keep"));
    m_line->setText(text(m_desk.plan().phases));
    m_line->setFocus();
  });
  connect(m_line, &QLineEdit::returnPressed, this, &StepStrip::take);
  connect(m_line, &QLineEdit::textChanged, this, [this](const QString& typed) {
    const auto procedure = parsePhases(typed.toStdString());
    QString words;
    if (procedure) {
      for (const WrittenPhase& one : asWritten(*procedure)) {
        words += words.isEmpty() ? QString() : QStringLiteral(", then ");
        if (one.times > 1) words += tr("%1 × ").arg(one.times);
        words += text(phaseWords(procedure->phases[one.index])).toLower();
        if (words.size() > 500) break;
      }
    }
    m_problem->setText(procedure ? words : text(procedure.error().message));
  });
  connect(&desk, &StudyDesk::changed, this, &StepStrip::refresh);
}

// What ships, each for a kind of thing under test; it only writes the line, which is kept as any other.
QPushButton* StepStrip::choiceOfPresets() {
  auto* button = new QPushButton(tr("Choose"), this);
  button->setObjectName(QStringLiteral("phase-presets"));
  button->setToolTip(tr("A procedure that ships, for a kind of cooler or device"));
  auto* menu = new QMenu(button);
  for (const ProcedurePreset& preset : kProcedurePresets) {
    const QString phases = text(preset.text);
    menu->addAction(tr("%1 – %2").arg(text(preset.name), text(preset.what)), this,
                    [this, phases] { m_line->setText(phases); });
  }
  button->setMenu(menu);
  return button;
}

void StepStrip::take() {
  const auto procedure = parsePhases(m_line->text().toStdString());
  if (!procedure) return;
  m_stack->setCurrentIndex(0);
  m_change->setText(tr("Change"));
  m_change->setFocus();
  const std::string phases = phasesText(*procedure);
  m_desk.edit(tr("Change the procedure"), [&](Study&, StudyPlan& plan) { plan.phases = phases; });
}

void StepStrip::refresh() {
  const auto procedure = parsePhases(m_desk.plan().phases);
  if (!procedure) return;
  m_boxes->setProcedure(*procedure);
  const QString time = text(roughDurationWords(m_desk.usualRunS()));
  m_time->setText(m_desk.knowsRunTime() ? tr("about %1 a run").arg(time) : tr("at most %1 a run").arg(time));
}

}  // namespace ash

#include "moc_step_strip.cpp"
