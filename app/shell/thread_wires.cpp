// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/thread_wires.h"

#include "app/attached/picture_keeper.h"
#include "app/follow/run_follower.h"
#include "app/readings/bench_reader.h"
#include "app/study/book_keeper.h"
#include "app/study/study_desk.h"
#include "app/taking_in/log_taker.h"

namespace ash {

WorkerThread::~WorkerThread() {
  m_thread.quit();
  m_thread.wait();
}

void WorkerThread::begin(QObject* worker) {
  worker->moveToThread(&m_thread);
  connect(&m_thread, &QThread::finished, worker, &QObject::deleteLater);
  m_thread.start();
}

FollowWires::FollowWires(QObject* parent) : WorkerThread(parent) {
  auto* follower = new RunFollower;
  connect(this, &FollowWires::openWanted, follower, &RunFollower::openBook);
  connect(this, &FollowWires::runExpected, follower, &RunFollower::expectRun);
  connect(this, &FollowWires::showRunWanted, follower, &RunFollower::showRun);
  connect(this, &FollowWires::wishToSend, follower, &RunFollower::send);
  connect(follower, &RunFollower::news, this, &FollowWires::news);
  connect(follower, &RunFollower::answered, this, &FollowWires::answered);
  connect(follower, &RunFollower::runMissing, this, &FollowWires::runMissing);
  connect(follower, &RunFollower::bookOpened, this, &FollowWires::runsChanged);
  connect(follower, &RunFollower::bookRefused, this, &FollowWires::refused);
  begin(follower);
}

KeepWires::KeepWires(StudyDesk& desk, const QString& root, QObject* parent)
    : WorkerThread(parent), m_keeper(new BookKeeper(root)) {
  connect(this, &KeepWires::openWanted, m_keeper, &BookKeeper::open);
  connect(this, &KeepWires::refreshWanted, m_keeper, &BookKeeper::refresh);
  connect(this, &KeepWires::pageWanted, m_keeper, &BookKeeper::writePage);
  connect(this, &KeepWires::settleWanted, m_keeper, &BookKeeper::settle);
  connect(this, &KeepWires::readinessWanted, m_keeper, &BookKeeper::lookAtReadiness);
  connect(this, &KeepWires::confirmWanted, m_keeper, &BookKeeper::confirmParts);
  connect(this, &KeepWires::acceptWanted, m_keeper, &BookKeeper::acceptChoices);
  connect(this, &KeepWires::confirmationsWanted, m_keeper, &BookKeeper::listConfirmations);
  connect(this, &KeepWires::takeBackWanted, m_keeper, &BookKeeper::takeBackConfirmations);
  connect(m_keeper, &BookKeeper::confirmationsListed, this, &KeepWires::confirmations);
  connect(this, &KeepWires::demoWanted, m_keeper, &BookKeeper::makeDemoBook);
  connect(this, &KeepWires::setupsWanted, m_keeper, &BookKeeper::listSetups);
  connect(m_keeper, &BookKeeper::setups, this, &KeepWires::setups);
  connect(this, &KeepWires::choicesWanted, m_keeper, &BookKeeper::readChoices);
  connect(this, &KeepWires::choiceMade, m_keeper, &BookKeeper::putChoice);
  connect(&desk, &StudyDesk::confirmWanted, m_keeper, &BookKeeper::confirmParts);
  connect(&desk, &StudyDesk::workWanted, m_keeper, &BookKeeper::workOut);
  connect(&desk, &StudyDesk::putWanted, m_keeper, &BookKeeper::putStudy);
  connect(&desk, &StudyDesk::removeWanted, m_keeper, &BookKeeper::removeStudy);
  connect(&desk, &StudyDesk::voidWanted, m_keeper, &BookKeeper::voidRun);
  connect(&desk, &StudyDesk::restoreWanted, m_keeper, &BookKeeper::restoreRun);
  connect(&desk, &StudyDesk::eventWanted, m_keeper, &BookKeeper::addEvent);
  connect(&desk, &StudyDesk::procedureWanted, m_keeper, &BookKeeper::putProcedure);
  connect(&desk, &StudyDesk::knobsWanted, m_keeper, &BookKeeper::lookAtKnobs);
  connect(m_keeper, &BookKeeper::knobs, &desk, &StudyDesk::knobsSeen);
  connect(m_keeper, &BookKeeper::putDone, &desk, &StudyDesk::takePutDone);
  connect(m_keeper, &BookKeeper::workedOut, &desk, &StudyDesk::takeReport);
  connect(m_keeper, &BookKeeper::outlook, &desk, &StudyDesk::takeOutlook);
  connect(m_keeper, &BookKeeper::readiness, &desk, &StudyDesk::takeReadiness);
  connect(m_keeper, &BookKeeper::opened, this, &KeepWires::opened);
  connect(m_keeper, &BookKeeper::changed, this, &KeepWires::changed);
  connect(m_keeper, &BookKeeper::interrupted, this, &KeepWires::interrupted);
  connect(m_keeper, &BookKeeper::proposals, this, &KeepWires::proposals);
  connect(m_keeper, &BookKeeper::choices, this, &KeepWires::choices);
  connect(m_keeper, &BookKeeper::refused, this, &KeepWires::refused);
  connect(m_keeper, &BookKeeper::notOpened, this, &KeepWires::notOpened);
  connect(m_keeper, &BookKeeper::pageWritten, this, &KeepWires::pageWritten);
  connect(m_keeper, &BookKeeper::settled, this, &KeepWires::settled);
  connect(m_keeper, &BookKeeper::demoProgress, this, &KeepWires::demoProgress);
  connect(m_keeper, &BookKeeper::demoMade, this, &KeepWires::demoMade);
  begin(m_keeper);
}

KeepWires::~KeepWires() {
  QMetaObject::invokeMethod(
      m_keeper, [] {}, Qt::BlockingQueuedConnection);
}

TakeWires::TakeWires(QObject* parent) : WorkerThread(parent), m_taker(new LogTaker) {
  connect(this, &TakeWires::lookWanted, m_taker, &LogTaker::look);
  connect(this, &TakeWires::takeWanted, m_taker, &LogTaker::take);
  connect(this, &TakeWires::takeOffWanted, m_taker, &LogTaker::takeOff);
  connect(this, &TakeWires::rememberedWanted, m_taker, &LogTaker::countRemembered);
  connect(this, &TakeWires::forgetWanted, m_taker, &LogTaker::forgetRemembered);
  connect(m_taker, &LogTaker::remembered, this, &TakeWires::remembered);
  connect(m_taker, &LogTaker::progress, this, &TakeWires::progress);
  connect(m_taker, &LogTaker::looked, this, &TakeWires::looked);
  connect(m_taker, &LogTaker::taken, this, &TakeWires::taken);
  connect(m_taker, &LogTaker::takenOff, this, &TakeWires::takenOff);
  begin(m_taker);
}

// A long log is not read to its end for a window that goes.
TakeWires::~TakeWires() { giveUp(); }

void TakeWires::look(const std::shared_ptr<LogWish>& wish) {
  m_taker->expect(wish->number = ++m_number);
  emit lookWanted(wish);
}

void TakeWires::take(const std::shared_ptr<LogWish>& wish) {
  m_taker->expect(wish->number = ++m_number);
  emit takeWanted(wish);
}

void TakeWires::giveUp() { m_taker->expect(++m_number); }

PictureWires::PictureWires(QObject* parent) : WorkerThread(parent) {
  auto* keeper = new PictureKeeper;
  connect(this, &PictureWires::attachWanted, keeper, &PictureKeeper::attach);
  connect(this, &PictureWires::takeOffWanted, keeper, &PictureKeeper::takeOff);
  connect(this, &PictureWires::putBackWanted, keeper, &PictureKeeper::putBack);
  connect(this, &PictureWires::detachWanted, keeper, &PictureKeeper::detach);
  connect(this, &PictureWires::describeWanted, keeper, &PictureKeeper::describe);
  connect(this, &PictureWires::describeAgainWanted, keeper, &PictureKeeper::describeAgain);
  connect(this, &PictureWires::drawWanted, keeper, &PictureKeeper::draw);
  connect(this, &PictureWires::writeWanted, keeper, &PictureKeeper::write);
  connect(keeper, &PictureKeeper::attached, this, &PictureWires::attached);
  connect(keeper, &PictureKeeper::detached, this, &PictureWires::detached);
  connect(keeper, &PictureKeeper::described, this, &PictureWires::described);
  connect(keeper, &PictureKeeper::changed, this, &PictureWires::changed);
  connect(keeper, &PictureKeeper::drawn, this, &PictureWires::drawn);
  connect(keeper, &PictureKeeper::written, this, &PictureWires::written);
  begin(keeper);
}

ReadWires::ReadWires(const QString& root, QObject* parent) : WorkerThread(parent) {
  auto* reader = new BenchReader(root);
  connect(this, &ReadWires::lookWanted, reader, &BenchReader::look);
  connect(this, &ReadWires::restWanted, reader, &BenchReader::rest);
  connect(this, &ReadWires::choicesSaid, reader, &BenchReader::setChoices);
  connect(this, &ReadWires::tryWanted, reader, &BenchReader::tryInstrument);
  connect(this, &ReadWires::keepWanted, reader, &BenchReader::keepInstrument);
  connect(this, &ReadWires::changeWanted, reader, &BenchReader::changeInstrument);
  connect(this, &ReadWires::dropWanted, reader, &BenchReader::dropInstrument);
  connect(this, &ReadWires::calibrateWanted, reader, &BenchReader::calibrateInstrument);
  connect(reader, &BenchReader::seen, this, &ReadWires::seen);
  connect(reader, &BenchReader::tried, this, &ReadWires::tried);
  connect(reader, &BenchReader::instrumentsChanged, this, &ReadWires::instrumentsChanged);
  begin(reader);
}

}  // namespace ash

#include "moc_thread_wires.cpp"
