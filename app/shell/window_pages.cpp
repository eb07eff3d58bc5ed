// SPDX-License-Identifier: GPL-3.0-or-later
// The window's pages, each made when it is first needed.

#include "app/attached/pictures.h"
#include "app/help/figure_help.h"
#include "app/plan/plan_station.h"
#include "app/readings/outside_panel.h"
#include "app/readings/readings_page.h"
#include "app/shell/main_window.h"
#include "app/shell/page_host.h"
#include "app/shell/thread_wires.h"
#include "app/standings/standings_station.h"
#include "app/start/start_page.h"
#include "app/traces/traces_station.h"
#include "app/watch/watch_station.h"
#include "app/writeup/export_panel.h"
#include "app/writeup/writeup_station.h"

namespace ash {

// Makes the page that is to be shown, if nobody has asked for it yet.
void MainWindow::make(int page) {
  switch (page) {
    case Plan:
      plan();
      break;
    case Watch:
      watch();
      break;
    case Traces:
      traces();
      break;
    case Standings:
      standings();
      break;
    case WriteUp:
      writeUp();
      break;
    case Readings:
      readings();
      break;
    case TakingIn:
      logSheet();
      break;
    default:
      start();
  }
}

namespace {

template <typename Page>
Page* placed(PageHost* host, Page* page) {
  host->hold(page);
  return page;
}

}  // namespace

PlanStation* MainWindow::plan() {
  if (m_plan != nullptr) return m_plan;
  m_plan = placed(host(Plan), new PlanStation(m_desk, *m_pictures, host(Plan)));
  connect(m_plan, &PlanStation::startWanted, this, [this] { startRun(m_plan->request()); });
  connect(m_plan, &PlanStation::queueWanted, this, &MainWindow::startQueue);
  connect(m_plan, &PlanStation::climbWanted, this, &MainWindow::startLadder);
  connect(m_plan, &PlanStation::watchWanted, this, [this](const QString& run) {
    emit m_follow->showRunWanted(run);
    goTo(Watch);
  });
  m_plan->setRunning(m_live.isGoingOn());
  m_desk.tellAgain();
  return m_plan;
}

WatchStation* MainWindow::watch() {
  if (m_watch != nullptr) return m_watch;
  m_watch = placed(host(Watch), new WatchStation(m_live, host(Watch)));
  connect(m_watch, &WatchStation::startPressed, this, [this] { startRun(m_watch->form()->request()); });
  connect(m_watch, &WatchStation::wish, m_follow.get(), &FollowWires::wishToSend);
  connect(m_watch, &WatchStation::lateEntry, this, &MainWindow::takeLateEntry);
  connect(m_watch, &WatchStation::planWanted, this, [this] {
    goTo(Plan);
    plan()->focusGrid();
  });
  connect(m_watch, &WatchStation::ladderWanted, this, [this] {
    goTo(Plan);
    plan()->showLadders(true);
  });
  m_watch->setStudies(m_desk.studies());
  showLadderOfRun();
  return m_watch;
}

TracesStation* MainWindow::traces() {
  if (m_traces == nullptr) m_traces = placed(host(Traces), new TracesStation(m_desk, *m_pictures, host(Traces)));
  return m_traces;
}

StandingsStation* MainWindow::standings() {
  if (m_standings != nullptr) return m_standings;
  m_standings = placed(host(Standings), new StandingsStation(m_desk, host(Standings)));
  connect(m_standings, &StandingsStation::figureAsked, this,
          [this](const QString& code) { explain(helpOf(Figure(code.toStdString()))); });
  connect(m_standings, &StandingsStation::wordsAsked, this, [this](const QString& title, const QString& words) {
    explain({title, words});
  });
  connect(m_standings, &StandingsStation::alsoShowWanted, this, &MainWindow::openEarlierWork);
  connect(m_standings, &StandingsStation::runsWanted, this, [this](const QStringList& runs) {
    traces()->showRuns(runs);
    goTo(Traces);
  });
  return m_standings;
}

WriteUpStation* MainWindow::writeUp() {
  if (m_writeUp != nullptr) return m_writeUp;
  m_writeUp = placed(host(WriteUp), new WriteUpStation(m_desk, host(WriteUp)));
  connect(m_writeUp, &WriteUpStation::runsWanted, this, [this](const QStringList& runs) {
    traces()->showRuns(runs);
    goTo(Traces);
  });
  ExportPanel* out = m_writeUp->exportPanel();
  out->setProgram(m_program);
  connect(out, &ExportPanel::pageWanted, m_keep.get(), &KeepWires::pageWanted);
  connect(out, &ExportPanel::settleWanted, m_keep.get(), &KeepWires::settleWanted);
  connect(m_keep.get(), &KeepWires::settled, out, &ExportPanel::goOn);
  return m_writeUp;
}

ReadingsPage* MainWindow::readings() {
  if (m_readings != nullptr) return m_readings;
  m_readings = new ReadingsPage(m_program, host(Readings));
  connect(m_readings, &ReadingsPage::looking, this, &MainWindow::lookAsNeeded);
  connect(m_readings, &ReadingsPage::choiceMade, m_keep.get(), &KeepWires::choiceMade);
  OutsidePanel* outside = m_readings->outside();
  connect(outside, &OutsidePanel::tryWanted, m_read.get(), &ReadWires::tryWanted);
  connect(outside, &OutsidePanel::keepWanted, m_read.get(), &ReadWires::keepWanted);
  connect(outside, &OutsidePanel::changeWanted, m_read.get(), &ReadWires::changeWanted);
  connect(outside, &OutsidePanel::dropWanted, m_read.get(), &ReadWires::dropWanted);
  connect(outside, &OutsidePanel::calibrateWanted, m_read.get(), &ReadWires::calibrateWanted);
  connect(m_read.get(), &ReadWires::tried, outside, &OutsidePanel::showTried);
  connect(m_read.get(), &ReadWires::instrumentsChanged, outside, &OutsidePanel::takeChange);
  m_readings->setHasBook(m_desk.hasBook());
  m_readings->setRunGoesOn(m_live.isGoingOn());
  if (m_seen) m_readings->show(m_seen);
  return placed(host(Readings), m_readings);
}

StartPage* MainWindow::start() {
  if (m_start != nullptr) return m_start;
  m_start = placed(host(Start), new StartPage(host(Start)));
  connect(m_start, &StartPage::demoWanted, this, &MainWindow::openDemo);
  connect(m_start, &StartPage::newBookWanted, this, &MainWindow::newBook);
  connect(m_start, &StartPage::logWanted, this, &MainWindow::logNow);
  connect(m_start, &StartPage::openWanted, this, &MainWindow::chooseBook);
  connect(m_start, &StartPage::takeInWanted, this, &MainWindow::chooseLog);
  connect(m_start, &StartPage::lastBookWanted, this, [this] { openBook(m_settings.lastBook()); });
  m_start->setLastBook(m_settings.lastBook());
  if (!m_tookDown.isEmpty())
    m_start->setProblem(
        tr("The window went down while %1 was being opened, so it is not opened by itself.").arg(m_tookDown));
  if (m_seen) takeReadings(m_seen);
  return m_start;
}

}  // namespace ash
