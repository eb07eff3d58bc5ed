// SPDX-License-Identifier: GPL-3.0-or-later
// What a first start shows: three ways in, what was found on this machine, how to read it.
#pragma once

#include <QWidget>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace ash {

/// One reading group of this machine, for the list of what was found.
struct FoundGroup {
  QString name, what, limit;
  bool isThere = true;
};

class StartPage : public QWidget {
  Q_OBJECT
 public:
  explicit StartPage(QWidget* parent);
  void setFound(const std::vector<FoundGroup>& groups, int readings);
  void setProblem(const QString& sentence);
  /// `all` = 0: how many is not known yet.
  void setDemoProgress(int done, int all);
  void setLastBook(const QString& path);

 signals:
  void demoWanted();
  void newBookWanted();
  void logWanted();
  void openWanted();
  void takeInWanted();
  void lastBookWanted();

 private:
  QWidget* buildLeft();
  QWidget* buildRight();
  QPushButton* addWay(QVBoxLayout* column, const QString& title, const QString& words, const QString& small,
                      const QString& button, const QString& keys, bool isFirst);

  QPushButton* m_demo = nullptr;
  QPushButton* m_last = nullptr;
  QLabel* m_foundHead;
  QLabel* m_found;
  QLabel* m_problem;
};

}  // namespace ash
