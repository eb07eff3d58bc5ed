// SPDX-License-Identifier: GPL-3.0-or-later
// The command finder (Ctrl+K): any command, study, setup or run by a few letters of its name.
#pragma once

#include <QString>
#include <QWidget>
#include <functional>
#include <vector>

class QLineEdit;
class QListWidget;

namespace ash {

struct FinderEntry {
  QString words;  ///< "Duplicate the selected setup"
  QString kind;   ///< "command", "study", "setup", "run"
  QString keys;   ///< "Ctrl+D"; empty = none
  std::function<void()> action;
};

/// How well an entry answers what was typed: every typed word must begin a word of it or stand in it; smaller is
/// better, negative = not at all. Pure.
int finderRank(const QString& words, const QString& typed);

class Finder : public QWidget {
  Q_OBJECT
 public:
  explicit Finder(QWidget* parent);
  /// Opens over its parent with these entries.
  void open(std::vector<FinderEntry> entries);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void paintEvent(QPaintEvent* event) override;

 private:
  void fill();
  void choose();

  std::vector<FinderEntry> m_entries;
  QLineEdit* m_line;
  QListWidget* m_list;
};

}  // namespace ash
