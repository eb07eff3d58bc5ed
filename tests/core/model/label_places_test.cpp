// SPDX-License-Identifier: GPL-3.0-or-later
// No label lies on another, whatever the points are.
#include "model/label_places.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <random>

using namespace ash;

TEST_CASE("labelsAtLineEndsArePushedApartAndStayInTheLane") {
  std::vector<double> places = {10, 11, 12, 90, 96, 99};
  spreadApart(places, 15, 7.5, 100);
  for (size_t i = 1; i < places.size(); ++i) CHECK(places[i] - places[i - 1] >= 15 - 1e-9);
  CHECK(places.front() >= 7.5);
  CHECK(places.back() == 100);
  // Where nothing is too near, nothing moves.
  std::vector<double> free = {10, 40, 70};
  spreadApart(free, 15, 0, 100);
  CHECK(free == std::vector<double>{10, 40, 70});
  std::vector<double> none;
  spreadApart(none, 15, 0, 100);
  CHECK(none.empty());
  // Too many for the lane: still apart, out at the top.
  std::vector<double> many(10, 50.0);
  spreadApart(many, 15, 0, 100);
  CHECK(many.back() == 100);
  CHECK(many.front() == Approx(100 - 9 * 15));
}

TEST_CASE("namesOfPointsCoverNeitherPointsNorEachOther") {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> at(0, 300), wide(20, 120);
  const LabelBox frame{0, 0, 300, 300};
  int placed = 0, all = 0;
  for (int round = 0; round < 300; ++round) {
    std::vector<NamedPoint> points(static_cast<size_t>(1 + round % 9));
    for (NamedPoint& point : points) point = {at(random), at(random), wide(random), 14};
    const auto places = placeNames(points, frame, 6, 8);
    REQUIRE(places.size() == points.size());
    for (size_t i = 0; i < places.size(); ++i) {
      ++all;
      if (!places[i]) continue;
      ++placed;
      CHECK(frame.holds(*places[i]));
      CHECK(places[i]->width == points[i].width);
      for (const NamedPoint& point : points) CHECK_FALSE(places[i]->covers({point.x - 6, point.y - 6, 12, 12}));
      for (size_t j = 0; j < i; ++j) CHECK_FALSE((places[j] && places[i]->covers(*places[j])));
    }
  }
  // Most find their place; a name that finds none is left out rather than laid over another.
  CHECK(placed > all * 8 / 10);
}
