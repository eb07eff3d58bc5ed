// SPDX-License-Identifier: GPL-3.0-or-later
// `ash-gauge`: the window.
#include <QApplication>
#include <QCommandLineParser>
#include <QFileInfo>
#include <cstdio>
#include <optional>

#include "app/page/render.h"
#include "app/shell/desktop.h"
#include "app/shell/settings.h"
#include "system/descriptors.h"

namespace {

std::optional<bool> wishedAppearance(const QCommandLineParser& parser) {
  if (parser.isSet(QStringLiteral("dark"))) return true;
  if (parser.isSet(QStringLiteral("light"))) return false;
  return std::nullopt;
}

}  // namespace

int main(int argc, char** argv) {
  if (ash::asksToRender(argc, argv)) return ash::renderReport(argc, argv);
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
  ash::raiseDescriptorLimit();
  QApplication app(argc, argv);
  QApplication::setApplicationName(QStringLiteral("ash-gauge"));
  // By this the desktop finds its entry and its icon.
  QGuiApplication::setDesktopFileName(QStringLiteral("local.ashgauge.AshGauge"));
  QGuiApplication::setWindowIcon(QIcon::fromTheme(QStringLiteral("local.ashgauge.AshGauge")));
  QApplication::setApplicationVersion(QStringLiteral(ASH_VERSION));
  QCommandLineParser parser;
  parser.setApplicationDescription(QStringLiteral("Ash Gauge: put it under load, log it, change one thing, compare."));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument(QStringLiteral("book"), QStringLiteral("The book to open; made when missing."),
                               QStringLiteral("[BOOK]"));
  parser.addOption({QStringLiteral("dark"), QStringLiteral("Dark appearance, whatever the desktop has.")});
  parser.addOption({QStringLiteral("light"), QStringLiteral("Light appearance, whatever the desktop has.")});
  parser.addOption({QStringLiteral("root"),
                    QStringLiteral("Read and record a tree that looks like a machine's root (ashg stand-in machine)."),
                    QStringLiteral("DIR")});
  parser.process(app);
  QApplication::setQuitOnLastWindowClosed(true);
  QString book = parser.positionalArguments().value(0);
  // Without a book named, the last one is opened again; a first start shows the ways in.
  const QString last = ash::Settings().lastBook();
  // One with which the window went down is opened by nobody but its person.
  const bool tookTheWindowDown = !last.isEmpty() && ash::Settings().openingBook() == last;
  if (book.isEmpty() && QFileInfo::exists(last) && !tookTheWindowDown) book = last;
  // A double click on a book that is open already brings its window up.
  if (!book.isEmpty() && !parser.isSet(QStringLiteral("root")) && ash::OneWindow::wake(book)) return 0;
  ash::Desktop desktop(book, {}, parser.value(QStringLiteral("root")));
  desktop.show(wishedAppearance(parser));
  return QApplication::exec();
}
