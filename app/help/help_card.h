// SPDX-License-Identifier: GPL-3.0-or-later
// A card over the page that explains: F1 of a place, a figure, and the tour.
#pragma once

#include <QPointer>
#include <QWidget>
#include <vector>

#include "app/help/help_words.h"

class QLabel;
class QPushButton;
class QTextBrowser;

namespace ash {

/// At the right of the page, over it. Esc and F1 close it, and the keys go back to where they were.
class HelpCard : public QWidget {
  Q_OBJECT
 public:
  explicit HelpCard(QWidget* over);
  void show(const HelpWords& help);
  void close();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void paintEvent(QPaintEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void fit();
  QLabel* m_title;
  QTextBrowser* m_words;
  QPointer<QWidget> m_before;
};

/// A strip at the foot of the window: one sentence at a time. Return goes on, Esc leaves.
class TourStrip : public QWidget {
  Q_OBJECT
 public:
  explicit TourStrip(QWidget* parent);
  void begin();

 signals:
  /// A sentence is about this place.
  void placeWanted(ash::HelpPlace place);
  void left();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void showStep();
  void goOn();
  void leave();
  std::vector<TourStep> m_steps;
  size_t m_at = 0;
  QLabel *m_count, *m_sentence;
  QPushButton *m_next, *m_leave;
};

}  // namespace ash
