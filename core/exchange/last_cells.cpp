// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/last_cells.h"

#include <algorithm>

#include "exchange/csv_cells.h"

namespace ash {
namespace {
constexpr size_t kFewest = 3, kMost = 8;
}

void LastCells::take(std::string_view last) {
  if (m_decimals.size() < kMost && !last.empty()) m_decimals.push_back(decimalsOf(last));
}

bool LastCells::isCut(std::string_view last) const {
  if (last == "-" || last.ends_with(m_mark)) return true;
  const CellNumber number = readCell(last, m_mark == ',');
  if (!number.value && !number.isMissing) return true;
  if (m_decimals.size() < kFewest || last.empty()) return false;
  return decimalsOf(last) < *std::min_element(m_decimals.begin(), m_decimals.end());
}

size_t LastCells::decimalsOf(std::string_view cell) const {
  const size_t at = cell.find(m_mark);
  return at == std::string_view::npos ? 0 : cell.size() - at - 1;
}

}  // namespace ash
