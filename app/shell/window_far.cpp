// SPDX-License-Identifier: GPL-3.0-or-later
// The whole screen for the run that is watched, and back.
#include "app/shell/main_window.h"
#include "app/watch/far_view.h"

namespace ash {

void MainWindow::showFar(FarForm form) {
  const bool isSame = m_far != nullptr && m_far->form() == form;
  if (m_far != nullptr) leaveFar();
  if (isSame) return;
  closeSheets();
  m_stateBefore = windowState();
  m_far = new FarView(m_live, form, this);
  m_far->choose(m_settings.farFigures());
  connect(m_far, &FarView::left, this, &MainWindow::leaveFar);
  connect(m_far, &FarView::chosenAnew, this,
          [this](const QStringList& readings) { m_settings.setFarFigures(readings); });
  setWindowState(windowState() | Qt::WindowFullScreen);
  m_far->setGeometry(rect());
  m_far->show();
  m_far->raise();
  m_far->setFocus();
}

void MainWindow::leaveFar() {
  if (m_far == nullptr) return;
  std::exchange(m_far, nullptr)->deleteLater();
  setWindowState(m_stateBefore);
  activateWindow();
  focusPage();
}

}  // namespace ash
