// SPDX-License-Identifier: GPL-3.0-or-later
// Charts over the time of the load: temperature and power.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "analysis/comparison/overlay.h"
#include "model/number_text.h"
#include "model/role.h"
#include "report/answer/leaning.h"
#include "report/charts/chart_words.h"
#include "report/charts/run_figures.h"
#include "report/charts/study_charts.h"

namespace ash {
namespace {

constexpr size_t kTimeParts = 240;
constexpr double kRestShown = 0.06;  // of the load's length
constexpr char kMinutesTitle[] = "time from load start, min:s";

// A channel of a setup over time from load start: the longest of its runs, smoothed to what a picture can tell apart,
// over all that its runs read. Empty where none has it.
PlotLine lineOf(const RunsOfSetup& of, const std::string& channel, Scale scale) {
  PlotLine line;
  std::vector<Series> readings;
  for (const AnalyzedRun* run : of.runs) {
    Series series = tracedSeries(*run, channel.empty() ? run->figures.watched : channel, Align::LoadStart, scale, 0);
    if (series.empty()) continue;
    // With some of the rest before; the way down says nothing here.
    const double lengthS = run->figures.load->lengthS();
    series = slice(series, {-kRestShown * lengthS, lengthS});
    if (series.size() > 1) readings.push_back(std::move(series));
  }
  if (readings.empty()) return line;
  const Series& longest = *std::max_element(readings.begin(), readings.end(),
                                            [](const Series& a, const Series& b) { return a.t.back() < b.t.back(); });
  const Band own = bandOf({smoothed(longest, (longest.t.back() - longest.t.front()) / kTimeParts)}, kTimeParts);
  line.label = of.setup;
  line.setupIndex = of.index;
  line.x = own.t;
  line.y = own.mean;
  const Band all = bandOf(readings, kTimeParts);
  const SeriesView low(all.t, all.low), high(all.t, all.high);
  for (const double t : line.x) {
    const bool isShared = !all.t.empty() && t >= all.t.front() && t <= all.t.back();
    line.low.push_back(isShared ? interpolate(low, t) : kMissing);
    line.high.push_back(isShared ? interpolate(high, t) : kMissing);
  }
  return line;
}

double highestOf(const PlotLine& line) {
  double highest = -INFINITY;
  for (const auto* values : {&line.y, &line.high}) {
    for (const double value : *values) highest = std::isfinite(value) ? std::max(highest, value) : highest;
  }
  return highest;
}

constexpr char kLinesAre[] = "; line: the longest run, band: all runs";

// The stretch in which the windows of all runs lie, with their load starts as zero.
std::vector<TimeSpan> sharedWindow(const std::vector<RunsOfSetup>& setups) {
  TimeSpan shared{-INFINITY, INFINITY};
  for (const RunsOfSetup& of : setups) {
    for (const AnalyzedRun* run : of.runs) {
      if (!run->figures.window || !run->figures.load) return {};
      shared.startS = std::max(shared.startS, run->figures.window->span.startS - run->figures.load->startS);
      shared.endS = std::min(shared.endS, run->figures.window->span.endS - run->figures.load->startS);
    }
  }
  if (!std::isfinite(shared.startS) || !(shared.endS > shared.startS)) return {};
  return {shared};
}

// What a setup comes to in its window, and whether it is there already.
struct EndState {
  double value = kMissing;
  bool isSettled = true, isAtLimit = false;
};

// The mean of the runs that are there already; where none is, of all.
EndState endStateOf(const RunsOfSetup& of, bool isOverRoom) {
  double sums[2] = {0, 0};
  size_t counts[2] = {0, 0};
  bool isAtLimit = false;
  for (const AnalyzedRun* run : of.runs) {
    const ChannelFigures* watched = run->figures.channel(run->figures.watched);
    if (watched == nullptr || !run->figures.window) continue;
    const double value = isOverRoom ? watched->overAmbientK.value_or(kMissing) : watched->window.mean;
    if (!std::isfinite(value)) continue;
    const bool isSettled = watched->settled && watched->settled->isSettled;
    sums[isSettled] += value;
    ++counts[isSettled];
    isAtLimit |= wasAtLimit(*run, Figure(Role(run->figures.watched).device(), FigureId::Temperature));
  }
  const bool anySettled = counts[true] > 0;
  if (counts[anySettled] == 0) return {};
  return {sums[anySettled] / static_cast<double>(counts[anySettled]), anySettled, isAtLimit};
}

std::string endWords(const std::string& setup, const EndState& end, const std::string& unit) {
  const std::string value = withUnit(end.value, 1, unit);
  if (end.isAtLimit) return setup + " is held at its limit";
  return end.isSettled ? fmt::format("{} settles at {}", setup, value)
                       : fmt::format("{} is still warming up at {}", setup, value);
}

struct Ended {
  std::string setup;
  EndState end;
};

// Of few setups each, of many the coolest and the warmest.
std::string warmUpFinding(std::vector<Ended> all, const std::string& unit) {
  std::erase_if(all, [](const Ended& one) { return !std::isfinite(one.end.value); });
  if (all.empty()) return "";
  std::stable_sort(all.begin(), all.end(), [](const Ended& a, const Ended& b) { return a.end.value < b.end.value; });
  constexpr size_t kFew = 2;
  if (all.size() <= kFew) {
    std::string words;
    for (const Ended& one : all) words += (words.empty() ? "" : ", ") + endWords(one.setup, one.end, unit);
    return words;
  }
  return fmt::format("Coolest of {}: {}; warmest: {}", all.size(), endWords(all.front().setup, all.front().end, unit),
                     endWords(all.back().setup, all.back().end, unit));
}

bool isRoomKnown(const std::vector<RunsOfSetup>& setups) {
  for (const RunsOfSetup& of : setups) {
    for (const AnalyzedRun* run : of.runs) {
      const ChannelFigures* watched = run->figures.channel(run->figures.watched);
      if (watched != nullptr && watched->overAmbientK) return true;
    }
  }
  return false;
}

// What the device took at most when the load began, and what it held in the window.
struct PowerCourse {
  std::string setup;
  double firstW = kMissing, heldW = kMissing;
};

double firstOf(const PlotLine& line) {
  constexpr double kFirst = 0.2;  // of the load
  double first = -INFINITY;
  for (size_t i = 0; i < line.x.size(); ++i) {
    if (line.x[i] >= 0 && line.x[i] <= kFirst * line.x.back() && std::isfinite(line.y[i]))
      first = std::max(first, line.y[i]);
  }
  return std::isfinite(first) ? first : kMissing;
}

PowerCourse courseOf(const RunsOfSetup& of, const std::string& channel, const PlotLine& line) {
  PowerCourse course{of.setup, firstOf(line), 0};
  size_t count = 0;
  for (const AnalyzedRun* run : of.runs) {
    const ChannelFigures* power = run->figures.channel(channel);
    if (power == nullptr || !std::isfinite(power->window.mean)) continue;
    course.heldW += power->window.mean;
    ++count;
  }
  course.heldW = count == 0 ? kMissing : course.heldW / static_cast<double>(count);
  return course;
}

std::string courseWords(const std::string& setup, const char* holds, const PowerCourse& course) {
  constexpr double kFalls = 0.03;
  std::string held = fmt::format("{} {} {}", setup, holds, withUnit(course.heldW, 0, "W"));
  if (!(course.heldW < course.firstW * (1 - kFalls))) return held;
  return fmt::format("{}, after {} at first", held, withUnit(course.firstW, 0, "W"));
}

// One sentence where all hold the same, else the one that holds most and the one that holds least.
std::string powerFinding(std::vector<PowerCourse> all) {
  constexpr double kSame = 0.01;
  std::erase_if(all, [](const PowerCourse& one) { return !std::isfinite(one.heldW); });
  if (all.empty()) return "";
  std::stable_sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.heldW > b.heldW; });
  if (all.size() == 1) return courseWords(all.front().setup, "holds", all.front());
  if (all.back().heldW > all.front().heldW * (1 - kSame))
    return courseWords(all.size() == 2 ? "Both" : "All", "hold", all.front());
  return courseWords(all.front().setup, "holds", all.front()) + "; " +
         courseWords(all.back().setup, "holds", all.back());
}

