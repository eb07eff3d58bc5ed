// SPDX-License-Identifier: GPL-3.0-or-later
// A ladder as the budget columns it produces, one a step, in a row that grows to the right until one does not hold.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "ladder/ladder_places.h"

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
  QRectF rectOf(size_t place) const;
  std::optional<size_t> placeAt(const QPointF& at) const;
  void paintPlace(QPainter& painter, size_t number, const LadderPlace& place) const;
  QString wordsOf(const LadderPlace& place) const;
  void choose(size_t place);
  void wantRun();

  const StudyDesk& m_desk;
  std::optional<Ladder> m_ladder;
  std::vector<LadderPlace> m_places;
  size_t m_chosen = 0;
};

}  // namespace ash
