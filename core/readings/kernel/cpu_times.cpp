// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/cpu_times.h"

#include <array>
#include <charconv>

namespace ash {
namespace {

constexpr uint64_t kLeastTicks = 5;  // below it a share is more rounding than load
constexpr int kMostCpuLines = 8192;

// One number and the blanks before it; false at the end of the line.
bool takeNumber(std::string_view& rest, uint64_t& number) {
  const size_t first = rest.find_first_not_of(' ');
  if (first == std::string_view::npos) return false;
  const auto [end, code] = std::from_chars(rest.data() + first, rest.data() + rest.size(), number);
  if (code != std::errc()) return false;
  rest.remove_prefix(static_cast<size_t>(end - rest.data()));
  return true;
}

// "cpu12" or "cpu" up to the first blank; false when it is neither.
bool takeName(std::string_view& line, int& cpu) {
  line.remove_prefix(3);
  cpu = -1;
  if (line.starts_with(' ')) return true;
  const auto [end, code] = std::from_chars(line.data(), line.data() + line.size(), cpu);
  if (code != std::errc() || cpu < 0 || cpu >= kMostCpuLines) return false;
  line.remove_prefix(static_cast<size_t>(end - line.data()));
  return line.starts_with(' ');
}

}  // namespace

std::vector<CpuTicks> parseCpuTicks(std::string_view text) {
  std::vector<CpuTicks> all;
  while (text.starts_with("cpu")) {
    const size_t end = text.find('\n');
    std::string_view line = text.substr(0, end);
    text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
    CpuTicks row;
    if (!takeName(line, row.cpu)) continue;
    std::array<uint64_t, 8> ticks{};  // user nice system idle iowait irq softirq steal
    size_t count = 0;
    while (count < ticks.size() && takeNumber(line, ticks[count])) ++count;
    if (count < 4) continue;
    for (size_t i = 0; i < count; ++i) row.total += ticks[i];
    row.busy = row.total - ticks[3] - ticks[4];
    all.push_back(row);
  }
  return all;
}

CpuTimes::Row& CpuTimes::rowOf(int cpu) {
  const auto index = static_cast<size_t>(cpu + 1);
  if (index >= m_rows.size()) m_rows.resize(index + 1);
  return m_rows[index];
}

void CpuTimes::refresh(const Moment& moment) {
  if (m_sweep == moment.number) return;
  m_sweep = moment.number;
  for (Row& row : m_rows) row.percent = kMissing;
  const auto text = m_file.viewText(moment.nowS);
  if (!text) return;
  for (const CpuTicks& now : parseCpuTicks(*text)) {
    Row& row = rowOf(now.cpu);
    const bool isFirst = !row.isKnown;
    // A CPU that went off line and came back, or an iowait that ran backwards, gives no value for this sweep.
    const bool runsOn = now.total >= row.before.total && now.busy >= row.before.busy;
    if (!isFirst && runsOn && now.total - row.before.total < kLeastTicks) continue;
    if (!isFirst && runsOn)
      row.last = row.percent =
          100.0 * static_cast<double>(now.busy - row.before.busy) / static_cast<double>(now.total - row.before.total);
    row.before = now;
    row.isKnown = true;
  }
}

double CpuTimes::loadPercent(int cpu) const {
  const auto index = static_cast<size_t>(cpu + 1);
  return index < m_rows.size() ? m_rows[index].percent : kMissing;
}

double CpuTimes::lastPercent(int cpu) const {
  const auto index = static_cast<size_t>(cpu + 1);
  return index < m_rows.size() ? m_rows[index].last : kMissing;
}

std::vector<int> CpuTimes::cpus() const {
  std::vector<int> cpus;
  for (size_t i = 0; i < m_rows.size(); ++i) {
    if (m_rows[i].isKnown) cpus.push_back(static_cast<int>(i) - 1);
  }
  return cpus;
}

}  // namespace ash
