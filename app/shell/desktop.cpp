// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/desktop.h"

#include <QApplication>
#include <QFileInfo>
#include <QStandardPaths>

#include "app/look/theme.h"

namespace ash {
namespace {

// Beside this program, as it is built and installed; else on the path.
QString findRecorder() {
  const QString beside = QCoreApplication::applicationDirPath() + QStringLiteral("/ashg");
  return QFileInfo::exists(beside) ? beside : QStandardPaths::findExecutable(QStringLiteral("ashg"));
}

}  // namespace

Desktop::Desktop(QString book, QString recorder, QString root)
    : m_book(std::move(book)),
      m_recorder(recorder.isEmpty() ? findRecorder() : std::move(recorder)),
      m_root(std::move(root)),
      m_desktopFont(QApplication::font()),
      m_desktopIsDark(QApplication::palette().color(QPalette::Window).lightness() < 128) {
  connect(&m_one, &OneWindow::wanted, this, &Desktop::bringUp);
}

void Desktop::show(std::optional<bool> isDark) {
  const Settings settings;
  const QString chosen = settings.appearance();
  const bool kept = chosen.isEmpty() ? m_desktopIsDark : chosen == QLatin1String("dark");
  look::takeDesktopFont(m_desktopFont, settings.textPercent() / 100.0);
  const look::Theme usual = isDark.value_or(kept) ? look::Theme::soot() : look::Theme::paper();
  look::applyTheme(*qApp, settings.hasStrongContrast() ? usual.strong() : usual);
  m_window = std::make_unique<MainWindow>(m_recorder, nullptr, m_root);
  connect(m_window.get(), &MainWindow::lookWanted, this, &Desktop::change, Qt::QueuedConnection);
  connect(&m_window->desk(), &StudyDesk::changed, this, [this] { m_one.hold(m_window->bookPath()); });
  if (!m_book.isEmpty()) m_window->openBook(m_book);
  m_window->show();
}

void Desktop::bringUp() {
  m_window->setWindowState(m_window->windowState() & ~Qt::WindowMinimized);
  m_window->show();
  m_window->raise();
  m_window->activateWindow();
}

void Desktop::change() {
  if (!m_window->bookPath().isEmpty()) m_book = m_window->bookPath();
  const auto before = std::move(m_window);  // goes once the new one is there
  show();
  if (before->showsPreferences()) m_window->showPreferences();
}

}  // namespace ash

#include "moc_desktop.cpp"
