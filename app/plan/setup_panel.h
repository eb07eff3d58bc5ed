// SPDX-License-Identifier: GPL-3.0-or-later
// The right-hand side of the plan: the selected setup, what differs from the reference first, and the runs of its cell.
#pragma once

#include <QWidget>

class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QTableWidget;

namespace ash {

namespace look {
class SetupSign;
}

class Pictures;
class PictureStrip;
class StatedPanel;
class StudyDesk;
class WayField;

class SetupPanel : public QWidget {
  Q_OBJECT
 public:
  SetupPanel(StudyDesk& desk, Pictures& pictures, QWidget* parent);

  void show(int setup, int load);
  /// The run whose line lies at a place of the screen; empty when there is none.
  std::string runAt(const QPoint& onScreen) const;
  /// Puts the cursor into the setup's name.
  void focusName();

 signals:
  void watchWanted(const QString& run);
  void duplicateWanted();

 private:
  void buildRuns();
  void refresh();
  void fillFields();
  void fillSoFar();
  void fillRuns();
  void fillPictures();
  void takeName();
  void takeField(int of, const QString& field, const std::string& typed);
  void runChosen();
  void toggleVoid();
  void removeSetup();
  const struct Setup* setup() const;

  StudyDesk& m_desk;
  int m_setup = 0, m_load = 0;
  bool m_showsAll = false;
  QStringList m_fields;  // of the table's rows, "part/…" for parts
  look::SetupSign* m_sign;
  QLineEdit* m_name;
  QLabel* m_price;
  QLabel* m_differs;
  PictureStrip* m_strip;
  QTableWidget* m_table;
  QPushButton* m_fold;
  QPushButton* m_reference;
  QPushButton* m_remove;
  StatedPanel* m_stated;
  QLabel* m_soFar;
  QLabel* m_runsHead;
  WayField* m_way;
  QListWidget* m_runs;
  QLineEdit* m_reason;
  QPushButton* m_void;
  QPushButton* m_watch;
};

}  // namespace ash
