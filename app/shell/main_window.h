// SPDX-License-Identifier: GPL-3.0-or-later
// The window: the trail on top, one station below. It swaps stations and passes wishes between them and the threads.
#pragma once

#include <QMainWindow>
#include <functional>
#include <memory>

#include "app/follow/live_run.h"
#include "app/shell/recorder_start.h"
#include "app/shell/settings.h"
#include "app/study/study_desk.h"
#include "app/watch/live_model.h"

class QLabel;
class QStackedWidget;

namespace ash {

class AllowCard;
class FarView;
enum class FarForm;
class Finder;
class HelpCard;
class PageHost;
class TourStrip;
struct HelpWords;
class FollowWires;
class InterruptedPanel;
class LogSheet;
class KeepWires;
class PictureOver;
class PictureWires;
class Pictures;
class PlanStation;
struct Preferences;
class PreferencesSheet;
class ReadWires;
class ReadingsPage;
class StandingsStation;
class StartPage;
class TakeWires;
class TracesStation;
class Trail;
class WatchStation;
class WriteUpStation;
struct LogWish;
struct MachineSnapshot;
struct ReadingChoice;
struct FinderEntry;

/// How the name of a book ends.
inline constexpr QLatin1String kBookEnding(".ashbook");

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  enum Page { Plan, Watch, Traces, Standings, WriteUp, Readings, Start, TakingIn };

  /// `recorder` is the path of `ashg`, which is started for every run. `root` is empty for this machine, else a tree
  /// that looks like one (a stand-in machine), which is read and recorded instead.
  MainWindow(const QString& recorder, QWidget* parent = nullptr, const QString& root = {});
  ~MainWindow() override;

  void openBook(const QString& path);
  /// Shows what a log of another program would be taken for; where it is to go may be known.
  void openLog(const QString& path, const QString& setup = {}, const QString& load = {});
  QString bookPath() const { return m_desk.bookPath(); }
  void goTo(int page);
  int page() const;
  StudyDesk& desk() { return m_desk; }
  Pictures& pictures() { return *m_pictures; }
  /// The run that is watched, whether its station has been looked at or not.
  LiveModel& live() { return m_live; }
  // Stations are made when they are first needed, so that the window is up at once.
  PlanStation* plan();
  WatchStation* watch();
  TracesStation* traces();
  StandingsStation* standings();
  WriteUpStation* writeUp();
  LogSheet* logSheet();
  /// What a person has decided, on a sheet over the page.
  void showPreferences();
  bool showsPreferences() const;

 signals:
  /// It is to look otherwise, as the settings have it now: whoever made the window makes it anew.
  void lookWanted();

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  void showEvent(QShowEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void make(int page);
  ReadingsPage* readings();
  StartPage* start();
  void tellProblem(const QString& sentence);
  void tellStarting(bool isStarting);
  void buildShortcuts();
  void connectFollower();
  void connectKeeper();
  void connectReader();
  void connectTaker();
  void connectPictures();
  void listenToDesk();
  void takeBook(const std::shared_ptr<const BookView>& view);
  void takeRefusedBook(const QString& why);
  void takeReadings(const std::shared_ptr<const MachineSnapshot>& readings);
  void startRun(const StartRequest& request);
  void startQueue();
  void startLadder(const QStringList& arguments);
  void showLadderOfRun();
  void lookForComplaint(int timesLeft);
  bool isAllowed(const std::string& study, const std::string& setup, const std::string& load,
                 std::function<void()> then);
  void askForReadiness();
  void lookAsNeeded();
  void focusPage();
  void followFocus(QWidget* now);
  PageHost* host(int page) const;
  void showProposals();
  void runDidNotCome();
  void stopLoad();
  void takeNews(const std::shared_ptr<const LiveBatch>& batch);
  void takeLateEntry(const QString& run, const QString& line);
  void refreshTrail();
  void refreshHeadroom();
  void refreshEarlier();
  void showLastRun();
  void say(const QString& sentence);
  void openDemo();
  void newBook();
  void chooseBook();
  void chooseLog();
  void pasteLog();
  void paste();
  void attach(const Attachment& owner, const QStringList& paths, const QImage& pasted = {});
  void choosePicture(const Attachment& owner);
  void openPicture(long long id);
  void sayOfPicture(long long id, const QString& words);
  std::optional<Attachment> fileOwner(std::optional<QPoint> onScreen);
  void takeLog(const std::shared_ptr<LogWish>& wish);
  void takeTaken(const QString& run, const QString& name, const QString& refusal);
  void logNow();
  void showFar(FarForm form);
  void leaveFar();
  void makePreferences();
  void makeAnew();
  Preferences preferencesNow() const;
  void explain(const HelpWords& words);
  void explainPage();
  void closeSheets(const QWidget* but = nullptr);
  void beginTour();
  void offerTour();
  void openFinder(const QString& onlyKind = {});
  void openEarlierWork();
  void chooseEarlierBook();
  void showSetups(const QString& path, const std::vector<AlsoShown>& setups);
  std::vector<FinderEntry> commands();
  void addPlaces(std::vector<FinderEntry>& entries);

  QString m_program, m_root;
  Settings m_settings;
  RecorderStart m_recorder;
  StudyDesk m_desk;
  LiveModel m_live;
  std::unique_ptr<Pictures> m_pictures;
  std::shared_ptr<const MachineSnapshot> m_seen;     // this machine, as it was read last
  QString m_machineKey;                              // by what the book knows this machine again
  std::shared_ptr<const ReadingChoices> m_proposed;  // what the book says of this machine's readings, not accepted
  QString m_tookDown;                                // with which the window went down last time; not opened by itself
  bool m_isLooking = false;                          // the reader keeps on
  QString m_shownStudy;                              // whose last run Watch was given
  std::optional<StartRequest> m_startOnOpen;         // "log now": begins once its book is open
  std::function<void()> m_startOnConfirm;            // what was allowed begins once that is kept
  int m_pageBeforeLog = Start;
  QString m_logName, m_studyOnChange;     // the log in hand; the study to be shown once the book tells it
  std::shared_ptr<LogWish> m_logWish;     // while it is taken in
  std::shared_ptr<QString> m_nameOnRedo;  // where the name is kept that a log gets when it is put beside a run again
  Trail* m_trail;
  QStackedWidget* m_pages;
  InterruptedPanel* m_interrupted;
  AllowCard* m_allow;
  QLabel* m_notice;
  PlanStation* m_plan = nullptr;
  WatchStation* m_watch = nullptr;
  TracesStation* m_traces = nullptr;
  StandingsStation* m_standings = nullptr;
  WriteUpStation* m_writeUp = nullptr;
  ReadingsPage* m_readings = nullptr;
  StartPage* m_start = nullptr;
  LogSheet* m_logSheet = nullptr;
  Finder* m_finder = nullptr;
  HelpCard* m_help = nullptr;
  PreferencesSheet* m_preferences = nullptr;
  TourStrip* m_tour;
  bool m_isTourDue = false;                            // the demo book is being opened for the first time
  FarView* m_far = nullptr;                            // over the window, while it is looked at from afar
  Qt::WindowStates m_stateBefore = Qt::WindowNoState;  // of the window, before that
  PictureOver* m_over = nullptr;
  // Last, so that they go first.
  std::unique_ptr<FollowWires> m_follow;
  std::unique_ptr<KeepWires> m_keep;
  std::unique_ptr<ReadWires> m_read;
  std::unique_ptr<TakeWires> m_take;
  std::unique_ptr<PictureWires> m_draw;
};

}  // namespace ash
