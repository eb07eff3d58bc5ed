// SPDX-License-Identifier: GPL-3.0-or-later
// The charts of the demo book by a font's own measures: no text covers another or leaves its picture, in any size.
#include <QFontMetricsF>
#include <QRectF>
#include <QXmlStreamReader>
#include <catch2/catch.hpp>
#include <vector>

#include "app/page/chart_texts.h"
#include "app/page/page_pdf.h"
#include "book/book.h"
#include "report/report_files.h"
#include "tests/support/demo_book.h"

using namespace ash;

namespace {

struct Written {
  QString words;
  QRectF box;
};

struct Picture {
  QRectF frame;
  std::vector<Written> texts;
};

// Where the letters of a text lie: its advance, from the top of a capital to the foot of a "g".
QRectF boxOf(const QXmlStreamAttributes& at, const QString& words) {
  QFont font = pageFont(100);
  if (at.value(QLatin1String("font-weight")) == QLatin1String("600")) font.setWeight(QFont::DemiBold);
  const QFontMetricsF metrics(font);
  const double scale = at.value(QLatin1String("font-size")).toDouble() / 100;
  const double wide = scale * metrics.horizontalAdvance(words);
  const auto anchor = at.value(QLatin1String("text-anchor"));
  const double x = at.value(QLatin1String("x")).toDouble() - (anchor == QLatin1String("end")      ? wide
                                                              : anchor == QLatin1String("middle") ? wide / 2
                                                                                                  : 0);
  const double top = at.value(QLatin1String("y")).toDouble() - scale * metrics.capHeight();
  return {x, top, wide, scale * (metrics.capHeight() + 0.15 * 100)};
}

Picture pictureOf(const std::string& svg) {
  Picture picture;
  QXmlStreamReader reader(QByteArray::fromStdString(svg));
  while (!reader.atEnd()) {
    if (reader.readNext() != QXmlStreamReader::StartElement) continue;
    const QXmlStreamAttributes at = reader.attributes();
    if (reader.name() == QLatin1String("svg")) {
      const auto view = at.value(QLatin1String("viewBox")).toString().split(QLatin1Char(' '));
      picture.frame = {0, 0, view[2].toDouble(), view[3].toDouble()};
    } else if (reader.name() == QLatin1String("text")) {
      const QString words = reader.readElementText();
      if (!words.isEmpty()) picture.texts.push_back({words, boxOf(at, words)});
    }
  }
  INFO(reader.errorString().toStdString());
  CHECK_FALSE(reader.hasError());
  return picture;
}

void checkTexts(const Picture& picture) {
  CHECK(picture.texts.size() > 4);
  for (size_t i = 0; i < picture.texts.size(); ++i) {
    INFO(picture.texts[i].words.toStdString());
    CHECK(picture.frame.contains(picture.texts[i].box));
    for (size_t k = 0; k < i; ++k) {
      INFO(picture.texts[k].words.toStdString());
      CHECK_FALSE(picture.texts[i].box.intersects(picture.texts[k].box));
    }
  }
}

}  // namespace

TEST_CASE("noTextOfADemoChartCoversAnotherInAnySize") {
  const tests::Bench desk;
  tests::putDemoBook(desk, "demo.ashbook");
  const auto book = Book::open(desk.path("demo.ashbook"), BookAccess::ReadOnly);
  REQUIRE(book);
  ReportWish wish{"p", {}, {}, false};
  for (const ChartSizeInfo& info : chartSizes()) wish.sizes.push_back(info.size);
  size_t charts = 0;
  for (const Study& study : *book->studies()) {
    const auto report = gatherStudy(*book, study.name);
    REQUIRE(report);
    for (const DrawnChart& chart : drawnCharts(*report, wish)) {
      INFO(study.name << ": " << chart.file.name);
      const Picture picture = pictureOf(chart.file.bytes);
      checkTexts(picture);
      // What a drawing leaves to be written as text is all of its words, as they stand.
      QString drawing = QString::fromStdString(chart.file.bytes);
      const std::vector<WrittenText> taken = takeTexts(drawing);
      CHECK_FALSE(drawing.contains(QLatin1String("<text")));
      REQUIRE(taken.size() == picture.texts.size());
      for (size_t i = 0; i < taken.size(); ++i) CHECK(taken[i].words == picture.texts[i].words);
      ++charts;
    }
  }
  CHECK(charts > 80);
}
