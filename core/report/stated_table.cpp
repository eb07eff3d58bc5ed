// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/stated_table.h"

#include "report/answer/answer.h"
#include "report/answer/stated.h"
#include "report/markup/page_parts.h"

namespace ash {

Markup statedTable(const StudyReport& report) {
  Element head("tr");
  for (const char* title : {"Setup", "Load", "Figure", "Said", "By", "Measured", "Came out", "When it was written"})
    head.add(Element("th").text(title));
  Markup rows;
  for (const LoadStanding& load : report.loads) {
    for (const StatedOutcome& outcome : outcomesOf(report, load)) {
      const StatedFigure& one = *outcome.stated;
      const Figure figure(one.figure);
      const std::string measured = outcome.row == nullptr ? "–"
                                   : one.isDifference     ? differenceText(*outcome.row, figure)
                                                          : valueAndMargin(*outcome.row, figure);
      Element line("tr");
      for (const std::string& words :
           {one.setup, load.load, figure.title(), statedRange(one) + (one.isDifference ? " against the reference" : ""),
            statedBy(one), measured, outcomeWords(outcome), statedHistory(one, report.summaries)})
        line.add(Element("td").text(words));
      rows.add(line).lineEnd();
    }
  }
  if (rows.isEmpty()) return {};
  Markup all = scrolledTable(head, rows);
  return all.add(
      softLine("Nothing of this was measured here, and nothing is held against it. As stated means that the "
               "95 % interval of what was measured meets it."));
}

}  // namespace ash
