// SPDX-License-Identifier: GPL-3.0-or-later
// Columns that were not measured: in another room, with another power, and by what noise and money are worth.
#include <QClipboard>
#include <QMimeData>
#include <QRegularExpression>
#include <QSlider>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>

#include "app/standings/rank_view.h"
#include "app/standings/what_if_bar.h"
#include "app/traces/chart_picture.h"
#include "tests/support/demo_book.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

// A load of 80 W that ends so many kelvin over a room of 22 °C, at two clocks in turn, with a noise.
std::string coolerLog(double overRoomK, double noiseDba) {
  std::string text = "time,CPU [°C],CPU power [W],CPU clock [MHz],Room [°C],Noise [dBA]\n";
  for (int i = 0; i < 1500; ++i) {
    const bool isLoaded = i >= 120;
    const double celsius = 22 + (isLoaded ? overRoomK * (1 - std::exp(-(i - 120) / 60.0)) : 0);
    text += std::to_string(i) + "," + std::to_string(celsius) + (isLoaded ? ",80," : ",9,") +
            (i % 60 < 15 ? "3000," : "3600,") + "22," + std::to_string(noiseDba) + "\n";
  }
  return text;
}

struct TwoCoolers : Desk {
  TwoCoolers() {
    write("a.csv", coolerLog(50, 30));
    write("b.csv", coolerLog(40, 40));
    ashg("import a.csv --book b.ashbook --study coolers --setup quiet --load vector");
    ashg("import b.csv --book b.ashbook --study coolers --setup loud --load vector");
  }
};

struct Standing : Shown {
  explicit Standing(const Desk& desk, const QString& setup = QStringLiteral("quiet")) : Shown(desk) {
    QTest::keyClick(&window, Qt::Key_4, Qt::ControlModifier);
    REQUIRE(waitFor([&] { return rank() != nullptr && spoken().contains(setup); }));
  }
  RankView* rank() { return window.findChild<RankView*>(); }
  QString spoken() { return rank()->accessibleDescription(); }
  QString words() { return text("what-if-words"); }
  void press(const QString& label) {
    for (auto* button : window.findChildren<QPushButton*>())
      if (button->text() == label && button->isVisible()) return QTest::mouseClick(button, Qt::LeftButton);
    FAIL("no button " << label.toStdString());
  }
  // By the keys of a slider: Home, and one step a Right.
  void slide(const char* name, int steps) {
    auto* slider = window.findChild<QSlider*>(QLatin1String(name));
    REQUIRE(slider->isVisible());
    slider->setFocus();
    QTest::keyClick(slider, Qt::Key_Home);
    for (int i = 0; i < steps; ++i) QTest::keyClick(slider, Qt::Key_Right);
  }
};

}  // namespace

TEST_CASE("theColumnsMoveToAnotherRoomAndSayThatTheyAreNotMeasured") {
  const TwoCoolers desk;
  Standing shown(desk);
  const QString measured = shown.spoken();
  shown.press(QStringLiteral("projected"));
  // From 5 °C to 30 °C: 30 + 40 and 30 + 50, and a little for what leaks more when it is warmer.
  shown.slide("what-if-room", 25);
  REQUIRE(shown.waitFor([&] { return shown.words().contains(QStringLiteral("a room of 30")); }));
  CHECK(shown.words().startsWith(QStringLiteral("Not measured")));
  INFO(shown.spoken().toStdString());
  CHECK(shown.spoken()
            .section(QLatin1Char(';'), 0, 0)
            .contains(QRegularExpression(QStringLiteral("^loud, (69|7[01])\\."))));
  CHECK(shown.spoken()
            .section(QLatin1Char(';'), 1, 1)
            .contains(QRegularExpression(QStringLiteral("quiet, (79|8[01])\\."))));
  shown.press(QStringLiteral("measured"));
  CHECK(shown.spoken() == measured);
  CHECK(shown.words().isEmpty());
}

TEST_CASE("anotherStudyBeginsInItsOwnRoom") {
  struct TwoStudies : TwoCoolers {
    TwoStudies() {
      ashg("import a.csv --book b.ashbook --study others --setup quiet --load vector --note again");
      ashg("import b.csv --book b.ashbook --study others --setup loud --load vector --note again");
    }
  };
  const TwoStudies desk;
  Standing shown(desk);
  const auto room = [&] { return shown.window.findChild<QSlider*>(QStringLiteral("what-if-room"))->value(); };
  shown.press(QStringLiteral("projected"));
  shown.slide("what-if-room", 25);
  REQUIRE(room() == 30);
  const std::string other = shown.window.desk().study()->name == "others" ? "coolers" : "others";
  shown.window.desk().chooseStudy(QString::fromStdString(other));
  // Both were run in a room of 22 °C.
  CHECK(shown.waitFor([&] { return shown.window.desk().study()->name == other && room() == 22; }));
}

