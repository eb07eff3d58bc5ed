// SPDX-License-Identifier: GPL-3.0-or-later
// The only writer of a run's rows: the recorder holds one while a run goes on.
#pragma once

#include <string>
#include <vector>

#include "book/book.h"
#include "model/samples.h"
#include "system/space_reserve.h"

struct sqlite3_file;

namespace ash {

/// Collects samples and commits them. A commit reaches the operating system at once (a killed process loses nothing
/// that was committed); what was committed is safe from a power cut once it is synced, with the commit or by syncLog().
/// Without finish() the run stays "running" in the file and is told as interrupted once this process is gone. What
/// could not be written is kept for the next commit.
class RunWriter {
 public:
  /// Writes the run's row and its sources. `info.repeat` is set to the next free number of its setup and load.
  static Result<RunWriter> begin(const std::string& bookPath, RunInfo& info, const std::vector<SourceInfo>& sources);

  void addSweep(int source, double timeS, const std::vector<double>& values);
  void addEvent(const Event& event);
  void beginPhase(PhaseKind kind, double startS);
  void endPhase(double endS);

  /// Commits what has been collected, synced to the drive if `mustSync`. Every 1,024 sweeps of a source are joined into
  /// one block.
  Status commit(bool mustSync = false);
  /// Syncs all that has been committed. May be called from another thread while this one commits: a drive that takes
  /// long for it then delays no commit.
  Status syncLog() const;
  /// Ends the run: writes outcome and reason, syncs, joins the last small blocks. On a full drive the space that was
  /// kept for this is used.
  Status finish(Outcome outcome, const std::string& reason);

  const std::string& bookPath() const { return m_book.path(); }
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
  /// Blocks of one source: those from `firstSmall` on are not yet joined and hold so many sweeps.
  struct Blocks {
    int next = 0;
    int firstSmall = 0;
    size_t smallSweeps = 0;
  };
  RunWriter(Book book, std::string run, std::vector<SourceInfo> sources);
  Status checkPlace() const;
  Status tryCommit(bool sync);
  void writePending();
  void writePhase(const PendingPhase& phase);
  void writeBlock(int source, int number, const SampleBlock& block);
  void pack(int source, Blocks& blocks);
  void writeOutcome(Outcome outcome, const std::string& reason);

  Book m_book;
  std::string m_run;
  std::vector<SourceInfo> m_sources;
  std::vector<SampleBlock> m_pending;
  std::vector<Blocks> m_blocks;
  std::vector<Event> m_events;
  std::vector<PendingPhase> m_phases;
  int m_phaseCount = 0;
  double m_placeSeenS = 0;
  sqlite3_file* m_log = nullptr;  // SQLite's own write-ahead log
  double m_commitSeconds = 0;
  long long m_commitCount = 0;
  SpaceReserve m_reserve;
  unsigned long long m_device = 0, m_inode = 0;  // of the book's file
};

/// A new id for a run: short enough to be typed, random enough never to meet its like in another book.
std::string newRunId();

}  // namespace ash
