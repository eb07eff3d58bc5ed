// SPDX-License-Identifier: GPL-3.0-or-later
// "Taking in a log": what a foreign log is understood as, what is to become of it, and where it goes.
#pragma once

#include <QWidget>
#include <memory>

#include "app/taking_in/log_taker.h"

class QLabel;
class QProgressBar;
class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace ash {

class BesideLane;
class HeadView;
class LogDestination;
class StudyDesk;

class LogSheet : public QWidget {
  Q_OBJECT
 public:
  LogSheet(const StudyDesk& desk, QWidget* parent);
  /// Begins with a log; a place that is not known is left empty.
  void open(const QString& path, const QString& setup = {}, const QString& load = {});
  void showLook(const std::shared_ptr<const LogLook>& look, const std::shared_ptr<const BesideLook>& beside,
                const QString& refusal);
  void showProgress(double share);
  /// Nothing is being taken any more: why not, or nothing to say.
  void showRefusal(const QString& why);
  /// It is being taken, from somewhere else than by the button.
  void showTaking();
  bool isTaking() const { return m_isTaking; }

 signals:
  void lookWanted(const std::shared_ptr<ash::LogWish>& wish);
  void takeWanted(const std::shared_ptr<ash::LogWish>& wish);
  /// Esc, or Leave it: nothing is taken in.
  void left();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QWidget* buildLeft();
  QWidget* buildRight();
  QWidget* buildFoot();
  void clearColumns();
  void showColumns();
  void showFoot();
  void lookAgain();
  void take();
  std::shared_ptr<LogWish> wish() const;
  QString footSentence() const;
  QString besideSentence() const;

  const StudyDesk& m_desk;
  QString m_path;
  SaidOfColumns m_said;
  std::vector<std::string> m_skip;
  std::shared_ptr<const LogLook> m_look;
  std::shared_ptr<const BesideLook> m_beside;
  QString m_refusal;
  bool m_isTaking = false, m_isReading = false;

  QLabel *m_name, *m_about, *m_problems, *m_foot, *m_headWords;
  HeadView* m_head;
  QWidget* m_columnsHost;
  QVBoxLayout* m_columns;
  BesideLane* m_lane;
  LogDestination* m_destination;
  QPushButton *m_take, *m_leave;
  QProgressBar* m_progress;
};

}  // namespace ash
