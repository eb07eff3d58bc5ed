// SPDX-License-Identifier: GPL-3.0-or-later
// A card over the page that explains: F1 of a place, a figure, and the tour.
#pragma once

#include <vector>

#include "app/help/help_words.h"
#include "app/look/side_sheet.h"

class QLabel;
class QPushButton;
class QTextBrowser;

namespace ash {

/// Over the right of the page. Esc and F1 close it.
class HelpCard : public look::SideSheet {
  Q_OBJECT
 public:
  explicit HelpCard(QWidget* over);
  void explain(const HelpWords& help);

 private:
  QTextBrowser* m_words;
};

/// A strip at the foot of the window: one sentence at a time. Return goes on, Esc leaves.
class TourStrip : public QWidget {
  Q_OBJECT
 public:
  explicit TourStrip(QWidget* parent);
  void begin();
  void leave();

 signals:
  /// A sentence is about this place.
  void placeWanted(ash::HelpPlace place);
  void left();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void showStep();
  void goOn();
  std::vector<TourStep> m_steps;
  size_t m_at = 0;
  QLabel *m_count, *m_sentence;
  QPushButton *m_next, *m_leave;
};

}  // namespace ash
