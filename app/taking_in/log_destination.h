// SPDX-License-Identifier: GPL-3.0-or-later
// Where a log goes: a run of its own in a study, or beside a run; and what the person knows besides.
#pragma once

#include <QWidget>
#include <optional>

#include "app/taking_in/log_taker.h"

class QComboBox;
class QHBoxLayout;
class QLineEdit;
class QPushButton;

namespace ash {

class StudyDesk;

class LogDestination : public QWidget {
  Q_OBJECT
 public:
  LogDestination(const StudyDesk& desk, QWidget* parent);
  /// As it is offered at first; what is not known is named after the file.
  void begin(const QString& fileName, const QString& setup, const QString& load);
  bool isBeside() const;
  QString setup() const;
  QString load() const;
  /// Offset, place, time and conditions as they stand, into a wish.
  void fill(LogWish& wish) const;
  /// What is wrong with it in a sentence; empty when nothing is.
  QString problem() const;
  void setOffset(double offsetS);
  /// What the log says itself need not be typed.
  void setKnown(const LogFacts& facts);

 signals:
  /// Another way of reading the log.
  void lookNeeded();
  /// Only names and conditions.
  void changed();

 private:
  QWidget* addGroup(QHBoxLayout* row);
  QComboBox* addChoice(QWidget* group, const char* name, const QString& title, const QString& tip, bool isEditable);
  QLineEdit* addLine(QWidget* group, const char* name, const QString& title, const QString& hint, const QString& tip);
  void buildOwn(QHBoxLayout* row);
  void buildBeside(QHBoxLayout* row);
  void fillPlaces(const QString& setup, const QString& load);
  void fillRuns();

  const StudyDesk& m_desk;
  std::optional<double> m_offsetS;  // typed or dragged; empty = found
  QComboBox *m_as, *m_study, *m_setup, *m_load, *m_run;
  QLineEdit *m_time, *m_room, *m_offset;
  QWidget *m_own, *m_beside;
};

}  // namespace ash
