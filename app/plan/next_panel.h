// SPDX-License-Identifier: GPL-3.0-or-later
// The foot of the plan: the next run, the change to make by hand, what is not ready, and Start.
#pragma once

#include <QWidget>
#include <optional>

#include "model/run_order.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace ash {

namespace look {
class SetupSign;
}

class StudyDesk;

/// All planned runs as boxes: done ones filled, the next one framed.
class OrderStrip : public QWidget {
  Q_OBJECT
 public:
  OrderStrip(const StudyDesk& desk, QWidget* parent);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  const StudyDesk& m_desk;
};

class NextPanel : public QWidget {
  Q_OBJECT
 public:
  NextPanel(StudyDesk& desk, QWidget* parent);

  /// The run that Start begins; empty when all are done.
  const std::optional<PlannedRun>& next() const { return m_next; }
  /// Plans this cell's next repeat instead of the order's; empty goes back to the order.
  void choose(const std::optional<PlannedRun>& run);
  void setRunning(bool isRunning);
  void setProblem(const QString& sentence);
  void setStarting(bool isStarting);

 signals:
  void startWanted();
  void queueWanted();

 private:
  QWidget* buildHand();
  void refresh();
  void refreshReadiness();
  void refreshStart();
  bool isConfirmed() const;

  StudyDesk& m_desk;
  std::optional<PlannedRun> m_next, m_chosen;
  QString m_confirmed;  // the setup that was said to be fitted
  int m_remarks = 0;
  bool m_isRunning = false, m_isStarting = false;
  look::SetupSign* m_sign;
  QLabel* m_title;
  QWidget* m_hand;
  QLabel* m_change;
  QPushButton* m_confirm;
  OrderStrip* m_order;
  QLabel* m_remarksHead;
  QLabel* m_checks;
  QLabel* m_waits;
  QPushButton* m_start;
  QPushButton* m_queue;
  QLabel* m_when;
  QLabel* m_problem;
};

}  // namespace ash
