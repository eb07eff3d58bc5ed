// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/watch_station.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <cmath>

#include "app/look/theme.h"
#include "app/watch/budget_panel.h"
#include "app/watch/lanes.h"
#include "app/watch/start_form.h"
#include "app/watch/track.h"
#include "app/watch/watch_words.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::theme;
namespace {

QWidget* withGround(QWidget* widget, const QColor& colour) {
  widget->setAutoFillBackground(true);
  QPalette palette = widget->palette();
  palette.setColor(QPalette::Window, colour);
  widget->setPalette(palette);
  return widget;
}

QString text(const std::string& utf8) { return QString::fromStdString(utf8); }

}  // namespace

WatchStation::WatchStation(QWidget* parent) : QWidget(parent) {
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(0);
  auto* row = new QHBoxLayout;
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(0);
  m_left = new QStackedWidget(this);
  m_left->setFixedWidth(px(232));
  m_form = new StartForm(m_left);
  auto* scroll = new QScrollArea(m_left);
  scroll->setWidget(m_form);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  m_track = new TrackPanel(m_model, m_left);
  m_left->addWidget(scroll);
  m_left->addWidget(m_track);
  m_budget = new BudgetPanel(m_model, this);
  m_budget->setFixedWidth(px(288));
  row->addWidget(withGround(m_left, theme().panel));
  row->addWidget(buildCentre(), 1);
  row->addWidget(withGround(m_budget, theme().panel));
  rows->addLayout(row, 1);
  rows->addWidget(buildDock());
  connect(m_form, &StartForm::startPressed, this, &WatchStation::startPressed);
  connect(m_track, &TrackPanel::endPhasePressed, this, [this] { emit wish(QStringLiteral("end phase"), {}); });
  connect(&m_model, &LiveModel::changed, this, &WatchStation::refresh);
  refresh();
}

QWidget* WatchStation::buildCentre() {
  auto* centre = withGround(new QWidget(this), theme().ground);
  auto* column = new QVBoxLayout(centre);
  column->setContentsMargins(0, 0, 0, px(4));
  column->setSpacing(0);
  m_head = new QLabel(centre);
  m_head->setObjectName(QStringLiteral("run-title"));
  m_head->setTextFormat(Qt::RichText);
  m_head->setFont(look::font(15));
  m_head->setContentsMargins(px(16), px(10), px(16), px(6));
  column->addWidget(m_head);
  m_banner = new QLabel(centre);
  m_banner->setObjectName(QStringLiteral("banner"));
  m_banner->setWordWrap(true);
  m_banner->setContentsMargins(px(16), px(10), px(16), px(10));
  column->addWidget(m_banner);
  m_middle = new QStackedWidget(centre);
  auto* empty =
      new QLabel(tr("<p style='font-size:%1px'><b>No run in this book yet.</b></p>"
                    "<p>Name a study and a setup at the left and press Start: the load heats, the lanes grow,<br>"
                    "and the soak ends by itself when the temperature has settled.</p>"
                    "<p>Choose a simulated bench to try it in seconds.</p>")
                     .arg(px(17)),
                 m_middle);
  empty->setAlignment(Qt::AlignCenter);
  empty->setObjectName(QStringLiteral("empty"));
  m_lanes = new Lanes(m_model, m_middle);
  m_middle->addWidget(empty);
  m_middle->addWidget(m_lanes);
  column->addWidget(m_middle, 1);
  return centre;
}

QWidget* WatchStation::buildDock() {
  m_dock = withGround(new QWidget(this), theme().panel);
  auto* column = new QVBoxLayout(m_dock);
  column->setContentsMargins(px(16), px(6), px(16), px(10));
  column->setSpacing(px(4));
  m_lastEvents = new QLabel(m_dock);
  m_lastEvents->setFont(look::font(12));
  m_lastEvents->setTextFormat(Qt::RichText);
  column->addWidget(m_lastEvents);
  auto* row = new QHBoxLayout;
  m_note = new QLineEdit(m_dock);
  m_note->setObjectName(QStringLiteral("note"));
  m_note->setFont(look::font(14));
  m_note->setPlaceholderText(tr("Write a note into this run; it is kept with its moment"));
  m_note->setAccessibleName(tr("Note"));
  m_note->setMaxLength(500);
  m_noteState = new QLabel(m_dock);
  m_noteState->setFont(look::font(12));
  m_noteState->setProperty("soft", true);
  row->addWidget(m_note, 1);
  row->addWidget(m_noteState);
  column->addLayout(row);
  connect(m_note, &QLineEdit::returnPressed, this, &WatchStation::sendNote);
  return m_dock;
}

void WatchStation::setStudies(const std::vector<Study>& studies) { m_form->setStudies(studies); }

void WatchStation::focusNote() {
  if (m_dock->isVisible()) m_note->setFocus();
}

void WatchStation::sendNote() {
  const QString words = m_note->text().trimmed();
  if (words.isEmpty()) return;
  emit wish(QStringLiteral("note"), words);
}

void WatchStation::showAnswer(bool ok, const QString& why) {
  if (ok && m_note->hasFocus()) m_note->clear();
  if (!ok) m_noteState->setText(why);
}

void WatchStation::refresh() {
  const bool hasRun = m_model.hasRun();
  const bool isGoingOn = m_model.isGoingOn();
  m_left->setCurrentIndex(isGoingOn ? 1 : 0);
  m_middle->setCurrentIndex(hasRun ? 1 : 0);
  m_budget->setVisible(hasRun);
  m_dock->setVisible(isGoingOn);
  m_head->setVisible(hasRun);
  const QString outcome = outcomeSentence(m_model);
  m_banner->setVisible(!outcome.isEmpty());
  if (!hasRun) return;
  const LiveRunInfo& info = m_model.info();
  m_head->setText(QStringLiteral("<span style='color:%1'>■</span> <b>%2</b> &nbsp;·&nbsp; %3 &nbsp;·&nbsp; %4")
                      .arg(theme().series(info.setupIndex).name(), text(info.setup).toHtmlEscaped(),
                           text(info.load).toHtmlEscaped(), tr("repeat %1").arg(info.repeat)));
  if (!outcome.isEmpty()) {
    const bool isBad = *m_model.outcome() != Outcome::Completed && *m_model.outcome() != Outcome::StoppedByHand;
    m_banner->setText(outcome);
    m_banner->setStyleSheet(QStringLiteral("background: %1; border-left: 4px solid %2;")
                                .arg(isBad ? theme().emberWash.name() : theme().selected.name(),
                                     isBad ? theme().ember.name() : theme().ink.name()));
  }
  QString last;
  int shown = 0;
  for (auto event = m_model.events().rbegin(); event != m_model.events().rend() && shown < 2; ++event, ++shown) {
    const QString at =
        std::isfinite(event->atS) ? text(clockText(event->atS - m_model.loadStartS().value_or(0))) : QString();
    last += QStringLiteral("%1<span style='color:%2'>%3 %4</span> &nbsp;%5")
                .arg(shown > 0 ? QStringLiteral("<br>") : QString(), theme().softInk.name(), at,
                     text(event->kind).toHtmlEscaped(), text(event->text).toHtmlEscaped());
  }
  m_lastEvents->setText(last);
  m_noteState->setText(m_note->hasFocus() ? tr("Enter keeps it") : tr("/ to type here"));
}

}  // namespace ash
