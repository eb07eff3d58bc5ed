// SPDX-License-Identifier: GPL-3.0-or-later
// Where a chart will be looked at: its size, its type and its colours.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "model/result.h"

namespace ash {

/// Page: in a page of text. Print: 160 mm wide on white. Phone: 390 px. Thumbnail: 1920 by 1080, for a video or a
/// preview.
enum class ChartSize { Page, Print, Phone, Thumbnail };

/// A row of the table of sizes. Lengths are px of the drawing.
struct ChartSizeInfo {
  ChartSize size;
  std::string_view word;   ///< as `ashg report --size` takes it
  std::string_view means;  ///< what it is for
  double widthPx;
  double heightPx;  ///< of all; 0 = as high as it becomes
  double plotPx;    ///< of the plot, where all has no height of its own
  double fontPx, titlePx, linePx;
  double pictureScale;  ///< px of a picture over px of the drawing
};
std::span<const ChartSizeInfo> chartSizes();
const ChartSizeInfo& infoOf(ChartSize size);

/// "page,phone" as sizes; the error names the word that is none.
Result<std::vector<ChartSize>> parseChartSizes(std::string_view list);

/// Colours as "#RRGGBB".
struct ChartPalette {
  std::string_view paper, ink, soft, grid, axis, window, ember;
  bool isDark = false;
  /// Below zero: of other work, in the soft ink.
  std::string setup(int index) const;
};

struct ChartLook {
  ChartSize size = ChartSize::Page;
  bool isDark = false;
  bool hasPaper = false;  ///< it brings its ground along, as it stands alone

  const ChartSizeInfo& info() const { return infoOf(size); }
  const ChartPalette& palette() const;
  /// What tells its files apart: "", "-phone", "-thumbnail-dark".
  std::string suffix() const;
};

/// The colour of a setup on paper, by its place in the study.
std::string paperColour(int setupIndex);
/// Its dashes as SVG writes them; empty for the first.
std::string dashesOf(int setupIndex, double lineWidthPx);

}  // namespace ash
