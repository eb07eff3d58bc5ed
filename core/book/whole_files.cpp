// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/whole_files.h"

#include <fmt/format.h>

#include "book/sql_guard.h"
#include "model/attachment.h"
#include "system/sha256.h"

namespace ash {
namespace {

constexpr size_t kMostFiles = 10'000;

std::string saidOf(const WholeFile& file, const char* key) {
  return withoutControls(valueIn(file.about, key, std::string()));
}

bool hasFile(SQLite::Database& database, int64_t setup, const std::string& hash) {
  SQLite::Statement same(database, "SELECT 1 FROM attachment WHERE setup = ? AND hash = ?");
  same.bind(1, setup);
  same.bind(2, hash);
  return same.executeStep();
}

}  // namespace

std::vector<WholeFile> wholeFilesOf(SQLite::Database& database, const std::string& run) {
  std::vector<WholeFile> files;
  if (!database.tableExists("attachment")) return files;
  SQLite::Statement rows(database,
                         "SELECT run, at_s, name, type, text, hash, added, extra, content FROM attachment WHERE run = "
                         "?1 OR setup = (SELECT setup FROM run WHERE id = ?1) ORDER BY id");
  rows.bind(1, run);
  while (rows.executeStep()) {
    WholeFile file;
    file.isOfSetup = rows.getColumn(0).isNull();
    file.about = {{"at_s", rows.getColumn(1).isNull() ? Json(nullptr) : Json(rows.getColumn(1).getDouble())},
                  {"name", textAt(rows, 2)},
                  {"type", textAt(rows, 3)},
                  {"text", textAt(rows, 4)},
                  {"hash", textAt(rows, 5)},
                  {"added", textAt(rows, 6)},
                  {"extra", parseObject(rows.getColumn(7).getString())}};
    const SQLite::Column content = rows.getColumn(8);
    file.bytes = std::make_shared<std::string>(static_cast<const char*>(content.getBlob()),
                                               static_cast<size_t>(content.getBytes()));
    files.push_back(std::move(file));
  }
  return files;
}

void insertWholeFiles(SQLite::Database& database, const std::string& run, int64_t setup,
                      const std::vector<WholeFile>& files) {
  for (const WholeFile& file : files) {
    const std::string hash = sha256Hex(*file.bytes);
    if (file.isOfSetup && hasFile(database, setup, hash)) continue;
    SQLite::Statement insert(database,
                             "INSERT INTO attachment (run, setup, at_s, name, type, text, hash, added, extra, content) "
                             "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
    if (file.isOfSetup)
      insert.bind(2, setup);
    else
      insert.bind(1, run);
    if (const Json at = valueIn(file.about, "at_s", Json()); at.is_number()) insert.bind(3, at.get<double>());
    insert.bind(4, saidOf(file, "name"));
    insert.bind(5, saidOf(file, "type"));
    insert.bind(6, saidOf(file, "text"));
    insert.bind(7, hash);
    insert.bind(8, saidOf(file, "added"));
    insert.bind(9, jsonText(valueIn(file.about, "extra", Json::object())));
    insert.bind(10, file.bytes->data(), static_cast<int>(file.bytes->size()));
    insert.exec();
  }
}

std::string refusalOf(const std::vector<WholeFile>& files) {
  if (files.size() > kMostFiles) return "has more files than a run may";
  for (const WholeFile& file : files) {
    const std::string name = saidOf(file, "name");
    if (file.bytes->empty()) return fmt::format("has a file “{}” with nothing in it", name);
    if (file.bytes->size() > static_cast<size_t>(kLargestAttachmentB))
      return fmt::format("has a file “{}” of more than {} MiB", name, kLargestAttachmentB >> 20);
    if (const std::string hash = saidOf(file, "hash"); !hash.empty() && hash != sha256Hex(*file.bytes))
      return fmt::format("has a file “{}” that is not what it says (its hash differs)", name);
  }
  return {};
}

}  // namespace ash
