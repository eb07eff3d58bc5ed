// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures and other files of setups and runs.
#include <fmt/format.h>

#include <cmath>

#include "book/book.h"
#include "book/sql_guard.h"
#include "system/clock.h"
#include "system/sha256.h"

namespace ash {
namespace {

constexpr int kFormatWithAttachments = 3;

constexpr char kColumns[] = "id, run, setup, at_s, name, type, text, hash, added, length(content), extra";

Attachment attachmentOf(SQLite::Statement& row) {
  Attachment one;
  one.id = row.getColumn(0).getInt64();
  if (!row.getColumn(1).isNull()) one.run = textAt(row, 1);
  one.setup = row.getColumn(2).getInt64();
  if (!row.getColumn(3).isNull()) one.atS = row.getColumn(3).getDouble();
  one.name = textAt(row, 4);
  one.type = textAt(row, 5);
  one.text = textAt(row, 6);
  one.hash = textAt(row, 7);
  one.added = textAt(row, 8);
  one.sizeB = row.getColumn(9).getInt64();
  one.extra = parseObject(row.getColumn(10).getString());
  return one;
}

Error noneOf(long long id, const std::string& path) {
  return Error::badInput(
      fmt::format("There is no file number {} in {}; `ashg attach --list --book {}` lists them.", id, path, path));
}

}  // namespace

Result<std::vector<Attachment>> Book::attachments() const {
  return guarded<std::vector<Attachment>>("read", m_path, [&]() -> Result<std::vector<Attachment>> {
    std::vector<Attachment> all;
    if (m_format < kFormatWithAttachments) return all;
    SQLite::Statement rows(*m_database, fmt::format("SELECT {} FROM attachment ORDER BY id", kColumns));
    while (rows.executeStep()) all.push_back(attachmentOf(rows));
    return all;
  });
}

Result<std::string> Book::attachmentBytes(long long id) const {
  return guarded<std::string>("read", m_path, [&]() -> Result<std::string> {
    if (m_format < kFormatWithAttachments) return noneOf(id, m_path);
    SQLite::Statement row(*m_database, "SELECT content, hash, name FROM attachment WHERE id = ?");
    row.bind(1, static_cast<int64_t>(id));
    if (!row.executeStep()) return noneOf(id, m_path);
    const SQLite::Column content = row.getColumn(0);
    const auto size = static_cast<size_t>(content.getBytes());
    std::string bytes(static_cast<const char*>(content.getBlob()), size);
    if (sha256Hex(bytes) != textAt(row, 1))
      return Error::environment(fmt::format("The file “{}” in {} is no longer what was kept.", textAt(row, 2), m_path));
    return bytes;
  });
}

namespace {

// Why it cannot be kept; empty when it can.
std::string refusalOf(const Attachment& wanted, const std::string& bytes) {
  if (bytes.empty()) return fmt::format("{} is empty.", wanted.name);
  if (bytes.size() > static_cast<size_t>(kLargestAttachmentB))
    return fmt::format("{} has {} MiB; a file that is kept may have {} at most.", wanted.name, (bytes.size() >> 20) + 1,
                       kLargestAttachmentB >> 20);
  if (wanted.run.empty() == (wanted.setup == 0)) return "A file belongs to a run or to a setup.";
  return {};
}

bool hasOwner(SQLite::Database& database, const Attachment& wanted) {
  SQLite::Statement owner(database,
                          wanted.run.empty() ? "SELECT 1 FROM setup WHERE id = ?" : "SELECT 1 FROM run WHERE id = ?");
  wanted.run.empty() ? owner.bind(1, static_cast<int64_t>(wanted.setup)) : owner.bind(1, wanted.run);
  return owner.executeStep();
}

long long insert(SQLite::Database& database, const Attachment& wanted, const std::string& bytes) {
  SQLite::Statement row(database,
                        "INSERT INTO attachment (run, setup, at_s, name, type, text, hash, added, extra, content, id) "
                        "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
  if (!wanted.run.empty()) row.bind(1, wanted.run);
  if (wanted.setup != 0) row.bind(2, static_cast<int64_t>(wanted.setup));
  if (std::isfinite(wanted.atS)) row.bind(3, wanted.atS);
  row.bind(4, wanted.name);
  row.bind(5, wanted.type);
  row.bind(6, wanted.text);
  row.bind(7, wanted.hash);
  row.bind(8, wanted.added);
  row.bind(9, jsonText(wanted.extra));
  row.bind(10, bytes.data(), static_cast<int>(bytes.size()));
  if (wanted.id != 0) row.bind(11, static_cast<int64_t>(wanted.id));
  row.exec();
  return database.getLastInsertRowid();
}

}  // namespace

Result<std::vector<Attachment>> Book::attach(const std::vector<std::pair<Attachment, std::string>>& files) {
  for (const auto& [wanted, bytes] : files) {
    if (const std::string why = refusalOf(wanted, bytes); !why.empty()) return Error::badInput(why);
  }
  return guarded<std::vector<Attachment>>("write", m_path, [&]() -> Result<std::vector<Attachment>> {
    std::vector<Attachment> kept;
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    for (const auto& [wanted, bytes] : files) {
      if (!hasOwner(*m_database, wanted))
        return Error::badInput(wanted.run.empty() ? fmt::format("The setup that {} belongs to is gone.", wanted.name)
                                                  : fmt::format("There is no run {} in {}.", wanted.run, m_path));
      Attachment one = wanted;
      one.hash = sha256Hex(bytes);
      one.sizeB = static_cast<long long>(bytes.size());
      if (one.added.empty()) one.added = isoTimeNow();
      one.id = insert(*m_database, one, bytes);
      kept.push_back(std::move(one));
    }
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
    return kept;
  });
}

Result<Attachment> Book::attach(const Attachment& wanted, const std::string& bytes) {
  auto kept = attach({{wanted, bytes}});
  if (!kept) return kept.error();
  return kept->front();
}

Result<std::string> Book::describe(long long id, const std::string& text) {
  return guarded<std::string>("write", m_path, [&]() -> Result<std::string> {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement row(*m_database, "SELECT text FROM attachment WHERE id = ?");
    row.bind(1, static_cast<int64_t>(id));
    if (!row.executeStep()) return noneOf(id, m_path);
    const std::string before = textAt(row, 0);
    SQLite::Statement put(*m_database, "UPDATE attachment SET text = ? WHERE id = ?");
    put.bind(1, text);
    put.bind(2, static_cast<int64_t>(id));
    put.exec();
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
    return before;
  });
}

Result<Attachment> Book::detach(long long id) {
  return guarded<Attachment>("write", m_path, [&]() -> Result<Attachment> {
    SQLite::Transaction transaction(*m_database, SQLite::TransactionBehavior::IMMEDIATE);
    SQLite::Statement row(*m_database, fmt::format("SELECT {} FROM attachment WHERE id = ?", kColumns));
    row.bind(1, static_cast<int64_t>(id));
    if (!row.executeStep()) return noneOf(id, m_path);
    const Attachment gone = attachmentOf(row);
    SQLite::Statement remove(*m_database, "DELETE FROM attachment WHERE id = ?");
    remove.bind(1, static_cast<int64_t>(id));
    remove.exec();
    countEdit(*m_database);
    transaction.commit();
    syncCommitted(*m_database);
    return gone;
  });
}

}  // namespace ash
