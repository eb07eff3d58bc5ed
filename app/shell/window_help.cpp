// SPDX-License-Identifier: GPL-3.0-or-later
// F1, the definition of a figure, and the tour.
#include <QStackedWidget>

#include "app/help/figure_help.h"
#include "app/help/help_card.h"
#include "app/preferences/preferences_sheet.h"
#include "app/shell/main_window.h"

namespace ash {

static_assert(static_cast<int>(HelpPlace::Plan) == MainWindow::Plan &&
              static_cast<int>(HelpPlace::Standings) == MainWindow::Standings &&
              static_cast<int>(HelpPlace::Readings) == MainWindow::Readings &&
              static_cast<int>(HelpPlace::Start) == MainWindow::Start &&
              static_cast<int>(HelpPlace::TakingIn) == MainWindow::TakingIn);

void MainWindow::explain(const HelpWords& words) {
  if (m_help == nullptr) m_help = new HelpCard(m_pages);
  closeSheets(m_help);
  m_help->explain(words);
}

// The same key closes it again.
void MainWindow::explainPage() {
  if (m_help != nullptr && m_help->isVisible()) return m_help->close();
  explain(helpOf(static_cast<HelpPlace>(page())));
}

void MainWindow::beginTour() {
  closeSheets();
  m_settings.setTourSeen();
  m_tour->begin();
}

// One at a time, for Esc is meant for the one that is seen.
void MainWindow::closeSheets(const QWidget* but) {
  const auto close = [but](auto* sheet) {
    if (sheet != nullptr && sheet != but && sheet->isVisible()) sheet->close();
  };
  close(m_help);
  close(m_preferences);
  if (m_tour->isVisible()) m_tour->leave();
}

// On the demo book, the first time.
void MainWindow::offerTour() {
  if (m_isTourDue && m_desk.study() != nullptr) {
    m_isTourDue = false;
    beginTour();
  }
}

}  // namespace ash
