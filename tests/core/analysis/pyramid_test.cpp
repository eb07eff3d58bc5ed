// SPDX-License-Identifier: GPL-3.0-or-later
// A part of a long series against plain loops over it.
#include "analysis/series/pyramid.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

using namespace ash;

namespace {

// Uneven times, noise, and single spikes that stand in one reading each.
Series spiky(size_t count, unsigned seed) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<double> step(0.1, 0.9), noise(-1, 1);
  Series series;
  double t = -40;
  for (size_t i = 0; i < count; ++i) {
    series.t.push_back(t += i % 977 == 0 ? 60 : step(random));
    series.v.push_back(40 + noise(random) + (i % 1013 == 500 ? 30 : i % 1511 == 700 ? -25 : 0));
  }
  return series;
}

std::pair<double, double> plainRange(const Series& series, double from, double to) {
  double low = INFINITY, high = -INFINITY;
  for (size_t i = 0; i < series.size(); ++i) {
    if (series.t[i] < from || series.t[i] > to) continue;
    low = std::min(low, series.v[i]);
    high = std::max(high, series.v[i]);
  }
  return {low, high};
}

}  // namespace

TEST_CASE("theRangeOfAnyPartIsThatOfAllItsReadings") {
  for (const size_t count : {1, 7, 8, 9, 63, 64, 65, 5000}) {
    const Series series = spiky(count, 3);
    const Pyramid pyramid(series);
    std::mt19937 random(5);
    std::uniform_real_distribution<double> moment(series.t.front() - 5, series.t.back() + 5);
    for (int round = 0; round < 300; ++round) {
      double from = moment(random), to = moment(random);
      if (from > to) std::swap(from, to);
      if (round % 7 == 0) from = series.t[static_cast<size_t>(round) % count];  // an end on a reading counts
      INFO(count << ": " << from << " to " << to);
      const auto expected = plainRange(series, from, to);
      const auto found = pyramid.rangeWithin(from, to);
      if (expected.first > expected.second)
        CHECK(found.first > found.second);
      else
        CHECK(found == expected);
    }
  }
}

TEST_CASE("aPartIsDrawnByFewReadingsAndNoSpikeIsLost") {
  const Series series = spiky(40'000, 1);
  const Pyramid pyramid(series);
  std::mt19937 random(9);
  std::uniform_real_distribution<double> moment(series.t.front(), series.t.back());
  for (int round = 0; round < 100; ++round) {
    double from = moment(random), to = moment(random);
    if (from > to) std::swap(from, to);
    const size_t columns = 200;
    const Series shown = pyramid.within(from, to, columns);
    INFO(from << " to " << to);
    CHECK(shown.size() <= 2 * columns + 2);
    CHECK(std::is_sorted(shown.t.begin(), shown.t.end()));
    CHECK(std::adjacent_find(shown.t.begin(), shown.t.end()) == shown.t.end());
    // Each is a reading of the series, and in each column the highest and the lowest are there.
    for (size_t i = 0; i < shown.size(); i += 17) {
      const auto at = std::lower_bound(series.t.begin(), series.t.end(), shown.t[i]) - series.t.begin();
      CHECK(series.t[static_cast<size_t>(at)] == shown.t[i]);
      CHECK(series.v[static_cast<size_t>(at)] == shown.v[i]);
    }
    const double width = (to - from) / columns;
    for (size_t column = 0; column < columns; column += 13) {
      const double begin = from + width * static_cast<double>(column), end = begin + width;
      const double inner = std::nextafter(end, begin);
      CHECK(plainRange(shown, begin, inner) == plainRange(series, begin, inner));
    }
  }
}

TEST_CASE("aLineGoesOnToBothEdgesAndAShortOneIsWhole") {
  const Series series{{0, 10, 20, 30, 40}, {1, 2, 3, 4, 5}};
  const Pyramid pyramid(series);
  const Series shown = pyramid.within(12, 28, 100);
  CHECK(shown.t == std::vector<double>{10, 20, 30});
  CHECK(pyramid.within(-5, 50, 100).v == series.v);
  CHECK(pyramid.within(10, 30, 1).t == std::vector<double>{0, 10, 30, 40});
  CHECK(pyramid.within(3, 4, 100).t == std::vector<double>{0, 10});
  CHECK(pyramid.within(4, 4, 100).empty());
  CHECK(Pyramid().within(0, 1, 10).empty());
  CHECK(Pyramid(Series{{5}, {7}}).within(0, 10, 10).v == std::vector<double>{7});
}
