// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/beside.h"

#include <fmt/format.h>

#include <algorithm>

#include "book/book.h"
#include "book/event_row.h"
#include "book/run_rows.h"
#include "book/sql_guard.h"

namespace ash {
namespace {

constexpr char kBeside[] = "beside", kSource[] = "source", kHow[] = "how";

/// The run's `extra`, to be changed within a transaction.
Json extraOf(SQLite::Database& database, const std::string& run) {
  SQLite::Statement row(database, "SELECT extra FROM run WHERE id = ?");
  row.bind(1, run);
  return row.executeStep() ? parseObject(row.getColumn(0).getString()) : Json::object();
}

void putExtra(SQLite::Database& database, const std::string& run, const Json& extra) {
  SQLite::Statement update(database, "UPDATE run SET extra = ? WHERE id = ?");
  update.bind(1, jsonText(extra));
  update.bind(2, run);
  update.exec();
}

// Its number, or where the next one stands; and a name that no other source of the run has.
int nextSource(SQLite::Database& database, const std::string& run, std::string& name) {
  std::set<std::string> taken;
  int next = 0;
  SQLite::Statement rows(database, "SELECT number, id FROM source WHERE run = ?");
  rows.bind(1, run);
  while (rows.executeStep()) {
    next = std::max(next, rows.getColumn(0).getInt() + 1);
    taken.insert(textAt(rows, 1));
  }
  const std::string wanted = name;
  for (int number = 2; taken.contains(name); ++number) name = fmt::format("{} ({})", wanted, number);
  return next;
}

void insertSamples(SQLite::Database& database, const std::string& run, int source, const BesideLog& log) {
  int number = 0;
  for (size_t from = 0; from < log.timeS.size(); from += kSweepsOfABlock) {
    SampleBlock block;
    block.source = source;
    block.columnCount = log.columns.size();
    for (size_t row = from; row < std::min(from + kSweepsOfABlock, log.timeS.size()); ++row) {
      block.timeS.push_back(log.timeS[row]);
      for (const auto& column : log.columns) block.values.push_back(column[row]);
    }
    insertBlock(database, run, source, number++, block);
  }
}

Result<Book> bookWith(const std::string& path, const std::string& run) {
  auto book = Book::open(path, BookAccess::ReadWrite);
  if (!book) return book.error();
  const auto summary = book->run(run);
  if (!summary) return summary.error();
  if (summary->info.outcome == Outcome::Running)
    return Error::badInput(fmt::format("Run {} goes on: a log can stand beside it when it has ended.", run));
  return book;
}

}  // namespace

std::vector<std::pair<std::string, Json>> besideOf(const Json& extra) {
  std::vector<std::pair<std::string, Json>> all;
  for (const Json& one : valueIn(extra, kBeside, Json::array())) {
    const std::string name = valueIn(one, kSource, std::string());
    if (!name.empty()) all.emplace_back(name, valueIn(one, kHow, Json::object()));
  }
  return all;
}

Result<std::string> putBeside(const std::string& bookPath, const std::string& run, BesideLog log) {
  const auto book = bookWith(bookPath, run);
  if (!book) return book.error();
  return guarded<std::string>("write", bookPath, [&]() -> Result<std::string> {
    SQLite::Database database(bookPath, SQLite::OPEN_READWRITE);
    database.setBusyTimeout(10'000);
    database.exec("PRAGMA synchronous = FULL");
    SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
    const int source = nextSource(database, run, log.source.id);
    insertSources(database, run, {log.source}, source);
    insertSamples(database, run, source, log);
    for (Event& event : log.events) {
      event.extra[kBeside] = log.source.id;
      insertEvent(database, run, event);
    }
    Json extra = extraOf(database, run);
    if (!extra[kBeside].is_array()) extra[kBeside] = Json::array();
    extra[kBeside].push_back({{kSource, log.source.id}, {kHow, log.how}});
    putExtra(database, run, extra);
    countEdit(database);
    transaction.commit();
    return log.source.id;
  });
}

Status takeOffBeside(const std::string& bookPath, const std::string& run, const std::string& name) {
  const auto book = bookWith(bookPath, run);
  if (!book) return book.error();
  std::string refusal;
  Status done = guardedStatus("write", bookPath, [&] {
    SQLite::Database database(bookPath, SQLite::OPEN_READWRITE);
    database.setBusyTimeout(10'000);
    database.exec("PRAGMA foreign_keys = ON");
    database.exec("PRAGMA synchronous = FULL");
    SQLite::Transaction transaction(database, SQLite::TransactionBehavior::IMMEDIATE);
    Json extra = extraOf(database, run);
    Json kept = Json::array();
    std::string others;
    for (const auto& [source, how] : besideOf(extra)) {
      if (source == name) continue;
      kept.push_back({{kSource, source}, {kHow, how}});
      others += fmt::format("{}“{}”", others.empty() ? "" : ", ", source);
    }
    if (kept.size() == besideOf(extra).size()) {
      refusal = fmt::format("Nothing called “{}” stands beside run {}{}.", withoutControls(name), run,
                            others.empty() ? "" : ", but " + others);
      return;
    }
    kept.empty() ? static_cast<void>(extra.erase(kBeside)) : static_cast<void>(extra[kBeside] = kept);
    putExtra(database, run, extra);
    SQLite::Statement source(database, "DELETE FROM source WHERE run = ? AND id = ?");
    source.bind(1, run);
    source.bind(2, name);
    source.exec();
    SQLite::Statement events(
        database,
        "DELETE FROM event WHERE run = ? AND CASE WHEN json_valid(extra) THEN json_extract(extra, '$.beside') END = ?");
    events.bind(1, run);
    events.bind(2, name);
    events.exec();
    countEdit(database);
    transaction.commit();
  });
  if (done && !refusal.empty()) return Error::badInput(refusal);
  return done;
}

}  // namespace ash
