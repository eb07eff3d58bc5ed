// SPDX-License-Identifier: GPL-3.0-or-later
// What the stations of a study have in common: shown, stale and refreshed.
#pragma once

#include <QWidget>

namespace ash {

class StudyDesk;

/// A station that shows the study in hand. While nobody looks nothing is filled in; it catches up when it is shown.
class StudyStation : public QWidget {
  Q_OBJECT
 public:
  StudyStation(StudyDesk& desk, QWidget* parent);

 protected:
  /// Fills everything in from the desk.
  virtual void refresh() = 0;
  /// Now if the station is seen, else when it is.
  void refreshWhenSeen();
  /// Catches up at once, for whoever asks a hidden station for something.
  void refreshIfStale();
  void showEvent(QShowEvent* event) override;
  StudyDesk& desk() const { return m_desk; }

 private:
  StudyDesk& m_desk;
  bool m_isStale = true;
};

}  // namespace ash
