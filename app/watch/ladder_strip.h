// SPDX-License-Identifier: GPL-3.0-or-later
// The ladder that the run is a step of, in one line: what is known of its steps, what comes, when it would be over.
#pragma once

#include <QWidget>
#include <optional>

#include "ladder/ladder.h"

namespace ash {

class LiveModel;

/// Hidden while the run is of no ladder. Enter or a click asks for the whole ladder.
class LadderStrip : public QWidget {
  Q_OBJECT
 public:
  LadderStrip(const LiveModel& model, QWidget* parent);
  void show(const std::optional<Ladder>& ladder);
  QSize sizeHint() const override { return minimumSizeHint(); }
  QSize minimumSizeHint() const override;
  /// "Step 3 of at most 8 · 60 W holds, 80 W does not · over by 21:40 at the latest".
  QString words() const;

 signals:
  void wanted();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  QString knownWords() const;
  QString endWords() const;
  double paintSteps(QPainter& painter, double room) const;
  void tell();

  const LiveModel& m_model;
  std::optional<Ladder> m_ladder;
};

}  // namespace ash
