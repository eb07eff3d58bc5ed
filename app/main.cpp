// SPDX-License-Identifier: GPL-3.0-or-later
// `ash-gauge`: the window.
#include <QApplication>
#include <QCommandLineParser>
#include <QFileInfo>
#include <QStandardPaths>
#include <cstdio>

#include "app/look/theme.h"
#include "app/shell/main_window.h"

namespace {

// Beside this program, as it is built and installed; else on the path.
QString findRecorder() {
  const QString beside = QCoreApplication::applicationDirPath() + QStringLiteral("/ashg");
  return QFileInfo::exists(beside) ? beside : QStandardPaths::findExecutable(QStringLiteral("ashg"));
}

bool desktopIsDark() { return QApplication::palette().color(QPalette::Window).lightness() < 128; }

bool wantsDark(const QCommandLineParser& parser) {
  if (parser.isSet(QStringLiteral("dark"))) return true;
  return !parser.isSet(QStringLiteral("light")) && desktopIsDark();
}

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
  ash::look::applyTheme(app, isDark ? ash::look::Theme::soot() : ash::look::Theme::paper());
  ash::MainWindow window(findRecorder());
  if (!parser.positionalArguments().isEmpty()) window.openBook(parser.positionalArguments().first());
  window.show();
  return QApplication::exec();
}
