// SPDX-License-Identifier: GPL-3.0-or-later
// The Watch station: start a run or follow one; track at the left, lanes in the middle, budget at the right.
#pragma once

#include <QWidget>

#include <optional>

#include "app/watch/live_model.h"
#include "ladder/ladder.h"
#include "model/study.h"
#include "runner/message_type.h"

class QLabel;
class QStackedWidget;

namespace ash {

class BudgetPanel;
class EntryDock;
class LadderStrip;
class Lanes;
class StartForm;
class TrackPanel;

class WatchStation : public QWidget {
  Q_OBJECT
 public:
  /// `model` is the run that is watched; it outlives the station.
  WatchStation(LiveModel& model, QWidget* parent);

  LiveModel& model() { return m_model; }
  StartForm* form() { return m_form; }
  Lanes* lanes() { return m_lanes; }
  void setStudies(const std::vector<Study>& studies);
  /// The ladder that the run is a step of; none where it is of none.
  void setLadder(const std::optional<Ladder>& ladder);
  /// Puts the cursor into the entry line.
  void focusEntry();
  /// An answer to the last line that was entered: kept, or why not.
  void showAnswer(bool ok, const QString& why);

 signals:
  void startPressed();
  void wish(WishKind what, const QString& text);
  /// A line for a run that is over.
  void lateEntry(const QString& run, const QString& line);
  /// The next run of the plan is wanted.
  void planWanted();
  /// The whole ladder of the run is wanted.
  void ladderWanted();

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  QWidget* buildCentre();
  QWidget* buildAfter();
  void refresh();
  void refreshEntry();
  void takeLine(const QString& line);

  LiveModel& m_model;
  QStackedWidget* m_left;
  StartForm* m_form;
  TrackPanel* m_track;
  QLabel* m_head;
  LadderStrip* m_ladder;
  QLabel* m_banner;
  QStackedWidget* m_middle;
  Lanes* m_lanes;
  BudgetPanel* m_budget;
  EntryDock* m_dock;
  QWidget* m_after;  // below the track once the run is over
  std::vector<Study> m_studies;
  bool m_wantsForm = false;
};

}  // namespace ash
