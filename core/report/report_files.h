// SPDX-License-Identifier: GPL-3.0-or-later
// The write-up in its formats, as files of bytes: the same report gives the same ones, on every run and everywhere.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "report/drawing/chart_look.h"
#include "report/study/study_report.h"

namespace ash {

enum class ReportFormat { Html, CommonMark, Table, Document, Drawings, Pdf, Picture, Package };

/// A row of the table of formats.
struct ReportFormatInfo {
  ReportFormat format;
  std::string_view word;      ///< as `ashg report --format` takes it
  std::string_view name;      ///< as a person chooses it
  std::string_view ending;    ///< of its file, or of the first of them
  std::string_view means;     ///< what it is for
  bool needsToolkit = false;  ///< drawn by `ash-gauge --render`
};
std::span<const ReportFormatInfo> reportFormats();

const ReportFormatInfo& infoOf(ReportFormat format);

/// "html,md" as formats; the error names the word that is none.
Result<std::vector<ReportFormat>> parseReportFormats(std::string_view list);

struct ReportFile {
  std::string name;  ///< "which-side-panel.html", "which-side-panel-warm-up.svg"
  std::string bytes;
};

inline constexpr char kChartFamilies[] = "Inter, system-ui, sans-serif";

/// What is wanted of a report.
struct ReportWish {
  std::string name;  ///< of the page, without its ending
  std::vector<ReportFormat> formats;
  std::vector<ChartSize> sizes = {ChartSize::Page};  ///< of charts that are files of their own
  bool isDark = false;                               ///< they are
  std::string family = kChartFamilies;               ///< the fonts they name, in the order of wish

  bool has(ReportFormat format) const;
};

/// CommonMark brings its charts along, as they are on the page. Formats that others write (with the toolkit, or as a
/// package) are passed over.
std::vector<ReportFile> reportFiles(const StudyReport& report, const ReportWish& wish);

/// The charts of a study drawn as files of their own, in each size that is wanted; with the scale of a picture of it.
struct DrawnChart {
  ReportFile file;
  double pictureScale = 1;
};
std::vector<DrawnChart> drawnCharts(const StudyReport& report, const ReportWish& wish);

}  // namespace ash
