// SPDX-License-Identifier: GPL-3.0-or-later
// The blocks put together: one file, no script, nothing to load.
#include <fmt/format.h>

#include "report/page_blocks.h"
#include "report/svg_chart.h"

namespace ash {
namespace {

constexpr const char* kStyle = R"css(
body{font:15px/1.5 Inter,system-ui,sans-serif;color:#24211E;background:#FBFAF8;max-width:48rem;margin:2rem auto;padding:0 1rem}
h1{font-size:1.5rem;line-height:1.3;margin:0 0 .75rem}h2{font-size:1.05rem;margin:2rem 0 .5rem}
.answer{border-left:3px solid #24211E;background:#F2F0EC;padding:.75rem 1rem;font-size:1.05rem;margin:.5rem 0}
.comment{border-left:3px solid #BDB6AB;padding-left:1rem;font-style:italic}
.soft{color:#5C554E;font-weight:400}table{border-collapse:collapse;width:100%;font-variant-numeric:tabular-nums}
th,td{text-align:right;padding:.3rem .5rem;border-bottom:1px solid #D9D4CC;vertical-align:top}
th:first-child,td:first-child{text-align:left}th{font-weight:600}small{color:#5C554E}
.group{font-weight:600;padding-top:.8rem}.scroll{overflow-x:auto}
svg{width:100%;height:auto;font:12px Inter,system-ui,sans-serif;fill:#5C554E}
svg .title{font-size:13px;font-weight:600;fill:#24211E}svg .label{font-weight:600}
svg .grid{stroke:#ECE8E1}svg .axis{stroke:#BDB6AB}svg .window{fill:#F3F0EA}
li{margin:.25rem 0}
@media screen and (max-width:34rem){body{margin:1rem auto}table.figures thead{display:none}
table.figures,table.figures tbody,table.figures tr,table.figures td{display:block;width:auto}
table.figures tr{border-bottom:1px solid #D9D4CC;padding:.5rem 0}
table.figures td{border:0;padding:.15rem 0;text-align:left}table.figures td:first-child{font-weight:600}
table.figures td[data-setup]{display:grid;grid-template-columns:42% 58%}
table.figures td[data-setup]::before{content:attr(data-setup);color:#5C554E}
table.figures td[data-setup] br{display:none}table.figures td[data-setup] small{grid-column:2}}
@media print{body{margin:0;background:#fff}}
)css";

}  // namespace

std::string htmlPage(const StudyReport& report) {
  const std::string title = report.study.question.empty() ? report.study.name : report.study.question;
  std::string html =
      "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\">"
      "<meta name=\"viewport\" content=\"width=device-width,initial-scale=1\">";
  html += fmt::format("<title>{}</title><style>{}</style></head><body>\n", escaped(title), kStyle);
  for (const PageBlock& block : pageBlocks(report)) {
    if (block.isLeftOut) continue;
    if (block.hasHeading()) html += "<h2>" + escaped(block.title) + "</h2>\n";
    html += block.body;
    if (!block.comment.empty())
      html += fmt::format("<p class=\"comment\">{}<br><span class=\"soft\">Comment by the tester</span></p>\n",
                          escaped(block.comment));
  }
  return html + "</body></html>\n";
}

}  // namespace ash
