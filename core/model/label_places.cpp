// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/label_places.h"

#include <algorithm>
#include <array>

namespace ash {

void spreadApart(std::vector<double>& places, double apart, double top, double bottom) {
  for (size_t i = 0; i < places.size(); ++i) places[i] = std::max(places[i], i == 0 ? top : places[i - 1] + apart);
  for (size_t i = places.size(); i-- > 0;)
    places[i] = std::min(places[i], i + 1 < places.size() ? places[i + 1] - apart : bottom);
}

bool LabelBox::covers(const LabelBox& other) const {
  return x < other.x + other.width && other.x < x + width && y < other.y + other.height && other.y < y + height;
}

bool LabelBox::holds(const LabelBox& other) const {
  return other.x >= x && other.y >= y && other.x + other.width <= x + width && other.y + other.height <= y + height;
}

std::vector<std::optional<LabelBox>> placeNames(const std::vector<NamedPoint>& points, const LabelBox& frame,
                                                double reach, double gap, std::vector<LabelBox> taken) {
  for (const NamedPoint& point : points) taken.push_back({point.x - reach, point.y - reach, 2 * reach, 2 * reach});
  std::vector<std::optional<LabelBox>> places;
  const double beside = gap * 3 / 8;  // above and below a name is nearer to its point than at its sides
  for (const NamedPoint& point : points) {
    const double right = point.x + gap, left = point.x - gap - point.width, middle = point.x - point.width / 2;
    const double level = point.y - point.height / 2, above = point.y - point.height - beside, below = point.y + beside;
    const std::array<std::array<double, 2>, 8> tried = {{{right, above},
                                                         {left, above},
                                                         {right, level},
                                                         {left, level},
                                                         {right, below},
                                                         {left, below},
                                                         {middle, above - gap / 2},
                                                         {middle, below + gap / 2}}};
    std::optional<LabelBox> place;
    for (const auto& [x, y] : tried) {
      const LabelBox box{x, y, point.width, point.height};
      const bool isFree = frame.holds(box) && std::none_of(taken.begin(), taken.end(),
                                                           [&](const LabelBox& other) { return box.covers(other); });
      if (!isFree) continue;
      place = box;
      taken.push_back(box);
      break;
    }
    places.push_back(place);
  }
  return places;
}

}  // namespace ash
