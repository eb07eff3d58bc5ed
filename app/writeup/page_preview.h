// SPDX-License-Identifier: GPL-3.0-or-later
// The page as it will be, in the window: the blocks' own HTML, their charts drawn from the same SVG.
#pragma once

#include <QTextBrowser>

#include "app/page/page_document.h"

namespace ash {

class PagePreview : public QTextBrowser {
  Q_OBJECT
 public:
  explicit PagePreview(QWidget* parent);
  /// Shows blocks that are not left out, `chartWidth` px wide charts.
  void show(const std::vector<PageBlock>& blocks, int chartWidth);
  /// Brings a block into view.
  void goTo(const QString& block);

 signals:
  /// A link of the page was chosen: "#note-1-2-cpu.temp", or one of a comment.
  void linkChosen(const QString& link);

 private:
  PageDocument* m_page;
};

}  // namespace ash
