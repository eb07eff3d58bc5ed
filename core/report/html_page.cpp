// SPDX-License-Identifier: GPL-3.0-or-later
// The blocks put together: one file, no script, nothing to load.
#include "report/markup/markup.h"
#include "report/page_blocks.h"

namespace ash {
namespace {

constexpr const char* kStyle = R"css(
body{font:15px/1.5 Inter,system-ui,sans-serif;color:#24211E;background:#FBFAF8;max-width:48rem;margin:2rem auto;padding:0 1rem}
h1{font-size:1.5rem;line-height:1.3;margin:0 0 .75rem}h2{font-size:1.05rem;margin:2rem 0 .5rem}
.answer{border-left:3px solid #24211E;background:#F2F0EC;padding:.75rem 1rem;font-size:1.05rem;margin:.5rem 0}
.comment{border-left:3px solid #BDB6AB;padding-left:1rem;font-style:italic;margin:1rem 0;overflow-wrap:anywhere}.comment p{margin:.4rem 0}
.soft{color:#5C554E;font-weight:400}table{border-collapse:collapse;width:100%;font-variant-numeric:tabular-nums}
th,td{text-align:right;padding:.3rem .5rem;border-bottom:1px solid #D9D4CC;vertical-align:top}
th:first-child,td:first-child{text-align:left}th{font-weight:600}small{color:#5C554E}
.group{font-weight:600;padding-top:.8rem}.scroll{overflow-x:auto}
svg{width:100%;height:auto;margin:.5rem 0}figure{margin:1rem 0}img{display:block;max-width:100%;height:auto}figcaption{color:#5C554E;margin:.3rem 0}.narrow{display:none}
svg.mark{width:4.5rem;height:.75rem;vertical-align:middle;margin:0}li{margin:.25rem 0}td a,.figure a,.notes a{color:inherit;text-decoration:none}td a:hover,.figure a:hover,.notes a{text-decoration:underline}
:target{background:#E9E4DB}.notes{font-size:.85rem}h3{font-size:.95rem;margin:1.2rem 0 .3rem}
.fold{accent-color:#24211E;margin:.6rem .5rem .6rem 0}label{cursor:pointer;font-weight:600}.folded{display:none}
.fold:checked+label+.folded{display:block}tbody th{font-weight:400}
@media screen and (max-width:34rem){body{margin:1rem auto}.wide{display:none}.narrow{display:block}table.figures thead{display:none}
table.figures,table.figures tbody,table.figures tr,table.figures th,table.figures td{display:block;width:auto}
table.figures tr{border-bottom:1px solid #D9D4CC;padding:.5rem 0}
table.figures td{border:0;padding:.15rem 0;text-align:left}table.figures tbody th{border:0;padding:.15rem 0;font-weight:600}
table.figures td[data-setup]{display:grid;grid-template-columns:42% 58%}
table.figures td[data-setup]::before{content:attr(data-setup);color:#5C554E}
table.figures td[data-setup] br{display:none}table.figures td[data-setup] small{grid-column:2}}
@media print{body{margin:0;max-width:none;background:#fff}.fold{display:none}.folded{display:block}
tr,svg,li,.answer{break-inside:avoid}h2,h3{break-after:avoid}thead{display:table-header-group}}
)css";

}  // namespace

std::string htmlPage(const StudyReport& report) {
  Markup body;
  body.lineEnd();
  for (const PageBlock& block : pageBlocks(report, PageForm::Either)) {
    if (block.isLeftOut) continue;
    if (block.hasHeading()) body.add(Element("h2").text(block.title)).lineEnd();
    body.add(block.body);
    if (block.comment.empty()) continue;
    Element comment("div");
    comment.set("class", "comment").add(block.commentBody);
    body.add(comment.add(Element("p").set("class", "soft").text("Comment by the tester"))).lineEnd();
  }
  const std::string title = report.study.question.empty() ? report.study.name : report.study.question;
  Element head("head");
  head.add(Element("meta").set("charset", "utf-8").alone());
  head.add(Element("meta").set("name", "viewport").set("content", "width=device-width,initial-scale=1").alone());
  head.add(Element("title").text(title)).add(styleSheet(kStyle));
  Element page("html");
  page.set("lang", "en").add(head).add(Element("body").add(body));
  return "<!DOCTYPE html>\n" + page.whole().lineEnd().str();
}

}  // namespace ash
