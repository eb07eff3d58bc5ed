// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/step_strip.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "model/procedure_edit.h"
#include "model/procedure_preset.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr double kAddedS = 300;    // a step that was just added measures for five minutes
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

StepBoxes::StepBoxes(QWidget* parent) : QWidget(parent) {
  setAccessibleName(tr("Steps of the procedure"));
  setFocusPolicy(Qt::StrongFocus);
  setObjectName(QStringLiteral("step-boxes"));
}

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
  m_current = std::min(m_current, m_written.empty() ? 0 : m_written.size() - 1);
  setToolTip(
      words.join(QStringLiteral(", then ")) +
      tr("\nEnter changes the selected step in the text, + adds one behind it, Del removes it, Alt with an arrow "
         "moves it."));
  setAccessibleDescription(words.join(QStringLiteral(", then ")));
  update();
}

size_t StepBoxes::shown() const { return m_written.size() > kMostBoxes ? kMostBoxes - 1 : m_written.size(); }

QString StepBoxes::restWords() const {
  return shown() == m_written.size() ? QString() : tr("… %1 more").arg(m_written.size() - shown());
}

std::vector<QRectF> StepBoxes::places() const {
  const QFontMetrics heads(look::font(13, QFont::DemiBold)), notes(look::font(12));
  std::vector<double> weights;
  double sum = 0;
  for (size_t i = 0; i < shown(); ++i) {
    const QString note = boxNote(m_procedure.phases[m_written[i].index]);
    // Words to do may be long; they are told whole by the tooltip.
    const int most =
        std::max(heads.horizontalAdvance(title(m_written[i])) + px(34), notes.horizontalAdvance(note) + px(24));
    weights.push_back(std::min(most, px(320)));
    sum += weights.back();
  }
  if (const QString rest = restWords(); !rest.isEmpty()) {
    weights.push_back(notes.horizontalAdvance(rest) + px(24));
    sum += weights.back();
  }
  std::vector<QRectF> all;
  const double gap = px(21), free = width() - 2 - gap * (static_cast<double>(weights.size()) - 1);
  double x = 1;
  for (const double weight : weights) {
    all.emplace_back(x, 2.5, free * weight / sum, px(47));
    x = all.back().right() + gap;
  }
  return all;
}

void StepBoxes::paintStep(QPainter& painter, const QRectF& box, size_t step) const {
  const auto& t = theme();
  const Phase& phase = m_procedure.phases[m_written[step].index];
  const bool isSelected = hasFocus() && step == m_current;
  painter.setPen(isSelected ? QPen(t.ink, 2) : QPen(t.strongLine));
  painter.setBrush(phase.kind == PhaseKind::Measure ? t.selected : t.ground);
  painter.drawRoundedRect(box, 3, 3);
  const QRectF words = box.adjusted(px(10), px(4), -px(6), -px(4));
  painter.setPen(t.softInk);
  painter.setFont(look::font(13));
  painter.drawText(words, Qt::AlignLeft | Qt::AlignTop, QString::number(step + 1));
  painter.setPen(t.ink);
  painter.setFont(look::font(13, QFont::DemiBold));
  painter.drawText(words.adjusted(px(15), 0, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                   painter.fontMetrics().elidedText(title(m_written[step]), Qt::ElideRight,
                                                    static_cast<int>(words.width()) - px(15)));
  painter.setPen(t.softInk);
  painter.setFont(look::font(12));
  painter.drawText(words, Qt::AlignLeft | Qt::AlignBottom,
                   painter.fontMetrics().elidedText(boxNote(phase), Qt::ElideRight, static_cast<int>(words.width())));
}

void StepBoxes::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  const std::vector<QRectF> boxes = places();
  for (size_t i = 0; i < boxes.size(); ++i) {
    if (i >= shown()) {
      painter.setPen(t.softInk);
      painter.setFont(look::font(12));
      painter.drawText(boxes[i], Qt::AlignCenter, restWords());
      break;
    }
    paintStep(painter, boxes[i], i);
    if (i + 1 == boxes.size()) break;
    painter.setPen(QPen(t.softInk, 1.5));
    const double y = boxes[i].center().y(), m = (boxes[i].right() + boxes[i + 1].left()) / 2;
    painter.drawPolyline(QPolygonF() << QPointF(m - 3, y - 4) << QPointF(m + 2, y) << QPointF(m - 3, y + 4));
  }
}

void StepBoxes::choose(size_t step) {
  if (m_written.empty()) return;
  m_current = std::min(step, m_written.size() - 1);
  update();
}

void StepBoxes::take(const Result<Procedure>& after, size_t selected) {
  if (!after) return;
  m_current = selected;
  emit changed(*after);
}

