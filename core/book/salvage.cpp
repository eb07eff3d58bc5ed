// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/salvage.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <map>
#include <optional>
#include <set>
#include <tuple>

#include "book/block_codec.h"
#include "book/book.h"
#include "book/salvage_rows.h"
#include "book/sql_guard.h"
#include "book/sqlite_pages.h"
#include "system/sha256.h"

namespace ash {
namespace fs = std::filesystem;

namespace salvage {
namespace {

// Blocks in order of time, each moment once: of two that overlap (an old copy of what was joined later) the longer
// stays.
std::vector<BlockPlace> inOrder(std::vector<BlockPlace> blocks) {
  std::erase_if(blocks, [](const BlockPlace& block) { return !block.isWhole; });
  std::sort(blocks.begin(), blocks.end(), [](const BlockPlace& a, const BlockPlace& b) {
    return std::tie(a.firstS, b.sweeps) < std::tie(b.firstS, a.sweeps);
  });
  std::vector<BlockPlace> kept;
  for (const BlockPlace& block : blocks) {
    if (kept.empty() || block.firstS > kept.back().lastS) kept.push_back(block);
  }
  return kept;
}

void tellGaps(const std::string& run, int64_t source, const std::vector<BlockPlace>& all,
              const std::vector<BlockPlace>& kept, std::vector<std::string>& losses) {
  for (const BlockPlace& block : all) {
    if (!block.isWhole)
      losses.push_back(fmt::format("Run {}, source {}: the samples from {:.1f} s to {:.1f} s are damaged.", run, source,
                                   block.firstS, block.lastS));
  }
  for (size_t i = 0; i < kept.size(); ++i) {
    const int64_t expected = i == 0 ? 0 : kept[i - 1].number + 1;
    if (kept[i].number > expected)
      losses.push_back(fmt::format("Run {}, source {}: samples between {:.1f} s and {:.1f} s are lost.", run, source,
                                   i == 0 ? 0.0 : kept[i - 1].lastS, kept[i].firstS));
  }
}

/// Writes what was found into a new book, with stand-ins for what is missing above it.
class Rebuild {
 public:
  Rebuild(SQLite::Database& database, const SqlitePages& pages, Found found, SalvageReport& report)
      : m_database(database), m_pages(pages), m_found(std::move(found)), m_report(report) {}

  void run() {
    SQLite::Transaction transaction(m_database);
    m_database.exec("PRAGMA defer_foreign_keys = ON");
    addMissing();
    for (const auto& [id, row] : m_found.studies) put("study", id, row);
    for (const auto& [id, row] : m_found.setups) put("setup", id, row);
    for (const auto& [id, row] : m_found.loads) put("load", id, row);
    for (const auto& [id, row] : m_found.runs) put("run", std::nullopt, row);
    for (const auto& [key, id] : m_found.sources) put("source", std::nullopt, {key.first, key.second, id});
    for (const auto& [key, row] : m_found.readings) put("reading", std::nullopt, row);
    for (const auto& [key, row] : m_found.phases) put("phase", std::nullopt, row);
    for (const auto& [id, row] : m_found.events) put("event", id, row);
    for (const auto& [key, blocks] : m_found.blocks) putBlocks(key, blocks);
    for (const auto& [id, attachment] : m_found.attachments) putAttachment(id, attachment);
    for (const auto& [table, rows] : m_found.others) putAll(table, rows);
    transaction.commit();
    tellEmptyRuns();
  }

 private:
  // In place of what a new book begins with.
  void putAll(const std::string& table, const std::set<Values>& rows) {
    m_database.exec(fmt::format("DELETE FROM {}", table));
    for (const Values& row : rows) put(table, std::nullopt, row);
  }

  void put(const std::string& table, std::optional<int64_t> rowId, const Values& values) {
    std::string marks;
    for (size_t i = 0; i < values.size(); ++i) marks += i == 0 ? "?" : ", ?";
    SQLite::Statement insert(m_database, fmt::format("INSERT OR IGNORE INTO {} VALUES ({})", table, marks));
    for (size_t i = 0; i < values.size(); ++i) bind(insert, static_cast<int>(i) + 1, values[i]);
    if (rowId) insert.bind(1, *rowId);
    if (insert.exec() == 0) m_report.losses.push_back(fmt::format("A row of the table {} stood there twice.", table));
  }

