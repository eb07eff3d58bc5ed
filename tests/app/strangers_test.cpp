// SPDX-License-Identifier: GPL-3.0-or-later
// Books from elsewhere in the window: what they would run is asked for, what they say is shown as text, and none takes
// the window down twice.
#include <QComboBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSettings>
#include <QTest>
#include <QToolTip>
#include <catch2/catch.hpp>

#include "app/allow/allow_card.h"
#include "app/look/parts.h"
#include "app/shell/settings.h"
#include "system/confirmed.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::FormDriver;
using tests::Shown;

namespace {

/// A book as a stranger makes it: one cell, whose load is a command.
struct StrangersBook : Desk {
  explicit StrangersBook(const std::string& study = "theirs") {
    auto made = Book::create(path("b.ashbook"));
    Study theirs;
    theirs.name = study;
    theirs.plan = {{"phases", "soak 20s"}, {"repeats", 1}};
    theirs.setups = {{"box", Json::object(), Json::object(), Json::object()}};
    theirs.loads = {{"render",
                     {{"kind", "command"},
                      {"command", "touch '" + path("ran") + "'; sleep 0.3"},
                      {"repeats", 1},
                      {"environment", {{"PATH", "/usr/bin:/bin"}}}}}};
    REQUIRE(made->putStudy({}, theirs));
  }
  bool hasRun() const { return std::filesystem::exists(path("ran")); }
};

void pressStart(Shown& shown) {
  FormDriver form(shown.window);
  QTest::keyClick(&shown.window, Qt::Key_1, Qt::ControlModifier);
  if (auto* confirm = form.find<QPushButton>("confirm-change"); confirm->isVisible())
    QTest::mouseClick(confirm, Qt::LeftButton);
  auto* start = form.find<QPushButton>("plan-start");
  REQUIRE(Shown::waitFor([&] { return start->isEnabled(); }));
  QTest::mouseClick(start, Qt::LeftButton);
}

}  // namespace

TEST_CASE("aStrangersCommandIsAskedForWithItsWholeText") {
  const StrangersBook desk;
  Shown shown(desk);
  auto* card = shown.window.findChild<AllowCard*>(QStringLiteral("allow-card"));
  REQUIRE(card != nullptr);
  CHECK_FALSE(card->isVisible());
  pressStart(shown);
  REQUIRE(Shown::waitFor([&] { return card->isVisible(); }));
  const QString whole = card->findChild<QPlainTextEdit*>(QStringLiteral("allow-whole"))->toPlainText();
  CHECK(whole.contains(QStringLiteral("load render")));
  CHECK(whole.contains(QStringLiteral("command: touch '%1'; sleep 0.3").arg(QString::fromStdString(desk.path("ran")))));
  CHECK(whole.contains(QStringLiteral("environment.PATH: /usr/bin:/bin")));
  // Enter, pressed in haste, allows nothing.
  QTest::keyClick(card->findChild<QPlainTextEdit*>(QStringLiteral("allow-whole")), Qt::Key_Return);
  CHECK(card->isVisible());
  QTest::mouseClick(card->findChild<QPushButton*>(QStringLiteral("allow-not-now")), Qt::LeftButton);
  CHECK_FALSE(card->isVisible());
  QTest::qWait(300);
  CHECK_FALSE(desk.hasRun());
  CHECK(shown.window.desk().runs().empty());
  pressStart(shown);
  REQUIRE(Shown::waitFor([&] { return card->isVisible(); }));
  QTest::mouseClick(card->findChild<QPushButton*>(QStringLiteral("allow-here")), Qt::LeftButton);
  REQUIRE(Shown::waitFor([&] { return desk.hasRun(); }));
  REQUIRE(Shown::waitFor([&] { return shown.model().hasRun() && !shown.model().isGoingOn(); }));
  CHECK(*shown.model().outcome() == Outcome::Completed);
  // It is asked once.
  CHECK(shown.window.desk().unconfirmed("theirs", "box", "render").empty());
}

