// SPDX-License-Identifier: GPL-3.0-or-later
// The HTML page of a study: answer, table, chart, method, caveats.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"
#include "report/study_report.h"
#include "report/svg_chart.h"

namespace ash {
namespace {

constexpr const char* kStyle = R"css(
body{font:15px/1.5 Inter,system-ui,sans-serif;color:#24211E;background:#FBFAF8;max-width:46rem;margin:2rem auto;padding:0 1rem}
h1{font-size:1.6rem;line-height:1.25;margin:0 0 .25rem}h2{font-size:1.05rem;margin:2rem 0 .5rem}
.answer{border-left:3px solid #24211E;background:#F2F0EC;padding:.75rem 1rem;font-size:1.05rem}
.soft{color:#5C554E}table{border-collapse:collapse;width:100%;font-variant-numeric:tabular-nums}
th,td{text-align:right;padding:.3rem .5rem;border-bottom:1px solid #D9D4CC;vertical-align:top}
th:first-child,td:first-child{text-align:left}th{font-weight:600}td small{color:#5C554E;display:block}
.scroll{overflow-x:auto}svg{width:100%;height:auto;font:12px Inter,system-ui,sans-serif;fill:#5C554E}
svg .title{font-size:13px;font-weight:600;fill:#24211E}svg .label{font-weight:600}
svg .grid{stroke:#ECE8E1}svg .axis{stroke:#BDB6AB}svg .window{fill:#F3F0EA}
li{margin:.25rem 0}@media print{body{margin:0;background:#fff}}
)css";

int setupIndex(const StudyReport& report, const std::string& setup) {
  const auto found = std::find_if(report.study.setups.begin(), report.study.setups.end(),
                                  [&](const Setup& s) { return s.name == setup; });
  return static_cast<int>(found - report.study.setups.begin());
}

// A power limit that the setup itself states is a condition: running at it is not "slowed".
bool onlyAsPlanned(const StudyReport& report) {
  for (const AnalyzedRun& run : report.runs) {
    for (const Throttling& throttling : run.figures.throttling) {
      for (const ThrottleInterval& interval : throttling.intervals) {
        if (!interval.isPlanned) return false;
      }
    }
  }
  return true;
}

std::string setupOfReference(const Comparison& comparison) {
  for (const ComparisonRow& row : comparison.rows) {
    if (std::find(row.runs.begin(), row.runs.end(), comparison.reference) != row.runs.end()) return row.setup;
  }
  return comparison.reference;
}

// Figures worth a line, most telling first.
std::vector<std::string> tableMetrics(const StudyReport& report) {
  std::vector<std::string> wanted = {leadingMetric(report)};
  for (const char* device : {"cpu", "gpu"}) {
    for (const char* figure :
         {".over_ambient_k", ".temp", ".peak_c", ".headroom_k", ".clock", ".power", ".throttled_share",
          ".throttled_share_thermal", ".resistance_k_per_w", ".headroom_w", ".hottest_room_c"}) {
      wanted.push_back(std::string(device) + figure);
    }
  }
  for (const char* figure :
       {"board.vrm.over_ambient_k", "storage.over_ambient_k", "noise", "fan.cpu", "wall.power", "idle.wall.power",
        "work.rate", "work_per_joule", "score", "score_per_watt", "stability_percent", "energy_j", "task_s", "price"}) {
    wanted.emplace_back(figure);
  }
  std::vector<std::string> shown;
  for (const std::string& metric : wanted) {
    if (std::find(shown.begin(), shown.end(), metric) != shown.end()) continue;
    if (metric.ends_with(".throttled_share") && onlyAsPlanned(report)) continue;
    const bool isThere = std::any_of(report.comparison.rows.begin(), report.comparison.rows.end(),
                                     [&](const ComparisonRow& row) { return row.metrics.contains(metric); });
    if (isThere) shown.push_back(metric);
  }
  return shown;
}

// Shares are kept as 0..1 and shown in percent.
double shown(const std::string& metric, double value) {
  return metric.find("throttled_share") != std::string::npos ? 100 * value : value;
}

std::string cell(const ComparisonRow& row, const std::string& metric) {
  const auto found = row.metrics.find(metric);
  if (found == row.metrics.end() || !std::isfinite(found->second.value)) return "<td>–</td>";
  const MetricRow& figure = found->second;
  const std::string unit = metricUnit(metric);
  const int digits = usualDigits(unit);
  const double half = shown(metric, (figure.ciHigh - figure.ciLow) / 2);
  // A spread that would round to zero gets the digits it needs to be seen.
  const int halfDigits = half > 0 && half < std::pow(10, -digits) ? digits + 1 : digits;
  std::string runs;
  for (const std::string& run : row.runs) runs += (runs.empty() ? "" : ", ") + run;
  std::string text =
      fmt::format("<td data-run=\"{}\" data-metric=\"{}\" data-value=\"{}\" title=\"{} Runs {}.\">{} ± {}",
                  escaped(row.run), escaped(metric), figure.value, escaped(metricDefinition(metric)), escaped(runs),
                  numberText(shown(metric, figure.value), digits), numberText(half, halfDigits));
  if (!figure.verdict.empty()) {
    const std::string bound = figure.bound.empty() ? "" : figure.bound + " ";
    text += fmt::format("<small title=\"{}\">{}{} ({} to {}): {}</small>", escaped(figure.reason), bound,
                        signedText(shown(metric, figure.difference), digits),
                        signedText(shown(metric, figure.differenceLow), digits),
                        signedText(shown(metric, figure.differenceHigh), digits), escaped(figure.verdict));
  }
  return text + "</td>";
}

std::string table(const StudyReport& report) {
  std::string html = "<div class=\"scroll\"><table><thead><tr><th>Figure</th>";
  for (const ComparisonRow& row : report.comparison.rows) {
    html += fmt::format("<th><span style=\"color:{}\">■</span> {}<br><span class=\"soft\">{} · {} {}</span></th>",
                        paperColour(setupIndex(report, row.setup)), escaped(row.setup), escaped(row.load), row.repeats,
                        row.repeats == 1 ? "run" : "repeats");
  }
  html += "</tr></thead><tbody>\n";
  for (const std::string& metric : tableMetrics(report)) {
    const std::string unit = metricUnit(metric);
    html +=
        fmt::format("<tr><td title=\"{}\">{}{}</td>", escaped(metricDefinition(metric)), escaped(metricTitle(metric)),
                    unit.empty() ? "" : " <span class=\"soft\">" + escaped(unit) + "</span>");
    for (const ComparisonRow& row : report.comparison.rows) html += cell(row, metric);
    html += "</tr>\n";
  }
  return html + "</tbody></table></div>\n<p class=\"soft\">± and ranges are 95 % intervals; differences are against " +
         escaped(setupOfReference(report.comparison)) + ".</p>\n";
}

// The watched temperature of a run over time from load start; over room where the room is known.
ChartLine warmUpLine(const StudyReport& report, const AnalyzedRun& run, bool overRoom) {
  ChartLine line;
  line.setupIndex = setupIndex(report, run.run.facts.setup);
  const Channel* channel = run.run.log.find(run.figures.watched);
  if (channel == nullptr || !run.figures.load) return line;
  line.series = seriesOf(run.run.log, *channel);
  const Channel* room = run.run.log.find("room.temp");
  const Series roomSeries = room == nullptr ? Series() : seriesOf(run.run.log, *room);
  const double stated = run.run.facts.conditionNumber("room_c").value_or(0);
  for (size_t i = 0; i < line.series.size(); ++i) {
    if (overRoom) line.series.v[i] -= roomSeries.empty() ? stated : interpolate(roomSeries, line.series.t[i]);
    line.series.t[i] -= run.figures.load->startS;
  }
  return line;
}

std::string chart(const StudyReport& report) {
  const std::string metric = leadingMetric(report);
  const bool overRoom = metric.ends_with(".over_ambient_k");
  ChartSpec spec;
  spec.unit = overRoom ? "K" : "°C";
  spec.xTitle = "minutes from load start";
  std::set<std::string> labelled;
  for (const AnalyzedRun& run : report.runs) {
    ChartLine line = warmUpLine(report, run, overRoom);
    if (line.series.empty()) continue;
    if (spec.title.empty()) spec.title = plainRoleName(run.figures.watched) + (overRoom ? ", over room" : "");
    if (labelled.insert(run.run.facts.setup).second) line.label = run.run.facts.setup;
    spec.lines.push_back(std::move(line));
  }
  if (spec.lines.empty())
    return "<p class=\"soft\">No temperature was logged under load, so there is no warm-up to draw.</p>\n";
  return svgLineChart(spec);
}

std::string method(const StudyReport& report) {
  std::string html = "<ul>\n";
  std::set<std::string> told;
  const auto item = [&](const std::string& text) {
    if (told.insert(text).second) html += "<li>" + escaped(text) + "</li>\n";
  };
  for (size_t i = 0; i < report.runs.size(); ++i) {
    const RunInfo& info = report.summaries[i].info;
    item(fmt::format("Load {}, phases: {}; a sample every {:g} s.", info.load, phasesText(info.procedure),
                     info.intervalS));
    const std::string machine = info.machine.value("name", std::string());
    const bool isSimulated = info.bench.value("kind", std::string()) == "simulated";
    item(isSimulated ? fmt::format("Simulated bench \"{}\": no real machine was measured.", machine)
                     : fmt::format("Machine {} with kernel {}.", machine,
                                   info.machine.value("kernel", std::string("unknown"))));
  }
  for (const AnalyzedRun& run : report.runs) {
    if (!run.figures.window) continue;
    item(fmt::format("Figures come from the window “{}” of each run.", run.figures.window->reason));
  }
  item(fmt::format(
      "Figures by method {}: means with the autocorrelation of the samples in their uncertainty, settling by a fit of "
      "one or two exponentials, repeats by Welch's interval.",
      kFiguresMethod));
  return html + "</ul>\n";
}

std::string conditions(const StudyReport& report) {
  std::string html;
  for (const Setup& setup : report.study.setups) {
    std::string fields;
    for (const auto& [field, value] : setup.conditions.items()) {
      fields += fmt::format("{}{} {}", fields.empty() ? "" : ", ", field,
                            value.is_string() ? value.get<std::string>() : value.dump());
    }
    html += fmt::format("<li>{}: {}</li>\n", escaped(setup.name), fields.empty() ? "nothing stated" : escaped(fields));
  }
  return "<ul>\n" + html + "</ul>\n";
}

std::string caveats(const StudyReport& report) {
  std::string html;
  std::set<std::string> told;
  const auto item = [&](const std::string& text) {
    if (told.insert(text).second) html += "<li>" + escaped(text) + "</li>\n";
  };
  for (const char* severity : {"block", "warn", "info"}) {
    for (const ComparisonCheck& check : report.comparison.checks) {
      if (check.severity == severity) item(check.text);
    }
  }
  for (const AnalyzedRun& run : report.runs) {
    for (const Problem& problem : run.figures.problems)
      item(fmt::format("{} ({}): {}", run.run.facts.setup, run.run.name, problem.text));
  }
  return html.empty() ? "<p>None was found.</p>\n" : "<ul>\n" + html + "</ul>\n";
}

std::string runList(const StudyReport& report) {
  std::string html =
      "<div "
      "class=\"scroll\"><table><thead><tr><th>Run</th><th>Setup</th><th>Load</th><th>Repeat</th><th>Started</"
      "th><th>Window</th><th>Outcome</th></tr></thead><tbody>\n";
  for (size_t i = 0; i < report.runs.size(); ++i) {
    const RunInfo& info = report.summaries[i].info;
    const auto& window = report.runs[i].figures.window;
    html +=
        fmt::format("<tr><td>{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td></tr>\n",
                    escaped(info.id), escaped(info.setup), escaped(info.load), info.repeat, escaped(info.started),
                    window ? clockText(window->span.startS) + " to " + clockText(window->span.endS) : "–",
                    escaped(std::string(outcomeText(info.outcome)) + (info.reason.empty() ? "" : ": " + info.reason)));
  }
  return html + "</tbody></table></div>\n";
}

}  // namespace

std::string htmlPage(const StudyReport& report) {
  const std::string title = report.study.question.empty() ? report.study.name : report.study.question;
  std::string html =
      "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\">"
      "<meta name=\"viewport\" content=\"width=device-width,initial-scale=1\">";
  html += fmt::format("<title>{}</title><style>{}</style></head><body>\n<h1>{}</h1>\n", escaped(title), kStyle,
                      escaped(title));
  html += fmt::format("<p class=\"answer\">{}</p>\n", escaped(answerText(report)));
  html += "<h2>Figures</h2>\n" + table(report);
  html += "<h2>Warm-up</h2>\n" + chart(report);
  html += "<h2>Method</h2>\n" + method(report);
  html += "<h2>Conditions</h2>\n" + conditions(report);
  html += "<h2>Caveats</h2>\n" + caveats(report);
  html += "<h2>Runs</h2>\n" + runList(report);
  return html + "</body></html>\n";
}

}  // namespace ash
