// SPDX-License-Identifier: GPL-3.0-or-later
// What the window says to its threads and hears from them: follower, keeper, reader.
#include <QTimer>

#include "app/follow/run_follower.h"
#include "app/interrupted/interrupted_panel.h"
#include "app/look/parts.h"
#include "app/plan/plan_station.h"
#include "app/readings/bench_reader.h"
#include "app/shell/main_window.h"
#include "app/start/start_page.h"
#include "app/watch/watch_station.h"
#include "app/writeup/writeup_station.h"

namespace ash {
using look::text;
namespace {
constexpr int kReadinessEveryMs = 3000;
constexpr int kLookAfterMs = 15;  // once the window has been painted
}  // namespace

void MainWindow::connectFollower() {
  m_follower = new RunFollower;
  m_follower->moveToThread(&m_followThread);
  connect(&m_followThread, &QThread::finished, m_follower, &QObject::deleteLater);
  connect(this, &MainWindow::followWanted, m_follower, &RunFollower::openBook);
  connect(this, &MainWindow::runExpected, m_follower, &RunFollower::expectRun);
  connect(this, &MainWindow::showRunWanted, m_follower, &RunFollower::showRun);
  connect(this, &MainWindow::wishToSend, m_follower, &RunFollower::send);
  connect(m_follower, &RunFollower::news, this, &MainWindow::takeNews);
  connect(m_follower, &RunFollower::answered, this,
          [this](bool ok, const QString& why) { watch()->showAnswer(ok, why); });
  connect(m_follower, &RunFollower::runMissing, this, &MainWindow::runDidNotCome);
  // The follower has seen other runs than before: the book is read again.
  connect(m_follower, &RunFollower::bookOpened, this, &MainWindow::refreshWanted);
  connect(m_follower, &RunFollower::bookRefused, this, &MainWindow::say);
  m_followThread.start();
}

void MainWindow::connectKeeper() {
  m_keeper = new BookKeeper;
  m_keeper->moveToThread(&m_keepThread);
  connect(&m_keepThread, &QThread::finished, m_keeper, &QObject::deleteLater);
  connect(this, &MainWindow::bookWanted, m_keeper, &BookKeeper::open);
  connect(this, &MainWindow::refreshWanted, m_keeper, &BookKeeper::refresh);
  connect(this, &MainWindow::pageWanted, m_keeper, &BookKeeper::writePage);
  connect(this, &MainWindow::readinessWanted, m_keeper, &BookKeeper::lookAtReadiness);
  connect(this, &MainWindow::confirmWanted, m_keeper, &BookKeeper::confirmParts);
  connect(&m_desk, &StudyDesk::confirmWanted, m_keeper, &BookKeeper::confirmParts);
  connect(this, &MainWindow::acceptWanted, m_keeper, &BookKeeper::acceptChoices);
  connect(m_keeper, &BookKeeper::proposals, this,
          [this](const QString& machine, const std::shared_ptr<const ReadingChoices>& proposed) {
            if (machine == m_machineKey) m_proposed = proposed;
            showProposals();
          });
  connect(this, &MainWindow::choicesWanted, m_keeper, &BookKeeper::readChoices);
  connect(this, &MainWindow::choiceMade, m_keeper, &BookKeeper::putChoice);
  connect(this, &MainWindow::demoWanted, m_keeper, &BookKeeper::makeDemoBook);
  connect(&m_desk, &StudyDesk::workWanted, m_keeper, &BookKeeper::workOut);
  connect(&m_desk, &StudyDesk::putWanted, m_keeper, &BookKeeper::putStudy);
  connect(&m_desk, &StudyDesk::removeWanted, m_keeper, &BookKeeper::removeStudy);
  connect(&m_desk, &StudyDesk::voidWanted, m_keeper, &BookKeeper::voidRun);
  connect(&m_desk, &StudyDesk::restoreWanted, m_keeper, &BookKeeper::restoreRun);
  connect(&m_desk, &StudyDesk::eventWanted, m_keeper, &BookKeeper::addEvent);
  connect(m_keeper, &BookKeeper::opened, this, &MainWindow::takeBook);
  connect(m_keeper, &BookKeeper::changed, this, [this](const std::shared_ptr<const BookView>& view) {
    m_desk.takeBook(view, false);
    if (const auto start = std::exchange(m_startOnConfirm, nullptr)) start();
  });
  connect(m_keeper, &BookKeeper::interrupted, this,
          [this](const std::shared_ptr<const InterruptedRuns>& runs) { m_interrupted->show(runs); });
  connect(m_keeper, &BookKeeper::putDone, &m_desk, &StudyDesk::takePutDone);
  connect(m_keeper, &BookKeeper::workedOut, &m_desk, &StudyDesk::takeReport);
  connect(m_keeper, &BookKeeper::readiness, &m_desk, &StudyDesk::takeReadiness);
  connect(m_keeper, &BookKeeper::refused, this, [this](const QString& why) {
    say(why);
    emit refreshWanted();
  });
  connect(m_keeper, &BookKeeper::notOpened, this, [this](const QString& why) {
    m_settings.forgetBook(m_settings.openingBook());
    m_settings.setOpeningBook({});
    start()->setProblem(why);
    start()->setDemoProgress(1, 1);
    say(why);
  });
  connect(m_keeper, &BookKeeper::pageWritten, this, [this](const QString& path) {
    writeUp()->showWritten(path);
    say(tr("The page is written: %1").arg(path));
  });
  connect(m_keeper, &BookKeeper::demoProgress, this,
          [this](int done, int all) { start()->setDemoProgress(done, all); });
  connect(m_keeper, &BookKeeper::demoMade, this, &MainWindow::openBook);
  connect(&m_desk, &StudyDesk::changed, this, [this] {
    if (m_watch != nullptr) m_watch->setStudies(m_desk.studies());
    showLastRun();
    refreshTrail();
    refreshEarlier();
  });
  connect(&m_desk, &StudyDesk::reportChanged, this, [this] {
    refreshTrail();
    refreshEarlier();
  });
  auto* timer = new QTimer(this);
  connect(timer, &QTimer::timeout, this, [this] {
    const bool isWanted = page() == Plan && m_desk.study() != nullptr && !m_live.isGoingOn() && isVisible();
    if (isWanted) askForReadiness();
  });
  timer->start(kReadinessEveryMs);
  m_keepThread.start();
}

void MainWindow::connectReader() {
  m_reader = new BenchReader(m_root);
  m_reader->moveToThread(&m_readThread);
  connect(&m_readThread, &QThread::finished, m_reader, &QObject::deleteLater);
  connect(this, &MainWindow::lookWanted, m_reader, &BenchReader::look);
  connect(this, &MainWindow::restWanted, m_reader, &BenchReader::rest);
  connect(m_keeper, &BookKeeper::choices, m_reader, &BenchReader::setChoices);
  connect(m_reader, &BenchReader::seen, this, &MainWindow::takeReadings);
  m_readThread.start();
  // Once the window is up; looking at a machine takes a moment.
  QTimer::singleShot(kLookAfterMs, this, [this] { emit lookWanted(false); });
}

}  // namespace ash
