// SPDX-License-Identifier: GPL-3.0-or-later
// Where the write-up goes and in which format. The page is written by whoever holds the book; every other format by
// `ashg report`, which can be given up.
#pragma once

#include <QProcess>
#include <QWidget>

#include "report/report_files.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace ash {

class ExportPanel : public QWidget {
  Q_OBJECT
 public:
  explicit ExportPanel(QWidget* parent);
  /// Does not wait for what is being written: it is given up.
  ~ExportPanel() override;

  /// The path of `ashg`.
  void setProgram(const QString& program) { m_program = program; }
  /// What is written up: the study, its book, and a path without ending that is proposed until the person says
  /// otherwise.
  void setSubject(const QString& study, const QString& book, const QString& proposed);
  void setHasPage(bool hasPage);
  /// The licence that the plan states.
  void setLicence(const QString& words);
  /// Begins, or gives up what goes on.
  void exportNow();
  void showWritten(const QString& paths);

 public slots:
  /// Everything that was edited is in the book.
  void goOn();

 signals:
  /// By a person: whoever has something that is being typed takes it first, and calls exportNow().
  void exportAsked();
  void licenceEdited(const QString& words);
  void pageWanted(const QString& path);
  /// Asks that what was edited is written into the book first.
  void settleWanted();

 private:
  ReportFormat format() const;
  void formatChosen();
  void askForPath();
  void stop();
  void takeSaid();
  void finished(int status, QProcess::ExitStatus how);
  bool isOfCharts() const;  ///< what is chosen is charts as files of their own
  QStringList arguments() const;
  void showState();
  void tell(const QString& words, bool isProblem = false);

  QString m_program, m_study, m_book, m_proposedFor;
  QByteArray m_said;  // by the program that writes
  QComboBox* m_format;
  QComboBox* m_size;
  QCheckBox* m_dark;
  QLineEdit* m_licence;
  QLineEdit* m_path;
  QPushButton* m_export;
  QLabel* m_written;
  QProcess* m_process;
  bool m_hasPage = false, m_isWaiting = false, m_isGivenUp = false;
};

}  // namespace ash
