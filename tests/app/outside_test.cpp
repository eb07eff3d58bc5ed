// SPDX-License-Identifier: GPL-3.0-or-later
// From outside, on the Readings page of the real window: a meter is typed in, tried while it is typed, kept, read, lost
// and taken out again.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTest>
#include <catch2/catch.hpp>
#include <filesystem>

#include "app/readings/bench_rows.h"
#include "app/readings/outside_panel.h"
#include "app/readings/readings_page.h"
#include "instruments/instrument_file.h"
#include "sim/stand_in_meter.h"
#include "tests/support/desk.h"
#include "tests/support/sounds.h"

using namespace ash;
using tests::Desk;
using tests::FormDriver;

namespace {

/// A window with its own settings, on an empty tree, with Readings open.
struct OnBench {
  explicit OnBench(const Desk& desk) {
    setenv("XDG_CONFIG_HOME", desk.path("config").c_str(), 1);
    std::filesystem::create_directories(desk.path("root/proc"));
    window =
        std::make_unique<MainWindow>(QStringLiteral(ASHG_PROGRAM), nullptr, QString::fromStdString(desk.path("root")));
    window->resize(1280, 800);
    window->openBook(desk.book());
    window->show();
    REQUIRE(QTest::qWaitFor([&] { return window->desk().hasBook(); }, 10'000));
    QTest::keyClick(window.get(), Qt::Key_6, Qt::ControlModifier);
    REQUIRE(QTest::qWaitFor([&] { return window->findChild<OutsidePanel*>() != nullptr; }, 5'000));
  }
  ~OnBench() { unsetenv("XDG_CONFIG_HOME"); }

  bool shows(const QString& words) const {
    for (const auto* label : window->findChild<OutsidePanel*>()->findChildren<QLabel*>()) {
      if (label->isVisible() && label->text().contains(words)) return true;
    }
    return false;
  }
  bool comesToShow(const QString& words) const {
    return QTest::qWaitFor([&] { return shows(words); }, 15'000);
  }
  QPushButton* button(const char* name) const { return window->findChild<QPushButton*>(QString::fromLatin1(name)); }
  /// The button of that accessible name.
  void press(const QString& name) const {
    for (auto* button : window->findChild<OutsidePanel*>()->findChildren<QPushButton*>()) {
      if (button->accessibleName() == name && button->isVisible()) return QTest::mouseClick(button, Qt::LeftButton);
    }
    FAIL(name.toStdString());
  }
  void typeMeter(int port, const QString& accuracy = {}) {
    FormDriver form(*window);
    QTest::mouseClick(button("outside-add"), Qt::LeftButton);
    form.type(form.find<QLineEdit>("outside-address"), QStringLiteral("127.0.0.1:%1").arg(port));
    form.type(form.find<QLineEdit>("outside-asked"), QStringLiteral("MEAS:POW?"));
    form.type(form.find<QLineEdit>("outside-name"), QStringLiteral("wall meter"));
    form.type(form.find<QLineEdit>("outside-accuracy"), accuracy);
  }

  std::unique_ptr<MainWindow> window;
};

std::unique_ptr<sim::StandInMeter> meter() {
  auto meter = sim::StandInMeter::start({}, [] { return sim::MeterValues{162.5, 230, 0}; });
  REQUIRE(meter);
  return std::move(*meter);
}

// A file with one meter of two readings and a time of its own, as a person writes it.
void writeMeter(const Desk& desk, int port) {
  setenv("XDG_CONFIG_HOME", desk.path("config").c_str(), 1);
  REQUIRE(addInstrument({}, {{"name", "wall meter"},
                             {"kind", "scpi"},
                             {"address", "127.0.0.1:" + std::to_string(port)},
                             {"timeout_s", 2.5},
                             {"interval_s", 0.125},
                             {"readings",
                              {{{"role", "wall.power"}, {"query", "MEAS:POW?"}, {"place", "whole machine"}},
                               {{"name", "mains"}, {"query", "MEAS:VOLT?"}, {"unit", "V"}}}}}));
}

}  // namespace

TEST_CASE("aMeterIsChangedInItsSentenceAndPutBackAsItWas") {
  const Desk desk;
  auto there = meter();
  writeMeter(desk, there->port());
  OnBench on(desk);
  REQUIRE(on.comesToShow(QStringLiteral("162.5\u202fW · 230")));
  const auto before = instrumentToJson(readInstruments({})->front());
  on.press(QStringLiteral("Change wall meter"));
  FormDriver form(*on.window);
  CHECK(form.find<QLineEdit>("outside-asked")->text() == QStringLiteral("MEAS:POW?"));
  CHECK(form.find<QLineEdit>("outside-name")->text() == QStringLiteral("wall meter"));
  CHECK_FALSE(form.find<QComboBox>("outside-kind")->isEnabled());
  auto* name = form.find<QLineEdit>("outside-name");
  name->clear();
  form.type(name, QStringLiteral("old meter"));
  form.type(form.find<QLineEdit>("outside-accuracy"), QStringLiteral("0.3 %"));
  // The other reading of it, in the same sentence.
  form.choose(form.find<QComboBox>("outside-which"), QStringLiteral("mains"));
  CHECK(form.find<QLineEdit>("outside-asked")->text() == QStringLiteral("MEAS:VOLT? V"));
  form.type(form.find<QLineEdit>("outside-accuracy"), QStringLiteral("1 V"));
  REQUIRE(on.comesToShow(QStringLiteral("It says 230")));
  CHECK(on.button("outside-keep")->text() == QStringLiteral("Keep the change"));
  CHECK(instrumentToJson(readInstruments({})->front()) == before);
  QTest::mouseClick(on.button("outside-keep"), Qt::LeftButton);
  REQUIRE(QTest::qWaitFor([] { return readInstruments({})->front().name == "old meter"; }, 10'000));
  const auto list = readInstruments({});
  REQUIRE(list->size() == 1);
  // What the sentence has no gap for is as it was.
  CHECK(list->front().timeoutS == 2.5);
  CHECK(list->front().intervalS == 0.125);  // the gap has two decimals only
  REQUIRE(list->front().readings.size() == 2);
  CHECK(list->front().readings[0].place == "whole machine");
  CHECK(list->front().readings[0].accuracyAsWritten == "0.3 %");
  CHECK(list->front().readings[1].name == "mains");
  CHECK(list->front().readings[1].accuracyAsWritten == "1 V");
  REQUIRE(QTest::qWaitFor([&] { return !name->isVisible(); }, 10'000));
  REQUIRE(on.button("outside-put-back")->isVisible());
  CHECK(on.button("outside-put-back")->text() == QStringLiteral("Put wall meter back as it was"));
  QTest::mouseClick(on.button("outside-put-back"), Qt::LeftButton);
  REQUIRE(QTest::qWaitFor([&] { return instrumentToJson(readInstruments({})->front()) == before; }, 10'000));
}

TEST_CASE("aChangeThatIsGivenUpOrCannotBeChangesNothing") {
  const Desk desk;
  auto there = meter();
  writeMeter(desk, there->port());
  REQUIRE(addInstrument({}, {{"name", "other"},
                             {"kind", "scpi"},
                             {"address", "127.0.0.1:9"},
                             {"readings", {{{"role", "room.temp"}, {"query", "MEAS:TEMP?"}}}}}));
  OnBench on(desk);
  REQUIRE(on.comesToShow(QStringLiteral("162.5")));
  on.press(QStringLiteral("Change wall meter"));
  FormDriver form(*on.window);
  auto* name = form.find<QLineEdit>("outside-name");
  name->clear();
  form.type(name, QStringLiteral("other"));
  REQUIRE(on.comesToShow(QStringLiteral("It says 162.5")));
  QTest::mouseClick(on.button("outside-keep"), Qt::LeftButton);
  REQUIRE(on.comesToShow(QStringLiteral("\"other\" is there twice")));
  CHECK(name->isVisible());  // the sentence stays, to be mended
  CHECK_FALSE(on.button("outside-put-back")->isVisible());
  QTest::keyClick(name, Qt::Key_Escape);
  CHECK_FALSE(name->isVisible());
  CHECK(readInstruments({})->front().name == "wall meter");
  // One that was taken out can be put back, also when what is tried next is refused.
  on.press(QStringLiteral("Take other out"));
  REQUIRE(QTest::qWaitFor([&] { return on.button("outside-put-back")->isVisible(); }, 10'000));
  on.press(QStringLiteral("Change wall meter"));
  REQUIRE(addInstrument({}, {{"name", "newcomer"},
                             {"kind", "scpi"},
                             {"address", "127.0.0.1:9"},
                             {"readings", {{{"role", "noise"}, {"query", "MEAS:SPL?"}}}}}));
  name->clear();
  form.type(name, QStringLiteral("newcomer"));
  QTest::mouseClick(on.button("outside-keep"), Qt::LeftButton);
  REQUIRE(on.comesToShow(QStringLiteral("\"newcomer\" is there twice")));
  CHECK(on.button("outside-put-back")->isVisible());
  CHECK(on.button("outside-put-back")->text() == QStringLiteral("Put other back"));
  CHECK(name->isVisible());
  QTest::mouseClick(on.button("outside-put-back"), Qt::LeftButton);
  REQUIRE(QTest::qWaitFor([] { return readInstruments({})->size() == 3; }, 10'000));
  REQUIRE(QTest::qWaitFor([&] { return !on.button("outside-put-back")->isVisible(); }, 10'000));
  CHECK(name->text() == QStringLiteral("newcomer"));  // what is half typed is not lost by it
  QTest::keyClick(name, Qt::Key_Escape);
  // The next sentence is a new one.
  QTest::mouseClick(on.button("outside-add"), Qt::LeftButton);
  CHECK(form.find<QLineEdit>("outside-address")->text().isEmpty());
  CHECK(form.find<QComboBox>("outside-kind")->isEnabled());
}

TEST_CASE("aMeterIsTypedInTriedKeptReadAndTakenOut") {
  const Desk desk;
  auto there = meter();
  OnBench on(desk);
  CHECK(on.shows(QStringLiteral("no instrument yet")));
  on.typeMeter(there->port(), QStringLiteral("0.5 % + 0.2 W"));
  // Nobody has pressed anything.
  REQUIRE(on.comesToShow(QStringLiteral("It says 162.5")));
  CHECK(on.shows(QStringLiteral("Ash Gauge,Stand-in meter,0,1.0")));
  CHECK(on.button("outside-keep")->text() == QStringLiteral("Keep it"));
  CHECK(readInstruments({})->empty());
  QTest::mouseClick(on.button("outside-keep"), Qt::LeftButton);
  REQUIRE(on.comesToShow(QStringLiteral("162.5\u202fW every 1 s")));
  const auto kept = readInstruments({});
  REQUIRE(kept->size() == 1);
  CHECK(kept->front().readings.front().accuracy.percent == 0.5);
  // Its reading stands in the list of the bench.
  auto* rows = on.window->findChild<BenchRows*>();
  CHECK(QTest::qWaitFor([&] { return !rows->rowOf(QStringLiteral("instrument/wall meter/wall.power")).isEmpty(); },
                        10'000));
  there.reset();
  REQUIRE(on.comesToShow(QStringLiteral("missing: ")));
  on.press(QStringLiteral("Take wall meter out"));
  REQUIRE(on.comesToShow(QStringLiteral("no instrument yet")));
  CHECK(readInstruments({})->empty());
  // What was taken out by mistake is put back as it stood.
  REQUIRE(on.button("outside-put-back")->isVisible());
  CHECK(on.button("outside-put-back")->text() == QStringLiteral("Put wall meter back"));
  QTest::mouseClick(on.button("outside-put-back"), Qt::LeftButton);
  REQUIRE(QTest::qWaitFor([] { return readInstruments({})->size() == 1; }, 10'000));
  CHECK(readInstruments({})->front().readings.front().accuracyAsWritten == "0.5 % + 0.2 W");
}

TEST_CASE("whatDoesNotAnswerIsKeptOnlyWhenThePersonSaysSo") {
  const Desk desk;
  OnBench on(desk);
  int port = 0;
  { port = meter()->port(); }
  on.typeMeter(port);
  REQUIRE(on.comesToShow(QStringLiteral("It does not answer: nobody listens there")));
  CHECK(on.button("outside-keep")->text() == QStringLiteral("Keep it unanswered"));
  QTest::mouseClick(on.button("outside-keep"), Qt::LeftButton);
  REQUIRE(on.comesToShow(QStringLiteral("missing: nobody listens there")));
  CHECK(readInstruments({})->size() == 1);
}

TEST_CASE("whatCannotBeAskedSaysWhy") {
  const Desk desk;
  OnBench on(desk);
  on.typeMeter(9, QStringLiteral("0.5 V"));
  REQUIRE(on.comesToShow(QStringLiteral("This cannot be asked: accuracy \"0.5 V\" is no accuracy")));
  CHECK_FALSE(on.button("outside-keep")->isEnabled());
  // Escape closes the sentence and keeps nothing.
  QTest::keyClick(on.window->findChild<QLineEdit*>(QStringLiteral("outside-asked")), Qt::Key_Escape);
  CHECK_FALSE(on.window->findChild<QLineEdit*>(QStringLiteral("outside-asked"))->isVisible());
  CHECK(readInstruments({})->empty());
}

TEST_CASE("aCommandIsNotRunWhileItIsTyped") {
  const Desk desk;
  OnBench on(desk);
  const std::string trace = desk.path("ran");
  QTest::mouseClick(on.button("outside-add"), Qt::LeftButton);
  FormDriver form(*on.window);
  auto* kind = form.find<QComboBox>("outside-kind");
  form.choose(kind, QStringLiteral("Run the command"));
  form.type(form.find<QLineEdit>("outside-asked"), QStringLiteral("([0-9.]+) W"));
  form.type(form.find<QLineEdit>("outside-address"), QString::fromStdString("echo 7.5 W; touch " + trace));
  QTest::qWait(1'500);
  CHECK_FALSE(std::filesystem::exists(trace));
  QTest::mouseClick(on.button("outside-try"), Qt::LeftButton);
  REQUIRE(on.comesToShow(QStringLiteral("It says 7.5")));
  CHECK(QTest::qWaitFor([&] { return std::filesystem::exists(trace); }, 10'000));
}

TEST_CASE("aFileOfInstrumentsThatIsBrokenIsToldAndHarmsNothing") {
  const Desk desk;
  std::filesystem::create_directories(desk.path("config/ash-gauge"));
  std::ofstream(desk.path("config/ash-gauge/instruments.json")) << R"({"instruments": 1, "list": [{"name": "a"}]})";
  OnBench on(desk);
  REQUIRE(on.comesToShow(QStringLiteral("instruments.json: list[0].kind is missing.")));
}

TEST_CASE("aMicrophoneIsTakenInAndTiedToOneShownLevel") {
  const Desk desk;
  const tests::FileMicrophone file(tests::operator+(tests::toneOf(2000, -60, 120), tests::noiseOf(-90, 120)));
  OnBench on(desk);
  QTest::mouseClick(on.button("outside-add"), Qt::LeftButton);
  FormDriver form(*on.window);
  form.choose(form.find<QComboBox>("outside-kind"), QStringLiteral("Listen to the microphone"));
  // It is asked for nothing, and is noise.
  CHECK_FALSE(form.find<QLineEdit>("outside-asked")->isVisible());
  CHECK(form.find<QComboBox>("outside-role")->currentData().toString() == QStringLiteral("noise"));
  form.find<QLineEdit>("outside-address")->clear();
  form.type(form.find<QLineEdit>("outside-address"), QStringLiteral("bench"));
  form.type(form.find<QLineEdit>("outside-name"), QStringLiteral("mic"));
  REQUIRE(on.comesToShow(QStringLiteral("58.8\u202fdB")));
  QTest::mouseClick(on.button("outside-keep"), Qt::LeftButton);
  REQUIRE(on.comesToShow(QStringLiteral("a tone of 2000 Hz")));
  // Bands and tones do not crowd the list of the bench.
  auto* rows = on.window->findChild<BenchRows*>();
  CHECK(rows->rowOf(QStringLiteral("instrument/mic/noise.band2000")).isEmpty());
  CHECK_FALSE(rows->rowOf(QStringLiteral("instrument/mic/noise.relative")).isEmpty());
  // Before it is calibrated it can be changed as well: what it tells is relative, what is written of it is noise.
  on.press(QStringLiteral("Change mic"));
  CHECK(form.find<QComboBox>("outside-role")->currentData().toString() == QStringLiteral("noise"));
  CHECK(form.find<QLineEdit>("outside-address")->text() == QStringLiteral("bench"));
  form.type(form.find<QLineEdit>("outside-accuracy"), QStringLiteral("1.5 dBA"));
  QTest::mouseClick(on.button("outside-keep"), Qt::LeftButton);
  REQUIRE(QTest::qWaitFor([&] { return readInstruments({})->front().readings.front().accuracyAsWritten == "1.5 dBA"; },
                          10'000));
  REQUIRE(QTest::qWaitFor([&] { return !form.find<QLineEdit>("outside-accuracy")->isVisible(); }, 10'000));
  REQUIRE(on.comesToShow(QStringLiteral("a tone of 2000 Hz")));
  auto* shown = form.find<QLineEdit>("calibrate-shown");
  CHECK_FALSE(on.button("calibrate")->isEnabled());
  form.type(shown, QStringLiteral("41,2"));
  REQUIRE(QTest::qWaitFor([&] { return on.button("calibrate")->isEnabled(); }, 10'000));
  QTest::keyClick(shown, Qt::Key_Return);
  REQUIRE(on.comesToShow(QStringLiteral("41.2\u202fdBA")));
  // A-weighting at 2 kHz is 1.2 dB: full scale is 41.2 + 60 − 1.2.
  CHECK(readInstruments({})->front().calibrationDb == Approx(100).margin(0.1));
}
