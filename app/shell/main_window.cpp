// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.h"

#include <QCloseEvent>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QProcess>
#include <QShortcut>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/follow/run_follower.h"
#include "app/look/theme.h"
#include "app/shell/station_page.h"
#include "app/shell/trail.h"
#include "app/watch/start_form.h"
#include "app/watch/watch_station.h"
#include "app/watch/watch_words.h"
#include "book/run_writer.h"
#include "model/role.h"
#include "system/runtime_folder.h"

namespace ash {
namespace {
constexpr int kWatchStation = 1;
}

MainWindow::MainWindow(const QString& recorder, QWidget* parent) : QMainWindow(parent), m_recorder(recorder) {
  setWindowTitle(tr("Ash Gauge"));
  setMinimumSize(look::px(1000), look::px(640));
  auto* body = new QWidget(this);
  auto* column = new QVBoxLayout(body);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  m_trail = new Trail(body);
  m_stations = new QStackedWidget(body);
  column->addWidget(m_trail);
  column->addWidget(m_stations, 1);
  setCentralWidget(body);
  buildStations();
  buildShortcuts();
  connectFollower();
  if (!restoreGeometry(m_settings.windowGeometry())) resize(look::px(1280), look::px(800));
  goTo(std::clamp(m_settings.station(), 0, 4));
  m_watch->form()->setFocus();
  m_trail->setBook(tr("Ash Gauge"), tr("No book open"));
  m_trail->setMachine(tr("No run yet"), QString());
  refreshTrail();
}

MainWindow::~MainWindow() {
  m_thread.quit();
  m_thread.wait();
}

void MainWindow::buildStations() {
  m_watch = new WatchStation(m_stations);
  m_stations->addWidget(new StationPage(tr("Plan"),
                                        tr("Here the question, the conditions to hold equal and the grid of setups and "
                                           "loads will be planned; until then a run is started on Watch."),
                                        m_stations));
  m_stations->addWidget(m_watch);
  m_stations->addWidget(new StationPage(tr("Traces"),
                                        tr("Here the curves of several runs will be laid over each other; until then "
                                           "`ashg analyze` works out the figures of a run."),
                                        m_stations));
  m_stations->addWidget(new StationPage(
      tr("Standings"),
      tr("Here the setups will be ranked with their margins; until then `ashg compare` sets runs against each other."),
      m_stations));
  m_stations->addWidget(new StationPage(
      tr("Write-up"), tr("Here the page will be put together; until then `ashg report` writes a study up as HTML."),
      m_stations));
  const QString lines[] = {tr("a question"), tr("a run, live"), tr("the curves"), tr("what is best"), tr("the page")};
  for (int i = 0; i < 5; ++i) m_trail->setStationLine(i, lines[i]);
  connect(m_trail, &Trail::stationChosen, this, &MainWindow::goTo);
  connect(m_trail, &Trail::stopPressed, this, &MainWindow::stopLoad);
  connect(m_watch, &WatchStation::startPressed, this, &MainWindow::startRun);
  connect(m_watch, &WatchStation::wish, this, &MainWindow::wishToSend);
}

void MainWindow::buildShortcuts() {
  const auto add = [this](const QKeySequence& keys, auto action) {
    auto* shortcut = new QShortcut(keys, this);
    connect(shortcut, &QShortcut::activated, this, action);
  };
  for (int i = 0; i < 5; ++i) add(QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + i)), [this, i] { goTo(i); });
  add(QKeySequence(Qt::CTRL | Qt::Key_Period), [this] { stopLoad(); });
  add(QKeySequence(Qt::CTRL | Qt::Key_O), [this] { chooseBook(); });
  add(QKeySequence(Qt::CTRL | Qt::Key_Q), [this] { close(); });
  add(QKeySequence(Qt::Key_Slash), [this] {
    goTo(kWatchStation);
    m_watch->focusNote();
  });
}

void MainWindow::connectFollower() {
  m_follower = new RunFollower;
  m_follower->moveToThread(&m_thread);
  connect(&m_thread, &QThread::finished, m_follower, &QObject::deleteLater);
  connect(this, &MainWindow::bookWanted, m_follower, &RunFollower::openBook);
  connect(this, &MainWindow::runExpected, m_follower, &RunFollower::expectRun);
  connect(this, &MainWindow::wishToSend, m_follower, &RunFollower::send);
  connect(m_follower, &RunFollower::news, this, &MainWindow::takeNews);
  connect(m_follower, &RunFollower::answered, this,
          [this](bool ok, const QString& why) { m_watch->showAnswer(ok, why); });
  connect(m_follower, &RunFollower::runMissing, this, &MainWindow::runDidNotCome);
  connect(m_follower, &RunFollower::bookOpened, this,
          [this](const QString& path, const std::shared_ptr<const std::vector<Study>>& studies, int runs) {
            m_bookPath = path;
            m_settings.setLastBook(path);
            setWindowTitle(tr("%1 – Ash Gauge").arg(QFileInfo(path).completeBaseName()));
            m_trail->setBook(QFileInfo(path).completeBaseName(), runs == 1 ? tr("1 run") : tr("%1 runs").arg(runs));
            m_watch->setStudies(*studies);
            refreshTrail();
          });
  connect(m_follower, &RunFollower::bookRefused, this,
          [this](const QString& why) { m_watch->form()->setProblem(why); });
  m_thread.start();
}

