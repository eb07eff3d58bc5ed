// SPDX-License-Identifier: GPL-3.0-or-later
// Ladders of a study: what was asked, and how far each has come.
#include <fmt/format.h>

#include "book/book.h"
#include "book/sql_guard.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr int kFormatWithLadders = 3;

}  // namespace

Result<std::vector<KeptLadder>> Book::ladders() const {
  return guarded<std::vector<KeptLadder>>("read", m_path, [&]() -> Result<std::vector<KeptLadder>> {
    std::vector<KeptLadder> all;
    if (m_format < kFormatWithLadders) return all;
    // A stranger's book may hold anything: what no ladder can be is left out.
    SQLite::Statement rows(*m_database,
                           "SELECT ladder.id, study.name, ladder.created, asked, state FROM ladder JOIN study ON "
                           "study.id = ladder.study WHERE length(asked) <= 65536 AND length(state) <= 1048576 AND "
                           "length(ladder.id) <= 64 ORDER BY ladder.rowid LIMIT 1000");
    while (rows.executeStep()) {
      KeptLadder one{textAt(rows, 0), textAt(rows, 1), textAt(rows, 2), parseQuietly(rows.getColumn(3).getString()),
                     parseQuietly(rows.getColumn(4).getString())};
      if (isPlainId(one.id) && one.asked.is_object() && one.state.is_object()) all.push_back(std::move(one));
    }
    return all;
  });
}

Status Book::putLadder(const KeptLadder& ladder) {
  if (!isPlainId(ladder.id)) return Error::badInput("A ladder's id has letters, digits, - and _, at most 64.");
  bool isThere = false;
  Status kept = guardedStatus("write", m_path, [&] {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement put(*m_database,
                          "INSERT INTO ladder (id, study, created, asked, state) SELECT ?, id, ?, ?, ? FROM study "
                          "WHERE name = ? ON CONFLICT (id) DO UPDATE SET state = excluded.state");
    put.bind(1, ladder.id);
    put.bind(2, ladder.created);
    put.bind(3, jsonText(ladder.asked));
    put.bind(4, jsonText(ladder.state));
    put.bind(5, ladder.study);
    isThere = put.exec() > 0;
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
  });
  if (!kept || isThere) return kept;
  return Error::badInput(fmt::format("There is no study \"{}\" to keep a ladder in.", withoutControls(ladder.study)));
}

}  // namespace ash
