// SPDX-License-Identifier: GPL-3.0-or-later
// Many runs on Traces: no name lies on another, and what has no room is counted.
#include <qcustomplot.h>

#include <QRegularExpression>
#include <catch2/catch.hpp>
#include <map>

#include "app/traces/trace_lanes.h"
#include "tests/support/panel_book.h"

using namespace ash;
using namespace ash::tests;

namespace {

struct Placed {
  QString words;
  QRectF place;
};

// All that is written into the lanes, as it would be seen.
std::vector<Placed> textsOf(const TraceLanes& lanes) {
  auto* plot = lanes.findChild<QCustomPlot*>();
  std::vector<Placed> texts;
  for (int i = 0; i < plot->itemCount(); ++i) {
    const auto* item = qobject_cast<QCPItemText*>(plot->item(i));
    if (item != nullptr && item->visible())
      texts.push_back({item->text(), QRectF(item->topLeft->pixelPosition(), item->bottomRight->pixelPosition())});
  }
  return texts;
}

// The report with a run of the first setup over and over, each ended before its time.
std::shared_ptr<const StudyReport> withCutRuns(const StudyReport& report, int count) {
  auto many = std::make_shared<StudyReport>(report);
  for (int i = 0; i < count; ++i) {
    auto cut = std::make_shared<AnalyzedRun>(*report.runs[0]);
    RunSummary summary = report.summaries[0];
    cut->run.facts.outcome = Outcome::StoppedByHand;
    summary.info.outcome = Outcome::StoppedByHand;
    summary.info.id = cut->run.name = "cut-" + std::to_string(i);
    summary.info.repeat = 10 + i;
    many->runs.push_back(cut);
    many->summaries.push_back(summary);
  }
  return many;
}

}  // namespace

TEST_CASE("namesOfManyRunsDoNotLieOnEachOtherAndTheRestIsCounted") {
  const PanelBook book;
  ShownPanels shown(book);
  for (const int count : {0, 3, 20}) {
    INFO(count << " cut runs");
    const auto report = withCutRuns(*shown.desk().report(), count);
    TraceChoice choice;
    for (const auto& run : report->runs) choice.runs.insert(run->run.name);
    TraceLanes lanes(nullptr);
    lanes.resize(1000, 640);
    lanes.QWidget::show();
    lanes.show(report, choice, true);
    REQUIRE(QTest::qWaitForWindowExposed(&lanes));
    QTest::qWait(50);
    REQUIRE(lanes.laneCount() >= 3);
    const auto texts = textsOf(lanes);
    int hidden = 0, endings = 0;
    for (size_t i = 0; i < texts.size(); ++i) {
      INFO(texts[i].words.toStdString());
      const auto counted = QRegularExpression(QStringLiteral("^and (\\d+) more$")).match(texts[i].words);
      hidden = std::max(hidden, counted.captured(1).toInt());
      endings += texts[i].words.contains(QStringLiteral("stopped by hand"));
      for (size_t j = i + 1; j < texts.size(); ++j) {
        if (texts[i].words == QStringLiteral("╳") || texts[j].words == QStringLiteral("╳")) continue;
        // Two pixels of a line's height are empty.
        INFO(texts[j].words.toStdString());
        CHECK_FALSE(texts[i].place.adjusted(0, 2, 0, -2).intersects(texts[j].place.adjusted(0, 2, 0, -2)));
      }
    }
    // They all ended at one place: it is said once.
    CHECK(endings == (count > 0 ? 1 : 0));
    CHECK((count == 20) == (hidden > 0));
    // Whatever else has no room, each of the two setups is named in the lanes.
    std::map<QString, int> named;
    for (const Placed& one : texts) {
      for (const char* setup : {"solid", "mesh"})
        named[QLatin1String(setup)] += one.words.contains(QLatin1String(setup));
    }
    CHECK(named["solid"] >= lanes.laneCount());
    CHECK(named["mesh"] >= lanes.laneCount());
  }
}
