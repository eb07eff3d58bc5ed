// SPDX-License-Identifier: GPL-3.0-or-later
// The procedure as steps with their end conditions in words, and the line that changes it.
#pragma once

#include <QWidget>

#include "model/procedure.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;

namespace ash {

class StudyDesk;

/// The steps as cards: one is selected, moved, removed, or opened as text.
class StepBoxes : public QWidget {
  Q_OBJECT
 public:
  explicit StepBoxes(QWidget* parent);
  void setProcedure(const Procedure& procedure);
  /// The selected step, as asWritten() counts them.
  size_t current() const { return m_current; }
  QSize sizeHint() const override;

 signals:
  /// The step is to be changed in the text.
  void editWanted(size_t step);
  void changed(const ash::Procedure& procedure);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;

 private:
  QString title(const WrittenPhase& one) const;
  /// Where the cards stand; one more behind the last of them where there are too many.
  std::vector<QRectF> places() const;
  size_t shown() const;
  QString restWords() const;
  void paintStep(QPainter& painter, const QRectF& box, size_t step) const;
  void choose(size_t step);
  void take(const Result<Procedure>& changed, size_t selected);

  Procedure m_procedure;
  std::vector<WrittenPhase> m_written;
  size_t m_current = 0;
};

class StepStrip : public QWidget {
  Q_OBJECT
 public:
  StepStrip(StudyDesk& desk, QWidget* parent);

 private:
  void refresh();
  void take();
  void open(size_t step);
  void keep(const Procedure& procedure);
  QPushButton* choiceOfProcedures();
  QLineEdit* lineForName();

  StudyDesk& m_desk;
  QLabel* m_time;
  QPushButton* m_change;
  QStackedWidget* m_stack;
  StepBoxes* m_boxes;
  QLineEdit* m_line;
  QLabel* m_problem;
};

}  // namespace ash
