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
      m_root(std::move(root)) {}

void Desktop::show(bool isDark) {
  look::applyTheme(*qApp, isDark ? look::Theme::soot() : look::Theme::paper());
  m_window = std::make_unique<MainWindow>(m_recorder, nullptr, m_root);
  connect(m_window.get(), &MainWindow::appearanceWanted, this, &Desktop::change, Qt::QueuedConnection);
  if (!m_book.isEmpty()) m_window->openBook(m_book);
  m_window->show();
}

void Desktop::change(bool isDark) {
  if (!m_window->bookPath().isEmpty()) m_book = m_window->bookPath();
  const auto before = std::move(m_window);  // goes once the new one is there
  show(isDark);
}

}  // namespace ash

#include "moc_desktop.cpp"
