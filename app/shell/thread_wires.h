// SPDX-License-Identifier: GPL-3.0-or-later
// The window's threads, each with what is said to it and heard from it in one place. A wish is a signal to be
// emitted; it is carried out on the thread, and what comes of it arrives on the interface's.
#pragma once

#include <QImage>
#include <QObject>
#include <QThread>
#include <memory>

#include "app/follow/live_run.h"
#include "app/study/book_view.h"
#include "machine/machine_snapshot.h"
#include "model/active_parts.h"
#include "runner/message_type.h"
#include "system/confirmed.h"

namespace ash {

class BenchReader;
class LogTaker;
class PictureKeeper;
struct AttachWish;
struct KeptFiles;
struct BesideLook;
struct LogLook;
struct LogWish;
class BookKeeper;
class RunFollower;
class StudyDesk;

/// A thread with an object that lives on it and goes with it.
class WorkerThread : public QObject {
  Q_OBJECT
 protected:
  explicit WorkerThread(QObject* parent) : QObject(parent) {}
  ~WorkerThread() override;
  /// Moves the worker over and starts.
  void begin(QObject* worker);

 private:
  QThread m_thread;
};

/// Follows a run.
class FollowWires : public WorkerThread {
  Q_OBJECT
 public:
  explicit FollowWires(QObject* parent);

 signals:
  // Wishes.
  void openWanted(const QString& path);
  void runExpected(const QString& runId);
  void showRunWanted(const QString& runId);
  void wishToSend(WishKind what, const QString& text);
  // What is heard.
  void news(const std::shared_ptr<const LiveBatch>& batch);
  void answered(bool isDone, const QString& why);
  void runMissing();
  /// The follower has seen other runs than before.
  void runsChanged();
  void refused(const QString& why);
};

/// Holds the book. What the study in hand wishes goes there and comes back by itself.
class KeepWires : public WorkerThread {
  Q_OBJECT
 public:
  KeepWires(StudyDesk& desk, const QString& root, QObject* parent);
  /// What was given to the keeper is written before it goes.
  ~KeepWires() override;

 signals:
  // Wishes.
  void openWanted(const QString& path);
  void refreshWanted();
  void pageWanted(const QString& path);
  void settleWanted();
  void readinessWanted(const QString& study, const std::shared_ptr<const ash::MachineNow>& machine);
  void confirmWanted(const std::vector<ash::ActivePart>& parts);
  void acceptWanted(const QString& machine);
  void confirmationsWanted();
  void takeBackWanted(const QStringList& keys);
  void demoWanted(const QString& path);
  void setupsWanted(const QString& path);
  void choicesWanted(const QString& machine);
  void choiceMade(const QString& machine, const QString& reading,
                  const std::shared_ptr<const ash::ReadingChoice>& choice);
  // What is heard.
  void opened(const std::shared_ptr<const ash::BookView>& view);
  void changed(const std::shared_ptr<const ash::BookView>& view);
  void interrupted(const std::shared_ptr<const ash::InterruptedRuns>& runs);
  void proposals(const QString& machine, const std::shared_ptr<const ash::ReadingChoices>& proposed);
  void choices(const std::shared_ptr<const ash::ReadingChoices>& choices);
  void refused(const QString& why);
  void notOpened(const QString& why);
  void pageWritten(const QString& path);
  void settled();
  void demoProgress(int done, int all);
  void demoMade(const QString& path);
  void confirmations(const std::shared_ptr<const ash::ConfirmationList>& given);
  void setups(const QString& path, const std::shared_ptr<const std::vector<ash::AlsoShown>>& setups);

 private:
  BookKeeper* m_keeper;
};

/// Takes logs of other programs in.
class TakeWires : public WorkerThread {
  Q_OBJECT
 public:
  explicit TakeWires(QObject* parent);
  ~TakeWires() override;
  /// Looks at a log; what was asked before is given up.
  void look(const std::shared_ptr<ash::LogWish>& wish);
  void take(const std::shared_ptr<ash::LogWish>& wish);
  /// Whatever goes on ends, and nothing of it is kept.
  void giveUp();

 signals:
  // Wishes.
  void lookWanted(const std::shared_ptr<const ash::LogWish>& wish);
  void takeWanted(const std::shared_ptr<const ash::LogWish>& wish);
  void takeOffWanted(const QString& book, const QString& run, const QString& name);
  void rememberedWanted();
  void forgetWanted();
  // What is heard.
  void progress(double share);
  void looked(const std::shared_ptr<const ash::LogLook>& look, const std::shared_ptr<const ash::BesideLook>& beside,
              const QString& refusal);
  void taken(const QString& run, const QString& name, const QString& refusal);
  void takenOff(const QString& refusal);
  void remembered(int columns, const QString& refusal);

 private:
  LogTaker* m_taker;
  int m_number = 0;
};

/// Takes pictures and other files in, and draws them.
class PictureWires : public WorkerThread {
  Q_OBJECT
 public:
  explicit PictureWires(QObject* parent);

 signals:
  // Wishes.
  void attachWanted(const std::shared_ptr<const ash::AttachWish>& wish);
  void takeOffWanted(const std::shared_ptr<const ash::KeptFiles>& files);
  void putBackWanted(const std::shared_ptr<const ash::KeptFiles>& files);
  void detachWanted(const QString& book, long long id);
  void describeWanted(const QString& book, long long id, const QString& words);
  void describeAgainWanted(const QString& book, long long id, const QString& words);
  void drawWanted(const QString& book, const std::shared_ptr<const ash::Attachment>& one, const QSize& most);
  void writeWanted(const QString& book, long long id, const QString& path);
  // What is heard.
  void attached(const std::shared_ptr<const ash::KeptFiles>& files, const QString& remarks, const QString& refusal);
  void detached(const std::shared_ptr<const ash::KeptFiles>& files, const QString& refusal);
  void described(long long id, const QString& before, const QString& now, const QString& refusal);
  void changed(const QString& refusal);
  void drawn(long long id, const QSize& most, const QImage& image, const QString& refusal);
  void written(const QString& path, const QString& refusal);
};

/// Reads this machine.
class ReadWires : public WorkerThread {
  Q_OBJECT
 public:
  /// `root` is empty for this machine, else a tree that looks like one.
  ReadWires(const QString& root, QObject* parent);

 signals:
  // Wishes.
  void lookWanted(bool keepsOn);
  void restWanted();
  void choicesSaid(const std::shared_ptr<const ash::ReadingChoices>& choices);
  void tryWanted(const std::shared_ptr<const ash::Json>& instrument);
  void keepWanted(const std::shared_ptr<const ash::Json>& instrument);
  void changeWanted(const QString& name, const std::shared_ptr<const ash::Json>& instrument);
  void dropWanted(const QString& name);
  void calibrateWanted(const QString& name, double fullScaleDb);
  // What is heard.
  void seen(const std::shared_ptr<const ash::MachineSnapshot>& readings);
  void tried(const std::shared_ptr<const ash::InstrumentNow>& now, const QString& refusal);
  void instrumentsChanged(const QString& refusal);
};

}  // namespace ash
