// SPDX-License-Identifier: GPL-3.0-or-later
// The page as a text document: the blocks' own HTML, their charts drawn as vectors from the same SVG wherever it is
// painted, on a screen or on paper.
#pragma once

#include <QTextDocument>
#include <functional>

#include "report/page_blocks.h"

namespace ash {

/// Measures of a page in px.
struct PageMeasures {
  QFont font;
  std::function<double(double)> px = [](double design) { return design; };  ///< of a design's px
  double chartWidth = 600;                                                  ///< of a chart that would be wider
};

class ChartObjects;

class PageDocument : public QTextDocument {
  Q_OBJECT
 public:
  explicit PageDocument(QObject* parent = nullptr);
  /// Shows blocks that are not left out; each begins at an anchor of its id.
  void fill(const std::vector<PageBlock>& blocks, const PageMeasures& measures);

 private:
  QString withCharts(const QString& html, const PageMeasures& measures);

  ChartObjects* m_charts;
};

}  // namespace ash
