// SPDX-License-Identifier: GPL-3.0-or-later
// Which lanes a run has, and what stands in each.
#include <algorithm>

#include "app/look/theme.h"
#include "app/look/words.h"
#include "app/watch/lane.h"
#include "app/watch/live_model.h"
#include "model/knob_condition.h"
#include "model/role.h"

namespace ash {
using look::text;
using look::theme;
namespace {

QPen linePen(const QColor& colour, double width, const QVector<qreal>& dashes = {}) {
  QPen pen(colour, width);
  if (!dashes.isEmpty()) pen.setDashPattern(dashes);
  return pen;
}

void addLine(LaneSpec& spec, const LiveModel& model, const std::string& column, const QString& label, const QPen& pen) {
  if (!model.series(column).empty()) spec.lines.push_back({column, label, pen});
}

LaneSpec temperatureLane(const LiveModel& model) {
  const auto& t = theme();
  LaneSpec spec{LaneKind::Temperature, QObject::tr("Over room"), QStringLiteral("K"), 196, {}, 1, 1, true};
  if (model.series(roles::kRoom).empty()) {
    spec.title = QObject::tr("Temperature");
    spec.unit = QStringLiteral("°C");
    spec.isOverRoom = false;
  }
  const QVector<qreal> dashes[] = {{}, {5, 3}, {1, 3}, {8, 3, 2, 3}};
  int style = 0;
  for (const std::string& column : model.budgetColumns()) {
    if (column == model.info().watched) continue;
    addLine(spec, model, column, text(Role(column).shortName()),
            linePen(style == 2 ? t.softInk : t.ink, style == 2 ? 1.5 : 1.1, dashes[style]));
    style = std::min(style + 1, 3);
  }
  const std::string watched = model.info().watched;
  addLine(spec, model, watched, text(Role(watched).shortName()), linePen(t.series(model.info().setupIndex), 1.75));
  return spec;
}

LaneSpec plainLane(const LiveModel& model, LaneKind kind, const QString& title, const QString& unit, int stretch,
                   double factor, int digits, const std::vector<std::pair<std::string, QString>>& columns) {
  const auto& t = theme();
  LaneSpec spec{kind, title, unit, stretch, {}, factor, digits, false};
  const QString watchedDevice = text(model.info().watched).section(QLatin1Char('.'), 0, 0);
  for (const auto& [column, label] : columns) {
    const bool isWatched = text(column).startsWith(watchedDevice + QLatin1Char('.')) || kind == LaneKind::Work;
    addLine(spec, model, column, label,
            isWatched ? linePen(t.series(model.info().setupIndex), 1.5) : linePen(t.ink, 1.1, {5, 3}));
  }
  return spec;
}

}  // namespace

std::vector<LaneSpec> laneSpecs(const LiveModel& model) {
  std::vector<std::pair<std::string, QString>> fans;
  for (const auto& [name, reading] : model.info().readings) {
    if (reading.quantity == Quantity::FanSpeed && fans.size() < 4)
      fans.emplace_back(name, text(Role(name).shortName()));
  }
  std::vector<LaneSpec> specs = {
      temperatureLane(model),
      plainLane(model, LaneKind::Clock, QObject::tr("Clock"), QStringLiteral("GHz"), 80, 1e-3, 2,
                {{roles::kCpuClock, QStringLiteral("CPU")}}),
      plainLane(model, LaneKind::Power, QObject::tr("Power"), QStringLiteral("W"), 64, 1, 1,
                {{roles::kCpuPower, QStringLiteral("CPU")},
                 {roles::kGpuPower, QStringLiteral("GPU")},
                 {roles::kWallPower, QObject::tr("Wall")}}),
      plainLane(model, LaneKind::Fans, QObject::tr("Fans"), QStringLiteral("RPM"), 56, 1, 0, fans),
      plainLane(model, LaneKind::Fans, QObject::tr("Noise"), QStringLiteral("dBA"), 40, 1, 1,
                {{roles::kNoise, QObject::tr("now")}}),
      plainLane(model, LaneKind::Work, QObject::tr("Work rate"), QStringLiteral("1/s"), 40, 1, 1,
                {{roles::kWorkRate, QObject::tr("now")}})};
  if (runsBatteryDown(model.info().procedure))
    specs.insert(specs.begin() + 3, plainLane(model, LaneKind::Fans, QObject::tr("Charge"), QStringLiteral("%"), 48, 1,
                                              0, {{roles::kBatteryCharge, QObject::tr("now")}}));
  // What holds the power, where it can be read: a limit that the firmware moves is seen.
  addLine(specs[2], model, kPowerLimitKnob, QObject::tr("limit"), linePen(theme().softInk, 1, {2, 3}));
  if (specs[1].lines.empty()) {
    specs[1] = plainLane(model, LaneKind::Clock, QObject::tr("Load"), QStringLiteral("%"), 80, 1, 0,
                         {{roles::kCpuLoad, QStringLiteral("CPU")}});
    specs[1].kind = LaneKind::Power;
  }
  std::erase_if(specs, [](const LaneSpec& spec) { return spec.lines.empty(); });
  return specs;
}

}  // namespace ash
