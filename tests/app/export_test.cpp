// SPDX-License-Identifier: GPL-3.0-or-later
// The write-up leaves the window in every format, with what was just edited, and can be given up.
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTest>
#include <QTextBrowser>
#include <QUndoStack>
#include <catch2/catch.hpp>
#include <filesystem>

#include "app/study/study_desk.h"
#include "app/traces/traces_station.h"
#include "app/writeup/export_panel.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

/// One run on the simulated bench, and Write-up.
struct WrittenDesk {
  explicit WrittenDesk(const std::string& study = "s") {
    setenv("XDG_CONFIG_HOME", desk.path("config").c_str(), 1);
    desk.ashg("run --book b.ashbook --study=" + study +
              " --setup Mesh --load vector --sim larch12 --speed 1e6 --phases "
              "'idle 1min, soak settled 8min..30min, measure 5min'");
    shown.emplace(desk);
    shown->window.goTo(4);
    REQUIRE(shown->waitFor([&] { return out()->isEnabled(); }));
  }
  template <typename T>
  T* find(const char* name) {
    auto* found = shown->window.findChild<T*>(QLatin1String(name));
    REQUIRE(found != nullptr);
    return found;
  }
  QPushButton* out() { return find<QPushButton>("export"); }
  void choose(const char* words) {
    auto* format = find<QComboBox>("export-format");
    format->setFocus();
    for (int i = 0; i < format->count() && !format->currentText().contains(QLatin1String(words)); ++i)
      QTest::keyClick(format, Qt::Key_Down);
    REQUIRE(format->currentText().contains(QLatin1String(words)));
  }
  void type(const std::string& path) {
    auto* line = find<QLineEdit>("export-path");
    line->selectAll();
    QTest::keyClicks(line, QString::fromStdString(path));
  }
  void click() { QTest::mouseClick(out(), Qt::LeftButton); }
  QString told() { return shown->text("written"); }
  bool tells(const char* words) {
    const bool told = shown->waitFor([&] { return this->told().contains(QLatin1String(words)); });
    INFO(this->told().toStdString());
    CHECK(told);
    return told;
  }

  Desk desk;
  std::optional<Shown> shown;
};

}  // namespace

TEST_CASE("aFormatIsChosenByKeysAndItsFileFollows") {
  WrittenDesk at;
  CHECK(at.find<QLineEdit>("export-path")->text().endsWith(QStringLiteral("/s.html")));
  at.choose("PDF");
  CHECK(at.find<QLineEdit>("export-path")->text().endsWith(QStringLiteral("/s.pdf")));
  at.type(at.desk.path("mine.pdf"));
  at.click();
  at.tells("mine.pdf");
  CHECK(tests::readFile(at.desk.path("mine.pdf")).starts_with("%PDF-1."));
  CHECK(at.out()->text() == QStringLiteral("Export"));
  at.find<QComboBox>("export-format")->setCurrentIndex(0);
  at.choose("PNG");
  CHECK(at.find<QLineEdit>("export-path")->text().endsWith(QStringLiteral("/mine-answer.png")));
  at.click();
  at.tells("mine-answer.png and 3 more");
  CHECK(tests::readFile(at.desk.path("mine-warm-up.png")).starts_with("\x89PNG"));
}

TEST_CASE("whatWasJustEditedIsInTheFile") {
  WrittenDesk at;
  at.choose("JSON");
  at.type(at.desk.path("now.json"));
  at.shown->window.desk().edit(QStringLiteral("question"),
                               [](Study& study, StudyPlan&) { study.question = "Asked a moment ago?"; });
  at.click();
  at.tells("now.json");
  CHECK(Json::parse(tests::readFile(at.desk.path("now.json")))["question"] == "Asked a moment ago?");
}

TEST_CASE("anExportIsGivenUpAndOneThatCannotBeSaysWhy") {
  WrittenDesk at;
  at.choose("PDF");
  at.type(at.desk.path("never.pdf"));
  at.click();
  CHECK(at.out()->text() == QStringLiteral("Give up"));
  at.click();
  at.tells("Given up");
  CHECK(at.out()->text() == QStringLiteral("Export"));
  QTest::qWait(300);
  CHECK_FALSE(QFileInfo::exists(QString::fromStdString(at.desk.path("never.pdf"))));
  // A file stands where the folder should be.
  at.type(at.desk.path("b.ashbook") + "/x.pdf");
  at.click();
  at.tells("b.ashbook");
  CHECK_FALSE(at.told().startsWith(QStringLiteral("Written")));
  CHECK(at.find<QLabel>("written")->property("problem").toBool());
}

TEST_CASE("aStudyThatIsNamedLikeAnOptionIsExported") {
  WrittenDesk at("--dark");
  at.choose("JSON");
  at.type(at.desk.path("dashed.json"));
  at.click();
  at.tells("dashed.json");
  CHECK(Json::parse(tests::readFile(at.desk.path("dashed.json")))["study"] == "--dark");
}

