// SPDX-License-Identifier: GPL-3.0-or-later
// Follows a run from a thread of its own: the past from the book, the present from the run's socket.
#pragma once

#include <QByteArray>
#include <QObject>
#include <QString>
#include <memory>
#include <optional>

#include "app/follow/live_run.h"
#include "model/json.h"
#include "model/study.h"
#include "runner/message_type.h"

class QLocalSocket;
class QTimer;

namespace ash {

/// Lives on a worker thread; talked to by queued signals only. Reads the book, so the interface never waits for a disk.
class RunFollower : public QObject {
  Q_OBJECT
 public:
  RunFollower();
  ~RunFollower() override;

 public slots:
  /// Opens a book: tells its studies, attaches to a run that is going on, else shows the last one.
  void openBook(const QString& path);
  /// Attaches to a run that is being started; waits for its socket up to ten seconds.
  void expectRun(const QString& runId);
  /// Shows a run of the book: attaches when it goes on, else reads it.
  void showRun(const QString& runId);
  /// Sends {"do": …} to the run that is followed.
  void send(WishKind what, const QString& text);

 signals:
  void bookOpened(const QString& path, const std::shared_ptr<const std::vector<Study>>& studies, int runCount);
  void bookRefused(const QString& why);
  void news(const std::shared_ptr<const LiveBatch>& batch);
  /// The run that was expected never came.
  void runMissing(const QString& runId);
  void answered(bool ok, const QString& why);

 private:
  void look();
  void attach(const std::string& runId);
  void takeBytes();
  void takeMessage(const Json& message);
  void takeAnswer(const LiveAnswer& answer);
  void takeOutcome(const LiveOutcome& outcome);
  void takeHello(const Json& hello);
  void takeSamples(const Json& message);
  void takeState(const Json& message);
  void readPast(const std::string& runId);
  void showFinished(const std::string& runId);
  void appendLog(const RunLog& run);
  void workOutThrottling();
  void flush();
  void detached();
  void tellStudies();

  QTimer* m_flushTimer = nullptr;
  QTimer* m_lookTimer = nullptr;
  QLocalSocket* m_socket = nullptr;
  QByteArray m_buffer;
  std::string m_book;
  std::string m_expected;
  int m_looksLeft = 0;
  std::vector<Study> m_studies;
  std::shared_ptr<LiveBatch> m_batch;
  std::shared_ptr<const LiveRunInfo> m_info;
  std::vector<double> m_lastS;  // of each source
  RunLog m_log;                 // all up to now, for throttling
  double m_throttlingAtS = 0;
  bool m_isOver = true;
};

}  // namespace ash
