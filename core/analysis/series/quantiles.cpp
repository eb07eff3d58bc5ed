// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/series/quantiles.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <vector>

#include "analysis/series/statistics.h"

namespace ash {
namespace {

constexpr std::array kShares = {0.05, 0.5, 0.95};
constexpr size_t kBins = 1024;
constexpr size_t kWorthBins = 500;

/// Where a value is counted: bins rise with values, so order between bins is order between values.
struct Bins {
  double low, perBin;
  size_t of(double value) const { return static_cast<size_t>(static_cast<int>((value - low) * perBin)); }
};

struct Table {
  std::array<uint32_t, kBins> count{};
  std::array<double, kBins> value;
  std::array<uint8_t, kBins> isMixed{};  ///< it holds more than one value
};

Table countInto(const Bins& bins, std::span<const double> values) {
  // Two tables in turn: a coarse sensor would wait for its own last count.
  std::array<Table, 2> tables;
  const double none = bins.low - 1;
  for (Table& table : tables) table.value.fill(none);
  const auto add = [&](Table& table, double value) {
    const size_t bin = bins.of(value);
    const double before = table.value[bin];
    ++table.count[bin];
    table.isMixed[bin] |= static_cast<uint8_t>((before != value) & (before != none));
    table.value[bin] = value;
  };
  size_t i = 0;
  for (; i + 2 <= values.size(); i += 2) {
    add(tables[0], values[i]);
    add(tables[1], values[i + 1]);
  }
  if (i < values.size()) add(tables[0], values[i]);
  Table& all = tables[0];
  for (size_t bin = 0; bin < kBins; ++bin) {
    const bool areBoth = all.count[bin] > 0 && tables[1].count[bin] > 0;
    all.isMixed[bin] |=
        static_cast<uint8_t>(tables[1].isMixed[bin] | (areBoth && all.value[bin] != tables[1].value[bin]));
    if (all.count[bin] == 0) all.value[bin] = tables[1].value[bin];
    all.count[bin] += tables[1].count[bin];
  }
  return all;
}

/// An order statistic: the rank, the bin that holds it, and how many lie before that bin.
struct Wanted {
  size_t rank = 0, bin = 0, before = 0;
};

Wanted find(const Table& table, size_t rank) {
  Wanted wanted{rank, 0, 0};
  while (wanted.before + table.count[wanted.bin] <= rank) wanted.before += table.count[wanted.bin++];
  return wanted;
}

/// The values of some bins, one bin after the other in `inside`.
class Gathered {
 public:
  Gathered(const Bins& bins, const Table& table, std::span<const Wanted> wanted, std::span<const double> values)
      : m_table(table) {
    std::array<uint8_t, kBins> place{};
    for (const Wanted& one : wanted) {
      if (!table.isMixed[one.bin] || place[one.bin] != 0) continue;
      m_bin[m_count] = one.bin;
      place[one.bin] = static_cast<uint8_t>(++m_count);
    }
    if (m_count == 0) return;
    for (const double value : values) {
      if (const uint8_t at = place[bins.of(value)]; at != 0) m_inside[at - 1u].push_back(value);
    }
  }
  double valueOf(const Wanted& one) {
    if (!m_table.isMixed[one.bin]) return m_table.value[one.bin];
    const auto slot = std::find(m_bin.begin(), m_bin.end(), one.bin) - m_bin.begin();
    std::vector<double>& some = m_inside[static_cast<size_t>(slot)];
    const auto at = some.begin() + static_cast<std::ptrdiff_t>(one.rank - one.before);
    std::nth_element(some.begin(), at, some.end());
    return *at;
  }

 private:
  const Table& m_table;
  size_t m_count = 0;
  std::array<size_t, 2 * kShares.size()> m_bin{};
  std::array<std::vector<double>, 2 * kShares.size()> m_inside;
};

}  // namespace

std::array<double, 3> usualQuantiles(std::span<const double> values, double low, double high) {
  std::array<double, 3> quantiles{};
  const Bins bins{low, static_cast<double>(kBins - 1) / (high - low)};
  if (values.size() < kWorthBins || !std::isfinite(bins.perBin)) {
    std::vector<double> sorted(values.begin(), values.end());
    std::sort(sorted.begin(), sorted.end());
    for (size_t q = 0; q < kShares.size(); ++q) quantiles[q] = quantileOfSorted(sorted, kShares[q]);
    return quantiles;
  }
  const Table table = countInto(bins, values);
  std::array<Wanted, 2 * kShares.size()> wanted;
  for (size_t q = 0; q < kShares.size(); ++q) {
    const auto below = static_cast<size_t>(kShares[q] * static_cast<double>(values.size() - 1));
    for (size_t side = 0; side < 2; ++side)
      wanted[2 * q + side] = find(table, std::min(below + side, values.size() - 1));
  }
  Gathered gathered(bins, table, wanted, values);
  for (size_t q = 0; q < kShares.size(); ++q) {
    const double place = kShares[q] * static_cast<double>(values.size() - 1);
    const double lower = gathered.valueOf(wanted[2 * q]), upper = gathered.valueOf(wanted[2 * q + 1]);
    quantiles[q] = lower + (place - std::floor(place)) * (upper - lower);
  }
  return quantiles;
}

}  // namespace ash
