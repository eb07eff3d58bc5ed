// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/series/pyramid.h"

#include <algorithm>
#include <cmath>

namespace ash {
namespace {
constexpr size_t kBlock = 8;
}

Pyramid::Pyramid(Series series) : m_series(std::move(series)) {
  std::vector<Ends> level;
  for (size_t i = 0; i < m_series.size(); ++i) {
    if (i % kBlock == 0)
      level.push_back(endsAt(i));
    else
      level.back().take(endsAt(i));
  }
  while (level.size() > 1) {
    std::vector<Ends> above;
    for (size_t i = 0; i < level.size(); ++i) {
      if (i % kBlock == 0)
        above.push_back(level[i]);
      else
        above.back().take(level[i]);
    }
    m_levels.push_back(std::move(level));
    level = std::move(above);
  }
}

Pyramid::Ends Pyramid::endsAt(size_t index) const {
  const auto at = static_cast<uint32_t>(index);
  return {m_series.v[index], m_series.v[index], at, at};
}

// Whole blocks, as large as they fit, and single readings at the ends.
Pyramid::Ends Pyramid::endsOf(size_t from, size_t to) const {
  Ends ends = endsAt(from);
  while (from < to) {
    size_t size = 1, level = 0;
    while (level < m_levels.size() && from % (size * kBlock) == 0 && from + size * kBlock <= to) {
      size *= kBlock;
      ++level;
    }
    ends.take(level == 0 ? endsAt(from) : m_levels[level - 1][from / size]);
    from += size;
  }
  return ends;
}

// The first reading not before t; looked for from `from` on in steps that grow, for the next one is near.
size_t Pyramid::indexOf(double t, size_t from) const {
  const std::vector<double>& times = m_series.t;
  size_t step = 64, low = from, high = from;
  while (high < times.size() && times[high] < t) {
    low = high;
    high += step;
    step *= 2;
  }
  const auto first = times.begin() + static_cast<std::ptrdiff_t>(low);
  const auto last = times.begin() + static_cast<std::ptrdiff_t>(std::min(high, times.size()));
  return static_cast<size_t>(std::lower_bound(first, last, t) - times.begin());
}

Series Pyramid::within(double from, double to, size_t columns) const {
  Series kept;
  if (empty() || !(to > from) || columns == 0) return kept;
  const auto add = [&](size_t i) {
    if (!kept.t.empty() && kept.t.back() >= m_series.t[i]) return;
    kept.t.push_back(m_series.t[i]);
    kept.v.push_back(m_series.v[i]);
  };
  const size_t first = indexOf(from), last = indexOf(std::nextafter(to, INFINITY));
  if (first > 0) add(first - 1);
  if (last - first <= 2 * columns) {
    for (size_t i = first; i < last; ++i) add(i);
  } else {
    const double width = (to - from) / static_cast<double>(columns);
    size_t begin = first;
    for (size_t column = 1; column <= columns && begin < last; ++column) {
      const double edge = from + width * static_cast<double>(column);
      const size_t end = column == columns ? last : std::min(indexOf(edge, begin), last);
      if (end == begin) continue;
      const Ends ends = endsOf(begin, end);
      add(std::min(ends.lowAt, ends.highAt));
      add(std::max(ends.lowAt, ends.highAt));
      begin = end;
    }
  }
  if (last < m_series.size()) add(last);
  return kept;
}

std::pair<double, double> Pyramid::rangeWithin(double from, double to) const {
  const size_t first = empty() ? 0 : indexOf(from), last = empty() ? 0 : indexOf(std::nextafter(to, INFINITY));
  if (first >= last) return {INFINITY, -INFINITY};
  const Ends ends = endsOf(first, last);
  return {ends.low, ends.high};
}

}  // namespace ash
