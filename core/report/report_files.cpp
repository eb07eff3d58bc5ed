// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/report_files.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "model/text.h"
#include "report/chart/stand_alone.h"
#include "report/data/figure_data.h"
#include "report/markup/comment_text.h"
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
    ReportFormatInfo{ReportFormat::Drawings, "svg", "Charts, any size (SVG)", "-1.svg",
                     "each chart by itself, sharp at any size"},
    ReportFormatInfo{ReportFormat::Pdf, "pdf", "Page on paper (PDF)", ".pdf",
                     "the page on paper, with bookmarks: to print and to send", true},
    ReportFormatInfo{ReportFormat::Picture, "png", "Charts, pictures (PNG)", "-1.png",
                     "each chart as a picture: for a post or a video", true},
    ReportFormatInfo{ReportFormat::Package, "package", "Runs, data package (zip)", ".zip",
                     "all runs as a data package in a zip file: for those who check"}};

// The page in CommonMark, and its charts in their order.
struct PageInMarks {
  std::string text;
  std::vector<std::string> charts;
};

// A quotation, so that a comment cannot be taken for what the program says.
std::string quoted(const std::string& text) {
  std::string quotation;
  for (const std::string_view line : splitText(text, '\n'))
    quotation += (quotation.empty() ? ">" : "\n>") + (line.empty() ? std::string() : " " + std::string(line));
  return quotation;
}

PageInMarks commonMarkPage(const StudyReport& report, const std::string& name) {
  PageInMarks page;
  const PictureOf picture = [&](const std::string& svg, const std::string&) {
    page.charts.push_back(svg);
    return fmt::format("{}-{}.svg", name, page.charts.size());
  };
  const auto add = [&page](const std::string& block) {
    if (!block.empty()) page.text += (page.text.empty() ? "" : "\n\n") + block;
  };
  for (const PageBlock& block : pageBlocks(report)) {
    if (block.isLeftOut) continue;
    if (block.hasHeading()) add("## " + commonMarkText(block.title));
    add(commonMarkOf(block.body, picture));
    if (!block.comment.empty())
      add(quoted("*Comment by the tester:*\n\n" + commonMarkOf(commentOf(block.comment), picture)));
  }
  page.text += "\n";
  return page;
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

std::vector<ReportFile> reportFiles(const StudyReport& report, const std::string& name,
                                    const std::vector<ReportFormat>& formats, const std::string& family) {
  const auto has = [&](ReportFormat format) {
    return std::find(formats.begin(), formats.end(), format) != formats.end();
  };
  std::vector<ReportFile> files;
  if (has(ReportFormat::Html)) files.push_back({name + ".html", htmlPage(report)});
  if (has(ReportFormat::CommonMark) || has(ReportFormat::Drawings)) {
    PageInMarks page = commonMarkPage(report, name);
    if (has(ReportFormat::CommonMark)) files.push_back({name + ".md", std::move(page.text)});
    for (size_t i = 0; i < page.charts.size(); ++i)
      files.push_back({fmt::format("{}-{}.svg", name, i + 1), standAloneSvg(std::move(page.charts[i]), family)});
  }
  if (has(ReportFormat::Table)) files.push_back({name + ".csv", figuresCsv(report)});
  if (has(ReportFormat::Document))
    files.push_back(
        {name + ".json", figuresDocument(report).dump(1, ' ', false, Json::error_handler_t::replace) + "\n"});
  return files;
}

}  // namespace ash
