// SPDX-License-Identifier: GPL-3.0-or-later
// The window: the trail on top, one station below. It only swaps stations and passes wishes on.
#pragma once

#include <QMainWindow>
#include <QThread>
#include <memory>

#include "app/follow/live_run.h"
#include "app/shell/settings.h"
#include "model/study.h"

class QStackedWidget;

namespace ash {

class RunFollower;
class Trail;
class WatchStation;

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  /// `recorder` is the path of `ashg`, which is started for every run.
  MainWindow(const QString& recorder, QWidget* parent = nullptr);
  ~MainWindow() override;

  void openBook(const QString& path);
  WatchStation* watch() { return m_watch; }

 signals:
  // To the follower's thread.
  void bookWanted(const QString& path);
  void runExpected(const QString& runId);
  void wishToSend(const QString& what, const QString& text);

 protected:
  void closeEvent(QCloseEvent* event) override;

 private:
  void buildStations();
  void buildShortcuts();
  void connectFollower();
  void goTo(int station);
  void startRun();
  void stopLoad();
  void takeNews(const std::shared_ptr<const LiveBatch>& batch);
  void refreshTrail();
  void runDidNotCome();
  void chooseBook();

  QString m_recorder;
  QString m_bookPath;
  QString m_recorderLog;  // where the recorder that is being started writes what goes wrong
  Settings m_settings;
  Trail* m_trail;
  QStackedWidget* m_stations;
  WatchStation* m_watch = nullptr;
  QThread m_thread;
  RunFollower* m_follower;
};

}  // namespace ash