TEST_CASE("whileItIsWrittenItSaysHowFarItIs") {
  WrittenDesk at;
  // Stands for a large study: it tells, and waits to be let go on.
  const std::string script = at.desk.write("slow",
                                           "#!/bin/sh\n"
                                           "echo '2 of 30 runs worked out …' >&2\n"
                                           "while [ ! -e '" +
                                               at.desk.path("on") +
                                               "' ]; do sleep 0.02; done\n"
                                               "echo 'Drawing pdf …' >&2; sleep 0.3; echo /made/up.pdf\n");
  std::filesystem::permissions(script, std::filesystem::perms::owner_all);
  at.find<ExportPanel>("export-panel")->setProgram(QString::fromStdString(script));
  at.choose("PDF");
  at.click();
  at.tells("2 of 30 runs worked out");
  CHECK_FALSE(at.find<QLabel>("written")->property("problem").toBool());
  at.desk.write("on", "");
  at.tells("Drawing pdf");
  at.tells("Written: /made/up.pdf");
}

TEST_CASE("chartsAreExportedInTheSizeThatIsChosen") {
  WrittenDesk at;
  auto* size = at.find<QComboBox>("export-size");
  CHECK_FALSE(size->isVisible());
  at.choose("Charts, any size");
  CHECK(size->isVisible());
  size->setFocus();
  while (!size->currentText().contains(QStringLiteral("phone"))) QTest::keyClick(size, Qt::Key_Down);
  QTest::keyClick(at.find<QCheckBox>("export-dark"), Qt::Key_Space);
  at.click();
  at.tells("Written: ");
  CHECK(QFileInfo::exists(QString::fromStdString(at.desk.path("s-answer-phone-dark.svg"))));
  CHECK_FALSE(QFileInfo::exists(QString::fromStdString(at.desk.path("s-answer.svg"))));
}

TEST_CASE("aLicenceIsStatedAndUndone") {
  WrittenDesk at;
  auto* licence = at.find<QLineEdit>("licence");
  licence->setFocus();
  QTest::keyClicks(licence, QStringLiteral("CC BY 4.0"));
  QTest::keyClick(licence, Qt::Key_Return);
  auto* page = at.find<QTextBrowser>("preview");
  CHECK(at.shown->waitFor([&] { return page->toPlainText().contains(QStringLiteral("charts: CC BY 4.0.")); }));
  QTest::keyClick(&at.shown->window, Qt::Key_Z, Qt::ControlModifier);
  CHECK(at.shown->waitFor([&] { return !page->toPlainText().contains(QStringLiteral("CC BY")); }));
}

TEST_CASE("aFigureInACommentIsThatOfThePage") {
  WrittenDesk at;
  auto* page = at.find<QTextBrowser>("preview");
  REQUIRE(at.shown->waitFor([&] { return page->toPlainText().contains(QStringLiteral("Notes")); }));
  QPushButton* chip = nullptr;
  at.shown->waitFor([&] {
    for (auto* button : at.shown->window.findChildren<QPushButton*>()) {
      if (button->isVisible() && button->toolTip().contains(QStringLiteral("stays true"))) chip = button;
    }
    return chip != nullptr;
  });
  REQUIRE(chip != nullptr);
  const QString figure = chip->text().section(QStringLiteral(": "), 1);
  QTest::mouseClick(chip, Qt::LeftButton);
  auto* comment = at.find<QPlainTextEdit>("block-comment");
  CHECK(comment->toPlainText().startsWith(QStringLiteral("{Mesh: ")));
  QTest::keyClicks(comment, QStringLiteral(" is little."));
  QTest::keyClick(comment, Qt::Key_Return, Qt::ControlModifier);
  // Whatever spaces a text document makes of thin ones.
  const auto plain = [](QString words) {
    return words.replace(QChar(0x202F), QChar(' ')).replace(QChar(0xA0), QChar(' '));
  };
  const bool isThere = at.shown->waitFor(
      [&] { return plain(page->toPlainText()).contains(plain(figure) + QStringLiteral(" is little.")); });
  INFO(figure.toStdString() << "\n" << page->toPlainText().toStdString());
  CHECK(isThere);
}

