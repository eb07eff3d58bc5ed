// SPDX-License-Identifier: GPL-3.0-or-later
// The only writer of a run's rows: the recorder holds one while a run goes on.
#pragma once

#include <string>
#include <vector>

#include "book/book.h"
#include "model/samples.h"

namespace ash {

/// Collects samples and commits them. A commit reaches the operating system at once (a killed process loses nothing
/// that was committed); once a second one is synced to the drive (a power cut loses at most what came after). Without
/// finish() the run stays "running" in the file and is told as interrupted once this process is gone.
class RunWriter {
 public:
  /// Writes the run's row and its sources. `info.repeat` is set to the next free number of its setup and load.
  static Result<RunWriter> begin(const std::string& bookPath, RunInfo& info, const std::vector<SourceInfo>& sources);

  void addSweep(int source, double timeS, const std::vector<double>& values);
  void addEvent(const Event& event);
  void beginPhase(PhaseKind kind, double startS);
  void endPhase(double endS);

  /// Commits what has been collected; synced to the drive when the last sync is a second old or `mustSync`.
  Status commit(bool mustSync = false);
  /// Ends the run: packs its many small blocks into large ones, writes outcome and reason, syncs.
  Status finish(Outcome outcome, const std::string& reason);

  /// Seconds since the oldest sample that is not yet committed came in; 0 when there is none.
  double waitingS() const;
  /// Time spent in commits so far and their number, for the cost that docs/book-format.md states.
  double commitSeconds() const { return m_commitSeconds; }
  long long commitCount() const { return m_commitCount; }

 private:
  struct PendingPhase {
    int number;
    std::string kind;
    double startS;
    double endS;
  };
  RunWriter(Book book, std::string run, std::vector<SourceInfo> sources);
  void writePending();
  void writeBlock(int source, int number, const SampleBlock& block);
  void packBlocks();

  Book m_book;
  std::string m_run;
  std::vector<SourceInfo> m_sources;
  std::vector<SampleBlock> m_pending;
  std::vector<int> m_nextBlock;
  std::vector<Event> m_events;
  std::vector<PendingPhase> m_phases;
  int m_phaseCount = 0;
  double m_waitingSinceS = 0;
  double m_lastSyncS = 0;
  double m_commitSeconds = 0;
  long long m_commitCount = 0;
};

/// A new id for a run: short enough to be typed, random enough never to meet its like in another book.
std::string newRunId();

}  // namespace ash
