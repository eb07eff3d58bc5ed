// SPDX-License-Identifier: GPL-3.0-or-later
// The write-up leaves the window in every format, with what was just edited, and can be given up.
#include <QComboBox>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/study/study_desk.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

/// One run on the simulated bench, and Write-up.
struct WrittenDesk {
  WrittenDesk() {
    setenv("XDG_CONFIG_HOME", desk.path("config").c_str(), 1);
    desk.ashg(
        "run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 1e6 --phases "
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
  CHECK(at.find<QLineEdit>("export-path")->text().endsWith(QStringLiteral("/mine-1.png")));
  at.click();
  at.tells("mine-1.png and 1 more");
  CHECK(tests::readFile(at.desk.path("mine-2.png")).starts_with("\x89PNG"));
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
