// SPDX-License-Identifier: GPL-3.0-or-later
// The state of the bench (Ctrl+6): the readings along the way of the heat, what the selected one means and what else it
// could be, and what is not read and why.
#pragma once

#include <QWidget>

#include "machine/machine_snapshot.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace ash::look {
class Segments;
}

namespace ash {

class BenchRows;
class OutsidePanel;
class ReadingEditor;
class WhichOnePanel;

class ReadingsPage : public QWidget {
  Q_OBJECT
 public:
  /// `program` is the path of `ashg`.
  ReadingsPage(const QString& program, QWidget* parent);
  void show(const std::shared_ptr<const MachineSnapshot>& readings);
  void setRunGoesOn(bool goesOn);
  /// Without a book nothing that is said can be kept.
  void setHasBook(bool hasBook);
  BenchRows* rows() { return m_rows; }
  OutsidePanel* outside() { return m_outside; }

 signals:
  /// The page is seen (true) or no longer.
  void looking(bool isSeen);
  /// Something was said of a reading of this machine.
  void choiceMade(const QString& machine, const QString& reading,
                  const std::shared_ptr<const ash::ReadingChoice>& choice);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  QWidget* makeBar();
  QWidget* makeSide(const QString& program);
  QWidget* makeFoot();
  void toggleLog(const QString& id);
  void showSelected();
  void showSkipped();

  std::shared_ptr<const MachineSnapshot> m_readings;
  QLabel *m_summary, *m_legend, *m_skippedHead, *m_missing;
  look::Segments* m_filter;
  QLineEdit* m_search;
  BenchRows* m_rows;
  OutsidePanel* m_outside;
  ReadingEditor* m_editor;
  WhichOnePanel* m_which;
  QPushButton* m_skippedToggle;
  QTableWidget* m_skipped;
};

}  // namespace ash