// The limits that were in force under load, setup by setup.
void addLimits(const std::vector<RunsOfSetup>& setups, const std::string& role, PlanePlot& plot) {
  for (const RunsOfSetup& of : setups) {
    const AnalyzedRun& run = *of.runs.front();
    Series series = tracedSeries(run, role, Align::LoadStart, Scale::Celsius, 0);
    if (!series.empty()) series = slice(series, {0, run.figures.load->lengthS()});
    if (series.empty()) continue;
    PlotLine line;
    line.stroke = PlotLine::Stroke::Limit;
    line.setupIndex = of.index;
    line.x = std::move(series.t);
    line.y = std::move(series.v);
    plot.lines.push_back(std::move(line));
  }
}

// What the load works in every setup; none where one carries it out in another way.
std::optional<Role> powerOf(const std::vector<RunsOfSetup>& setups) {
  const Figures& first = setups.front().runs.front()->figures;
  bool isOneDevice = true, isOneRole = true;
  for (const RunsOfSetup& of : setups) {
    isOneDevice &= of.runs.front()->figures.worked == first.worked;
    isOneRole &= of.runs.front()->figures.efficiency.powerRole == first.efficiency.powerRole;
  }
  if (isOneDevice) return Role(Device(first.worked), Quantity::Power);
  if (isOneRole && !first.efficiency.powerRole.empty()) return Role(first.efficiency.powerRole);
  return std::nullopt;
}

}  // namespace

