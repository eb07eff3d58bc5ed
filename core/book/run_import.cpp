// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/run_import.h"

#include "book/event_row.h"
#include "book/run_rows.h"
#include "book/run_writer.h"
#include "book/sql_guard.h"

namespace ash {
struct RunImport::State {
  Book book;
  std::string run;
  std::unique_ptr<SQLite::Database> database;
  std::unique_ptr<SQLite::Transaction> transaction;
  std::vector<SampleBlock> pending;
  std::vector<int> nextBlock;
};

RunImport::RunImport(std::unique_ptr<State> state) : m_state(std::move(state)) {}
RunImport::RunImport(RunImport&&) noexcept = default;
RunImport& RunImport::operator=(RunImport&&) noexcept = default;
RunImport::~RunImport() = default;

Result<RunImport> RunImport::begin(const std::string& bookPath, RunInfo& info, const std::vector<SourceInfo>& sources) {
  auto book = Book::open(bookPath, BookAccess::ReadWrite);
  if (!book) return book.error();
  return guarded<RunImport>("write", bookPath, [&]() -> Result<RunImport> {
    if (info.id.empty()) info.id = newRunId();
    auto state = std::make_unique<State>(State{std::move(*book), info.id, nullptr, nullptr, {}, {}});
    state->database = std::make_unique<SQLite::Database>(bookPath, SQLite::OPEN_READWRITE);
    SQLite::Database& database = *state->database;
    database.setBusyTimeout(10'000);
    database.exec("PRAGMA synchronous = FULL");
    // A long import may spill: what is held back in memory is bounded.
    database.exec("PRAGMA cache_size = -16000");
    state->transaction = std::make_unique<SQLite::Transaction>(database, SQLite::TransactionBehavior::IMMEDIATE);
    insertPlace(database, info.study, {.name = info.setup}, {.name = info.load});
    insertRun(database, info);
    insertSources(database, info.id, sources);
    countEdit(database);
    state->nextBlock.resize(sources.size());
    for (size_t s = 0; s < sources.size(); ++s) {
      SampleBlock block;
      block.source = static_cast<int>(s);
      block.columnCount = sources[s].readings.size();
      state->pending.push_back(std::move(block));
    }
    return RunImport(std::move(state));
  });
}

Status RunImport::flush(size_t source) {
  SampleBlock& block = m_state->pending[source];
  if (block.rowCount() == 0) return {};
  return guardedStatus("write", m_state->book.path(), [&] {
    insertBlock(*m_state->database, m_state->run, block.source, m_state->nextBlock[source]++, block);
    block.timeS.clear();
    block.values.clear();
  });
}

Status RunImport::addSweep(int source, double timeS, const std::vector<double>& values) {
  SampleBlock& block = m_state->pending[static_cast<size_t>(source)];
  block.timeS.push_back(timeS);
  block.values.insert(block.values.end(), values.begin(), values.end());
  return block.rowCount() < kSweepsOfABlock ? Status() : flush(static_cast<size_t>(source));
}

Status RunImport::addEvent(const Event& event) {
  return guardedStatus("write", m_state->book.path(), [&] { insertEvent(*m_state->database, m_state->run, event); });
}

Status RunImport::finish(const std::string& started, double intervalS, Outcome outcome) {
  for (size_t s = 0; s < m_state->pending.size(); ++s) {
    if (Status flushed = flush(s); !flushed) return flushed;
  }
  return guardedStatus("write", m_state->book.path(), [&] {
    SQLite::Statement end(*m_state->database,
                          "UPDATE run SET outcome = ?2, interval_s = ?3, started = ?4 WHERE id = ?1");
    end.bind(1, m_state->run);
    end.bind(2, std::string(outcomeText(outcome)));
    end.bind(3, intervalS);
    end.bind(4, started);
    end.exec();
    m_state->transaction->commit();
    m_state->transaction.reset();
  });
}

}  // namespace ash
