// SPDX-License-Identifier: GPL-3.0-or-later
// Writes a run into its book from a thread of its own: the recorder, which watches the stop rules, never waits for a
// disk.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "book/run_writer.h"

namespace ash {

/// What the book's drive answers while it does not take what is written.
struct WriteTrouble {
  Error error;
  double sinceS = 0;  ///< CLOCK_MONOTONIC of the first failure in a row
};

/// The same calls as RunWriter; they return at once. Commits ten times a second, tries again after a failure, and keeps
/// what is not yet written. Use from one thread.
class QueuedWriter {
 public:
  /// `mayWait`: addSweep() waits when very much is queued (a simulated bench that runs faster than the disk); otherwise
  /// it is dropped and counted.
  QueuedWriter(RunWriter writer, bool mayWait);
  /// Without finish() the run stays as a crash would leave it. Never waits for the disk.
  ~QueuedWriter();
  QueuedWriter(const QueuedWriter&) = delete;
  QueuedWriter& operator=(const QueuedWriter&) = delete;

  void addSweep(int source, double timeS, const std::vector<double>& values);
  void addEvent(const Event& event);
  void beginPhase(PhaseKind kind, double startS);
  void endPhase(double endS);

  /// Set while the last attempt to write failed.
  std::optional<WriteTrouble> trouble() const;
  /// The longest that one commit has taken, and sweeps that were dropped.
  double longestCommitS() const;
  /// Bytes free on the drive of the book, looked at once a second; missing when not known.
  double freeSpaceB() const;
  long long droppedSweeps() const;
  /// Events that were dropped for the same reason.
  long long droppedEvents() const;

  /// Writes everything and closes the run; gives up after `patienceS` seconds when the drive does not answer.
  Status finish(Outcome outcome, const std::string& reason, double patienceS);

 private:
  struct State;
  static void work(const std::shared_ptr<State>& state);
  static void sync(const std::shared_ptr<State>& state);
  std::shared_ptr<State> m_state;
};

}  // namespace ash