std::optional<Chart> warmUpChart(const StudyReport& report, const LoadStanding& load) {
  const std::vector<RunsOfSetup> setups = runsBySetup(report, load);
  const bool isOverRoom = isRoomKnown(setups);
  const std::string unit = isOverRoom ? "K" : "°C";
  PlanePlot plot;
  plot.x = {kMinutesTitle, PlotAxis::Scale::Minutes};
  plot.windows = sharedWindow(setups);
  std::set<std::string> watched;
  std::vector<std::string> said;
  std::vector<Ended> ends;
  std::vector<std::string> withoutRoom;
  for (const RunsOfSetup& of : setups) {
    PlotLine line = lineOf(of, "", isOverRoom ? Scale::OverRoom : Scale::Celsius);
    if (line.x.empty()) {
      // Told, so that nobody takes it for not measured.
      if (isOverRoom && !lineOf(of, "", Scale::Celsius).x.empty()) withoutRoom.push_back(of.setup);
      continue;
    }
    for (const AnalyzedRun* run : of.runs) watched.insert(run->figures.watched);
    ends.push_back({of.setup, endStateOf(of, isOverRoom)});
    said.push_back(of.setup + " up to " + withUnit(highestOf(line), 1, unit));
    plot.lines.push_back(std::move(line));
  }
  if (plot.lines.empty()) return std::nullopt;
  // One task done in two ways warms two parts.
  const std::string what = watched.size() == 1 ? Role(*watched.begin()).title() : "Temperature of the part that works";
  plot.y.title = isOverRoom ? "over room, K" : "°C";
  const std::string title = what + (isOverRoom ? ", over room" : "") + ", " + load.load;
  const std::string finding = warmUpFinding(ends, isOverRoom ? "K over room" : unit);
  return Chart{chartId(report, load, "warm-up"),
               finding.empty() ? title : finding,
               title + kLinesAre + (plot.windows.empty() ? "" : "; shaded: the window") +
                   (withoutRoom.empty() ? "" : "; its room not known: " + joinedNames(withoutRoom)),
               chartSource(report, load),
               title + ", over the time from load start: " + spokenList(said),
               std::move(plot)};
}

std::optional<Chart> powerChart(const StudyReport& report, const LoadStanding& load) {
  const std::vector<RunsOfSetup> setups = runsBySetup(report, load);
  if (setups.empty()) return std::nullopt;
  const std::optional<Role> role = powerOf(setups);
  if (!role) return std::nullopt;
  const Role& power = *role;
  PlanePlot plot;
  plot.x = {kMinutesTitle, PlotAxis::Scale::Minutes};
  plot.y = {power.title() + ", W", PlotAxis::Scale::Number, true};
  plot.windows = sharedWindow(setups);
  std::vector<std::string> said;
  std::vector<PowerCourse> courses;
  for (const RunsOfSetup& of : setups) {
    PlotLine line = lineOf(of, power.text(), Scale::Celsius);
    if (line.x.empty()) continue;
    courses.push_back(courseOf(of, power.text(), line));
    said.push_back(courseWords(of.setup, "holds", courses.back()));
    plot.lines.push_back(std::move(line));
  }
  if (plot.lines.empty()) return std::nullopt;
  const size_t lines = plot.lines.size();
  addLimits(setups, Role(power.device(), Quantity::Power, Part::Limit).text(), plot);
  const bool hasLimits = plot.lines.size() > lines;
  const std::string title = power.title() + ", " + load.load;
  const std::string finding = powerFinding(courses);
  return Chart{chartId(report, load, "power"),
               finding.empty() ? title : finding,
               title + kLinesAre + (hasLimits ? "; dotted: the limit in force" : ""),
               chartSource(report, load),
               title + " over the time from load start: " + spokenList(said),
               std::move(plot)};
}

}  // namespace ash