void MainWindow::openBook(const QString& path) {
  m_bookPath = QFileInfo(path).absoluteFilePath();
  emit bookWanted(m_bookPath);
}

void MainWindow::chooseBook() {
  const QString path =
      QFileDialog::getSaveFileName(this, tr("Open a book, or name a new one"), m_settings.lastBook(),
                                   tr("Books (*.ashbook)"), nullptr, QFileDialog::DontConfirmOverwrite);
  if (!path.isEmpty()) openBook(path.endsWith(QStringLiteral(".ashbook")) ? path : path + QStringLiteral(".ashbook"));
}

void MainWindow::goTo(int station) {
  m_stations->setCurrentIndex(station);
  m_trail->setCurrent(station);
  m_settings.setStation(station);
}

// The recorder is a process of its own: closing the window does not end the run.
void MainWindow::startRun() {
  if (m_bookPath.isEmpty()) chooseBook();
  if (m_bookPath.isEmpty()) return;
  const auto folder = runtimeSubfolder("runs");
  if (!folder) return m_watch->form()->setProblem(QString::fromStdString(folder.error().message));
  const QString id = QString::fromStdString(newRunId());
  m_recorderLog = QStringLiteral("%1/%2.log").arg(QString::fromStdString(*folder), id);
  QProcess recorder;
  recorder.setProgram(m_recorder);
  recorder.setArguments(m_watch->form()->request().arguments(m_bookPath, id));
  recorder.setStandardInputFile(QProcess::nullDevice());
  recorder.setStandardOutputFile(QProcess::nullDevice());
  recorder.setStandardErrorFile(m_recorderLog);
  m_watch->form()->setProblem({});
  if (!recorder.startDetached())
    return m_watch->form()->setProblem(tr("Cannot start the recorder %1; install the program again.").arg(m_recorder));
  m_watch->form()->setStarting(true);
  emit runExpected(id);
}

void MainWindow::runDidNotCome() {
  m_watch->form()->setStarting(false);
  QFile log(m_recorderLog);
  QString why;
  if (log.open(QIODevice::ReadOnly)) {
    for (const QString& line : QString::fromUtf8(log.readAll()).split(QLatin1Char('\n'))) {
      if (line.startsWith(QStringLiteral("ashg: "))) why = line.mid(6);
    }
  }
  m_watch->form()->setProblem(why.isEmpty() ? tr("The run did not start; %1 may say why.").arg(m_recorderLog) : why);
}

void MainWindow::stopLoad() {
  if (m_watch->model().isGoingOn()) emit wishToSend(QStringLiteral("stop"), {});
}

void MainWindow::takeNews(const std::shared_ptr<const LiveBatch>& batch) {
  if (batch->begun) m_watch->form()->setStarting(false);
  if (batch->outcome && !m_recorderLog.isEmpty()) QFile::remove(m_recorderLog);
  m_watch->model().take(batch);
  refreshTrail();
}

void MainWindow::refreshTrail() {
  const LiveModel& model = m_watch->model();
  const bool wasStopped = model.hasRun() && !model.isGoingOn() && *model.outcome() != Outcome::Completed;
  m_trail->setStationLine(kWatchStation, stationLine(model), wasStopped && *model.outcome() == Outcome::StoppedByRule);
  m_trail->showLoad(model.isGoingOn(), wasStopped);
  if (!model.hasRun()) return;
  m_trail->setMachine(QString::fromStdString(model.info().machine),
                      tr("%1 readings").arg(model.info().readings.size()));
  m_trail->setBook(QFileInfo(m_bookPath).completeBaseName(), QString::fromStdString(model.info().study));
  // The device with the fewest kelvin left.
  std::string nearest;
  double least = INFINITY;
  for (const std::string& column : model.budgetColumns()) {
    const auto limit = model.limit(column, "throttle");
    const double left = limit ? *limit - model.latest(column) : INFINITY;
    if (left < least) {
      least = left;
      nearest = column;
    }
  }
  if (nearest.empty()) return m_trail->headroom()->clear();
  const double foot = std::isfinite(model.roomC()) ? model.roomC() : 20;
  const bool isWatched = nearest == model.info().watched;
  const QColor fill =
      isWatched ? look::theme().series(model.info().setupIndex) : look::theme().seriesTint(model.info().setupIndex);
  m_trail->headroom()->show(QString::fromStdString(shortDeviceName(nearest)), model.latest(nearest) - foot,
                            *model.limit(nearest, "throttle") - foot, fill);
}

void MainWindow::closeEvent(QCloseEvent* event) {
  m_settings.setWindowGeometry(saveGeometry());
  event->accept();
}

}  // namespace ash
