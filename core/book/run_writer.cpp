// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/run_writer.h"

#include <fmt/format.h>
#include <sqlite3.h>
#include <sys/stat.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "book/block_codec.h"
#include "book/event_row.h"
#include "book/run_rows.h"
#include "book/sql_guard.h"
#include "system/clock.h"
#include "system/process_identity.h"

namespace ash {
namespace {

constexpr double kPlaceEveryS = 0.9;
constexpr long long kReserveB = 1024 * 1024;

}  // namespace

std::string newRunId() {
  // 40 random bits in letters and digits that cannot be mixed up when read aloud or typed.
  constexpr std::string_view kLetters = "23456789abcdefghjkmnpqrstuvwxyz";
  std::random_device random;
  std::string id = "r";
  for (int i = 0; i < 8; ++i) id += kLetters[random() % kLetters.size()];
  return id;
}

RunWriter::RunWriter(Book book, std::string run, std::vector<SourceInfo> sources)
    : m_book(std::move(book)),
      m_run(std::move(run)),
      m_sources(std::move(sources)),
      m_reserve(reservePath(m_book.path(), m_run), kReserveB) {
  m_pending.resize(m_sources.size());
  m_blocks.resize(m_sources.size());
  for (size_t s = 0; s < m_sources.size(); ++s) {
    m_pending[s].source = static_cast<int>(s);
    m_pending[s].columnCount = m_sources[s].readings.size();
  }
  m_log = openLog(*m_book.m_database);
  struct stat file {};
  if (stat(m_book.path().c_str(), &file) == 0) {
    m_device = file.st_dev;
    m_inode = file.st_ino;
  }
}

Result<RunWriter> RunWriter::begin(const std::string& bookPath, RunInfo& info, const std::vector<SourceInfo>& sources) {
  auto book = Book::open(bookPath, BookAccess::ReadWrite);
  if (!book) return book.error();
  return guarded<RunWriter>("write", bookPath, [&]() -> Result<RunWriter> {
    SQLite::Database& database = *book->m_database;
    if (info.id.empty()) info.id = newRunId();
    SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
    insertRun(database, info);
    insertSources(database, info.id, sources);
    countEdit(database);
    transaction.commit();
    RunWriter writer(std::move(*book), info.id, sources);
    // The first sync also makes the log's name safe in its folder.
    if (Status synced = writer.syncLog(); !synced) return synced.error();
    return writer;
  });
}

void RunWriter::addSweep(int source, double timeS, const std::vector<double>& values) {
  SampleBlock& block = m_pending[static_cast<size_t>(source)];
  block.timeS.push_back(timeS);
  block.values.insert(block.values.end(), values.begin(), values.end());
}

void RunWriter::addEvent(const Event& event) { m_events.push_back(event); }

void RunWriter::beginPhase(PhaseKind kind, double startS) {
  m_phases.push_back({m_phaseCount++, std::string(phaseKindText(kind)), startS, kMissing});
}

void RunWriter::endPhase(double endS) {
  if (m_phaseCount == 0) return;
  if (!m_phases.empty() && m_phases.back().number == m_phaseCount - 1)
    m_phases.back().endS = endS;
  else
    m_phases.push_back({m_phaseCount - 1, "", kMissing, endS});
}

void RunWriter::writeBlock(int source, int number, const SampleBlock& block) {
  insertBlock(*m_book.m_database, m_run, source, number, block);
}

void RunWriter::writePhase(const PendingPhase& phase) {
  SQLite::Statement write(*m_book.m_database,
                          phase.kind.empty()
                              ? "UPDATE phase SET end_s = ?4 WHERE run = ?1 AND number = ?2"
                              : "INSERT INTO phase (run, number, kind, start_s, end_s) VALUES (?1, ?2, ?3, ?5, ?4)");
  write.bind(1, m_run);
  write.bind(2, phase.number);
  if (!phase.kind.empty()) {
    write.bind(3, phase.kind);
    write.bind(5, phase.startS);
  }
  if (std::isfinite(phase.endS)) write.bind(4, phase.endS);
  write.exec();
}

void RunWriter::writePending() {
  SQLite::Database& database = *m_book.m_database;
  SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
  std::vector<Blocks> after = m_blocks;
  for (const SampleBlock& block : m_pending) {
    if (block.rowCount() == 0) continue;
    Blocks& blocks = after[static_cast<size_t>(block.source)];
    writeBlock(block.source, blocks.next++, block);
    blocks.smallSweeps += block.rowCount();
    if (blocks.smallSweeps >= kSweepsOfABlock) pack(block.source, blocks);
  }
  for (const PendingPhase& phase : m_phases) writePhase(phase);
  for (const Event& event : m_events) insertEvent(database, m_run, event);
  transaction.commit();
  m_blocks = std::move(after);
  for (SampleBlock& block : m_pending) {
    block.timeS.clear();
    block.values.clear();
  }
  m_phases.clear();
  m_events.clear();
}

// A drive that was pulled out, or a file that was moved away: SQLite would go on writing into what nobody can find.
Status RunWriter::checkPlace() const {
  struct stat file {};
  if (stat(m_book.path().c_str(), &file) == 0 && file.st_dev == m_device && file.st_ino == m_inode) return {};
  return Error::environment(fmt::format(
      "Cannot write {}: the book is no longer there. Bring its drive back, or the file to its place.", m_book.path()));
}

Status RunWriter::tryCommit(bool sync) {
  if (sync || monotonicS() - m_placeSeenS > kPlaceEveryS) {
    if (Status placed = checkPlace(); !placed) return placed;
    m_placeSeenS = monotonicS();
  }
  return guardedStatus("write", m_book.path(), [&] {
    // In WAL mode NORMAL leaves a commit with the operating system, FULL syncs the log, and with it all commits before.
    if (sync) m_book.m_database->exec("PRAGMA synchronous = FULL");
    writePending();
    if (sync) m_book.m_database->exec("PRAGMA synchronous = NORMAL");
  });
}

Status RunWriter::syncLog() const {
  const int code = m_log == nullptr ? SQLITE_OK : m_log->pMethods->xSync(m_log, SQLITE_SYNC_NORMAL);
  if (code == SQLITE_OK) return {};
  return Error::environment(fmt::format("Cannot write {}: its drive does not keep what it is given ({}).",
                                        m_book.path(), sqlite3_errstr(code)));
}

Status RunWriter::commit(bool mustSync) {
  const double startS = monotonicS();
  const Status done = tryCommit(mustSync);
  m_commitSeconds += monotonicS() - startS;
  ++m_commitCount;
  return done;
}

// Reads the blocks that are not yet joined back, and puts large ones in their place.
void RunWriter::pack(int source, Blocks& blocks) {
  if (blocks.next - blocks.firstSmall < 2) return;
  SQLite::Database& database = *m_book.m_database;
  SampleBlock all;
  all.source = source;
  all.columnCount = m_sources[static_cast<size_t>(source)].readings.size();
  SQLite::Statement read(
      database,
      "SELECT times, samples, checksum FROM block WHERE run = ? AND source = ? AND number >= ? ORDER BY number");
  read.bind(1, m_run);
  read.bind(2, source);
  read.bind(3, blocks.firstSmall);
  while (read.executeStep()) {
    const SQLite::Column times = read.getColumn(0);
    const SQLite::Column samples = read.getColumn(1);
    // What the drive gave back otherwise than it was written is left as it stands, so that its reader is told.
    if (blockChecksum(times.getBlob(), static_cast<size_t>(times.getBytes()), samples.getBlob(),
                      static_cast<size_t>(samples.getBytes())) != static_cast<uint32_t>(read.getColumn(2).getInt64())) {
      blocks.firstSmall = blocks.next;
      blocks.smallSweeps = 0;
      return;
    }
    const auto t = unpackDoubles(times.getBlob(), static_cast<size_t>(times.getBytes()));
    const auto v = unpackDoubles(samples.getBlob(), static_cast<size_t>(samples.getBytes()));
    all.timeS.insert(all.timeS.end(), t.begin(), t.end());
    all.values.insert(all.values.end(), v.begin(), v.end());
  }
  SQLite::Statement clear(database, "DELETE FROM block WHERE run = ? AND source = ? AND number >= ?");
  clear.bind(1, m_run);
  clear.bind(2, source);
  clear.bind(3, blocks.firstSmall);
  clear.exec();
  blocks.next = blocks.firstSmall;
  writeBlock(source, blocks.next++, all);
  blocks.firstSmall = blocks.next;
  blocks.smallSweeps = 0;
}

// A run that was made void while it went on stays void; how it ended is kept beside it.
void RunWriter::writeOutcome(Outcome outcome, const std::string& reason) {
  SQLite::Database& database = *m_book.m_database;
  database.exec("PRAGMA synchronous = FULL");
  SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
  SQLite::Statement update(database,
                           "UPDATE run SET outcome = CASE outcome WHEN 'void' THEN 'void' ELSE ?2 END, "
                           "reason = CASE outcome WHEN 'void' THEN reason ELSE ?3 END, "
                           "extra = CASE WHEN outcome = 'void' OR ?2 = 'void' THEN "
                           "json_set(extra, '$.before_void', json_object('outcome', ?4, 'reason', ?5)) ELSE extra END "
                           "WHERE id = ?1");
  // What the run is when its void is taken back: as it ended, else stopped by the hand that made it void.
  const bool endsVoid = outcome == Outcome::Void;
  update.bind(4, std::string(outcomeText(endsVoid ? Outcome::StoppedByHand : outcome)));
  update.bind(5, endsVoid ? std::string() : reason);
  update.bind(1, m_run);
  update.bind(2, std::string(outcomeText(outcome)));
  if (reason.empty())
    update.bind(3);
  else
    update.bind(3, reason);
  update.exec();
  countEdit(database);
  transaction.commit();
}

Status RunWriter::finish(Outcome outcome, const std::string& reason) {
  const auto end = [&] {
    if (Status done = commit(true); !done) return done;
    return guardedStatus("write", m_book.path(), [&] { writeOutcome(outcome, reason); });
  };
  Status done = end();
  if (!done && m_reserve.release()) done = end();
  if (!done) return done;
  // Joining the last blocks only makes reading quicker: a drive without room for it is no failure.
  static_cast<void>(guardedStatus("write", m_book.path(), [&] {
    SQLite::Transaction transaction(*m_book.m_database, SQLite::TransactionBehavior::IMMEDIATE);
    std::vector<Blocks> after = m_blocks;
    for (size_t source = 0; source < m_sources.size(); ++source) pack(static_cast<int>(source), after[source]);
    transaction.commit();
    m_blocks = std::move(after);
  }));
  m_reserve.release();
  return done;
}

}  // namespace ash
