// SPDX-License-Identifier: GPL-3.0-or-later
// One application for all window tests; settings and sockets in a folder of their own.
#define CATCH_CONFIG_RUNNER
#include <QApplication>
#include <QStandardPaths>
#include <catch2/catch.hpp>

#include "app/look/theme.h"
#include "tests/app/message_order.h"
#include "tests/support/temp_folder.h"

int main(int argc, char** argv) {
  const ash::tests::TempFolder home;
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  for (const char* name : {"XDG_RUNTIME_DIR", "XDG_CONFIG_HOME", "HOME"}) qputenv(name, home.path().c_str());
  ash::tests::OrderedApplication app(argc, argv);
  ash::look::applyTheme(app, ash::look::Theme::paper());
  return Catch::Session().run(argc, argv);
}
