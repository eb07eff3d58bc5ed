// SPDX-License-Identifier: GPL-3.0-or-later
// F1 on every place, the definition of a figure, and the tour.
#include <QApplication>
#include <QTableWidget>
#include <QTextBrowser>
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/catalogue/figure_kinds.h"
#include "app/help/figure_help.h"
#include "app/standings/standings_station.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

struct OneRun : Desk {
  OneRun() {
    ashg(
        "run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 2000 "
        "--phases 'idle 1min, soak 8min, measure 3min, cool 1min'");
  }
};

QWidget* card(const Shown& shown) { return shown.window.findChild<QWidget*>(QStringLiteral("help")); }

// Half a page: no more than fits a window, and no less than a person comes for.
bool isHalfAPage(const QString& words) {
  const auto count = words.split(QRegularExpression(QStringLiteral("\\s+")), Qt::SkipEmptyParts).size();
  return count >= 40 && count <= 260;
}

}  // namespace

TEST_CASE("f1ExplainsThePlaceAndEscGoesBack") {
  const OneRun desk;
  Shown shown(desk);
  const char* titles[] = {"Plan", "Watch", "Traces", "Standings", "Write-up", "Readings"};
  for (int page = 0; page < 6; ++page) {
    INFO(titles[page]);
    QTest::keyClick(&shown.window, static_cast<Qt::Key>(Qt::Key_1 + page), Qt::ControlModifier);
    REQUIRE(shown.waitFor([&] { return QApplication::focusWidget() != nullptr; }));
    QWidget* before = QApplication::focusWidget();
    QTest::keyClick(&shown.window, Qt::Key_F1);
    REQUIRE(card(shown)->isVisible());
    CHECK(shown.text("help-title") == QLatin1String(titles[page]));
    CHECK(isHalfAPage(shown.window.findChild<QTextBrowser*>(QStringLiteral("help-words"))->toPlainText()));
    // In the window, whole.
    CHECK(card(shown)->parentWidget()->rect().contains(card(shown)->geometry()));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
    CHECK_FALSE(card(shown)->isVisible());
    CHECK(QApplication::focusWidget() == before);
  }
  // The key that opens it closes it, and so does going elsewhere.
  QTest::keyClick(&shown.window, Qt::Key_F1);
  QTest::keyClick(&shown.window, Qt::Key_F1);
  CHECK_FALSE(card(shown)->isVisible());
  QTest::keyClick(&shown.window, Qt::Key_F1);
  QTest::keyClick(&shown.window, Qt::Key_1, Qt::ControlModifier);
  CHECK_FALSE(card(shown)->isVisible());
}

TEST_CASE("aPressOnAFigureTellsItsDefinitionAndHowItIsWorkedOut") {
  const OneRun desk;
  Shown shown(desk);
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  auto* table = shown.window.standings()->findChild<QTableWidget*>(QStringLiteral("figures"));
  REQUIRE(shown.waitFor([&] { return table->rowCount() > 5; }));
  int row = 0;
  while (row < table->rowCount() && !table->item(row, 0)->text().startsWith(QStringLiteral("CPU thermal resistance")))
    ++row;
  REQUIRE(row < table->rowCount());
  table->scrollToItem(table->item(row, 0));
  QTest::mouseClick(table->viewport(), Qt::LeftButton, Qt::NoModifier,
                    table->visualItemRect(table->item(row, 0)).center());
  REQUIRE(card(shown) != nullptr);
  REQUIRE(card(shown)->isVisible());
  const QString words = shown.window.findChild<QTextBrowser*>(QStringLiteral("help-words"))->toPlainText();
  CHECK(shown.text("help-title") == QStringLiteral("CPU thermal resistance"));
  CHECK(words.contains(QStringLiteral("Lower is better.")));
  // The formula, as docs/method.md has it.
  CHECK(words.contains(QStringLiteral("R = (T − T_room)/P")));
}

