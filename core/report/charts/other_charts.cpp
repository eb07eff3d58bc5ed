// SPDX-License-Identifier: GPL-3.0-or-later
// Charts over passes and over octaves, and the list of all that stand below the answer.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <iterator>

#include "model/number_text.h"
#include "report/charts/chart_words.h"
#include "report/charts/study_charts.h"

namespace ash {
namespace {

// Scores of pass after pass: the mean of the runs, and what they span.
PlotLine passLine(const RunsOfSetup& of) {
  PlotLine line;
  line.label = of.setup;
  line.setupIndex = of.index;
  size_t most = 0;
  for (const AnalyzedRun* run : of.runs)
    most = std::max(most, run->figures.passes ? run->figures.passes->each.size() : 0);
  for (size_t pass = 0; pass < most; ++pass) {
    double sum = 0, low = INFINITY, high = -INFINITY;
    size_t count = 0;
    for (const AnalyzedRun* run : of.runs) {
      if (!run->figures.passes || pass >= run->figures.passes->each.size()) continue;
      const double score = run->figures.passes->each[pass].score;
      if (!std::isfinite(score)) continue;
      sum += score;
      low = std::min(low, score);
      high = std::max(high, score);
      ++count;
    }
    if (count == 0) continue;
    line.x.push_back(static_cast<double>(pass + 1));
    line.y.push_back(sum / static_cast<double>(count));
    line.low.push_back(low);
    line.high.push_back(high);
  }
  return line;
}

// The last third held against the first pass.
std::string passWords(const PlotLine& line) {
  const size_t third = std::max<size_t>(1, line.y.size() / 3);
  const double kept = medianOf({line.y.end() - static_cast<std::ptrdiff_t>(third), line.y.end()});
  const double percent = 100 * (kept / line.y.front() - 1);
  constexpr double kSame = 0.5;
  if (!std::isfinite(percent) || std::abs(percent) < kSame) return fmt::format("{} keeps its first score", line.label);
  return fmt::format("{} {} {} on its first score", line.label, percent < 0 ? "loses" : "gains",
                     withUnit(std::abs(percent), 1, "%"));
}

std::string toneWords(const SoundTone& tone) {
  return fmt::format("{} by {}", withUnit(tone.hz, 0, "Hz"), withUnit(tone.overDb, 0, "dB"));
}

}  // namespace

std::optional<Chart> passesChart(const StudyReport& report, const LoadStanding& load) {
  PlanePlot plot;
  plot.x = {"pass"};
  plot.y = {"score"};
  std::vector<std::string> said;
  constexpr size_t kLeast = 3;
  for (const RunsOfSetup& of : runsBySetup(report, load)) {
    PlotLine line = passLine(of);
    if (line.x.size() < kLeast) continue;
    said.push_back(passWords(line));
    plot.lines.push_back(std::move(line));
  }
  if (plot.lines.empty()) return std::nullopt;
  const std::string title = "Score of pass after pass, " + load.load;
  const std::string finding =
      said.size() <= 2 ? spokenList(said) : said.front() + fmt::format("; {} setups", said.size());
  return Chart{
      chartId(report, load, "passes"),        finding.ends_with('.') ? finding.substr(0, finding.size() - 1) : finding,
      title + "; bands: all runs of a setup", chartSource(report, load),
      title + ": " + spokenList(said),        std::move(plot)};
}

std::optional<Chart> spectrumChart(const StudyReport& report, const LoadStanding& load) {
  PlanePlot plot;
  plot.x = {"frequency, Hz", PlotAxis::Scale::Log};
  bool isCalibrated = true;
  std::vector<std::string> said;
  std::string finding;
  for (const RunsOfSetup& of : runsBySetup(report, load)) {
    const auto heard = std::find_if(of.runs.begin(), of.runs.end(), [](const AnalyzedRun* run) {
      return run->figures.sound && !run->figures.sound->bands.empty();
    });
    if (heard == of.runs.end()) continue;
    const SoundFigures& sound = *(*heard)->figures.sound;
    isCalibrated &= sound.isCalibrated;
    PlotLine line;
    line.label = of.setup;
    line.setupIndex = of.index;
    line.stroke = PlotLine::Stroke::Steps;
    double highest = -INFINITY;
    for (const SoundBand& band : sound.bands) {
      line.x.push_back(band.hz);
      line.y.push_back(band.db);
      if (std::isfinite(band.db)) highest = std::max(highest, band.db);
    }
    std::string words = of.setup + (sound.tones.empty() ? " without a tone that stands out" : " with tones at");
    for (const SoundTone& tone : sound.tones) {
      words += " " + toneWords(tone);
      if (finding.empty()) finding = fmt::format("{} whines: {} over the noise around it", of.setup, toneWords(tone));
      PlotPoint point;
      point.x = tone.hz;
      point.y = interpolate(SeriesView(line.x, line.y), tone.hz);
      point.label = toneWords(tone);
      point.setupIndex = of.index;
      if (std::isfinite(point.y)) plot.points.push_back(std::move(point));
    }
    said.push_back(std::move(words));
    plot.lines.push_back(std::move(line));
  }
  if (plot.lines.empty()) return std::nullopt;
  plot.y = {isCalibrated ? "level of a third of an octave, dBA" : "level of a third of an octave, dB of full scale"};
  const std::string title = "Sound in the window, by thirds of an octave, A-weighted, " + load.load;
  return Chart{chartId(report, load, "spectrum"),
               finding.empty() ? "No tone stands out of the noise" : finding,
               title,
               chartSource(report, load),
               title + ": " + spokenList(said),
               std::move(plot)};
}

std::vector<Chart> furtherCharts(const StudyReport& report) {
  std::vector<Chart> all;
  for (const LoadStanding& load : report.loads) {
    for (auto* chartOf : {&ladderChart, &noiseChart, &powerChart, &clockChart, &passesChart, &energyChart, &priceChart,
                          &spectrumChart}) {
      if (std::optional<Chart> chart = (*chartOf)(report, load)) all.push_back(std::move(*chart));
    }
  }
  return all;
}

std::vector<Chart> studyCharts(const StudyReport& report) {
  std::vector<Chart> all;
  for (const LoadStanding& load : report.loads) {
    if (std::optional<Chart> chart = rankChart(report, load)) all.push_back(std::move(*chart));
  }
  for (const LoadStanding& load : report.loads) {
    if (std::optional<Chart> chart = warmUpChart(report, load)) all.push_back(std::move(*chart));
  }
  std::vector<Chart> further = furtherCharts(report);
  std::move(further.begin(), further.end(), std::back_inserter(all));
  return all;
}

}  // namespace ash
