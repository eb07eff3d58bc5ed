// SPDX-License-Identifier: GPL-3.0-or-later
// Keeps the window: made anew when it is to look otherwise, with the same book; a run goes on and is attached to again.
#pragma once

#include <QFont>
#include <QObject>
#include <memory>
#include <optional>

#include "app/shell/main_window.h"
#include "app/shell/one_window.h"

namespace ash {

class Desktop : public QObject {
  Q_OBJECT
 public:
  /// `book` is opened at once; empty = none. `recorder` is the path of `ashg`; empty = the one beside this program,
  /// else the one on the path. `root` is read instead of this machine; empty = this machine. To be made before a theme
  /// is applied: the desktop's own writing and lightness are read here.
  explicit Desktop(QString book, QString recorder = {}, QString root = {});
  /// As it was asked for, else as the settings have it, else as the desktop is.
  void show(std::optional<bool> isDark = {});
  MainWindow* window() { return m_window.get(); }

 private:
  void change();
  void bringUp();

  QString m_book, m_recorder, m_root;
  QFont m_desktopFont;
  bool m_desktopIsDark;
  OneWindow m_one;
  std::unique_ptr<MainWindow> m_window;
};

}  // namespace ash
