// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/watch_station.h"
#include "app/look/words.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <cmath>

#include "app/entry/entry_dock.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/watch/budget_panel.h"
#include "app/watch/ladder_strip.h"
#include "app/watch/lanes.h"
#include "app/watch/pause_card.h"
#include "app/watch/start_form.h"
#include "app/watch/track.h"
#include "app/watch/watch_words.h"
#include "model/owed_readings.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
using look::withGround;
namespace {

constexpr int kLeftWidth = 232, kNarrowLeftWidth = 190, kLeastCentre = 345, kNarrow = 1000;

}  // namespace

WatchStation::WatchStation(LiveModel& model, QWidget* parent) : QWidget(parent), m_model(model) {
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(0);
  auto* row = new QHBoxLayout;
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(0);
  m_left = new QStackedWidget(this);
  m_left->setFixedWidth(px(kLeftWidth));
  m_form = new StartForm(m_left);
  auto* scroll = new QScrollArea(m_left);
  scroll->setWidget(m_form);
  scroll->setAccessibleName(tr("What is to be run"));
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  m_track = new TrackPanel(m_model, m_left);
  m_left->addWidget(scroll);
  auto* tracked = new QWidget(m_left);
  auto* trackColumn = new QVBoxLayout(tracked);
  trackColumn->setContentsMargins(0, 0, 0, 0);
  trackColumn->setSpacing(0);
  trackColumn->addWidget(m_track, 1);
  auto* pause = new PauseCard(m_model, tracked);
  trackColumn->addWidget(withGround(pause, theme().selected));
  m_after = buildAfter();
  trackColumn->addWidget(m_after);
  m_left->addWidget(tracked);
  m_budget = new BudgetPanel(m_model, this);
  m_budget->setFixedWidth(px(288));
  row->addWidget(withGround(m_left, theme().panel));
  row->addWidget(buildCentre(), 1);
  row->addWidget(withGround(m_budget, theme().panel));
  rows->addLayout(row, 1);
  m_dock = new EntryDock(this);
  rows->addWidget(m_dock);
  connect(m_dock, &EntryDock::entered, this, &WatchStation::takeLine);
  connect(m_form, &StartForm::startPressed, this, &WatchStation::startPressed);
  connect(m_track, &TrackPanel::endPhasePressed, this, [this] { emit wish(WishKind::EndPhase, {}); });
  connect(pause, &PauseCard::answered, this, [this](const QString& words) { emit wish(WishKind::Answer, words); });
  connect(&m_model, &LiveModel::changed, this, &WatchStation::refresh);
  refresh();
}

// The lanes keep a width in which they can be read: the way of the run gives up some of its own first.
void WatchStation::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  m_left->setFixedWidth(px(width() < px(kNarrow) ? kNarrowLeftWidth : kLeftWidth));
}

QWidget* WatchStation::buildCentre() {
  auto* centre = withGround(new QWidget(this), theme().ground);
  centre->setMinimumWidth(px(kLeastCentre));
  auto* column = new QVBoxLayout(centre);
  column->setContentsMargins(0, 0, 0, px(4));
  column->setSpacing(0);
  m_head = new QLabel(centre);
  m_head->setObjectName(QStringLiteral("run-title"));
  m_head->setTextFormat(Qt::RichText);
  m_head->setWordWrap(true);
  m_head->setFont(look::font(15));
  m_head->setContentsMargins(px(16), px(10), px(16), px(6));
  column->addWidget(m_head);
  m_ladder = new LadderStrip(m_model, centre);
  connect(m_ladder, &LadderStrip::wanted, this, &WatchStation::ladderWanted);
  column->addWidget(m_ladder);
  m_banner = new QLabel(centre);
  m_banner->setTextFormat(Qt::PlainText);
  m_banner->setObjectName(QStringLiteral("banner"));
  m_banner->setWordWrap(true);
  m_banner->setContentsMargins(px(16), px(10), px(16), px(10));
  column->addWidget(m_banner);
  m_middle = new QStackedWidget(centre);
  auto* empty =
      new QLabel(tr("<p style='font-size:%1px'><b>No run in this book yet.</b></p>"
                    "<p>Name a study and a setup at the left and press Start: the load heats, the lanes grow, "
                    "and the soak ends by itself when the temperature has settled.</p>"
                    "<p>Choose a simulated bench to try it in seconds.</p>")
                     .arg(px(17)),
                 m_middle);
  empty->setTextFormat(Qt::RichText);
  empty->setAlignment(Qt::AlignCenter);
  empty->setWordWrap(true);
  empty->setContentsMargins(px(40), 0, px(40), 0);
  empty->setObjectName(QStringLiteral("empty"));
  m_lanes = new Lanes(m_model, m_middle);
  m_middle->addWidget(empty);
  m_middle->addWidget(m_lanes);
  column->addWidget(m_middle, 1);
  return centre;
}

