// SPDX-License-Identifier: GPL-3.0-or-later
// Reads a foreign log and takes it in, from a thread of its own.
#pragma once

#include <QObject>
#include <QString>
#include <atomic>
#include <memory>

#include "intake/beside_log.h"
#include "intake/log_look.h"
#include "intake/take_in.h"

namespace ash {

/// What is to become of a log.
struct LogWish {
  std::string path;
  ImportWishes wishes;
  ImportPlace place;    ///< as a run of its own,
  BesideWishes beside;  ///< or beside this one, where a run is named
  int number = 0;       ///< the wish of the highest number is the one that is worked on
};

/// Lives on a worker thread; talked to by queued signals, and by expect().
class LogTaker : public QObject {
  Q_OBJECT
 public:
  /// Wishes with a lower number are given up, also in the middle; from any thread.
  void expect(int number) { m_expected = number; }

 public slots:
  /// How the log would be understood, and how it would stand beside a run where one is named.
  void look(const std::shared_ptr<const ash::LogWish>& wish);
  void take(const std::shared_ptr<const ash::LogWish>& wish);
  void takeOff(const QString& book, const QString& run, const QString& name);
  /// What is remembered of columns; told by remembered(), also after it was forgotten.
  void countRemembered();
  void forgetRemembered();

 signals:
  void progress(double share);
  /// One of the two is there, or neither with a refusal.
  void looked(const std::shared_ptr<const ash::LogLook>& look, const std::shared_ptr<const ash::BesideLook>& beside,
              const QString& refusal);
  /// The run it became, or beside which it stands, then with the name it has there; or why not.
  void taken(const QString& run, const QString& name, const QString& refusal);
  void takenOff(const QString& refusal);
  void remembered(int columns, const QString& refusal);

 private:
  ImportProgress telling(int number);
  std::atomic<int> m_expected{0};
};

}  // namespace ash