TEST_CASE("whatAKelvinCostsIsDefinedAtAPressAsWell") {
  const Desk desk;
  {
    auto made = Book::create(desk.path("b.ashbook"));
    Study study;
    study.name = "fans";
    study.setups = {{"slow", Json::object(), {{"fan_duty", 40}, {"price", 10}}, Json::object()},
                    {"fast", Json::object(), {{"fan_duty", 100}, {"price", 29}}, Json::object()}};
    study.loads = {{"vector", {{"kind", "vector"}}}};
    REQUIRE(made->putStudy({}, study));
  }
  for (const char* setup : {"slow", "fast"}) {
    for (const char* seed : {"1", "2", "3"})
      desk.ashg(std::string("run --book b.ashbook --study fans --load vector --setup ") + setup + " --seed " + seed +
                " --sim larch12 --speed 1e6 --phases 'idle 1min, soak settled 8min..40min, measure 4min'");
  }
  Shown shown(desk);
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  auto* table = shown.window.standings()->findChild<QTableWidget*>(QStringLiteral("figures"));
  const auto rowOf = [&](const char* name) {
    for (int row = 0; row < table->rowCount(); ++row)
      if (table->item(row, 0)->text().startsWith(QLatin1String(name))) return row;
    return -1;
  };
  REQUIRE(shown.waitFor([&] { return rowOf("Price of a kelvin") > 0; }));
  const int row = rowOf("Price of a kelvin");
  // What stands there is what the words say: the price over the difference of the figure that is ranked by.
  const Comparison& comparison = shown.window.desk().report()->loads[0].comparison;
  const ComparisonRow& fast = *std::find_if(comparison.rows.begin(), comparison.rows.end(),
                                            [](const ComparisonRow& one) { return one.setup == "fast"; });
  const double kelvin = std::abs(fast.metrics.at(Figure(DeviceKind::Cpu, FigureId::OverRoom)).difference);
  QStringList cells;
  for (int column = 1; column < table->columnCount(); ++column) {
    if (const auto* cell = table->item(row, column); cell != nullptr && !cell->text().isEmpty()) cells << cell->text();
  }
  REQUIRE(cells.size() == 1);
  CHECK(cells[0].toDouble() == Approx(19 / kelvin).margin(0.006));
  table->scrollToItem(table->item(row, 0));
  QTest::mouseClick(table->viewport(), Qt::LeftButton, Qt::NoModifier,
                    table->visualItemRect(table->item(row, 0)).center());
  REQUIRE(card(shown) != nullptr);
  CHECK(card(shown)->isVisible());
  CHECK(shown.text("help-title") == QStringLiteral("Price of a kelvin"));
  CHECK(shown.window.findChild<QTextBrowser*>(QStringLiteral("help-words"))
            ->toPlainText()
            .contains(QStringLiteral("(P − P_ref) ÷ |Δ|")));
}

TEST_CASE("everyFigureHasASectionOfTheMethod") {
  for (const FigureKind& kind : catalogue::kKinds) {
    const QString heading = methodSectionOf(kind.id);
    INFO(heading.toStdString());
    CHECK(methodSection(heading).size() > 200);
    CHECK(helpOf(Figure(kind.id)).words.contains(methodSection(heading)));
  }
  CHECK(methodSection(QStringLiteral("No such section")).isEmpty());
}

TEST_CASE("theTourGoesThroughTheStationsAndIsLeftWithEsc") {
  const OneRun desk;
  Shown shown(desk);
  const auto begin = [&] {
    QTest::keyClick(&shown.window, Qt::Key_K, Qt::ControlModifier);
    auto* line = shown.window.findChild<QLineEdit*>(QStringLiteral("finder-line"));
    REQUIRE(shown.waitFor([&] { return line->isVisible(); }));
    QTest::keyClicks(line, QStringLiteral("tour in five"));
    QTest::keyClick(line, Qt::Key_Return);
  };
  begin();
  auto* tour = shown.window.findChild<QWidget*>(QStringLiteral("tour"));
  REQUIRE(shown.waitFor([&] { return tour->isVisible(); }));
  QStringList sentences;
  QList<int> places;
  for (int step = 0; step < 5; ++step) {
    sentences << shown.text("tour-sentence");
    places << shown.window.page();
    REQUIRE(tour->isVisible());
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
  }
  CHECK_FALSE(tour->isVisible());
  CHECK(places == QList<int>{0, 1, 2, 3, 4});
  sentences.removeDuplicates();
  CHECK(sentences.size() == 5);
  for (const QString& sentence : sentences) CHECK(sentence.endsWith(QLatin1Char('.')));
  begin();
  REQUIRE(shown.waitFor([&] { return tour->isVisible(); }));
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
  CHECK_FALSE(tour->isVisible());
  CHECK(shown.window.page() == 1);
}

TEST_CASE("aBookThatWasOpenBeforeIsFoundByItsName") {
  const OneRun one;
  OneRun other;
  std::filesystem::rename(other.path("b.ashbook"), other.path("winter.ashbook"));
  Shown shown(one);
  shown.window.openBook(QString::fromStdString(other.path("winter.ashbook")));
  REQUIRE(shown.waitFor([&] { return shown.window.windowTitle().startsWith(QStringLiteral("winter ")); }));
  shown.window.openBook(one.book());
  REQUIRE(shown.waitFor([&] { return shown.window.windowTitle().startsWith(QStringLiteral("b ")); }));
  QTest::keyClick(&shown.window, Qt::Key_K, Qt::ControlModifier);
  auto* line = shown.window.findChild<QLineEdit*>(QStringLiteral("finder-line"));
  REQUIRE(shown.waitFor([&] { return line->isVisible(); }));
  QTest::keyClicks(line, QStringLiteral("winter"));
  QTest::keyClick(line, Qt::Key_Return);
  CHECK(shown.waitFor([&] { return shown.window.windowTitle().startsWith(QStringLiteral("winter ")); }));
}
