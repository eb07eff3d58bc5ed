// SPDX-License-Identifier: GPL-3.0-or-later
// The page as it will be, in the window: the blocks' own HTML, their charts drawn from the same SVG. Its margin holds
// the handle of the block under the pointer, by which it is moved.
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
  /// Puts a field over the page, where the words below a block stand, and brings it into view. It goes along with the
  /// page.
  void writeIn(QWidget* field, const QString& block);

 signals:
  /// A link of the page was chosen: "#note-1-2-cpu.temp", or one of a comment.
  void linkChosen(const QString& link);
  /// A block was pressed twice: its comment is to be written.
  void blockOpened(const QString& block);
  /// A block was moved by its handle to before another, or to after it.
  void blockMoved(const QString& block, const QString& other, bool isAfter);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void scrollContentsBy(int dx, int dy) override;

 private:
  struct Shown {
    QString id;
    bool canMove;
    double top = 0, foot = 0;  ///< in the document
  };
  const std::vector<Shown>& places();
  std::optional<Shown> blockAt(const QPointF& inView);
  QRectF handleOf(const Shown& block) const;
  double scrolled() const;
  void placeField();

  PageDocument* m_page;
  std::vector<Shown> m_blocks;
  std::vector<Shown> m_placed;  // empty until it is asked for
  QWidget* m_field = nullptr;   // over the page, below this block
  QString m_fieldBlock;
  QString m_pointed, m_dragged, m_target;
  bool m_isAfter = false;
};

}  // namespace ash
