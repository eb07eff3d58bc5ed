// SPDX-License-Identifier: GPL-3.0-or-later
// The small grid from which runs are picked: setups down, runs across.
#pragma once

#include <QWidget>
#include <set>

#include "report/study/study_report.h"

namespace ash {

class RunPicks : public QWidget {
  Q_OBJECT
 public:
  explicit RunPicks(QWidget* parent);
  void show(const std::shared_ptr<const StudyReport>& report, const std::string& load,
            const std::set<std::string>& picked);
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return sizeHint(); }

 signals:
  void toggled(const QString& run);
  /// All runs of a setup on, or off when all were on.
  void setupToggled(const QStringList& runs, bool isOn);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  bool event(QEvent* event) override;

 private:
  struct Box {
    std::string run;
    int repeat = 1;
    Outcome outcome = Outcome::Completed;
  };
  struct Row {
    std::string setup;
    int setupIndex = 0;
    std::vector<Box> boxes;
  };
  QRectF boxRect(size_t row, size_t box) const;
  double namesWidth() const;
  void press(int row, int column);
  void speak();

  std::vector<Row> m_rows;
  std::set<std::string> m_picked;
  size_t m_mostBoxes = 1;
  double m_longestName = 0;     // in pixels
  int m_row = 0, m_column = 0;  // column -1 = the setup itself
};

}  // namespace ash
