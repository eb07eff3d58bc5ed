// SPDX-License-Identifier: GPL-3.0-or-later
// Starts the recorder as a process of its own, which goes on when the window is closed.
#pragma once

#include <QString>

#include "app/watch/start_form.h"
#include "model/result.h"

namespace ash {

class RecorderStart {
 public:
  /// `program` is the path of `ashg`; `root` a tree to read instead of this machine, empty for this machine.
  explicit RecorderStart(QString program, QString root = {}) : m_program(std::move(program)), m_root(std::move(root)) {}

  /// Starts a run; returns its id.
  Result<QString> start(const StartRequest& request, const QString& book);
  /// Starts the queue of a study: its runs one after the other. The change before the first is taken as done.
  Status startQueue(const QString& study, const QString& book);
  /// Starts a ladder (arguments of `ashg ladder` without the book): one run after the other by itself.
  Status startLadder(const QStringList& arguments, const QString& book);
  /// What was said by who was started last and could not go on; empty while it has said nothing of the kind.
  QString complaint() const;
  /// Why the run that was started last did not come, from what its recorder said.
  QString whyMissing() const;
  /// That run is over: what its recorder said is no longer needed. Another one's stays.
  void forget(const QString& run);

 private:
  Status startByItself(const QStringList& arguments, const QString& logName, const QString& failure);

  QString m_program, m_root;
  QString m_log;
};

}  // namespace ash
