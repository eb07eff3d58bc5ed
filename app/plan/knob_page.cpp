// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/knob_page.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/plan/knob_tracks.h"
#include "app/study/study_desk.h"
#include "model/knob_condition.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

// What the last run of a setup that turned knobs read back of them.
std::map<std::string, std::string> readBackOf(const StudyDesk& desk, const std::string& setup) {
  std::map<std::string, std::string> got;
  for (const RunSummary& run : desk.runs()) {
    const AnalyzedRun* worked = run.info.setup == setup ? desk.figuresOf(run.info.id) : nullptr;
    if (worked == nullptr) continue;
    for (const Event& event : worked->run.facts.events) {
      const std::string knob = event.kind == EventKind::Setting ? valueIn(event.extra, "knob", "") : std::string();
      if (!knob.empty()) got[knob] = valueIn(event.extra, "read_back", "");
    }
  }
  return got;
}

// A knob may stand by its field, or below "knobs".
Json withoutKnob(Json conditions, const std::string& knob) {
  conditions.erase(fieldOfKnob(knob));
  conditions.erase(knob);
  const auto below = conditions.find(kKnobsField);
  if (below == conditions.end() || !below->is_object()) return conditions;
  below->erase(knob);
  if (below->empty()) conditions.erase(kKnobsField);
  return conditions;
}

}  // namespace

KnobPage::KnobPage(StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  look::withGround(this, theme().ground);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(14), px(6), px(10), px(6));
  column->setSpacing(px(4));
  column->addWidget(buildHead());
  auto* legend = look::softLabel(tr("line: as delivered   ○ now   ■ asked for   ▲ what the last run got"), this);
  legend->setToolTip(tr(
      "Left and right turn, with Shift by ten steps; a number or Enter types; Del leaves the knob as it is. Runs turn "
      "what is asked before they begin, read it back, and put it back at their end."));
  column->addWidget(legend);
  m_problem = look::softLabel({}, this);
  m_problem->setObjectName(QStringLiteral("knob-problem"));
  m_problem->setProperty("problem", true);
  m_problem->setWordWrap(true);
  m_problem->hide();
  column->addWidget(m_problem);
  auto* scroll = new QScrollArea(this);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setFocusPolicy(Qt::NoFocus);
  m_tracks = new KnobTracks(scroll);
  m_tracks->setObjectName(QStringLiteral("knob-tracks"));
  scroll->setWidget(look::withGround(m_tracks, theme().ground));
  column->addWidget(scroll, 1);
  setFocusProxy(m_tracks);
  connect(m_tracks, &KnobTracks::asked, this,
          [this](const QString& knob, const QString& value) { turn(knob.toStdString(), value.toStdString()); });
  connect(m_tracks, &KnobTracks::currentChanged, this, [this] { m_leave->setEnabled(m_tracks->isAsked()); });
  connect(m_tracks, &KnobTracks::problem, this, [this](const QString& sentence) {
    m_problem->setText(sentence);
    m_problem->setVisible(!sentence.isEmpty());
  });
  connect(&desk, &StudyDesk::knobsSeen, this, &KnobPage::take);
  connect(&desk, &StudyDesk::changed, this, &KnobPage::fill);
  connect(&desk, &StudyDesk::reportChanged, this, &KnobPage::fill);
}

QWidget* KnobPage::buildHead() {
  auto* head = new QWidget(this);
  auto* row = new QHBoxLayout(head);
  row->setContentsMargins(0, 0, 0, 0);
  m_head = look::label({}, 13, QFont::DemiBold, head);
  row->addWidget(m_head, 1);
  const auto add = [&](const QString& words, const char* name, const QString& tip) {
    auto* button = new QPushButton(words, head);
    button->setObjectName(QLatin1String(name));
    button->setProperty("role", "quiet");
    button->setToolTip(tip);
    button->setFont(look::font(12));
    row->addWidget(button);
    return button;
  };
  m_leave = add(tr("Leave it as it is"), "knob-leave", tr("Runs of this setup do not turn the selected knob (Del)"));
  auto* again = add(tr("Look again"), "knob-look", tr("Reads the knobs anew (F5)"));
  auto* back = add(tr("Setups × loads"), "knob-back", tr("Back to the grid (Esc)"));
  connect(m_leave, &QPushButton::clicked, this, [this] { m_tracks->leave(); });
  connect(again, &QPushButton::clicked, this, &KnobPage::look);
  connect(back, &QPushButton::clicked, this, &KnobPage::backWanted);
  return head;
}

const Setup* KnobPage::setup() const {
  const Study* study = m_desk.study();
  const auto index = static_cast<size_t>(m_setup);
  return study == nullptr || index >= study->setups.size() ? nullptr : &study->setups[index];
}

void KnobPage::setSetup(int setup) {
  m_setup = setup;
  fill();
}

void KnobPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  look();
  fill();
}

void KnobPage::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return emit backWanted();
  if (event->key() == Qt::Key_F5) return look();
  QWidget::keyPressEvent(event);
}

void KnobPage::look() {
  if (const Setup* now = setup()) {
    m_asked = text(now->name);
    emit m_desk.knobsWanted(text(m_desk.study()->name), m_asked);
  }
}

void KnobPage::take(const QString& setup, const std::shared_ptr<const KnobList>& knobs, const QString& whyNot) {
  if (setup != m_asked) return;
  m_knobs = knobs;
  m_problem->setText(!whyNot.isEmpty() ? whyNot
                     : knobs->empty()
                         ? tr("Nothing can be turned here: the kernel shows no limit of power or clock, no "
                              "governor and no fan that it drives.")
                         : QString());
  m_problem->setVisible(!m_problem->text().isEmpty());
  fill();
}

void KnobPage::fill() {
  const Setup* now = setup();
  if (!isVisible()) return;
  if (now == nullptr) {
    m_head->setText(tr("There is no setup yet whose runs could turn a knob"));
    m_tracks->show({});
    return;
  }
  if (text(now->name) != m_asked) return look();
  const std::string& bench = m_desk.plan().bench;
  m_head->setText(bench.empty() ? tr("Knobs of %1, on this machine").arg(m_asked)
                                : tr("Knobs of %1, on the simulated bench %2").arg(m_asked, text(bench)));
  if (!m_knobs) return;
  KnobsOfSetup all;
  all.knobs = *m_knobs;
  for (const KnobCondition& one : knobConditions(now->conditions)) all.asked[one.setting.knob] = one.setting.value;
  all.readBack = readBackOf(m_desk, now->name);
  m_tracks->show(std::move(all));
}

void KnobPage::turn(const std::string& knob, const std::string& value) {
  const auto index = static_cast<size_t>(m_setup);
  const QString what = value.empty() ? tr("Leave a knob as it is") : tr("Turn a knob");
  m_desk.edit(what, [&](Study& study, StudyPlan&) {
    Json& conditions = study.setups[index].conditions;
    conditions = withoutKnob(conditions, knob);
    const auto number = parseNumber(value);
    if (number)
      conditions = withKnob(conditions, knob, *number);
    else if (!value.empty())
      conditions[fieldOfKnob(knob)] = value;
  });
  // What is asked in this window has been confirmed by that.
  Study cell;
  cell.setups = {*setup()};
  if (const auto parts = activeParts(cell); !parts.empty()) emit m_desk.confirmWanted(parts);
}

}  // namespace ash

#include "moc_knob_page.cpp"
