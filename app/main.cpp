// SPDX-License-Identifier: GPL-3.0-or-later
// `ash-gauge`: the window.
#include <QApplication>
#include <QCommandLineParser>
#include <QFileInfo>
#include <QStandardPaths>
#include <cstdio>
#include <memory>

#include "app/look/theme.h"
#include "app/shell/main_window.h"
#include "app/shell/settings.h"

namespace {

// Beside this program, as it is built and installed; else on the path.
QString findRecorder() {
  const QString beside = QCoreApplication::applicationDirPath() + QStringLiteral("/ashg");
  return QFileInfo::exists(beside) ? beside : QStandardPaths::findExecutable(QStringLiteral("ashg"));
}

bool desktopIsDark() { return QApplication::palette().color(QPalette::Window).lightness() < 128; }

bool wantsDark(const QCommandLineParser& parser) {
  if (parser.isSet(QStringLiteral("dark"))) return true;
  if (parser.isSet(QStringLiteral("light"))) return false;
  const QString chosen = ash::Settings().appearance();
  return chosen.isEmpty() ? desktopIsDark() : chosen == QStringLiteral("dark");
}

// The window, made anew when another appearance is wanted; a run goes on and is attached to again.
class Desktop {
 public:
  explicit Desktop(QString book) : m_book(std::move(book)) {}

  void show(bool isDark) {
    ash::look::applyTheme(*qApp, isDark ? ash::look::Theme::soot() : ash::look::Theme::paper());
    m_window = std::make_unique<ash::MainWindow>(findRecorder());
    QObject::connect(
        m_window.get(), &ash::MainWindow::appearanceWanted, qApp, [this](bool dark) { change(dark); },
        Qt::QueuedConnection);
    if (!m_book.isEmpty()) m_window->openBook(m_book);
    m_window->show();
  }

 private:
  void change(bool isDark) {
    if (!m_window->bookPath().isEmpty()) m_book = m_window->bookPath();
    const auto before = std::move(m_window);  // goes once the new one is there
    show(isDark);
  }

  QString m_book;
  std::unique_ptr<ash::MainWindow> m_window;
};

}  // namespace

int main(int argc, char** argv) {
  const bool hasDisplay = qEnvironmentVariableIsSet("DISPLAY") || qEnvironmentVariableIsSet("WAYLAND_DISPLAY") ||
                          qEnvironmentVariableIsSet("QT_QPA_PLATFORM");
  bool asksOnly = false;
  for (int i = 1; i < argc; ++i) asksOnly |= qstrcmp(argv[i], "--help") == 0 || qstrcmp(argv[i], "--version") == 0;
  if (asksOnly)
    qputenv("QT_QPA_PLATFORM", "offscreen");
  else if (!hasDisplay) {
    std::fputs("ash-gauge: there is no display here; use `ashg`, which needs none.\n", stderr);
    return 3;
  }
  QApplication app(argc, argv);
  QApplication::setApplicationName(QStringLiteral("ash-gauge"));
  QApplication::setApplicationVersion(QStringLiteral(ASH_VERSION));
  QCommandLineParser parser;
  parser.setApplicationDescription(QStringLiteral("Ash Gauge: put it under load, log it, change one thing, compare."));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument(QStringLiteral("book"), QStringLiteral("The book to open; made when missing."),
                               QStringLiteral("[BOOK]"));
  parser.addOption({QStringLiteral("dark"), QStringLiteral("Dark appearance, whatever the desktop has.")});
  parser.addOption({QStringLiteral("light"), QStringLiteral("Light appearance, whatever the desktop has.")});
  parser.process(app);
  const bool isDark = wantsDark(parser);
  QApplication::setQuitOnLastWindowClosed(true);
  QString book = parser.positionalArguments().value(0);
  // Without a book named, the last one is opened again; a first start shows the ways in.
  const QString last = ash::Settings().lastBook();
  if (book.isEmpty() && QFileInfo::exists(last)) book = last;
  Desktop desktop(book);
  desktop.show(isDark);
  return QApplication::exec();
}
