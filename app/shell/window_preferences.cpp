// SPDX-License-Identifier: GPL-3.0-or-later
// The sheet of preferences: what is decided there is kept and in force at once.
#include <QStackedWidget>

#include "app/preferences/preferences_sheet.h"
#include "app/readings/outside_panel.h"
#include "app/readings/readings_page.h"
#include "app/shell/main_window.h"
#include "app/shell/thread_wires.h"

namespace ash {

Preferences MainWindow::preferencesNow() const {
  return {m_settings.appearance(),  m_settings.hasStrongContrast(),
          m_settings.textPercent(), m_settings.chosenBooksFolder(),
          m_settings.currency(),    static_cast<int>(m_settings.recentBooks().size())};
}

bool MainWindow::showsPreferences() const { return m_preferences != nullptr && m_preferences->isVisible(); }

void MainWindow::showPreferences() {
  if (m_preferences == nullptr) makePreferences();
  closeSheets(m_preferences);
  m_preferences->open(preferencesNow());
  emit m_keep->confirmationsWanted();
  emit m_take->rememberedWanted();
}

void MainWindow::makePreferences() {
  m_preferences = new PreferencesSheet(m_pages);
  connect(m_preferences, &PreferencesSheet::appearanceChosen, this, [this](const QString& appearance) {
    m_settings.setAppearance(appearance);
    makeAnew();
  });
  connect(m_preferences, &PreferencesSheet::contrastChosen, this, [this](bool isStrong) {
    m_settings.setStrongContrast(isStrong);
    makeAnew();
  });
  connect(m_preferences, &PreferencesSheet::textPercentChosen, this, [this](int percent) {
    m_settings.setTextPercent(percent);
    makeAnew();
  });
  connect(m_preferences, &PreferencesSheet::booksFolderChosen, this,
          [this](const QString& folder) { m_settings.setBooksFolder(folder); });
  connect(m_preferences, &PreferencesSheet::currencyChosen, this, [this](const QString& currency) {
    m_settings.setCurrency(currency);
    m_desk.setUsualCurrency(currency);
  });
  connect(m_preferences, &PreferencesSheet::forgetBooksWanted, this, [this] {
    m_settings.forgetRecentBooks();
    m_preferences->open(preferencesNow());
  });
  connect(m_preferences, &PreferencesSheet::takeBackWanted, this, [this](const QStringList& keys) {
    emit m_keep->takeBackWanted(keys);
    // What was said of this machine's readings may be among it.
    if (!m_machineKey.isEmpty()) emit m_keep->choicesWanted(m_machineKey);
  });
  connect(m_preferences, &PreferencesSheet::forgetColumnsWanted, m_take.get(), &TakeWires::forgetWanted);
  connect(m_preferences, &PreferencesSheet::instrumentsWanted, this, [this] {
    m_preferences->close();
    goTo(Readings);
    readings()->outside()->setFocus();
  });
  connect(m_preferences, &PreferencesSheet::tourWanted, this, [this] {
    m_preferences->close();
    beginTour();
  });
  connect(m_keep.get(), &KeepWires::confirmations, m_preferences,
          [this](const std::shared_ptr<const ConfirmationList>& given) { m_preferences->setConfirmations(*given); });
  connect(m_take.get(), &TakeWires::remembered, m_preferences, [this](int columns, const QString& refusal) {
    m_preferences->setRemembered(columns);
    if (!refusal.isEmpty()) say(refusal);
  });
}

// Whoever made the window makes it again as it is to look now, with the same book.
void MainWindow::makeAnew() {
  m_settings.setWindowGeometry(saveGeometry());
  emit lookWanted();
}

}  // namespace ash
