// SPDX-License-Identifier: GPL-3.0-or-later
// The first lines of a log as they stand, what was understood underlined in place, what was not in ember.
#pragma once

#include <QWidget>
#include <vector>

#include "intake/head_marks.h"

namespace ash {

class HeadView : public QWidget {
  Q_OBJECT
 public:
  explicit HeadView(QWidget* parent);
  void show(std::vector<HeadLine> lines);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void paintLine(QPainter& painter, const HeadLine& line, double top) const;
  double lineHeight() const;

  std::vector<HeadLine> m_lines;
};

}  // namespace ash
