// SPDX-License-Identifier: GPL-3.0-or-later
// What the window does with runs: starts, stops, follows, and what is typed into one that is over.
#include <QTimer>

#include "app/allow/allow_card.h"
#include "app/look/parts.h"
#include "app/plan/plan_station.h"
#include "app/readings/readings_page.h"
#include "app/shell/main_window.h"
#include "app/shell/thread_wires.h"
#include "app/watch/watch_station.h"
#include "model/entry_line.h"

namespace ash {
using look::text;

// False while something that the run would use has to be allowed first; then `then` is done.
bool MainWindow::isAllowed(const std::string& study, const std::string& setup, const std::string& load,
                           std::function<void()> then) {
  auto parts = m_desk.unconfirmed(study, setup, load);
  if (parts.empty()) return true;
  m_allow->ask(tr("This book would use the following on this machine. Nobody has allowed it here yet: read it, all of "
                  "it, before you do."),
               std::move(parts), std::move(then));
  return false;
}

void MainWindow::startRun(const StartRequest& request) {
  if (!m_desk.hasBook()) return newBook();
  if (request.study.isEmpty() || m_live.isGoingOn()) return;
  tellProblem({});
  const auto again = [this, request] { m_startOnConfirm = [this, request] { startRun(request); }; };
  if (!isAllowed(request.study.toStdString(), request.setup.toStdString(), request.load.toStdString(), again)) return;
  const auto id = m_recorder.start(request, m_desk.bookPath());
  if (!id) return tellProblem(text(id.error().message));
  tellStarting(true);
  emit m_follow->runExpected(*id);
}

// The queue is a process of its own; its first run appears like any other that somebody started on this book.
void MainWindow::startQueue() {
  if (!m_desk.hasBook() || m_desk.study() == nullptr || m_live.isGoingOn()) return;
  tellProblem({});
  const auto again = [this] { m_startOnConfirm = [this] { startQueue(); }; };
  if (!isAllowed(m_desk.study()->name, {}, {}, again)) return;
  const auto log = m_recorder.startQueue(text(m_desk.study()->name), m_desk.bookPath());
  if (!log) return tellProblem(text(log.error().message));
  say(tr("The queue has begun; it goes on when the window is closed, and says when it needs you."));
}

// A ladder says what is wrong with it before its first run, or goes on by itself.
void MainWindow::startLadder(const QStringList& arguments) {
  if (!m_desk.hasBook() || m_live.isGoingOn()) return;
  tellProblem({});
  // Nothing of a book that nobody has allowed here is run by a ladder of its setups.
  const auto again = [this, arguments] { m_startOnConfirm = [this, arguments] { startLadder(arguments); }; };
  if (m_desk.study() == nullptr || !isAllowed(m_desk.study()->name, {}, {}, again)) return;
  const auto started =
      m_recorder.startLadder(arguments + QStringList{QStringLiteral("--as-planned")}, m_desk.bookPath());
  if (!started) return tellProblem(text(started.error().message));
  say(tr("The ladder has begun; it goes on when the window is closed."));
  constexpr int kLooks = 120;
  lookForComplaint(kLooks);
}

void MainWindow::lookForComplaint(int timesLeft) {
  // Also while a run goes on: it may be another one, that was there before.
  if (timesLeft == 0) return;
  if (const QString why = m_recorder.complaint(); !why.isEmpty()) return tellProblem(why);
  constexpr int kLookMs = 500;
  QTimer::singleShot(kLookMs, this, [this, timesLeft] { lookForComplaint(timesLeft - 1); });
}

// Beside the button that was pressed; both stations may have one.
void MainWindow::tellProblem(const QString& sentence) {
  if (m_plan != nullptr) m_plan->setProblem(sentence);
  if (m_watch != nullptr) m_watch->form()->setProblem(sentence);
}

void MainWindow::tellStarting(bool isStarting) {
  if (m_plan != nullptr) m_plan->setStarting(isStarting);
  if (m_watch != nullptr) m_watch->form()->setStarting(isStarting);
}

void MainWindow::runDidNotCome() {
  tellStarting(false);
  tellProblem(m_recorder.whyMissing());
}

void MainWindow::stopLoad() {
  if (m_live.isGoingOn()) emit m_follow->wishToSend(WishKind::Stop, {});
}

void MainWindow::takeNews(const std::shared_ptr<const LiveBatch>& batch) {
  const bool wasStarting = batch->begun && !batch->outcome;
  if (batch->begun) tellStarting(false);
  m_live.take(batch);
  // A run of before that is read again ends here, too: what has been started since keeps its log.
  if (batch->outcome && m_live.hasRun()) m_recorder.forget(text(m_live.info().id));
  if (wasStarting && (page() == Plan || page() == Start)) goTo(Watch);
  if (m_plan != nullptr) m_plan->setRunning(m_live.isGoingOn());
  if (m_readings != nullptr) m_readings->setRunGoesOn(m_live.isGoingOn());
  lookAsNeeded();
  refreshTrail();
  if (batch->begun) refreshEarlier();
  if (batch->begun) showLadderOfRun();
}

// Watch shows the ladder that its run is a step of.
void MainWindow::showLadderOfRun() {
  if (m_watch == nullptr) return;
  m_watch->setLadder(m_live.hasRun() ? m_desk.ladderOf(m_live.info().id) : std::nullopt);
}

// A line for a run that is over goes into the book; a void makes the run void, which can be undone.
void MainWindow::takeLateEntry(const QString& run, const QString& line) {
  const auto entry = parseEntry(line.toStdString());
  if (!entry) return watch()->showAnswer(false, text(entry.error().message));
  if (entry->kind == Entry::Kind::Void)
    m_desk.voidRun(run, text(entry->text));
  else
    m_desk.addEvent(run, eventOf(*entry, kMissing));
  watch()->showAnswer(true, {});
  emit m_follow->showRunWanted(run);
}

// Watch shows the last run of the study in hand, while none goes on.
void MainWindow::showLastRun() {
  if (m_desk.study() == nullptr || m_shownStudy == text(m_desk.study()->name)) return;
  m_shownStudy = text(m_desk.study()->name);
  m_settings.setLastStudy(m_shownStudy);
  if (!m_desk.runs().empty()) emit m_follow->showRunWanted(text(m_desk.runs().back().info.id));
}

// The first completed repeat of the same cell stands behind the run that is watched.
void MainWindow::refreshEarlier() {
  LiveModel& model = m_live;
  std::shared_ptr<const AnalyzedRun> earlier;
  QString label;
  if (model.hasRun() && m_desk.report()) {
    for (size_t i = 0; i < m_desk.report()->runs.size(); ++i) {
      const RunInfo& info = m_desk.report()->summaries[i].info;
      const bool isSameCell =
          info.study == model.info().study && info.setup == model.info().setup && info.load == model.info().load;
      if (!isSameCell || info.id == model.info().id || info.outcome != Outcome::Completed || earlier) continue;
      earlier = m_desk.report()->runs[i];
      label = tr("repeat %1").arg(info.repeat);
    }
  }
  model.setEarlier(std::move(earlier), label);
}

}  // namespace ash
