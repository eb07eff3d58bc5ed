// SPDX-License-Identifier: GPL-3.0-or-later
// What a microphone heard, over octaves.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/number_text.h"
#include "report/charts/chart_words.h"
#include "report/charts/study_charts.h"

namespace ash {
namespace {

// Half a third of an octave (IEC 61260-1, base ten): from a band's middle to its edge.
const double kHalfBand = std::pow(10, 0.05);

// A step from edge to edge for each band; where one is missing between two, a gap.
void addBands(const std::vector<SoundBand>& bands, PlotLine& line) {
  constexpr double kNextAtMost = 1.35;  // nominal frequencies are up to 1.28 apart
  for (size_t i = 0; i < bands.size(); ++i) {
    line.x.push_back(bands[i].hz / kHalfBand);
    line.y.push_back(bands[i].db);
    const bool isLast = i + 1 == bands.size();
    if (!isLast && bands[i + 1].hz < kNextAtMost * bands[i].hz) continue;
    line.x.push_back(bands[i].hz * kHalfBand);
    line.y.push_back(bands[i].db);
    if (isLast) continue;
    line.x.push_back(bands[i].hz * kHalfBand);
    line.y.push_back(kMissing);
  }
}

// The level of the band that holds a frequency; missing where none does.
double levelAt(const std::vector<SoundBand>& bands, double hz) {
  for (const SoundBand& band : bands) {
    if (hz >= band.hz / kHalfBand && hz < band.hz * kHalfBand) return band.db;
  }
  return kMissing;
}

std::string toneWords(const SoundTone& tone) {
  return fmt::format("{} by {}", withUnit(tone.hz, 0, "Hz"), withUnit(tone.overDb, 0, "dB"));
}

}  // namespace

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
    addBands(sound.bands, line);
    std::string words = of.setup + (sound.tones.empty() ? " without a tone that stands out" : " with tones at");
    for (const SoundTone& tone : sound.tones) {
      words += " " + toneWords(tone);
      if (finding.empty()) finding = fmt::format("{} whines: {} over the noise around it", of.setup, toneWords(tone));
      PlotPoint point;
      point.x = tone.hz;
      point.y = levelAt(sound.bands, tone.hz);
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

}  // namespace ash
