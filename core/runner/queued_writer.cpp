// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/queued_writer.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <mutex>
#include <thread>
#include <variant>

#include "system/clock.h"
#include "system/space_reserve.h"

namespace ash {
namespace {

constexpr auto kCommitEvery = std::chrono::milliseconds(100);
constexpr auto kSyncEvery = std::chrono::milliseconds(900);
constexpr double kSpaceEveryS = 1;
constexpr size_t kMostQueuedBytes =
    256 * 1024 * 1024;  // what is dropped beyond: half an hour of 2,000 readings at 10 Hz
constexpr size_t kEnoughQueuedBytes = 8 * 1024 * 1024;  // what a simulated bench waits for

struct SweepItem {
  int source;
  double timeS;
  std::vector<double> values;
};
struct PhaseBegin {
  PhaseKind kind;
  double startS;
};
struct PhaseFinish {
  double endS;
};
using Item = std::variant<SweepItem, Event, PhaseBegin, PhaseFinish>;

struct Hand {
  RunWriter& writer;
  void operator()(const SweepItem& item) const { writer.addSweep(item.source, item.timeS, item.values); }
  void operator()(const Event& event) const { writer.addEvent(event); }
  void operator()(const PhaseBegin& phase) const { writer.beginPhase(phase.kind, phase.startS); }
  void operator()(const PhaseFinish& phase) const { writer.endPhase(phase.endS); }
};

size_t bytesOf(const SweepItem& item) { return sizeof item + item.values.size() * sizeof(double); }

size_t bytesOf(const Event& event) {
  return sizeof event + event.kind.text().size() + event.text.size() + event.role.text().size() +
         jsonText(event.extra).size();
}

struct Ending {
  Outcome outcome;
  std::string reason;
};

}  // namespace

/// Shared with the thread, which may outlive the queue when the drive never answers.
struct QueuedWriter::State {
  explicit State(RunWriter w) : writer(std::move(w)) {}
  std::optional<RunWriter> writer;  // the threads' only; gone when they are, and the book with it is closed
  bool mayWait = false;
  // Guarded by `mutex`.
  mutable std::mutex mutex;
  std::condition_variable changed;
  std::vector<Item> queue;
  size_t queuedBytes = 0;     // in the queue
  size_t unwrittenBytes = 0;  // taken from the queue, not yet in the book
  std::optional<WriteTrouble> trouble, syncTrouble;
  bool isCommitted = false;  // since the last sync
  std::optional<Ending> ending;
  std::optional<Status> finished;
  bool isAbandoned = false;
  bool isEnding = false;  // nothing more to sync
  bool isSyncing = true;  // the sync thread is there
  bool isGone = false;    // both threads are
  double longestCommitS = 0;
  double freeB = kMissing;
  long long dropped = 0, droppedEvents = 0;
};

QueuedWriter::QueuedWriter(RunWriter writer, bool mayWait) : m_state(std::make_shared<State>(std::move(writer))) {
  m_state->mayWait = mayWait;
  std::thread(work, m_state).detach();
  std::thread(sync, m_state).detach();
}

QueuedWriter::~QueuedWriter() {
  std::unique_lock lock(m_state->mutex);
  m_state->isAbandoned = true;
  m_state->changed.notify_all();
  m_state->changed.wait_for(lock, std::chrono::milliseconds(500), [this] { return m_state->isGone; });
}

// Once a second, beside the commits: a drive that takes long to sync holds no commit up.
void QueuedWriter::sync(const std::shared_ptr<State>& state) {
  std::unique_lock lock(state->mutex);
  while (!state->isEnding) {
    state->changed.wait_for(lock, kSyncEvery, [&] { return state->isEnding; });
    if (state->isEnding || !std::exchange(state->isCommitted, false)) continue;
    lock.unlock();
    const double startS = monotonicS();
    const Status synced = state->writer->syncLog();
    lock.lock();
    if (synced)
      state->syncTrouble.reset();
    else if (!state->syncTrouble)
      state->syncTrouble = WriteTrouble{synced.error(), startS};
  }
  state->isSyncing = false;
  state->changed.notify_all();
}

void QueuedWriter::work(const std::shared_ptr<State>& state) {
  std::unique_lock lock(state->mutex);
  double spaceS = 0;
  while (true) {
    state->changed.wait_for(lock, kCommitEvery, [&] {
      return state->isAbandoned || state->ending || state->queuedBytes > kEnoughQueuedBytes;
    });
    const std::vector<Item> items = std::exchange(state->queue, {});
    state->unwrittenBytes += std::exchange(state->queuedBytes, 0);
    // A run that is abandoned is written as far as it came, as by a crash.
    const bool isLast = state->isAbandoned;
    const auto ending = state->ending;
    const bool wasInTrouble = state->trouble.has_value();
    lock.unlock();
    for (const Item& item : items) std::visit(Hand{*state->writer}, item);
    const double startS = monotonicS();
    Status written;
    if (ending)
      written = state->writer->finish(ending->outcome, ending->reason);
    else if (!items.empty() || wasInTrouble)
      written = state->writer->commit();
    const double endS = monotonicS();
    const bool isTimeForSpace = endS - spaceS >= kSpaceEveryS;
    const double freeB = isTimeForSpace ? ash::freeSpaceB(state->writer->bookPath()) : kMissing;
    lock.lock();
    if (isTimeForSpace) {
      spaceS = endS;
      state->freeB = freeB;
    }
    state->longestCommitS = std::max(state->longestCommitS, endS - startS);
    if (written) {
      state->unwrittenBytes = 0;
      state->isCommitted |= !items.empty();
      state->trouble.reset();
    } else if (!state->trouble) {
      state->trouble = WriteTrouble{written.error(), startS};
    } else {
      state->trouble->error = written.error();
    }
    if (ending) state->finished = written;
    state->changed.notify_all();
    if (isLast || ending) break;
  }
  state->isEnding = true;
  state->changed.notify_all();
  state->changed.wait(lock, [&] { return !state->isSyncing; });
  lock.unlock();
  state->writer.reset();
  lock.lock();
  state->isGone = true;
  state->changed.notify_all();
}

void QueuedWriter::addSweep(int source, double timeS, const std::vector<double>& values) {
  SweepItem item{source, timeS, values};
  const size_t bytes = bytesOf(item);
  std::unique_lock lock(m_state->mutex);
  const auto waiting = [this] { return m_state->queuedBytes + m_state->unwrittenBytes; };
  if (m_state->mayWait && waiting() > kEnoughQueuedBytes) {
    m_state->changed.notify_all();
    m_state->changed.wait(lock, [&] { return waiting() <= kEnoughQueuedBytes || m_state->trouble; });
  }
  if (waiting() + bytes > kMostQueuedBytes) {
    ++m_state->dropped;
    return;
  }
  m_state->queuedBytes += bytes;
  m_state->queue.emplace_back(std::move(item));
}

void QueuedWriter::addEvent(const Event& event) {
  const size_t bytes = bytesOf(event);
  const std::lock_guard lock(m_state->mutex);
  if (m_state->queuedBytes + m_state->unwrittenBytes + bytes > kMostQueuedBytes) {
    ++m_state->droppedEvents;
    return;
  }
  m_state->queuedBytes += bytes;
  m_state->queue.emplace_back(event);
}

void QueuedWriter::beginPhase(PhaseKind kind, double startS) {
  const std::lock_guard lock(m_state->mutex);
  m_state->queue.emplace_back(PhaseBegin{kind, startS});
}

void QueuedWriter::endPhase(double endS) {
  const std::lock_guard lock(m_state->mutex);
  m_state->queue.emplace_back(PhaseFinish{endS});
}

std::optional<WriteTrouble> QueuedWriter::trouble() const {
  const std::lock_guard lock(m_state->mutex);
  return m_state->trouble ? m_state->trouble : m_state->syncTrouble;
}

double QueuedWriter::freeSpaceB() const {
  const std::lock_guard lock(m_state->mutex);
  return m_state->freeB;
}

double QueuedWriter::longestCommitS() const {
  const std::lock_guard lock(m_state->mutex);
  return m_state->longestCommitS;
}

long long QueuedWriter::droppedSweeps() const {
  const std::lock_guard lock(m_state->mutex);
  return m_state->dropped;
}

long long QueuedWriter::droppedEvents() const {
  const std::lock_guard lock(m_state->mutex);
  return m_state->droppedEvents;
}

Status QueuedWriter::finish(Outcome outcome, const std::string& reason, double patienceS) {
  std::unique_lock lock(m_state->mutex);
  m_state->ending = Ending{outcome, reason};
  m_state->changed.notify_all();
  const auto patience = std::chrono::duration<double>(patienceS);
  if (!m_state->changed.wait_for(lock, patience, [this] { return m_state->isGone; })) {
    return Error::environment(
        fmt::format("The drive of the book did not answer for {:.0f} s; the end of the run is not in it.", patienceS));
  }
  return *m_state->finished;
}

}  // namespace ash
