// SPDX-License-Identifier: GPL-3.0-or-later
// A sheet over the right of a page: as high as that, Esc closes it, and the keys go back to where they were.
#pragma once

#include <QPointer>
#include <QWidget>

class QBoxLayout;
class QLabel;

namespace ash::look {

class SideSheet : public QWidget {
  Q_OBJECT
 public:
  void close();

 protected:
  /// `designWidth` at 100 %; never wider than what it lies over. Names of parts begin with `name`: "help-title".
  SideSheet(const QString& name, int designWidth, QWidget* over);
  /// The head with its title and *Close*, to stand first; below it `column` goes on.
  QBoxLayout* column() const { return m_column; }
  void setTitle(const QString& title);
  /// Shows it, with the keys on `first`.
  void open(QWidget* first);
  void paintEvent(QPaintEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void fit();
  int m_designWidth;
  QBoxLayout* m_column;
  QLabel* m_title;
  QPointer<QWidget> m_before;
};

}  // namespace ash::look
