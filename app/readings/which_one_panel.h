// SPDX-License-Identifier: GPL-3.0-or-later
// Which one is this? Warms the processor for some seconds, says first what the selected reading most likely is, then
// what moved.
#pragma once

#include <QProcess>
#include <QWidget>

#include "machine/machine_snapshot.h"
#include "readings/meaning/which_one.h"

class QLabel;
class QPushButton;

namespace ash {

/// The readings that moved, each with its course and how far it went.
class MovedList : public QWidget {
  Q_OBJECT
 public:
  explicit MovedList(QWidget* parent);
  void show(std::shared_ptr<const WarmTrial> trial, std::vector<Movement> movements, size_t asked);
  int count() const { return static_cast<int>(m_movements.size()); }
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void paintCourse(QPainter& painter, const QRectF& plot, const Movement& movement) const;
  std::shared_ptr<const WarmTrial> m_trial;
  std::vector<Movement> m_movements;
  size_t m_asked = 0;
};

class WhichOnePanel : public QWidget {
  Q_OBJECT
 public:
  /// `program` is the path of `ashg`, which does the warming.
  WhichOnePanel(QString program, QWidget* parent);
  ~WhichOnePanel() override;
  void select(const ReadingNow* now);
  /// What is read now; the course of every reading is made of it.
  void take(const MachineSnapshot& readings);
  /// A run is going on: nothing may be warmed beside it.
  void setRunGoesOn(bool goesOn);

 signals:
  /// The role that the reading most likely has; empty for none.
  void roleSuggested(const QString& role);

 private:
  enum class Step { Idle, Resting, Warming, Cooling };
  void begin();
  void end(const QString& sentence);
  void finish();
  void startWarming(double nowS);
  void stopWarming();
  void addValues(const MachineSnapshot& readings);
  bool isTooHot(const MachineSnapshot& readings) const;
  size_t hottestOfProcessor() const;
  void refreshButton();

  QString m_program;
  QProcess m_load;
  Step m_step = Step::Idle;
  double m_stepS = 0;
  std::shared_ptr<WarmTrial> m_trial;
  std::string m_asked;
  bool m_runGoesOn = false;
  QPushButton* m_warm;
  QLabel *m_state, *m_words, *m_reason, *m_movedHead;
  MovedList* m_moved;
};

}  // namespace ash