  static void bind(SQLite::Statement& statement, int index, const SqliteValue& value) {
    if (isText(value))
      statement.bind(index, textOf(value));
    else if (isInteger(value))
      statement.bind(index, integerOf(value));
    else if (isBlob(value))
      statement.bind(index, std::get<SqliteBlob>(value).bytes.data(),
                     static_cast<int>(std::get<SqliteBlob>(value).bytes.size()));
    else if (isNull(value))
      statement.bind(index);
    else
      statement.bind(index, numberOf(value));
  }

  // Rows that others hang on and that are lost: a stand-in each, so that nothing below is thrown away.
  void addMissing() {
    std::set<std::string> runs;
    for (const auto& [key, blocks] : m_found.blocks) runs.insert(key.first);
    for (const auto& [key, row] : m_found.phases) runs.insert(key.first);
    for (const auto& [id, row] : m_found.events) runs.insert(textOf(row[1]));
    for (const auto& [key, id] : m_found.sources) runs.insert(key.first);
    for (const auto& [key, row] : m_found.readings) {
      runs.insert(std::get<0>(key));
      m_found.sources.try_emplace({std::get<0>(key), std::get<1>(key)}, "lost");
    }
    for (const auto& [id, attachment] : m_found.attachments) {
      if (!attachment.run.empty()) runs.insert(attachment.run);
    }
    for (const std::string& run : runs) {
      if (!m_found.runs.contains(run)) addRun(run);
    }
    for (auto& [id, row] : m_found.runs) {
      if (!m_found.setups.contains(integerOf(row[1]))) addSetup(integerOf(row[1]), "run " + id);
      if (!m_found.loads.contains(integerOf(row[2]))) addLoad(integerOf(row[2]), integerOf(row[1]));
    }
    for (const auto& [id, attachment] : m_found.attachments) {
      if (attachment.setup != 0 && !m_found.setups.contains(attachment.setup)) addSetup(attachment.setup, "a file");
    }
    for (const auto* rows : {&m_found.setups, &m_found.loads}) {
      for (const auto& [id, row] : *rows) addStudy(integerOf(row[1]));
    }
    for (const auto& [key, blocks] : m_found.blocks) addReadings(key, blocks);
  }

  void addStudy(int64_t id) {
    const bool isNew =
        m_found.studies.try_emplace(id, Values{{}, fmt::format("Saved study {}", id), "", "{}", ""}).second;
    if (isNew) m_report.losses.push_back(fmt::format("Study {}: its name, question and plan are lost.", id));
  }
  void addSetup(int64_t id, const std::string& of) {
    const int64_t study = m_found.studies.empty() ? 1 : m_found.studies.begin()->first;
    m_found.setups[id] = {{}, study, fmt::format("saved setup {}", id), "{}", "{}", "{}"};
    m_report.losses.push_back(fmt::format("Setup {} (of {}): its name, study and settings are lost.", id, of));
  }
  void addLoad(int64_t id, int64_t setup) {
    const auto known = m_found.setups.find(setup);
    const int64_t study = known == m_found.setups.end() ? 1 : integerOf(known->second[1]);
    m_found.loads[id] = {{}, study, fmt::format("saved load {}", id), "{}"};
    m_report.losses.push_back(fmt::format("Load {}: its name and settings are lost.", id));
  }
  void addRun(const std::string& id) {
    m_report.losses.push_back(fmt::format("Run {}: its setup, load, start and outcome are lost.", id));
    m_found.runs[id] = {id,
                        int64_t{-1},
                        int64_t{-1},
                        static_cast<int64_t>(++m_savedRuns),
                        "recorder died",
                        "The row of this run was lost with a damaged page; its samples were saved.",
                        "",
                        "",
                        0.5,
                        "",
                        "{}",
                        "{}",
                        "{}",
                        {},
                        "{}",
                        {},
                        {},
                        {}};
  }
  void addReadings(const SourceKey& key, const std::vector<BlockPlace>& blocks) {
    int64_t columns = 0;
    for (const BlockPlace& block : blocks) columns = std::max(columns, block.columns);
    m_found.sources.try_emplace(key, "lost");
    for (int64_t c = 0; c < columns; ++c) {
      const std::string name = fmt::format("reading {}.{}", key.second, c);
      const bool isNew =
          m_found.readings
              .try_emplace({key.first, key.second, c},
                           Values{key.first, key.second, c, name, {}, "", fmt::format(R"({{"name":"{}"}})", name)})
              .second;
      if (isNew) m_report.losses.push_back(fmt::format("Run {}: what {} is, is lost.", key.first, name));
    }
  }

