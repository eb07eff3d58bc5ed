// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/ladder.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "analysis/comparison/curve_shape.h"
#include "model/condition_field.h"
#include "model/knob_condition.h"
#include "model/role.h"
#include "model/setup_name.h"
#include "model/text.h"

namespace ash {
namespace {

// The rungs of a ladder differ in these, and in what is read or paid.
bool isRungField(const std::string& field) {
  static const std::set<std::string> kFields = {"fan_duty", "fan_mode",  "fan_rpm", "fan_rpm_set", "power_limit_w",
                                                "price",    "currency",  "room_c",  "note",        "picture",
                                                "noise",    "noise_dba", "duty",    "knobs"};
  return kFields.contains(field) || field.ends_with("_duty") || field.ends_with("_power_limit_w") || isKnobId(field) ||
         isOwnKnob(field);
}

std::string familyKey(const Pool& pool) {
  std::string key = familyName(pool.setup) + '\n' + pool.load;
  for (const auto& [field, value] : pool.first().run.facts.conditions.items()) {
    if (!isRungField(field)) key += '\n' + field + '=' + jsonText(value);
  }
  return key;
}

// Rungs in order; those at the same place become one.
std::vector<Rung> inOrder(std::vector<Rung> rungs) {
  std::erase_if(rungs, [](const Rung& rung) { return !std::isfinite(rung.x) || !std::isfinite(rung.y); });
  std::sort(rungs.begin(), rungs.end(), [](const Rung& a, const Rung& b) { return a.x < b.x; });
  std::vector<Rung> apart;
  for (const Rung& rung : rungs) {
    const bool isSame = !apart.empty() && rung.x - apart.back().x < 1e-6 * std::max(1.0, std::abs(rung.x));
    if (!isSame) {
      apart.push_back(rung);
      continue;
    }
    Rung& last = apart.back();
    last.y = (last.y + rung.y) / 2;
    last.varianceY = (last.varianceY + rung.varianceY) / 4;
  }
  return apart;
}

MonotoneCurve curveOf(const std::vector<Rung>& rungs) {
  std::vector<double> x, y;
  for (const Rung& rung : rungs) {
    x.push_back(rung.x);
    y.push_back(rung.y);
  }
  return {std::move(x), std::move(y)};
}

// What the curve may do between the rungs. That a rung's place is not known exactly moves its figure along the slope.
ShapeDoubt shapeBetween(const std::vector<Rung>& rungs, double at) {
  std::vector<double> x, y, variances;
  for (size_t i = 0; i < rungs.size(); ++i) {
    const Rung& before = rungs[i == 0 ? 0 : i - 1];
    const Rung& after = rungs[std::min(i + 1, rungs.size() - 1)];
    const double slope = (after.y - before.y) / (after.x - before.x);
    x.push_back(rungs[i].x);
    y.push_back(rungs[i].y);
    variances.push_back(rungs[i].varianceY + slope * slope * rungs[i].varianceX);
  }
  return shapeDoubt(x, y, variances, at);
}

}  // namespace

Result<EqualBy> parseEqualBy(const std::string& text) {
  const size_t equals = text.find('=');
  const std::string what = text.substr(0, equals);
  constexpr std::array<std::pair<std::string_view, EqualBy::What>, 5> kWords = {{{"noise", EqualBy::What::Noise},
                                                                                 {"power", EqualBy::What::Power},
                                                                                 {"fan", EqualBy::What::Fan},
                                                                                 {"none", EqualBy::What::None},
                                                                                 {"", EqualBy::What::None}}};
  const auto known = std::find_if(kWords.begin(), kWords.end(), [&](const auto& word) { return word.first == what; });
  if (known == kWords.end())
    return Error::badInput(fmt::format("--equal takes noise, power, fan or none, with =VALUE behind, not {}.", text));
  EqualBy equal;
  equal.what = known->second;
  if (equals == std::string::npos) return equal;
  equal.at = parseNumber(text.substr(equals + 1));
  if (!equal.at || equal.what == EqualBy::What::None)
    return Error::badInput(fmt::format("--equal {}: give the value as a number, e.g. noise=38.5.", text));
  return equal;
}

MonotoneCurve::MonotoneCurve(std::vector<double> x, std::vector<double> y) : m_x(std::move(x)), m_y(std::move(y)) {
  const size_t n = m_x.size();
  m_slope.assign(n, 0);
  if (n < 2) return;
  std::vector<double> secant(n - 1);
  for (size_t i = 0; i + 1 < n; ++i) secant[i] = (m_y[i + 1] - m_y[i]) / (m_x[i + 1] - m_x[i]);
  m_slope.front() = secant.front();
  m_slope.back() = secant.back();
  for (size_t i = 1; i + 1 < n; ++i) m_slope[i] = secant[i - 1] * secant[i] <= 0 ? 0 : (secant[i - 1] + secant[i]) / 2;
  // The region in which a cubic between two points stays monotone.
  for (size_t i = 0; i + 1 < n; ++i) {
    if (secant[i] == 0) {
      m_slope[i] = m_slope[i + 1] = 0;
      continue;
    }
    const double a = m_slope[i] / secant[i], b = m_slope[i + 1] / secant[i], length = std::hypot(a, b);
    if (length <= 3) continue;
    m_slope[i] = 3 * a / length * secant[i];
    m_slope[i + 1] = 3 * b / length * secant[i];
  }
}

double MonotoneCurve::at(double x) const {
  if (m_x.empty() || !(x >= m_x.front() && x <= m_x.back())) return kMissing;
  if (m_x.size() == 1) return m_y.front();
  const auto after = std::upper_bound(m_x.begin() + 1, m_x.end() - 1, x);
  const auto i = static_cast<size_t>(after - m_x.begin()) - 1;
  const double width = m_x[i + 1] - m_x[i], s = (x - m_x[i]) / width;
  const double s2 = s * s, s3 = s2 * s;
  return (2 * s3 - 3 * s2 + 1) * m_y[i] + (s3 - 2 * s2 + s) * width * m_slope[i] + (-2 * s3 + 3 * s2) * m_y[i + 1] +
         (s3 - s2) * width * m_slope[i + 1];
}

ReadOff readOff(std::vector<Rung> given, double x, const std::string& what, const std::string& unit) {
  const std::vector<Rung> rungs = inOrder(std::move(given));
  ReadOff read;
  if (rungs.size() < 2) {
    read.reason = fmt::format("a ladder of at least two settings with {} is needed", what);
    return read;
  }
  const MonotoneCurve curve = curveOf(rungs);
  read.value = curve.at(x);
  if (std::isnan(read.value)) {
    read.reason = x < rungs.front().x ? fmt::format("its floor is {:.4g} {}", rungs.front().x, unit)
                                      : fmt::format("it was measured up to {:.4g} {} only", rungs.back().x, unit);
    return read;
  }
  const ShapeDoubt shape = shapeBetween(rungs, x);
  read.variance = shape.variance;
  double degreesBelow = shape.variance * shape.variance / shape.degrees;
  // How the curve moves with each of its points, by a small step of that point.
  for (size_t k = 0; k < rungs.size(); ++k) {
    for (const bool isX : {false, true}) {
      const double variance = isX ? rungs[k].varianceX : rungs[k].varianceY;
      if (!(variance > 0)) continue;
      const double step = 1e-3 * std::sqrt(variance);
      std::vector<Rung> moved = rungs;
      (isX ? moved[k].x : moved[k].y) += step;
      const double there = curveOf(moved).at(std::clamp(x, moved.front().x, moved.back().x));
      const double part = std::pow((there - read.value) / step, 2) * variance;
      read.variance += part;
      degreesBelow += part * part / rungs[k].degrees;
    }
  }
  if (degreesBelow > 0) read.degrees = read.variance * read.variance / degreesBelow;
  return read;
}

ReadOff settingThatMeets(std::vector<Rung> rungs, double wanted, const std::string& unit) {
  // The curve the other way round: what was set over what came of it.
  for (Rung& rung : rungs) {
    std::swap(rung.x, rung.y);
    std::swap(rung.varianceX, rung.varianceY);
  }
  return readOff(std::move(rungs), wanted, "that figure", unit);
}

std::vector<PoolLadder> laddersOf(const std::vector<Pool>& pools) {
  std::vector<PoolLadder> ladders;
  std::vector<std::string> keys;
  for (const Pool& pool : pools) {
    // Runs of one setup at different settings are rungs, too.
    std::map<std::string, Pool> bySetting;
    std::vector<std::string> order;
    for (const AnalyzedRun* run : pool.runs) {
      std::string setting;
      for (const auto& [field, value] : run->run.facts.conditions.items()) {
        if (isRungField(field) && field != fields::kRoom && field != fields::kNote)
          setting += field + '=' + jsonText(value) + '\n';
      }
      auto [place, isNew] = bySetting.try_emplace(setting, Pool{pool.setup, pool.load, {}});
      if (isNew) order.push_back(setting);
      place->second.runs.push_back(run);
    }
    const std::string key = familyKey(pool);
    const auto known = std::find(keys.begin(), keys.end(), key);
    if (known == keys.end()) {
      keys.push_back(key);
      ladders.push_back({familyName(pool.setup), pool.load, {}});
    }
    PoolLadder& ladder = ladders[static_cast<size_t>(std::find(keys.begin(), keys.end(), key) - keys.begin())];
    for (const std::string& setting : order) ladder.rungs.push_back(bySetting.at(setting));
  }
  return ladders;
}

std::optional<Figure> levelMetric(const std::vector<PoolLadder>& ladders, const MetricMaps& maps, EqualBy::What what) {
  std::vector<Figure> wanted;
  if (what == EqualBy::What::Noise) wanted = {FigureId::Noise};
  if (what == EqualBy::What::Power) {
    const Device cpu(DeviceKind::Cpu), gpu(DeviceKind::Gpu);
    Device watched = cpu;
    if (!ladders.empty()) {
      const AnalyzedRun& run = ladders.front().rungs.front().first();
      if (const Role role(run.figures.watched); role.isKnown()) watched = role.device();
    }
    wanted = {{watched, FigureId::Power}, FigureId::WallPower, {cpu, FigureId::Power}, {gpu, FigureId::Power}};
  }
  if (what == EqualBy::What::Fan) {
    wanted = {"fan.cpu", "fan.gpu", "fan.case"};
    for (const auto& [run, metrics] : maps) {
      for (const auto& [figure, value] : metrics) {
        if (figure.id() == FigureId::FanSpeed && figure.device().is(DeviceKind::Fan)) wanted.push_back(figure);
      }
    }
  }
  for (const Figure& figure : wanted) {
    const bool haveAll = !maps.empty() && std::all_of(maps.begin(), maps.end(),
                                                      [&](const auto& entry) { return entry.second.contains(figure); });
    if (haveAll) return figure;
  }
  return std::nullopt;
}

YearlyUse yearlyUse(double watts, double hoursADay, double tariffPerKiloWattHour) {
  constexpr double kDays = 365.25;
  const double kiloWattHours = watts / 1000 * hoursADay * kDays;
  return {kiloWattHours, kiloWattHours * tariffPerKiloWattHour};
}

}  // namespace ash