// The comment field over the page, and one line of what it says now.
TEST_CASE("wordsAreWrittenOnThePageItself") {
  WrittenDesk at;
  auto* page = at.find<QTextBrowser>("preview");
  REQUIRE(at.shown->waitFor([&] { return page->toPlainText().contains(QStringLiteral("Notes")); }));
  auto* inPlace = at.find<QPlainTextEdit>("comment-in-place");
  REQUIRE_FALSE(inPlace->isVisible());
  // Into the middle of the first block.
  QTest::mouseDClick(page->viewport(), Qt::LeftButton, Qt::NoModifier, {200, 60});
  REQUIRE(inPlace->isVisible());
  QTest::keyClicks(inPlace, QStringLiteral("First line,"));
  QTest::keyClick(inPlace, Qt::Key_Return);
  QTest::keyClick(inPlace, Qt::Key_Return);
  QTest::keyClicks(inPlace, QStringLiteral("- a list"));
  // The field at the left has the same words.
  CHECK(at.find<QPlainTextEdit>("block-comment")->toPlainText() == QStringLiteral("First line,\n\n- a list"));
  QTest::keyClick(inPlace, Qt::Key_Return, Qt::ControlModifier);
  CHECK_FALSE(inPlace->isVisible());
  REQUIRE(at.shown->waitFor([&] { return page->toPlainText().contains(QStringLiteral("First line,\na list")); }));
  // Given up with Esc, nothing changes.
  QTest::mouseDClick(page->viewport(), Qt::LeftButton, Qt::NoModifier, {200, 60});
  REQUIRE(inPlace->isVisible());
  QTest::keyClicks(inPlace, QStringLiteral(" and more"));
  QTest::keyClick(inPlace, Qt::Key_Escape);
  CHECK_FALSE(inPlace->isVisible());
  CHECK(inPlace->toPlainText() == QStringLiteral("First line,\n\n- a list"));
  CHECK_FALSE(page->toPlainText().contains(QStringLiteral("and more")));
}

// By the three lines in the margin.
TEST_CASE("aBlockIsMovedByItsHandle") {
  WrittenDesk at;
  auto* page = at.find<QTextBrowser>("preview");
  auto* list = at.find<QListWidget>("blocks");
  REQUIRE(
      at.shown->waitFor([&] { return page->toPlainText().contains(QStringLiteral("Notes")) && list->count() > 4; }));
  const auto idOf = [&](int row) { return list->item(row)->data(Qt::UserRole).toString(); };
  const QString second = idOf(1), third = idOf(2), fourth = idOf(3);
  // Where the handle of a block is, once it is scrolled to.
  const auto handleOf = [&](const QString& id) {
    for (int y = 0; y < page->viewport()->height(); ++y) {
      QTest::mouseMove(page->viewport(), {20, y});
      if (page->viewport()->cursor().shape() == Qt::SizeVerCursor) return QPoint(20, y + 4);
    }
    FAIL("no handle of " << id.toStdString());
    return QPoint();
  };
  page->scrollToAnchor(third);
  const QPoint handle = handleOf(third);
  // Given up with Esc: it stays where it was.
  QTest::mousePress(page->viewport(), Qt::LeftButton, Qt::NoModifier, handle);
  QTest::mouseMove(page->viewport(), handle - QPoint(0, 60));
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
  QTest::mouseRelease(page->viewport(), Qt::LeftButton, Qt::NoModifier, handle - QPoint(0, 60));
  QTest::qWait(50);
  CHECK(idOf(2) == third);
  CHECK_FALSE(at.shown->window.desk().undoStack().canUndo());
  QTest::mousePress(page->viewport(), Qt::LeftButton, Qt::NoModifier, handle);
  // Up to the block before it.
  QTest::mouseMove(page->viewport(), handle - QPoint(0, 10));
  page->scrollToAnchor(second);
  QTest::mouseMove(page->viewport(), {20, 12});
  QTest::mouseRelease(page->viewport(), Qt::LeftButton, Qt::NoModifier, {20, 12});
  REQUIRE(at.shown->waitFor([&] { return idOf(1) == third; }));
  CHECK(idOf(2) == second);
  CHECK(idOf(3) == fourth);
  at.shown->window.desk().undoStack().undo();
  REQUIRE(at.shown->waitFor([&] { return idOf(1) == second; }));
}

// A number of the page leads to its runs in Traces.
TEST_CASE("aNumberOfThePageLeadsToItsRuns") {
  WrittenDesk at;
  auto* page = at.find<QTextBrowser>("preview");
  REQUIRE(at.shown->waitFor([&] { return page->toPlainText().contains(QStringLiteral("Notes")); }));
  // The first link that is in view.
  QPoint spot(-1, -1);
  for (int y = 0; y < page->viewport()->height() && spot.x() < 0; y += 4) {
    for (int x = 0; x < page->viewport()->width() && spot.x() < 0; x += 4) {
      if (page->anchorAt({x, y}).startsWith(QStringLiteral("#note-1-1-"))) spot = {x, y};
    }
  }
  REQUIRE(spot.x() >= 0);
  QTest::mouseClick(page->viewport(), Qt::LeftButton, Qt::NoModifier, spot);
  CHECK(at.shown->waitFor([&] { return !page->isVisible(); }));
  CHECK(at.shown->window.findChild<TracesStation*>() != nullptr);
}
