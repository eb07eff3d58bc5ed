// SPDX-License-Identifier: GPL-3.0-or-later
// What the selected reading means here, where its limit is, and whether it is logged.
#pragma once

#include <QWidget>

#include "machine/machine_snapshot.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace ash {

class ReadingEditor : public QWidget {
  Q_OBJECT
 public:
  explicit ReadingEditor(QWidget* parent);
  /// Shows a reading (null = none) with what has been said of it; fields that are being edited are left alone while the
  /// reading stays the same.
  void show(const ReadingNow* now, const ReadingChoice& said);
  /// Chooses a role as a suggestion for a reading that has none, still to be kept.
  void suggest(const QString& role);
  void setCanKeep(bool canKeep, const QString& why);

 signals:
  void choiceMade(const QString& id, const std::shared_ptr<const ash::ReadingChoice>& choice);

 private:
  void fill(const Reading& reading);
  void refreshButtons();
  ReadingChoice typed() const;

  QLabel *m_name, *m_origin, *m_limitOrigin;
  QComboBox* m_role;
  QLineEdit* m_limit;
  QCheckBox* m_isLogged;
  QPushButton *m_keep, *m_forget;
  QWidget* m_form;
  QLabel* m_hint;
  QString m_id;
  Reading m_reading;
  ReadingChoice m_said;
  bool m_canKeep = true;
};

}  // namespace ash
