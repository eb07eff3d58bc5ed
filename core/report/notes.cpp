// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/notes.h"

#include <fmt/format.h>

#include <algorithm>

#include "model/text.h"
#include "report/answer/answer.h"
#include "report/answer/row_figure.h"

namespace ash {
namespace {

constexpr std::string_view kNote = "note-";

bool isLeftOut(const StudyReport& report, const char* block) {
  const std::vector<std::string>& leftOut = report.plan.writeUp.leftOut;
  return std::find(leftOut.begin(), leftOut.end(), block) != leftOut.end();
}

// Anchors hold what stands in a name of ours or of a stranger: letters and digits as they are, all else by its number.
std::string anchorText(const std::string& words) {
  std::string text;
  for (const char c : words) {
    const auto byte = static_cast<unsigned char>(c);
    const bool isPlain = (byte >= 'a' && byte <= 'z') || (byte >= 'A' && byte <= 'Z') || (byte >= '0' && byte <= '9') ||
                         byte == '-' || byte == '.' || byte == '_';
    text += isPlain ? std::string(1, c) : fmt::format(":{:02x}", byte);
  }
  return text;
}

std::string noteId(size_t load, size_t row, const Figure& metric) {
  return fmt::format("{}{}-{}-{}", kNote, load + 1, row + 1, anchorText(metric.code()));
}

// The setup's runs, each a link to where its window stands.
Markup runLinks(const StudyReport& report, const ComparisonRow& row) {
  Markup runs;
  const bool areListed = !isLeftOut(report, kRunsBlock);
  for (const std::string& run : row.runs) {
    if (!runs.isEmpty()) runs.text(", ");
    if (areListed)
      runs.add(Element("a").set("href", "#" + runAnchor(run)).text(run));
    else
      runs.text(run);
  }
  return runs;
}

Markup noteOf(const StudyReport& report, size_t load, const Figure& metric) {
  const LoadStanding& standing = report.loads[load];
  Element item("li");
  item.add(Element("b").text(metric.title())).text(", " + standing.load + ": ");
  item.text(std::string(metric.kind().definition));
  for (size_t i = 0; i < standing.comparison.rows.size(); ++i) {
    const ComparisonRow& row = standing.comparison.rows[i];
    if (figureIn(row, metric) == nullptr) continue;
    Element setup("span");
    setup.set("id", noteId(load, i, metric)).text(row.setup + ": ").add(runLinks(report, row));
    item.text(" ").add(setup).text(".");
  }
  return item.whole().lineEnd();
}

std::vector<Figure> listedFigures(const LoadStanding& load) {
  std::vector<Figure> all;
  for (const MetricGroup& group : metricGroups(load.comparison))
    all.insert(all.end(), group.metrics.begin(), group.metrics.end());
  return all;
}

}  // namespace

std::string runAnchor(const std::string& run) { return "run-" + anchorText(run); }

Markup linkedNumber(const StudyReport& report, const ComparisonRow& row, const Figure& metric,
                    const std::string& words) {
  if (isLeftOut(report, kNotesBlock)) return Markup::ofText(words);
  for (size_t load = 0; load < report.loads.size(); ++load) {
    const std::vector<ComparisonRow>& rows = report.loads[load].comparison.rows;
    if (rows.empty() || &row < &rows.front() || &row > &rows.back()) continue;
    const std::vector<Figure> listed = listedFigures(report.loads[load]);
    if (std::find(listed.begin(), listed.end(), metric) == listed.end()) break;
    const auto place = static_cast<size_t>(&row - &rows.front());
    return Element("a").set("href", "#" + noteId(load, place, metric)).text(words).whole();
  }
  return Markup::ofText(words);
}

Markup notes(const StudyReport& report) {
  Markup items;
  for (size_t load = 0; load < report.loads.size(); ++load) {
    for (const Figure& metric : listedFigures(report.loads[load])) items.add(noteOf(report, load, metric));
  }
  return items.isEmpty() ? items : Element("ul").set("class", "notes").lineEnd().add(items).whole().lineEnd();
}

size_t noteCount(const StudyReport& report) {
  size_t count = 0;
  for (const LoadStanding& load : report.loads) count += listedFigures(load).size();
  return count;
}

std::optional<std::vector<std::string>> runsOfLink(const StudyReport& report, const std::string& link) {
  for (size_t load = 0; load < report.loads.size(); ++load) {
    const std::vector<ComparisonRow>& rows = report.loads[load].comparison.rows;
    for (size_t row = 0; row < rows.size(); ++row) {
      if (link.starts_with(fmt::format("#{}{}-{}-", kNote, load + 1, row + 1))) return rows[row].runs;
    }
  }
  for (const auto& run : report.runs) {
    if (link == "#" + runAnchor(run->run.name)) return std::vector<std::string>{run->run.name};
  }
  return std::nullopt;
}

}  // namespace ash
