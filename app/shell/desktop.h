// SPDX-License-Identifier: GPL-3.0-or-later
// Keeps the window: made anew when another appearance is wanted, with the same book; a run goes on and is attached to
// again.
#pragma once

#include <QObject>
#include <memory>

#include "app/shell/main_window.h"

namespace ash {

class Desktop : public QObject {
  Q_OBJECT
 public:
  /// `book` is opened at once; empty = none. `recorder` is the path of `ashg`; empty = the one beside this program,
  /// else the one on the path. `root` is read instead of this machine; empty = this machine.
  explicit Desktop(QString book, QString recorder = {}, QString root = {});
  void show(bool isDark);
  MainWindow* window() { return m_window.get(); }

 private:
  void change(bool isDark);

  QString m_book, m_recorder, m_root;
  std::unique_ptr<MainWindow> m_window;
};

}  // namespace ash
