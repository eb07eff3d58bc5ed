// SPDX-License-Identifier: GPL-3.0-or-later
// What has been said of the readings of a machine. Books of format 1 that are opened for reading have the table or not
// (docs/book-format.md).
#include "book/book.h"
#include "book/sql_guard.h"

namespace ash {

Result<ReadingChoices> Book::readingChoices(const std::string& machine) const {
  return guarded<ReadingChoices>("read", m_path, [&]() -> Result<ReadingChoices> {
    if (!m_database->tableExists("machine")) return ReadingChoices();
    SQLite::Statement row(*m_database, "SELECT readings FROM machine WHERE name = ?");
    row.bind(1, machine);
    if (!row.executeStep()) return ReadingChoices();
    return choicesFromJson(parseQuietly(row.getColumn(0).getString()));
  });
}

Status Book::putReadingChoice(const std::string& machine, const std::string& reading, const ReadingChoice& choice) {
  return guardedStatus("write", m_path, [&] {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement row(*m_database, "SELECT readings FROM machine WHERE name = ?");
    row.bind(1, machine);
    ReadingChoices all;
    if (row.executeStep()) all = choicesFromJson(parseQuietly(row.getColumn(0).getString()));
    // A role belongs to one reading: who gets it takes it from the one it was given to before.
    for (auto& [id, other] : all) {
      if (choice.role && !choice.role->empty() && other.role == choice.role && id != reading) other.role.reset();
    }
    all[reading] = choice;
    SQLite::Statement put(*m_database,
                          "INSERT INTO machine (name, readings) VALUES (?, ?) "
                          "ON CONFLICT(name) DO UPDATE SET readings = excluded.readings");
    put.bind(1, machine);
    put.bind(2, jsonText(choicesToJson(all)));
    put.exec();
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
  });
}

}  // namespace ash
