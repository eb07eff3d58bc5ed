// SPDX-License-Identifier: GPL-3.0-or-later
// One window a book: who opens a book that a window has already brings that one up. They find each other by a socket in
// the runtime folder, which is its user's alone.
#pragma once

#include <QLocalServer>
#include <QObject>

namespace ash {

class OneWindow : public QObject {
  Q_OBJECT
 public:
  explicit OneWindow(QObject* parent = nullptr);
  /// From now on the window is found by this book; by none when it is empty. Where another window has it, that one
  /// stays the one that is found.
  void hold(const QString& book);
  /// Brings up the window that has the book; false when there is none, or none that answers within two seconds.
  static bool wake(const QString& book);

 signals:
  /// The window is to be brought up.
  void wanted();

 private:
  void answer();
  QLocalServer m_server;
  QString m_book;
};

}  // namespace ash