TEST_CASE("aCommandThatWasTypedInTheWindowStartsFromThere") {
  const Desk desk;
  Shown shown(desk);
  FormDriver form(shown.window);
  REQUIRE(Shown::waitFor([&] { return form.find<QLineEdit>("new-study-name")->isVisible(); }));
  QTest::keyClicks(form.find<QLineEdit>("new-study-name"), "mine");
  auto* setups = form.find<QPlainTextEdit>("new-study-setups");
  setups->setFocus();
  QTest::keyClicks(setups, "box");
  auto* vector = form.find<QWidget>("load-vector");
  QTest::mouseClick(vector, Qt::LeftButton, {}, QPoint(8, vector->height() / 2));
  form.type(form.find<QLineEdit>("new-study-more-loads"),
            QStringLiteral("Render = command command=\"touch '%1'; sleep 0.3\" repeats=1")
                .arg(QString::fromStdString(desk.path("ran"))));
  QTest::mouseClick(form.find<QPushButton>("make-study"), Qt::LeftButton);
  REQUIRE(
      Shown::waitFor([&] { return shown.window.desk().study() != nullptr && shown.window.desk().study()->id != 0; }));
  QTest::mouseClick(form.find<QPushButton>("change-phases"), Qt::LeftButton);
  form.type(form.find<QLineEdit>("plan-phases"), "soak 20s");
  QTest::keyClick(form.find<QLineEdit>("plan-phases"), Qt::Key_Return);
  REQUIRE(Shown::waitFor([&] { return shown.window.desk().plan().phases == "soak 20s"; }));
  pressStart(shown);
  CHECK(Shown::waitFor([&] { return std::filesystem::exists(desk.path("ran")); }));
  CHECK_FALSE(shown.window.findChild<AllowCard*>(QStringLiteral("allow-card"))->isVisible());
  CHECK(Shown::waitFor([&] { return shown.model().hasRun() && !shown.model().isGoingOn(); }));
}

TEST_CASE("aStrangersMarkupIsShownAsItsText") {
  const StrangersBook desk("<b>theirs</b><img src='/etc/hostname'>");
  Shown shown(desk);
  FormDriver form(shown.window);
  for (const int station : {0, 1, 2, 3, 4, 5}) {
    shown.window.goTo(station);
    QTest::qWait(30);
    for (const QLabel* label : shown.window.findChildren<QLabel*>()) {
      INFO(label->objectName().toStdString() << ": " << label->text().toStdString());
      CHECK(label->textFormat() != Qt::AutoText);
      if (label->textFormat() == Qt::RichText) CHECK_FALSE(label->text().contains(QStringLiteral("<img")));
    }
  }
}

TEST_CASE("toolTipsArePlainText") {
  look::keepLabelsPlain(qApp);
  QWidget host;
  host.show();
  REQUIRE(QTest::qWaitForWindowExposed(&host));
  QToolTip::showText(host.mapToGlobal(QPoint(5, 5)), QStringLiteral("<b>fat</b>"), &host);
  const QLabel* tip = nullptr;
  REQUIRE(Shown::waitFor([&] {
    for (const QWidget* widget : QApplication::topLevelWidgets())
      if (widget->inherits("QTipLabel")) tip = qobject_cast<const QLabel*>(widget);
    return tip != nullptr && tip->isVisible();
  }));
  CHECK(tip->textFormat() == Qt::PlainText);
  CHECK(tip->text() == QStringLiteral("<b>fat</b>"));
  QToolTip::hideText();
}

TEST_CASE("aBookThatCannotBeOpenedIsNotOpenedByItselfAgain") {
  const Desk desk;
  desk.write("b.ashbook",
             "no book at all, but long enough to be looked at as one ................................"
             "...............................................................................");
  Settings().setLastBook(desk.book());
  {
    MainWindow window(QStringLiteral(ASHG_PROGRAM));
    window.show();
    window.openBook(desk.book());
    REQUIRE(Shown::waitFor([&] {
      auto* notice = window.findChild<QLabel*>(QStringLiteral("notice"));
      return notice != nullptr && notice->isVisible();
    }));
    CHECK(Settings().lastBook().isEmpty());
    CHECK(Settings().openingBook().isEmpty());
  }
  // One with which the window went down is still marked.
  Settings().setLastBook(desk.book());
  Settings().setOpeningBook(desk.book());
  {
    MainWindow window(QStringLiteral(ASHG_PROGRAM));
    window.show();
    REQUIRE(QTest::qWaitForWindowExposed(&window));
    QTest::qWait(50);
    bool isTold = false;
    for (const QLabel* label : window.findChildren<QLabel*>())
      isTold |= label->text().contains(QStringLiteral("so it is not opened by itself"));
    CHECK(isTold);
  }
  Settings().setLastBook({});
}

TEST_CASE("aNameThatIsNoUtf8MakesNoOtherBook") {
  const Desk desk;
  MainWindow window(QStringLiteral(ASHG_PROGRAM));
  window.show();
  window.openBook(QString::fromStdString(desk.path("a")) + QChar(QChar::ReplacementCharacter) +
                  QStringLiteral(".ashbook"));
  QTest::qWait(200);
  CHECK(std::filesystem::is_empty(desk.path()));
}