  void putBlocks(const SourceKey& key, const std::vector<BlockPlace>& all) {
    const std::vector<BlockPlace> kept = inOrder(all);
    tellGaps(key.first, key.second, all, kept, m_report.losses);
    tellEnd(key, kept);
    for (const BlockPlace& block : kept) {
      put("block", std::nullopt, m_pages.row(block.place).values);
      ++m_report.blocks;
      m_report.sweeps += block.sweeps;
    }
  }

  void putAttachment(int64_t id, const AttachmentPlace& attachment) {
    constexpr size_t kName = 4, kHash = 7, kContent = 10;
    const Values row = m_pages.row(attachment.place).values;
    if (sha256Hex(std::get<SqliteBlob>(row[kContent]).bytes) == textOf(row[kHash])) return put("attachment", id, row);
    m_report.losses.push_back(fmt::format("The file “{}” is damaged.", textOf(row[kName])));
  }

  // Blocks at the end leave no gap: the phases and the other sources tell how far the run went.
  void tellEnd(const SourceKey& key, const std::vector<BlockPlace>& kept) {
    const double lastS = kept.empty() ? 0 : kept.back().lastS;
    double endS = lastS;
    for (const auto& [phase, row] : m_found.phases) {
      if (phase.first == key.first && isNumber(row[4])) endS = std::max(endS, numberOf(row[4]));
    }
    for (const auto& [other, blocks] : m_found.blocks) {
      for (const BlockPlace& block : blocks) {
        if (other.first == key.first && block.isWhole) endS = std::max(endS, block.lastS);
      }
    }
    const auto run = m_found.runs.find(key.first);
    const double intervalS = run != m_found.runs.end() && isNumber(run->second[8]) ? numberOf(run->second[8]) : 1;
    if (endS - lastS > 2 * intervalS)
      m_report.losses.push_back(fmt::format("Run {}, source {}: samples from {:.1f} s to its end at {:.1f} s are lost.",
                                            key.first, key.second, lastS, endS));
  }

  void tellEmptyRuns() {
    std::set<std::string> withSamples;
    for (const auto& [key, blocks] : m_found.blocks) withSamples.insert(key.first);
    for (const auto& [id, row] : m_found.runs) {
      if (!withSamples.contains(id))
        m_report.losses.push_back(fmt::format("Run {}: none of its samples could be read.", id));
    }
    m_report.studies = static_cast<long long>(m_found.studies.size());
    m_report.setups = static_cast<long long>(m_found.setups.size());
    m_report.loads = static_cast<long long>(m_found.loads.size());
    m_report.runs = static_cast<long long>(m_found.runs.size());
    m_report.events = static_cast<long long>(m_found.events.size());
  }

  SQLite::Database& m_database;
  const SqlitePages& m_pages;
  Found m_found;
  SalvageReport& m_report;
  int64_t m_savedRuns = 0;
};

}  // namespace
}  // namespace salvage

std::string salvagePath(const std::string& book) {
  const fs::path path(book);
  for (int number = 1;; ++number) {
    const std::string ending = number == 1 ? "-saved" : fmt::format("-saved-{}", number);
    const fs::path candidate = path.parent_path() / (path.stem().string() + ending + path.extension().string());
    std::error_code error;
    if (!fs::exists(candidate, error)) return candidate.string();
  }
}

Result<SalvageReport> salvageBook(const std::string& damaged, const std::string& to) {
  const auto pages = SqlitePages::open(damaged);
  if (!pages) return pages.error();
  salvage::Found found = salvage::findRows(*pages);
  if (found.runs.empty() && found.studies.empty() && found.blocks.empty()) {
    return Error::badInput(fmt::format("Nothing of a book can be read in {}.", damaged));
  }
  SalvageReport report;
  report.path = to;
  if (found.unreadable > 0) report.losses.push_back(fmt::format("{} rows could not be read.", found.unreadable));
  if (found.unknown > 0)
    report.losses.push_back(fmt::format("{} rows are of a kind that this version does not know.", found.unknown));
  if (auto made = Book::create(to); !made) return made.error();
  const Status rebuilt = guardedStatus("write", to, [&] {
    SQLite::Database database(fs::absolute(to).string(), SQLite::OPEN_READWRITE);
    salvage::Rebuild(database, *pages, std::move(found), report).run();
  });
  if (rebuilt) return report;
  for (const char* ending : {"", "-wal", "-shm"}) std::remove((to + ending).c_str());
  return rebuilt.error();
}

}  // namespace ash
