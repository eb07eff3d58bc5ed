// SPDX-License-Identifier: GPL-3.0-or-later
// What a screen reader is told: every control of every station has a name, and so has what is painted.
#include <QAbstractButton>
#include <QAbstractItemView>
#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QAccessible>
#include <QComboBox>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QScrollBar>
#include <QTextBrowser>
#include <QTextDocument>
#include <catch2/catch.hpp>

#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

// What a person can put the keys on, or read; parts of other controls are theirs.
bool isControl(const QWidget* widget) {
  if (qobject_cast<const QScrollBar*>(widget) != nullptr) return false;
  const QWidget* in = widget->parentWidget();
  const bool isPart = qobject_cast<const QAbstractSpinBox*>(in) != nullptr ||
                      qobject_cast<const QComboBox*>(in) != nullptr ||
                      widget->objectName().startsWith(QStringLiteral("qt_"));
  if (isPart) return false;
  return qobject_cast<const QAbstractButton*>(widget) != nullptr || qobject_cast<const QLineEdit*>(widget) != nullptr ||
         qobject_cast<const QComboBox*>(widget) != nullptr ||
         qobject_cast<const QAbstractSpinBox*>(widget) != nullptr ||
         qobject_cast<const QAbstractSlider*>(widget) != nullptr ||
         qobject_cast<const QPlainTextEdit*>(widget) != nullptr ||
         qobject_cast<const QTextBrowser*>(widget) != nullptr ||
         (qobject_cast<const QAbstractItemView*>(widget) != nullptr && widget->focusPolicy() != Qt::NoFocus) ||
         (widget->focusPolicy() & Qt::TabFocus) != 0;
}

QString nameOf(QWidget* widget) {
  QAccessibleInterface* interface = QAccessible::queryAccessibleInterface(widget);
  return interface == nullptr ? QString() : interface->text(QAccessible::Name);
}

// Those without a name, by what tells them apart for a programmer.
QStringList unnamedOf(QWidget* root) {
  QStringList unnamed;
  for (QWidget* widget : root->findChildren<QWidget*>()) {
    if (!widget->isVisible() || !isControl(widget) || !nameOf(widget).trimmed().isEmpty()) continue;
    unnamed << QStringLiteral("%1 “%2” in %3")
                   .arg(QLatin1String(widget->metaObject()->className()), widget->objectName(),
                        QLatin1String(widget->parentWidget()->metaObject()->className()));
  }
  return unnamed;
}

// What reaches a screen reader is a tree: each widget of the window must be met on the way down.
int countOf(QAccessibleInterface* interface, int depth = 0) {
  REQUIRE(depth < 60);
  int count = 1;
  for (int i = 0; i < interface->childCount() && interface->tableInterface() == nullptr; ++i) {
    QAccessibleInterface* child = interface->child(i);
    if (child != nullptr && child->isValid() && !child->state().invisible) count += countOf(child, depth + 1);
  }
  return count;
}

}  // namespace

TEST_CASE("everyControlOfEveryStationHasAName") {
  Desk desk;
  for (const char* setup : {"Mesh", "Solid"})
    desk.ashg(std::string("run --book b.ashbook --study s --load vector --sim larch12 --speed 2000 "
                          "--phases 'idle 1min, soak 8min, measure 3min, cool 1min' --setup ") +
              setup);
  Shown shown(desk);
  for (int page = 0; page < 6; ++page) {
    QTest::keyClick(&shown.window, static_cast<Qt::Key>(Qt::Key_1 + page), Qt::ControlModifier);
    QTest::qWait(400);
    INFO("page " << page);
    CHECK(unnamedOf(&shown.window).join(QStringLiteral("; ")).toStdString() == "");
    CHECK(countOf(QAccessible::queryAccessibleInterface(&shown.window)) > 20);
  }
  // What lies over the pages.
  QTest::keyClick(&shown.window, Qt::Key_F1);
  CHECK(unnamedOf(&shown.window).join(QStringLiteral("; ")).toStdString() == "");
  QTest::keyClick(&shown.window, Qt::Key_K, Qt::ControlModifier);
  QTest::qWait(100);
  CHECK(unnamedOf(&shown.window).join(QStringLiteral("; ")).toStdString() == "");
}

TEST_CASE("whatIsPaintedIsSaid") {
  Desk desk;
  desk.ashg(
      "run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 2000 "
      "--phases 'idle 1min, soak 8min, measure 3min, cool 1min'");
  Shown shown(desk);
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  auto* rank = shown.window.findChild<QWidget*>(QStringLiteral("rank"));
  REQUIRE(shown.waitFor([&] { return rank->accessibleDescription().contains(QStringLiteral("Mesh")); }));
  CHECK(nameOf(rank) == QStringLiteral("Ranking of the setups"));
  // The figure itself, not only that there is a picture.
  CHECK(rank->accessibleDescription().contains(QRegularExpression(QStringLiteral("\\d+\\.\\d"))));
}

// The offscreen platform passes no alerts on: what is held here is what they would say.
TEST_CASE("theVerdictAStopRuleThatTripsAndNoticesAreSentencesForAScreenReader") {
  const Desk desk;
  desk.ashg(
      "run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 2000 "
      "--phases 'idle 1min, soak 8min, measure 3min'");
  desk.ashg(
      "run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 2000 "
      "--stop-rule 'cpu.temp > 50 for 2s' --phases 'idle 1min, soak 8min' || true");
  Shown shown(desk);
  const auto said = [&](const char* label) {
    auto* found = shown.window.findChild<QLabel*>(QLatin1String(label));
    return found == nullptr ? QString() : nameOf(found);
  };
  REQUIRE(shown.waitFor([&] { return shown.window.live().hasRun() && shown.window.live().outcome(); }));
  QTest::keyClick(&shown.window, Qt::Key_2, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return said("banner").contains(QStringLiteral("the rule is 50 °C for 2 s")); }));
  CHECK(said("banner") == shown.text("banner"));
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return !said("verdict").isEmpty(); }));
  CHECK_FALSE(said("verdict").contains(QLatin1Char('<')));
  QTextDocument seen;
  seen.setHtml(shown.text("verdict"));
  CHECK(said("verdict") == seen.toPlainText().trimmed());
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  CHECK(said("notice") == QStringLiteral("There is nothing to undo."));
}
