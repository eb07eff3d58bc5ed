// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/page_charts.h"

#include "report/drawing/svg_chart.h"

namespace ash {

Markup pageChart(const Chart& chart, PageForm form) {
  const Markup wide = form == PageForm::Narrow ? Markup() : svgChart(chart);
  const Markup narrow = form == PageForm::Wide ? Markup() : svgChart(chart, {ChartSize::Phone});
  if (form == PageForm::Wide) return wide;
  if (form == PageForm::Narrow) return narrow;
  Markup both;
  both.add(Element("div").set("class", "wide").add(wide)).lineEnd();
  return both.add(Element("div").set("class", "narrow").add(narrow)).lineEnd();
}

Markup pageChart(const std::optional<Chart>& chart, PageForm form) {
  return chart ? pageChart(*chart, form) : Markup();
}

Markup pageCharts(const std::vector<Chart>& charts, PageForm form) {
  Markup all;
  for (const Chart& chart : charts) all.add(pageChart(chart, form));
  return all;
}

}  // namespace ash
