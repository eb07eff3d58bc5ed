// SPDX-License-Identifier: GPL-3.0-or-later
// The Traces station: runs picked from a grid, laid over each other; the figures of a window below.
#pragma once

#include "app/study/study_station.h"
#include "app/traces/trace_groups.h"
#include "model/attachment.h"

class QComboBox;
class QLabel;
class QTableWidget;

namespace ash {

namespace look {
class Segments;
}

class Pictures;
class PlaneRow;
class RunPicks;
class StudyDesk;
class TraceLanes;
class WindowStrip;

/// The station's line in the trail.
QString tracesLine(const StudyDesk& desk);

class TracesStation : public StudyStation {
  Q_OBJECT
 public:
  TracesStation(StudyDesk& desk, Pictures& pictures, QWidget* parent);

  /// Shows these runs only, under their load.
  void showRuns(const QStringList& runs);
  const TraceChoice& choice() const { return m_choice; }
  TraceLanes* lanes() { return m_lanes; }
  /// Run and moment at a place of the screen, or at the cursor, to keep a file with; without a run when there is none.
  Attachment ownerAt(std::optional<QPoint> onScreen) const;

 private:
  QWidget* buildBar();
  QWidget* buildLeft();
  void refresh() override;
  void fillChoices();
  void pickDefaults();
  void redraw(bool resetsRange);
  void fillWords();
  void fillTable();
  void takeWindow();
  void takeView(int index);
  void fillPlanes();
  void addLane(int index);
  const LoadStanding* load() const;

  Pictures& m_pictures;
  std::shared_ptr<const StudyReport> m_report;
  TraceChoice m_choice;
  std::string m_pickedFor;  // study and load that the default picks were made for
  bool m_isPicked = false;
  QComboBox* m_load;
  look::Segments* m_align;
  look::Segments* m_scale;
  QComboBox* m_subtract;
  QComboBox* m_smooth;
  RunPicks* m_picks;
  QLabel* m_shownHead;
  QLabel* m_groupsText;
  QComboBox* m_addLane;
  QComboBox* m_window;
  QLabel* m_windowWords;
  look::Segments* m_view;
  TraceLanes* m_lanes;
  WindowStrip* m_strip;
  PlaneRow* m_planes;
  QTableWidget* m_table;
  QLabel* m_care;
};

}  // namespace ash
