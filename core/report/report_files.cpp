// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/report_files.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "model/text.h"
#include "report/charts/study_charts.h"
#include "report/data/figure_data.h"
#include "report/drawing/stand_alone.h"
#include "report/drawing/svg_chart.h"
#include "report/markup/commonmark.h"
#include "report/page_blocks.h"

namespace ash {
namespace {

// In the order of ReportFormat.
constexpr std::array kFormats = {
    ReportFormatInfo{ReportFormat::Html, "html", "Page, one file (HTML)", ".html",
                     "one page, nothing beside it: for readers, print and phones"},
    ReportFormatInfo{ReportFormat::CommonMark, "md", "Text with charts (CommonMark)", ".md",
                     "CommonMark with its charts as SVG: for a site or a repository"},
    ReportFormatInfo{ReportFormat::Table, "csv", "Table of figures (CSV)", ".csv",
                     "all figures as a table: for a spreadsheet"},
    ReportFormatInfo{ReportFormat::Document, "json", "Figures, definitions (JSON)", ".json",
                     "all figures with definitions and checks: for programs"},
    ReportFormatInfo{ReportFormat::Drawings, "svg", "Charts, any size (SVG)", "-answer.svg",
                     "each chart by itself: page, print, phone or thumbnail, light or dark"},
    ReportFormatInfo{ReportFormat::Pdf, "pdf", "Page on paper (PDF)", ".pdf",
                     "the page on paper, with bookmarks: to print and to send", true},
    ReportFormatInfo{ReportFormat::Picture, "png", "Charts, pictures (PNG)", "-answer.png",
                     "each chart as a picture: for a post or a video", true},
    ReportFormatInfo{ReportFormat::Package, "package", "Runs, data package (zip)", ".zip",
                     "all runs as a data package in a zip file: for those who check"}};

constexpr std::string_view kIdMark = "id='chart-";

// "warm-up" of <svg … id='chart-warm-up'>; empty for a mark within a line.
std::string chartIdOf(const std::string& svg) {
  const size_t tagEnd = svg.find('>'), at = svg.find(kIdMark);
  if (at == std::string::npos || at > tagEnd) return "";
  const size_t from = at + kIdMark.size();
  return svg.substr(from, svg.find('\'', from) - from);
}

// A quotation, so that a comment cannot be taken for what the program says.
std::string quoted(const std::string& text) {
  std::string quotation;
  for (const std::string_view line : splitText(text, '\n'))
    quotation += (quotation.empty() ? ">" : "\n>") + (line.empty() ? std::string() : " " + std::string(line));
  return quotation;
}

std::string commonMarkPage(const StudyReport& report, const std::string& name) {
  std::string page;
  const PictureOf picture = [&](const std::string& svg, const std::string&) {
    const std::string id = chartIdOf(svg);
    return id.empty() ? id : fmt::format("{}-{}.svg", name, id);
  };
  const auto add = [&page](const std::string& block) {
    if (!block.empty()) page += (page.empty() ? "" : "\n\n") + block;
  };
  for (const PageBlock& block : pageBlocks(report)) {
    if (block.isLeftOut) continue;
    if (block.hasHeading()) add("## " + commonMarkText(block.title));
    add(commonMarkOf(block.body, picture));
    if (!block.comment.empty()) add(quoted("*Comment by the tester:*\n\n" + commonMarkOf(block.commentBody, picture)));
  }
  return page + "\n";
}

}  // namespace

std::span<const ReportFormatInfo> reportFormats() { return kFormats; }

const ReportFormatInfo& infoOf(ReportFormat format) { return kFormats.at(static_cast<size_t>(format)); }

Result<std::vector<ReportFormat>> parseReportFormats(std::string_view list) {
  std::vector<ReportFormat> formats;
  for (const std::string_view part : splitText(list, ',')) {
    const std::string_view word = trimmed(part);
    const auto found =
        std::find_if(kFormats.begin(), kFormats.end(), [&](const auto& one) { return one.word == word; });
    if (found == kFormats.end()) {
      std::string known;
      for (const ReportFormatInfo& one : kFormats) known += (known.empty() ? "" : ", ") + std::string(one.word);
      return Error::badInput(
          fmt::format("\"{}\" is no format of a report; there are {}.", withoutControls(word), known));
    }
    if (std::find(formats.begin(), formats.end(), found->format) == formats.end()) formats.push_back(found->format);
  }
  return formats;
}

bool ReportWish::has(ReportFormat format) const {
  return std::find(formats.begin(), formats.end(), format) != formats.end();
}

std::vector<DrawnChart> drawnCharts(const StudyReport& report, const ReportWish& wish) {
  std::vector<DrawnChart> drawn;
  const std::vector<Chart> charts = studyCharts(report);
  for (const ChartSize size : wish.sizes) {
    const ChartLook look{size, wish.isDark, true};
    for (const Chart& chart : charts)
      drawn.push_back({{fmt::format("{}-{}{}.svg", wish.name, chart.id, look.suffix()),
                        standAloneSvg(svgChart(chart, look).str(), wish.family)},
                       look.info().pictureScale});
  }
  return drawn;
}

std::vector<ReportFile> reportFiles(const StudyReport& report, const ReportWish& wish) {
  std::vector<ReportFile> files;
  if (wish.has(ReportFormat::Html)) files.push_back({wish.name + ".html", htmlPage(report)});
  const auto addChart = [&](DrawnChart& chart) {
    const auto isSame = [&](const ReportFile& one) { return one.name == chart.file.name; };
    if (std::none_of(files.begin(), files.end(), isSame)) files.push_back(std::move(chart.file));
  };
  if (wish.has(ReportFormat::CommonMark)) {
    const std::string page = commonMarkPage(report, wish.name);
    files.push_back({wish.name + ".md", page});
    // Those that stand on the page, as a block may be left out.
    for (DrawnChart& chart : drawnCharts(report, {wish.name, {}, {ChartSize::Page}, false, wish.family})) {
      if (page.find("(<" + chart.file.name + ">)") != std::string::npos) addChart(chart);
    }
  }
  if (wish.has(ReportFormat::Drawings)) {
    for (DrawnChart& chart : drawnCharts(report, wish)) addChart(chart);
  }
  if (wish.has(ReportFormat::Table)) files.push_back({wish.name + ".csv", figuresCsv(report)});
  if (wish.has(ReportFormat::Document))
    files.push_back(
        {wish.name + ".json", figuresDocument(report).dump(1, ' ', false, Json::error_handler_t::replace) + "\n"});
  return files;
}

}  // namespace ash
