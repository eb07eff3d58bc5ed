// SPDX-License-Identifier: GPL-3.0-or-later
// A ladder as the budget columns it produces, one a step, in a row that grows to the right until one does not hold.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "ladder/ladder.h"

namespace ash {

class StudyDesk;

/// Arrow keys choose a column, Enter or a double click shows its run.
class LadderRow : public QWidget {
  Q_OBJECT
 public:
  LadderRow(const StudyDesk& desk, QWidget* parent);
  void show(const std::optional<Ladder>& ladder);
  QSize sizeHint() const override { return minimumSizeHint(); }
  QSize minimumSizeHint() const override;

 signals:
  void runWanted(const QString& run);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  bool event(QEvent* event) override;

 private:
  /// One place of the row: a step that was run, or one that may come.
  struct Place {
    size_t index = 0;
    const LadderStep* step = nullptr;  ///< none: not run
    bool isNext = false, isConfirming = false;
  };
  std::vector<Place> places() const;
  QRectF rectOf(size_t place) const;
  std::optional<size_t> placeAt(const QPointF& at) const;
  void paintPlace(QPainter& painter, size_t number, const Place& place) const;
  QString wordsOf(const Place& place) const;
  void choose(size_t place);
  void wantRun();

  const StudyDesk& m_desk;
  std::optional<Ladder> m_ladder;
  std::vector<Place> m_places;
  size_t m_chosen = 0;
};

}  // namespace ash