void StepBoxes::keyPressEvent(QKeyEvent* event) {
  const bool moves = event->modifiers().testFlag(Qt::AltModifier);
  const bool isLater = event->key() == Qt::Key_Right;
  switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right:
      if (!moves) return choose(isLater ? m_current + 1 : m_current - std::min<size_t>(m_current, 1));
      if (const auto moved = withStepMoved(m_procedure, m_current, isLater)) take(moved->procedure, moved->step);
      return;
    case Qt::Key_Home:
      return choose(0);
    case Qt::Key_End:
      return choose(m_written.size());
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      return take(withoutStep(m_procedure, m_current), m_current - std::min<size_t>(m_current, 1));
    case Qt::Key_Plus:
    case Qt::Key_Insert:
      return take(withStepBehind(m_procedure, m_current, {PhaseKind::Measure, EndsAfter{kAddedS}}), m_current + 1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_F2:
      return emit editWanted(m_current);
    default:
      QWidget::keyPressEvent(event);
  }
}

void StepBoxes::mousePressEvent(QMouseEvent* event) {
  const std::vector<QRectF> boxes = places();
  for (size_t i = 0; i < boxes.size(); ++i) {
    if (boxes[i].contains(event->position())) choose(std::min(i, shown()));
  }
  setFocus();
}

void StepBoxes::mouseDoubleClickEvent(QMouseEvent*) { emit editWanted(m_current); }

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
  lineRow->addWidget(choiceOfProcedures());
  lineRow->addWidget(lineForName());
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
    if (m_stack->currentIndex() != 0) return take();
    open(m_boxes->current());
  });
  connect(m_boxes, &StepBoxes::editWanted, this, &StepStrip::open);
  connect(m_boxes, &StepBoxes::changed, this, &StepStrip::keep);
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

// Those of the book, then what ships; each only writes the line, which is kept as any other.
QPushButton* StepStrip::choiceOfProcedures() {
  auto* button = new QPushButton(tr("Choose"), this);
  button->setObjectName(QStringLiteral("phase-presets"));
  button->setToolTip(tr("A procedure of this book that has a name, or one that ships, for a kind of cooler or device"));
  auto* menu = new QMenu(button);
  menu->setToolTipsVisible(true);
  connect(menu, &QMenu::aboutToShow, this, [this, menu] {
    menu->clear();
    const auto add = [&](const QString& words, const std::string& phases) {
      QAction* action = menu->addAction(words, this, [this, line = text(phases)] { m_line->setText(line); });
      action->setToolTip(text(phases));
    };
    for (const NamedProcedure& one : m_desk.procedures())
      add(tr("%1, version %2 of this book").arg(text(one.name)).arg(one.version), one.text);
    if (!menu->isEmpty()) menu->addSeparator();
    for (const ProcedurePreset& preset : kProcedurePresets)
      add(tr("%1 – %2").arg(text(preset.name), text(preset.what)), std::string(preset.text));
  });
  button->setMenu(menu);
  return button;
}

// What stands in the line, under a name: another study takes it by that.
QLineEdit* StepStrip::lineForName() {
  auto* name = new QLineEdit(this);
  name->setObjectName(QStringLiteral("procedure-name"));
  name->setAccessibleName(tr("A name to keep these phases under"));
  name->setPlaceholderText(tr("keep under a name"));
  name->setToolTip(tr(
      "Enter keeps these phases in the book under this name, for other studies and ashg run --procedure; a name that "
      "is there gets a new version."));
  name->setMaximumWidth(px(170));
  connect(name, &QLineEdit::returnPressed, this, [this, name] {
    const auto procedure = parsePhases(m_line->text().toStdString());
    const QString called = name->text().trimmed();
    if (!procedure || called.isEmpty()) return;
    emit m_desk.procedureWanted(called, text(phasesText(*procedure)));
    name->clear();
    m_line->setFocus();
  });
  return name;
}

// The text beside the cards, with the step that was meant selected.
void StepStrip::open(size_t step) {
  m_stack->setCurrentIndex(1);
  m_change->setText(tr("Keep"));
  m_line->setText(text(m_desk.plan().phases));
  m_line->setFocus();
  const auto procedure = parsePhases(m_desk.plan().phases);
  const std::string words = procedure ? writtenStepText(*procedure, step) : std::string();
  const auto at = words.empty() ? -1 : m_line->text().indexOf(text(words));
  if (at >= 0) m_line->setSelection(static_cast<int>(at), static_cast<int>(text(words).size()));
}

void StepStrip::take() {
  const auto procedure = parsePhases(m_line->text().toStdString());
  if (!procedure) return;
  m_stack->setCurrentIndex(0);
  m_change->setText(tr("Change"));
  m_change->setFocus();
  keep(*procedure);
}

void StepStrip::keep(const Procedure& procedure) {
  const std::string phases = phasesText(procedure);
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
