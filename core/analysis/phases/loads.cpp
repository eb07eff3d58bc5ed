// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/phases/loads.h"

#include <algorithm>
#include <cmath>

#include "analysis/series/statistics.h"

namespace ash {
namespace {

constexpr double kShortestLoadS = 20;  // a shorter burst is background work
constexpr double kSurelyLoadS = 120;
constexpr double kShortestLoadShare = 0.05;
constexpr double kShortestLoadSamples = 3;
constexpr double kPauseS = 10, kPauseShare = 0.12, kLongestPauseS = 120;
constexpr double kPartedByShare = 1.0 / 3;  // contract: of the load before it
constexpr double kPartedByFall = 0.5;       // contract: of the rise
constexpr double kLeastRiseK = 3;           // less tells nothing
constexpr double kLevelShare = 0.1;         // of a load: what stands for the level of its end
constexpr size_t kManyPauses = 3;           // so many short ones, and the work is of that kind
constexpr double kUsualPauseS = 60;
constexpr double kCutOffShare = 0.25;

double busyS(const LoadParts& parts) {
  double sum = 0;
  for (const TimeSpan& part : parts) sum += part.lengthS();
  return sum;
}

// Moments of rest within work that are over in two samples are noise of the readings.
std::vector<TimeSpan> withoutFlicker(const std::vector<TimeSpan>& busy, double interval) {
  std::vector<TimeSpan> spans;
  for (const TimeSpan& span : busy) {
    if (!spans.empty() && span.startS - spans.back().endS <= 2 * interval + 1e-9)
      spans.back().endS = span.endS;
    else
      spans.push_back(span);
  }
  return spans;
}

double middleIn(const SeriesView& series, const TimeSpan& span) {
  const SeriesView part = viewOf(series, span);
  return medianOf({part.v.begin(), part.v.end()});
}

class Parting {
 public:
  Parting(const Log& log, const SeriesView& watched, const std::vector<Pass>& passes,
          const std::vector<TimeSpan>& spans)
      : m_interval(medianInterval(log.timeS)), m_lastS(log.timeS.back()), m_watched(watched) {
    for (const Pass& pass : passes)
      m_passes = {std::min(m_passes.startS, pass.startS), std::max(m_passes.endS, pass.endS)};
    size_t pauses = 0;
    for (size_t i = 1; i < spans.size(); ++i) pauses += spans[i].startS - spans[i - 1].endS <= kUsualPauseS;
    m_pausesOften = pauses >= kManyPauses;
  }

  // Whether the work of `next` still belongs to the load before it.
  bool goesOn(const LoadParts& load, const TimeSpan& next) const {
    const TimeSpan rest{load.back().endS, next.startS};
    if (m_passes.contains(rest.startS) && m_passes.contains(rest.endS)) return true;
    const bool isCutOff = next.endS > m_lastS;
    const bool isBurst = rest.lengthS() > std::max(2 * next.lengthS(), kPauseS) || next.lengthS() < 2 * m_interval;
    if (isBurst && !(isCutOff && rest.lengthS() <= kCutOffShare * busyS(load))) return false;
    return isPause(load, rest) || !parts(load, rest);
  }

  // Two loads of full length are one where the rest between does not part them.
  bool parts(const LoadParts& load, const TimeSpan& rest) const {
    const double lengthS = load.back().endS - load.front().startS;
    return rest.lengthS() > kPartedByShare * lengthS || fallsBack(load, rest);
  }
  bool isPause(const LoadParts& load, const TimeSpan& rest) const {
    const double workedS = busyS(load);
    if (rest.lengthS() > std::max(workedS / 2, 2 * m_interval)) return false;
    const double mostS =
        std::max({kPauseS, kShortestLoadSamples * m_interval, std::min(kPauseShare * workedS, kLongestPauseS)});
    return rest.lengthS() <= mostS || (m_pausesOften && rest.lengthS() <= kUsualPauseS);
  }

 private:
  bool fallsBack(const LoadParts& load, const TimeSpan& rest) const {
    const double startS = load.front().startS, lengthS = load.back().endS - startS;
    const double levelS = std::max(kLevelShare * lengthS, 2 * m_interval);
    const double top = middleIn(m_watched, {load.back().endS - levelS, load.back().endS});
    double bottom = middleIn(m_watched, {startS - levelS, startS});
    if (std::isnan(bottom)) bottom = middleIn(m_watched, {startS, startS + 2 * m_interval});
    if (!(top - bottom > kLeastRiseK)) return false;
    // The second lowest: one reading may be a misreading.
    double lowest = INFINITY, second = INFINITY;
    for (const double value : viewOf(m_watched, rest).v) {
      second = std::min(second, std::max(value, lowest));
      lowest = std::min(lowest, value);
    }
    return top - second > kPartedByFall * (top - bottom);
  }

  double m_interval, m_lastS;
  SeriesView m_watched;
  TimeSpan m_passes{INFINITY, -INFINITY};
  bool m_pausesOften = false;
};

double shortestLoad(const Activity& activity, const Log& log) {
  if (activity.kind == Activity::Kind::AlwaysBusy) return 0;
  const double whole = log.timeS.back() - log.timeS.front();
  return std::max({kShortestLoadS, std::min(kSurelyLoadS, kShortestLoadShare * whole),
                   kShortestLoadSamples * medianInterval(log.timeS)});
}

}  // namespace

std::vector<LoadParts> loadsIn(const Activity& activity, const Log& log, const SeriesView& watched,
                               const std::vector<Pass>& passes) {
  std::vector<LoadParts> loads;
  if (activity.busy.empty() || log.timeS.empty()) return loads;
  const std::vector<TimeSpan> spans = withoutFlicker(activity.busy, medianInterval(log.timeS));
  const Parting parting(log, watched, passes, spans);
  for (const TimeSpan& span : spans) {
    if (!loads.empty() && parting.goesOn(loads.back(), span))
      loads.back().push_back(span);
    else
      loads.push_back({span});
  }
  const double shortestS = shortestLoad(activity, log);
  std::erase_if(loads, [shortestS](const LoadParts& load) { return busyS(load) < shortestS; });
  // A burst in a pause must not part what the pause does not.
  std::vector<LoadParts> whole;
  for (LoadParts& load : loads) {
    const TimeSpan rest = whole.empty() ? TimeSpan{} : TimeSpan{whole.back().back().endS, load.front().startS};
    if (!whole.empty() && (parting.isPause(whole.back(), rest) || !parting.parts(whole.back(), rest)))
      whole.back().insert(whole.back().end(), load.begin(), load.end());
    else
      whole.push_back(std::move(load));
  }
  return whole;
}

}  // namespace ash