// What can be done once the run is over.
QWidget* WatchStation::buildAfter() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(px(16), 0, px(16), px(12));
  column->setSpacing(px(6));
  auto* next = new QPushButton(tr("Next run, in the plan"), box);
  next->setObjectName(QStringLiteral("to-plan"));
  next->setProperty("role", "main");
  auto* other = new QPushButton(tr("Another run, without a plan"), box);
  other->setObjectName(QStringLiteral("another-run"));
  column->addWidget(next);
  column->addWidget(other);
  connect(next, &QPushButton::clicked, this, &WatchStation::planWanted);
  connect(other, &QPushButton::clicked, this, [this] {
    m_wantsForm = true;
    refresh();
    m_form->setFocus();
  });
  return box;
}

void WatchStation::setStudies(const std::vector<Study>& studies) {
  m_studies = studies;
  m_form->setStudies(studies);
  refreshEntry();
}

void WatchStation::setLadder(const std::optional<Ladder>& ladder) { m_ladder->show(ladder); }

void WatchStation::focusEntry() {
  if (m_dock->isVisible()) m_dock->focusLine();
}

void WatchStation::takeLine(const QString& line) {
  if (m_model.isGoingOn())
    emit wish(WishKind::Note, line);
  else if (m_model.hasRun())
    emit lateEntry(text(m_model.info().id), line);
}

void WatchStation::showAnswer(bool ok, const QString& why) { m_dock->showAnswer(ok, why); }

void WatchStation::refreshEntry() {
  EntryDock::Context context;
  if (m_model.hasRun()) {
    const LiveRunInfo& info = m_model.info();
    context.run = tr("%1, repeat %2").arg(text(info.setup)).arg(info.repeat);
    context.isLive = m_model.isGoingOn();
    context.moment = context.isLive
                         ? tr("at %1").arg(text(clockText(m_model.lastTimeS() - m_model.loadStartS().value_or(0))))
                         : tr("after its end");
    const auto& state = m_model.state();
    context.isSettled = state && state->forecast.isSettled;
    for (const Study& study : m_studies) {
      if (study.name == info.study) context.byHand = planFromJson(study.plan).byHand;
    }
    std::set<std::string> measured;
    for (const OwedReading& reading : context.byHand) {
      const auto told = info.readings.find(reading.role.text());
      const bool isInstrument = told != info.readings.end() && told->second.kind == kInstrumentKind;
      if (isInstrument && std::isfinite(m_model.latest(told->first))) measured.insert(told->first);
    }
    context.owed = stillToTake(context.byHand, m_model.events(), m_model.phases(),
                               context.isSettled ? m_model.lastTimeS() : kMissing, measured);
    for (auto event = m_model.events().rbegin(); event != m_model.events().rend() && context.last.size() < 3; ++event) {
      const QString at =
          std::isfinite(event->atS) ? text(clockText(event->atS - m_model.loadStartS().value_or(0))) : tr("later");
      context.last << QStringLiteral("<span style='color:%1'>%2 %3</span> &nbsp;%4")
                          .arg(theme().softInk.name(), at, text(event->kind.text()).toHtmlEscaped(),
                               text(event->text).toHtmlEscaped());
    }
  }
  m_dock->setContext(context);
}

void WatchStation::refresh() {
  const bool hasRun = m_model.hasRun();
  const bool isGoingOn = m_model.isGoingOn();
  if (isGoingOn) m_wantsForm = false;
  m_left->setCurrentIndex(hasRun && !m_wantsForm ? 1 : 0);
  m_after->setVisible(!isGoingOn);
  m_middle->setCurrentIndex(hasRun ? 1 : 0);
  m_budget->setVisible(hasRun);
  m_dock->setVisible(hasRun);
  m_head->setVisible(hasRun);
  const QString outcome = outcomeSentence(m_model);
  m_banner->setVisible(!outcome.isEmpty());
  if (outcome != m_banner->accessibleName()) {
    m_banner->setAccessibleName(outcome);
    if (!outcome.isEmpty()) look::announce(m_banner);
  }
  if (!hasRun) return;
  const LiveRunInfo& info = m_model.info();
  m_head->setText(QStringLiteral("<span style='color:%1'>■</span> <b>%2</b> &nbsp;·&nbsp; %3 &nbsp;·&nbsp; %4")
                      .arg(theme().series(info.setupIndex).name(), text(info.setup).toHtmlEscaped(),
                           text(info.load).toHtmlEscaped(), tr("repeat %1").arg(info.repeat)));
  if (!outcome.isEmpty()) {
    const bool isBad = !ranWhole(*m_model.outcome()) && *m_model.outcome() != Outcome::StoppedByHand;
    m_banner->setText(outcome);
    m_banner->setStyleSheet(QStringLiteral("background: %1; border-left: 4px solid %2;")
                                .arg(isBad ? theme().emberWash.name() : theme().selected.name(),
                                     isBad ? theme().ember.name() : theme().ink.name()));
  }
  refreshEntry();
}

}  // namespace ash

#include "moc_watch_station.cpp"
