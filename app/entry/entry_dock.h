// SPDX-License-Identifier: GPL-3.0-or-later
// The entry line with what belongs to it: readings still to take as chips, completions, how it will be kept, history.
#pragma once

#include <QStringList>
#include <QWidget>
#include <vector>

#include "model/entry_line.h"

class QHBoxLayout;
class QLabel;
class QLineEdit;

namespace ash {

class EntryDock : public QWidget {
  Q_OBJECT
 public:
  explicit EntryDock(QWidget* parent);

  /// What the line is for now. `run` names the run that the entry goes into; empty = the line is off.
  struct Context {
    QString run;     ///< "Mesh, repeat 2"
    QString moment;  ///< "12:31" or "after its end"
    bool isLive = false;
    bool isSettled = false;
    std::vector<OwedReading> byHand;
    std::vector<OwedReading> owed;
    QStringList last;  ///< the last entries, newest first
  };
  void setContext(const Context& context);
  void focusLine();
  /// The recorder's answer to the last line: kept, or why not.
  void showAnswer(bool ok, const QString& why);

 signals:
  void entered(const QString& line);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void fillChips();
  void refresh();
  void complete();
  void fromHistory(int by);
  void take();
  QString previewOf(const QString& line) const;

  Context m_context;
  std::vector<EntryCompletion> m_completions;
  QStringList m_history;
  int m_historyPlace = -1;
  QWidget* m_chips;
  QHBoxLayout* m_chipRow;
  QLabel* m_left;
  QLabel* m_right;
  QLineEdit* m_line;
  QLabel* m_hint;
};

}  // namespace ash
