// SPDX-License-Identifier: GPL-3.0-or-later
// What the runs of a setup turn, on Plan: the knobs of its bench as tracks.
#pragma once

#include <QWidget>

#include "app/study/book_view.h"

class QLabel;
class QPushButton;

namespace ash {

class KnobTracks;
class StudyDesk;

class KnobPage : public QWidget {
  Q_OBJECT
 public:
  KnobPage(StudyDesk& desk, QWidget* parent);
  /// The setup at this place of the study.
  void setSetup(int setup);

 signals:
  void backWanted();

 protected:
  void showEvent(QShowEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QWidget* buildHead();
  const Setup* setup() const;
  void look();
  void take(const QString& setup, const std::shared_ptr<const KnobList>& knobs, const QString& whyNot);
  void fill();
  void turn(const std::string& knob, const std::string& value);

  StudyDesk& m_desk;
  int m_setup = 0;
  QString m_asked;  // setup whose knobs are being looked for, or are shown
  std::shared_ptr<const KnobList> m_knobs;
  QLabel* m_head;
  QLabel* m_problem;
  QPushButton* m_leave;
  KnobTracks* m_tracks;
};

}  // namespace ash
