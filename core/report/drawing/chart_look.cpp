// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/drawing/chart_look.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "model/setup_colours.h"
#include "model/text.h"

namespace ash {
namespace {

// In the order of ChartSize.
constexpr std::array kSizes = {
    ChartSizeInfo{ChartSize::Page, "page", "in a page of text", 768, 0, 270, 12, 15, 1.6, 2},
    ChartSizeInfo{ChartSize::Print, "print", "160 mm wide, on white", 605, 0, 230, 10.7, 13.3, 1.1, 3.125},
    ChartSizeInfo{ChartSize::Phone, "phone", "390 px wide, for a phone", 390, 0, 300, 14, 17, 2, 3},
    ChartSizeInfo{ChartSize::Thumbnail, "thumbnail", "1920 by 1080, for a video or a preview", 1920, 1080, 0, 40, 62, 6,
                  1}};

constexpr ChartPalette kPaper = {"#FBFAF8", "#24211E", "#5C554E", "#ECE8E1", "#BDB6AB", "#F3F0EA", "#C4451A", false};
constexpr ChartPalette kWhite = {"#FFFFFF", "#24211E", "#5C554E", "#E6E1D9", "#A39B8F", "#F0ECE5", "#C4451A", false};
constexpr ChartPalette kSoot = {"#232120", "#ECE7E1", "#B3ABA2", "#3A3633", "#6B645D", "#302D2A", "#F0703F", true};

// In widths of the line: on and off in turn.
constexpr std::array<std::array<int, 4>, 8> kDashes = {
    {{0, 0, 0, 0}, {4, 2, 4, 2}, {1, 2, 1, 2}, {6, 2, 1, 2}, {3, 1, 3, 1}, {8, 3, 8, 3}, {2, 2, 2, 2}, {5, 1, 1, 1}}};

size_t placeOf(int setupIndex) { return static_cast<size_t>(std::max(0, setupIndex)) % kDashes.size(); }

}  // namespace

std::span<const ChartSizeInfo> chartSizes() { return kSizes; }
const ChartSizeInfo& infoOf(ChartSize size) { return kSizes.at(static_cast<size_t>(size)); }

Result<std::vector<ChartSize>> parseChartSizes(std::string_view list) {
  std::vector<ChartSize> sizes;
  for (const std::string_view part : splitText(list, ',')) {
    const std::string_view word = trimmed(part);
    const auto found = std::find_if(kSizes.begin(), kSizes.end(), [&](const auto& one) { return one.word == word; });
    if (found == kSizes.end())
      return Error::badInput(fmt::format("\"{}\" is no size of a chart; there are page, print, phone and thumbnail.",
                                         withoutControls(word)));
    if (std::find(sizes.begin(), sizes.end(), found->size) == sizes.end()) sizes.push_back(found->size);
  }
  return sizes;
}

std::string ChartPalette::setup(int index) const {
  return index < 0 ? std::string(soft) : fmt::format("#{:06X}", setupColour(index, isDark));
}

const ChartPalette& ChartLook::palette() const {
  if (isDark) return kSoot;
  return size == ChartSize::Print ? kWhite : kPaper;
}

std::string ChartLook::suffix() const {
  const std::string ofSize = size == ChartSize::Page ? "" : "-" + std::string(info().word);
  return isDark ? ofSize + "-dark" : ofSize;
}

std::string paperColour(int setupIndex) { return kPaper.setup(setupIndex); }

std::string dashesOf(int setupIndex, double lineWidthPx) {
  std::string dashes;
  for (const int length : kDashes[placeOf(setupIndex)]) {
    if (length > 0) dashes += fmt::format("{}{:.4g}", dashes.empty() ? "" : " ", length * lineWidthPx);
  }
  return dashes;
}

}  // namespace ash
