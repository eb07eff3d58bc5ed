// SPDX-License-Identifier: GPL-3.0-or-later
// What the window does with what it hears from its threads.
#include <QTimer>

#include "app/interrupted/interrupted_panel.h"
#include "app/shell/main_window.h"
#include "app/shell/thread_wires.h"
#include "app/start/start_page.h"
#include "app/watch/watch_station.h"
#include "app/writeup/export_panel.h"
#include "app/writeup/writeup_station.h"

namespace ash {
namespace {
constexpr int kReadinessEveryMs = 3000;
constexpr int kLookAfterMs = 15;  // once the window has been painted
}  // namespace

void MainWindow::connectFollower() {
  m_follow = std::make_unique<FollowWires>(nullptr);
  connect(m_follow.get(), &FollowWires::news, this, &MainWindow::takeNews);
  connect(m_follow.get(), &FollowWires::answered, this,
          [this](bool isDone, const QString& why) { watch()->showAnswer(isDone, why); });
  connect(m_follow.get(), &FollowWires::runMissing, this, &MainWindow::runDidNotCome);
  // Other runs than before: the book is read again.
  connect(m_follow.get(), &FollowWires::runsChanged, this, [this] { emit m_keep->refreshWanted(); });
  connect(m_follow.get(), &FollowWires::refused, this, &MainWindow::say);
}

void MainWindow::connectKeeper() {
  m_keep = std::make_unique<KeepWires>(m_desk, m_root, nullptr);
  const KeepWires* keep = m_keep.get();
  connect(keep, &KeepWires::opened, this, &MainWindow::takeBook);
  connect(keep, &KeepWires::changed, this, [this](const std::shared_ptr<const BookView>& view) {
    m_desk.takeBook(view, false);
    if (const QString study = std::exchange(m_studyOnChange, {}); !study.isEmpty()) m_desk.chooseStudy(study);
    if (const auto start = std::exchange(m_startOnConfirm, nullptr)) start();
  });
  connect(keep, &KeepWires::interrupted, this,
          [this](const std::shared_ptr<const InterruptedRuns>& runs) { m_interrupted->show(runs); });
  connect(keep, &KeepWires::proposals, this,
          [this](const QString& machine, const std::shared_ptr<const ReadingChoices>& proposed) {
            if (machine == m_machineKey) m_proposed = proposed;
            showProposals();
          });
  connect(keep, &KeepWires::choices, this,
          [this](const std::shared_ptr<const ReadingChoices>& choices) { emit m_read->choicesSaid(choices); });
  connect(keep, &KeepWires::refused, this, [this](const QString& why) {
    say(why);
    emit m_keep->refreshWanted();
  });
  connect(keep, &KeepWires::notOpened, this, &MainWindow::takeRefusedBook);
  connect(keep, &KeepWires::pageWritten, this, [this](const QString& path) {
    writeUp()->exportPanel()->showWritten(path);
    say(tr("The page is written: %1").arg(path));
  });
  connect(keep, &KeepWires::demoProgress, this, [this](int done, int all) { start()->setDemoProgress(done, all); });
  connect(keep, &KeepWires::setups, this,
          [this](const QString& path, const std::shared_ptr<const SetupList>& setups) { showSetups(path, *setups); });
  connect(keep, &KeepWires::demoMade, this, &MainWindow::openBook);
  auto* timer = new QTimer(this);
  connect(timer, &QTimer::timeout, this, [this] {
    const bool isWanted = page() == Plan && m_desk.study() != nullptr && !m_live.isGoingOn() && isVisible();
    if (isWanted) askForReadiness();
  });
  timer->start(kReadinessEveryMs);
}

void MainWindow::connectReader() {
  m_read = std::make_unique<ReadWires>(m_root, nullptr);
  connect(m_read.get(), &ReadWires::seen, this, &MainWindow::takeReadings);
  // Once the window is up; looking at a machine takes a moment.
  QTimer::singleShot(kLookAfterMs, this, [this] { emit m_read->lookWanted(false); });
}

void MainWindow::listenToDesk() {
  connect(&m_desk, &StudyDesk::changed, this, [this] {
    if (m_watch != nullptr) m_watch->setStudies(m_desk.studies());
    showLadderOfRun();
    showLastRun();
    refreshTrail();
    refreshEarlier();
  });
  connect(&m_desk, &StudyDesk::reportChanged, this, [this] {
    refreshTrail();
    refreshEarlier();
  });
}

void MainWindow::takeRefusedBook(const QString& why) {
  m_settings.forgetBook(m_settings.openingBook());
  m_settings.setOpeningBook({});
  start()->setProblem(why);
  start()->setDemoProgress(1, 1);
  say(why);
}

}  // namespace ash
