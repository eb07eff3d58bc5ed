// SPDX-License-Identifier: GPL-3.0-or-later
// One window a book: the real program is started on a book that a window has already.
#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>

#include <QLocalSocket>
#include <QProcess>
#include <catch2/catch.hpp>
#include <cstring>
#include <filesystem>

#include "app/shell/desktop.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::ShortRun;

namespace {

QString gauge() {
  return QFileInfo(QString::fromLocal8Bit(ASHG_PROGRAM)).absolutePath() + QStringLiteral("/ash-gauge");
}

// The only socket of a window that there is.
QString windowSocket() {
  for (const auto& entry : std::filesystem::directory_iterator(std::string(getenv("XDG_RUNTIME_DIR")) + "/ash-gauge")) {
    if (entry.path().filename().string().starts_with("window-")) return QString::fromStdString(entry.path());
  }
  return {};
}

}  // namespace

TEST_CASE("aBookThatAWindowHasBringsThatWindowUp") {
  const ShortRun desk;
  Desktop desktop(desk.book(), QStringLiteral(ASHG_PROGRAM));
  desktop.show();
  REQUIRE(QTest::qWaitFor([&] { return desktop.window()->desk().study() != nullptr; }, 10'000));
  desktop.window()->showMinimized();
  REQUIRE(desktop.window()->isMinimized());
  // By another name of the same file.
  std::filesystem::create_symlink(desk.path("b.ashbook"), desk.path("again.ashbook"));
  QProcess second;
  second.start(gauge(), {QString::fromStdString(desk.path("again.ashbook"))});
  REQUIRE(QTest::qWaitFor([&] { return second.state() == QProcess::NotRunning; }, 20'000));
  CHECK(second.exitStatus() == QProcess::NormalExit);
  CHECK(second.exitCode() == 0);
  CHECK_FALSE(desktop.window()->isMinimized());
  CHECK(desktop.window()->isVisible());
}

TEST_CASE("anotherBookHasAWindowOfItsOwn") {
  const ShortRun desk, other;
  Desktop desktop(desk.book(), QStringLiteral(ASHG_PROGRAM));
  desktop.show();
  REQUIRE(QTest::qWaitFor([&] { return desktop.window()->desk().study() != nullptr; }, 10'000));
  CHECK(OneWindow::wake(desk.book()) == false);  // nobody answers while this thread waits: it is not believed in
  QProcess second;
  second.start(gauge(), {other.book()});
  REQUIRE(second.waitForStarted());
  CHECK_FALSE(second.waitForFinished(1500));
  second.terminate();
  second.waitForFinished(10'000);
}

TEST_CASE("aSocketThatWasLeftBehindIsTakenOver") {
  const ShortRun desk;
  QString left;
  {
    OneWindow first;
    first.hold(desk.book());
    left = windowSocket();
    REQUIRE_FALSE(left.isEmpty());
  }
  CHECK_FALSE(QFileInfo::exists(left));  // who goes in order leaves nothing
  // As a window that was killed leaves it: a socket on which nobody listens.
  const int dead = socket(AF_UNIX, SOCK_STREAM, 0);
  sockaddr_un name{};
  name.sun_family = AF_UNIX;
  std::strncpy(name.sun_path, left.toLocal8Bit().constData(), sizeof name.sun_path - 1);
  REQUIRE(bind(dead, reinterpret_cast<const sockaddr*>(&name), sizeof name) == 0);
  close(dead);
  REQUIRE(QFileInfo::exists(left));
  OneWindow second;
  second.hold(desk.book());
  QLocalSocket asking;
  asking.connectToServer(left);
  CHECK(asking.waitForConnected(1000));
}

TEST_CASE("whoSaysSomethingElseToAWindowIsLeft") {
  const ShortRun desk;
  OneWindow window;
  int brought = 0;
  QObject::connect(&window, &OneWindow::wanted, [&] { ++brought; });
  window.hold(desk.book());
  QLocalSocket asking;
  asking.connectToServer(windowSocket());
  REQUIRE(asking.waitForConnected(1000));
  asking.write(QByteArray(1 << 16, 'x'));
  CHECK(QTest::qWaitFor([&] { return asking.state() == QLocalSocket::UnconnectedState; }, 5000));
  CHECK(brought == 0);
  QLocalSocket again;
  again.connectToServer(windowSocket());
  REQUIRE(again.waitForConnected(1000));
  again.write("show\n");
  REQUIRE(QTest::qWaitFor([&] { return again.bytesAvailable() > 0; }, 5000));
  CHECK(again.readAll() == "shown\n");
  CHECK(brought == 1);
}
