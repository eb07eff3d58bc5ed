// SPDX-License-Identifier: GPL-3.0-or-later
// The Watch station: start a run or follow one; track at the left, lanes in the middle, budget at the right.
#pragma once

#include <QWidget>

#include "app/watch/live_model.h"
#include "model/study.h"

class QLabel;
class QLineEdit;
class QStackedWidget;

namespace ash {

class BudgetPanel;
class Lanes;
class StartForm;
class TrackPanel;

class WatchStation : public QWidget {
  Q_OBJECT
 public:
  explicit WatchStation(QWidget* parent);

  LiveModel& model() { return m_model; }
  StartForm* form() { return m_form; }
  Lanes* lanes() { return m_lanes; }
  void setStudies(const std::vector<Study>& studies);
  /// Puts the cursor into the note line.
  void focusNote();
  /// An answer of the recorder to the last wish; a refusal is shown beside the note line.
  void showAnswer(bool ok, const QString& why);

 signals:
  void startPressed();
  void wish(const QString& what, const QString& text);

 private:
  QWidget* buildCentre();
  QWidget* buildDock();
  void refresh();
  void sendNote();

  LiveModel m_model;
  QStackedWidget* m_left;
  StartForm* m_form;
  TrackPanel* m_track;
  QLabel* m_head;
  QLabel* m_banner;
  QStackedWidget* m_middle;
  Lanes* m_lanes;
  BudgetPanel* m_budget;
  QWidget* m_dock;
  QLineEdit* m_note;
  QLabel* m_noteState;
  QLabel* m_lastEvents;
};

}  // namespace ash
