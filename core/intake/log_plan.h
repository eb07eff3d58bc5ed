// SPDX-License-Identifier: GPL-3.0-or-later
// What a foreign log's columns are taken for, and why; how its time is read.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "intake/log_shape.h"
#include "intake/time_pattern.h"
#include "model/role.h"

namespace ash {

/// What a person says of a column: its role, or none, and its unit where the file does not tell it.
struct SaidOfColumn {
  std::string role;  ///< empty = it has none
  std::string unit;  ///< as written; empty = as in the file
};
/// By the header's name.
using SaidOfColumns = std::map<std::string, SaidOfColumn>;

/// "COLUMN=ROLE [UNIT]". Refused: no "=", a role that there is not, a unit of another quantity.
Result<std::pair<std::string, SaidOfColumn>> parseSaidOfColumn(const std::string& text);

struct ImportWishes {
  SaidOfColumns map, earlier;  ///< said now; said in imports before
  std::vector<std::string> skip;
  std::string time;  ///< a pattern, "epoch", "epoch-ms"; empty = found
};

/// Why a column has the role it has.
enum class RoleReason { Map, Earlier, Rule, None };
std::string_view roleReasonText(RoleReason reason);

enum class ColumnKind { Numbers, States, Words };

struct PlannedColumn {
  size_t cell = 0;
  std::string name;      ///< without unit; told apart by a number where it stands twice
  std::string unitText;  ///< as in the file
  Role role;
  RoleReason why = RoleReason::None;
  std::string doubt;  ///< a name and a unit that contradict each other, or two columns of one role
  UnitMatch unit;
  bool hasUnit = false;
  bool hasCellUnits = false;  ///< each cell tells its unit: "41.5 °C"
  ColumnKind kind = ColumnKind::Numbers;
  /// The name it is kept under.
  const std::string& title() const { return role.empty() ? name : role.text(); }
  std::string storedUnit() const;
};

/// One reading a line: which cell names it, which holds its value, which its unit.
struct OnePerLine {
  size_t name = 0, value = 0;
  std::optional<size_t> unit;
};

struct LogPlan {
  std::vector<size_t> timeCells;  ///< one, or a date and a time of day
  std::vector<std::string> timeNames;
  double timeFactor = 1;  ///< of numbers: seconds per written unit
  std::optional<TimePattern> timePattern;
  bool isEpochMs = false, isEpoch = false;
  std::optional<OnePerLine> onePerLine;  ///< then columns are those of the names, by planNames()
  std::vector<PlannedColumn> columns;
};

/// The columns of a log with one reading a line: its names with their units, in the order in which they came.
Status planNames(const std::vector<std::pair<std::string, std::string>>& names, const ImportWishes& wishes,
                 const std::string& where, LogPlan& plan);

/// The error says which column is asked for and is not there, or that no time was found.
Result<LogPlan> planOf(LogShape& shape, const std::vector<HeadRecord>& head, const ImportWishes& wishes,
                       const std::string& where);

}  // namespace ash
