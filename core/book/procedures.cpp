// SPDX-License-Identifier: GPL-3.0-or-later
// Procedures that have a name in a book, with all their versions.
#include <fmt/format.h>

#include "book/book.h"
#include "book/sql_guard.h"
#include "model/procedure.h"
#include "model/procedure_preset.h"
#include "model/text.h"
#include "system/clock.h"

namespace ash {
namespace {

constexpr int kFormatWithProcedures = 3;
constexpr size_t kLongestName = 100;

Error noneCalled(const std::string& name) {
  return Error::badInput(
      fmt::format("There is no procedure \"{}\"; `ashg procedure list` shows what there is.", withoutControls(name)));
}

NamedProcedure procedureOf(SQLite::Statement& row) {
  return {textAt(row, 0), row.getColumn(1).getInt(), textAt(row, 2), textAt(row, 3)};
}

}  // namespace

std::optional<NamedProcedure> shippedProcedure(const std::string& name) {
  for (const ProcedurePreset& preset : kProcedurePresets) {
    if (preset.name == name) return NamedProcedure{name, 0, std::string(preset.text), {}};
  }
  return std::nullopt;
}

Result<std::vector<NamedProcedure>> Book::procedures() const {
  return guarded<std::vector<NamedProcedure>>("read", m_path, [&]() -> Result<std::vector<NamedProcedure>> {
    std::vector<NamedProcedure> all;
    if (m_format < kFormatWithProcedures) return all;
    // A stranger's book may hold anything: what no procedure can be is left out.
    SQLite::Statement rows(*m_database,
                           "SELECT name, version, text, created FROM procedure WHERE length(text) <= 65536 AND "
                           "length(name) <= 100 ORDER BY name, version DESC LIMIT 10000");
    while (rows.executeStep()) all.push_back(procedureOf(rows));
    return all;
  });
}

Result<NamedProcedure> Book::procedure(const std::string& name, int version) const {
  const auto all = procedures();
  if (!all) return all.error();
  for (const NamedProcedure& one : *all) {
    if (one.name == name && (version == 0 || one.version == version)) return one;
  }
  auto preset = version == 0 ? shippedProcedure(name) : std::nullopt;
  if (!preset) return noneCalled(name);
  return std::move(*preset);
}

Result<NamedProcedure> Book::putProcedure(const std::string& name, const std::string& text) {
  if (trimmed(name).empty() || name.size() > kLongestName || withoutControls(name) != name)
    return Error::badInput(fmt::format("A procedure's name has 1 to {} characters in one line.", kLongestName));
  const auto parsed = parsePhases(text);
  if (!parsed) return parsed.error();
  NamedProcedure put{name, 1, phasesText(*parsed), isoTimeNow()};
  if (const auto now = procedure(name); now && now->version > 0) {
    if (now->text == put.text) return *now;
    put.version = now->version + 1;
  }
  Status kept = guardedStatus("write", m_path, [&] {
    SQLite::Statement insert(*m_database, "INSERT INTO procedure (name, version, text, created) VALUES (?, ?, ?, ?)");
    insert.bind(1, put.name);
    insert.bind(2, put.version);
    insert.bind(3, put.text);
    insert.bind(4, put.created);
    insert.exec();
  });
  if (!kept) return kept.error();
  return put;
}

Status Book::dropProcedure(const std::string& name) {
  int gone = 0;
  Status dropped = guardedStatus("write", m_path, [&] {
    SQLite::Statement remove(*m_database, "DELETE FROM procedure WHERE name = ?");
    remove.bind(1, name);
    gone = remove.exec();
  });
  if (!dropped || gone > 0) return dropped;
  if (shippedProcedure(name))
    return Error::badInput(fmt::format("The procedure \"{}\" ships with the program and stays.", name));
  return noneCalled(name);
}

}  // namespace ash