TEST_CASE("whoWouldThrottleInAWarmRoomIsNamed") {
  const tests::Bench bench;
  tests::putDemoBook(bench, "b.ashbook");
  const Desk desk;
  std::filesystem::copy_file(bench.path("b.ashbook"), desk.path("b.ashbook"));
  Standing shown(desk, QStringLiteral("Mesh"));
  REQUIRE(Shown::waitFor([&] { return shown.window.desk().workedOut() == shown.window.desk().toWorkOut(); }, 120'000));
  tests::FormDriver(shown.window)
      .choose(shown.window.findChild<QComboBox*>(QStringLiteral("standings-load")), QStringLiteral("Cores + graphics"));
  shown.press(QStringLiteral("projected"));
  // Mesh is 56.6 K over its room, with the filter 60.7 K, Solid at its limit of 95 °C; and 35 °C of room.
  shown.slide("what-if-room", 30);
  REQUIRE(shown.waitFor([&] { return shown.words().contains(QStringLiteral("a room of 35")); }));
  CHECK(shown.words().contains(QStringLiteral("Would throttle: Mesh + dust filter and Solid.")));
  CHECK(shown.spoken().startsWith(QStringLiteral("Mesh, 91.")));
  CHECK(shown.spoken().contains(QStringLiteral("at its limit")));
}

TEST_CASE("lessPowerIsProjectedFromAStepOfTheSlider") {
  const TwoCoolers desk;
  Standing shown(desk);
  shown.press(QStringLiteral("projected"));
  shown.slide("what-if-room", 17);
  shown.slide("what-if-power", 8);
  REQUIRE(shown.waitFor([&] { return shown.words().contains(QStringLiteral("22\u202F°C at 40\u202FW")); }));
  // Half the power: about half of 40 K over 22 °C.
  CHECK(shown.spoken().contains(QRegularExpression(QStringLiteral("^loud, 4[0-4]\\."))));
}

TEST_CASE("whatADecibelIsWorthTurnsTheOrderAndWhereIsTold") {
  const TwoCoolers desk;
  Standing shown(desk);
  shown.press(QStringLiteral("weighed"));
  shown.slide("worth-noise", 0);
  CHECK(shown.spoken().startsWith(QStringLiteral("loud, 40.0")));
  // They meet at 10 K for 10 dBA.
  CHECK(shown.words().contains(QRegularExpression(QStringLiteral("from 1\\.0\u202FK on quiet"))));
  shown.slide("worth-noise", 20);
  CHECK(shown.spoken().startsWith(QStringLiteral("quiet")));
  // 40 K and 10 dBA at 2 K each.
  CHECK(shown.spoken().contains(QRegularExpression(QStringLiteral("loud, (59\\.9|60\\.0|60\\.1)"))));
  // No price is known: its slider cannot be moved, and says so.
  CHECK_FALSE(shown.window.findChild<QSlider*>(QStringLiteral("worth-price"))->isEnabled());
}

TEST_CASE("theWindowsAreShownAsPlanesAndCopied") {
  const TwoCoolers desk;
  Standing shown(desk);
  QTest::keyClick(&shown.window, Qt::Key_3, Qt::ControlModifier);
  shown.press(QStringLiteral("planes"));
  const auto pictures = shown.window.findChildren<ChartPicture*>();
  REQUIRE(pictures.size() == 3);
  REQUIRE(shown.waitFor([&] { return !pictures[2]->svg().isEmpty(); }));
  CHECK(pictures[0]->accessibleName() == QStringLiteral("Clock against temperature"));
  CHECK(pictures[1]->accessibleDescription().contains(QStringLiteral("on average 80\u202FW")));
  // A quarter of the time at 3000, the rest at 3600; the window is no whole number of turns.
  CHECK(pictures[2]->accessibleDescription().contains(QRegularExpression(QStringLiteral("7[3-7]\u202F%"))));
  CHECK_FALSE(shown.window.findChild<QWidget*>(QStringLiteral("planes"))->isHidden());
  QTest::keyClick(pictures[2], Qt::Key_C, Qt::ControlModifier);
  const QMimeData* copied = QGuiApplication::clipboard()->mimeData();
  CHECK(copied->hasImage());
  CHECK(copied->data(QStringLiteral("image/svg+xml")) == pictures[2]->svg());
  shown.press(QStringLiteral("over time"));
  CHECK(shown.window.findChild<QWidget*>(QStringLiteral("planes"))->isHidden());
}
