// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/figure.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <tuple>

#include "model/role.h"
#include "model/unit.h"

namespace ash {
namespace {

constexpr Concerns kHeat{true, false, true}, kEfficiency{false, true, true}, kStated{false, false, false};
constexpr FigureWords kWarmth{"runs", "cooler", "warmer"}, kPace{"runs", "slower", "faster"},
    kLoudness{"is", "quieter", "louder"};

// Title and definition are what a reader sees; docs/method.md says how each is worked out. What is usual is not
// written: see FigureKind.
constexpr std::array kKinds = {
    FigureKind{.id = FigureId::OverRoom,
               .code = "over_ambient_k",
               .isOfDevice = true,
               .title = "over room",
               .unit = "K",
               .definition = "Temperature minus room temperature, mean of the window.",
               .group = FigureGroup::Temperature,
               .measuredBy = MeasuredBy::OverRoom,
               .warming = WhileWarming::Above,
               .concerns = kHeat,
               .words = kWarmth,
               .mayLead = true,
               .ofEveryDevice = true},
    FigureKind{.id = FigureId::Temperature,
               .code = "temp",
               .isOfDevice = true,
               .title = "temperature",
               .unit = "°C",
               .definition = "Mean temperature of the window.",
               .group = FigureGroup::Temperature,
               .measuredBy = MeasuredBy::Temperature,
               .warming = WhileWarming::Above,
               .concerns = kHeat,
               .words = kWarmth,
               .mayLead = true},
    FigureKind{.id = FigureId::Peak,
               .code = "peak_c",
               .isOfDevice = true,
               .title = "highest",
               .unit = "°C",
               .definition = "Highest temperature under load; single-sample spikes are left out.",
               .group = FigureGroup::Temperature,
               .measuredBy = MeasuredBy::Temperature,
               .warming = WhileWarming::Above,
               .concerns = kHeat,
               .words = kWarmth},
    FigureKind{.id = FigureId::HeadroomK,
               .code = "headroom_k",
               .isOfDevice = true,
               .title = "headroom",
               .unit = "K",
               .definition = "Throttle limit minus temperature, mean of the window.",
               .group = FigureGroup::Temperature,
               .better = Better::Higher,
               .measuredBy = MeasuredBy::TemperatureMean,
               .warming = WhileWarming::Below,
               .concerns = kHeat,
               .ofEveryDevice = true},
    FigureKind{
        .id = FigureId::Resistance,
        .code = "resistance_k_per_w",
        .isOfDevice = true,
        .title = "thermal resistance",
        .unit = "K/W",
        .definition =
            "Kelvin over room per watt of the same device, in the window; holds for the fan speed of that window.",
        .group = FigureGroup::Temperature,
        .hasRatio = true,
        .concerns = kHeat},
    FigureKind{.id = FigureId::HeadroomW,
               .code = "headroom_w",
               .isOfDevice = true,
               .title = "headroom",
               .unit = "W",
               .definition = "Watts it could carry more before its limit, at this room and fan speed.",
               .group = FigureGroup::Temperature,
               .better = Better::Higher,
               .concerns = kHeat,
               .mayLead = true},
    FigureKind{.id = FigureId::HottestRoom,
               .code = "hottest_room_c",
               .isOfDevice = true,
               .title = "hottest room",
               .unit = "°C",
               .definition = "Room at which the limit would be reached under this load.",
               .group = FigureGroup::Temperature,
               .better = Better::Higher,
               .concerns = kHeat,
               .mayLead = true},
    FigureKind{.id = FigureId::Clock,
               .code = "clock",
               .isOfDevice = true,
               .title = "clock",
               .unit = "MHz",
               .definition = "Mean clock of the window.",
               .group = FigureGroup::Speed,
               .better = Better::Higher,
               .hasRatio = true,
               .words = kPace,
               .mayLead = true},
    FigureKind{.id = FigureId::ThrottledThermal,
               .code = "throttled_share_thermal",
               .isOfDevice = true,
               .title = "slowed by heat",
               .unit = "%",
               .definition = "Share of the load during which heat held the clock at least 3 % down.",
               .group = FigureGroup::Speed,
               .digits = 1,
               .scale = 100},
    FigureKind{.id = FigureId::Throttled,
               .code = "throttled_share",
               .isOfDevice = true,
               .title = "slowed in all",
               .unit = "%",
               .definition = "Share of the load with the clock at least 3 % down.",
               .group = FigureGroup::Speed,
               .digits = 1,
               .scale = 100},
    FigureKind{.id = FigureId::WorkRate,
               .code = roles::kWorkRate,
               .title = "Work rate",
               .unit = "1/s",
               .definition = "Work units per second of the load, mean of the window.",
               .group = FigureGroup::Speed,
               .better = Better::Higher,
               .hasRatio = true,
               .words = kPace,
               .mayLead = true},
    FigureKind{.id = FigureId::Score,
               .code = roles::kScore,
               .title = "Score",
               .definition = "Mean over passes.",
               .group = FigureGroup::Speed,
               .better = Better::Higher,
               .hasRatio = true,
               .mayLead = true},
    FigureKind{.id = FigureId::FrameRate,
               .code = roles::kFrameRate,
               .title = "Frame rate",
               .unit = "frames/s",
               .definition = "Mean of the window.",
               .group = FigureGroup::Speed,
               .better = Better::Higher,
               .hasRatio = true,
               .mayLead = true},
    FigureKind{.id = FigureId::Stability,
               .code = "stability_percent",
               .title = "Pass stability",
               .unit = "%",
               .definition = "Worst pass score over best.",
               .group = FigureGroup::Speed,
               .better = Better::Higher},
    FigureKind{.id = FigureId::TaskTime,
               .code = "task_s",
               .title = "Task time",
               .unit = "s",
               .definition = "Time the work took.",
               .group = FigureGroup::Speed,
               .hasRatio = true,
               .words = {"has", "less", "more", "time"},
               .mayLead = true},
    FigureKind{.id = FigureId::Runtime,
               .code = "runtime_s",
               .title = "Runtime",
               .unit = "s",
               .definition = "Time on battery until it was empty.",
               .group = FigureGroup::Power,
               .better = Better::Higher,
               .hasRatio = true,
               .words = {"has", "less", "more", "time"},
               .mayLead = true},
    FigureKind{.id = FigureId::Power,
               .code = "power",
               .isOfDevice = true,
               .title = "power",
               .unit = "W",
               .definition = "Mean power of the window.",
               .group = FigureGroup::Power,
               .better = Better::Neither,
               .hasRatio = true},
    FigureKind{.id = FigureId::WallPower,
               .code = roles::kWallPower,
               .title = "Wall power",
               .unit = "W",
               .definition = "Mean of the window.",
               .group = FigureGroup::Power,
               .better = Better::Neither,
               .hasRatio = true,
               .mayLead = true},
    FigureKind{.id = FigureId::IdleWallPower,
               .code = "idle.wall.power",
               .title = "Wall power at rest",
               .unit = "W",
               .definition = "Mean of the rest phase.",
               .group = FigureGroup::Power,
               .hasRatio = true,
               .measuredBy = MeasuredBy::AtRest,
               .concerns = kStated},
    FigureKind{.id = FigureId::WorkPerJoule,
               .code = "work_per_joule",
               .title = "Work per joule",
               .unit = "1/J",
               .definition = "Work done under load over the energy it took.",
               .group = FigureGroup::Power,
               .better = Better::Higher,
               .hasRatio = true,
               .measuredBy = MeasuredBy::PowerShare,
               .concerns = kEfficiency,
               .mayLead = true},
    FigureKind{.id = FigureId::ScorePerWatt,
               .code = "score_per_watt",
               .title = "Score per watt",
               .unit = "1/W",
               .definition = "Mean over passes of score over power while it was earned.",
               .group = FigureGroup::Power,
               .better = Better::Higher,
               .hasRatio = true,
               .measuredBy = MeasuredBy::PowerShare,
               .concerns = kEfficiency,
               .mayLead = true},
    FigureKind{.id = FigureId::Energy,
               .code = "energy_j",
               .title = "Energy of the load",
               .unit = "J",
               .definition = "Power integrated over the load phase.",
               .group = FigureGroup::Power,
               .hasRatio = true,
               .measuredBy = MeasuredBy::PowerShare,
               .concerns = kEfficiency,
               .words = {"has", "less", "more", "energy"}},
    FigureKind{.id = FigureId::Noise,
               .code = roles::kNoise,
               .title = "Noise",
               .unit = "dBA",
               .definition = "Mean of the window, or as typed.",
               .group = FigureGroup::NoiseAndFans,
               .words = kLoudness,
               .mayLead = true},
    FigureKind{.id = FigureId::IdleNoise,
               .code = "idle.noise",
               .title = "Noise at rest",
               .unit = "dBA",
               .definition = "Mean of the rest phase.",
               .group = FigureGroup::NoiseAndFans,
               .measuredBy = MeasuredBy::AtRest,
               .concerns = kStated},
    FigureKind{.id = FigureId::FanSpeed,
               .isOfDevice = true,
               .unit = "RPM",
               .definition = "Mean fan speed of the window.",
               .group = FigureGroup::NoiseAndFans,
               .better = Better::Neither,
               .ofEveryDevice = true},
    FigureKind{.id = FigureId::FanWoke,
               .code = "woke_s",
               .isOfDevice = true,
               .title = "woke after",
               .unit = "s",
               .definition = "From the start of the load until the fan runs clearly faster than at rest.",
               .group = FigureGroup::NoiseAndFans,
               .better = Better::Neither,
               .ofEveryDevice = true},
    FigureKind{.id = FigureId::Price,
               .code = "price",
               .title = "Price",
               .definition = "As stated for the setup.",
               .group = FigureGroup::Value,
               .digits = 0,
               .concerns = kStated},
};
static_assert([] {
  for (size_t i = 0; i < kKinds.size(); ++i)
    if (static_cast<size_t>(kKinds[i].id) != i) return false;
  return kKinds.size() == static_cast<size_t>(FigureId::Other);
}());

constexpr FigureKind kOther{.id = FigureId::Other, .isOfDevice = true, .better = Better::Neither};

const FigureKind& kindOf(FigureId id) { return id == FigureId::Other ? kOther : kKinds[static_cast<size_t>(id)]; }

// Whatever moves air or water: all that is told of one stands behind its whole name.
bool isMover(std::string_view code) {
  const Device device(code);
  return device.is(DeviceKind::Pump) || (device.is(DeviceKind::Fan) && !device.place().empty());
}

}  // namespace

std::span<const FigureKind> figureKinds() { return kKinds; }

Figure::Figure(std::string_view code) : m_code(code), m_kind(&kOther) {
  for (const FigureKind& kind : kKinds) {
    if (!kind.isOfDevice && code == kind.code) {
      m_kind = &kind;
      return;
    }
  }
  if (Role(code).quantity() == Quantity::FanSpeed) {
    m_kind = &kindOf(FigureId::FanSpeed);
    m_device = Device(code);
    return;
  }
  const size_t dot = code.rfind('.');
  if (dot == std::string_view::npos) return;
  const std::string_view what = code.substr(dot + 1);
  for (const FigureKind& kind : kKinds) {
    const bool fits = kind.isOfDevice && !kind.code.empty() && what == kind.code;
    if (!fits || isMover(code) != (kind.id == FigureId::FanWoke)) continue;
    m_kind = &kind;
    m_device = Device(code.substr(0, dot));
    return;
  }
}

Figure::Figure(const Device& device, FigureId id) : m_device(device), m_code(device.text()), m_kind(&kindOf(id)) {
  if (!device.empty() && !m_kind->code.empty()) m_code += '.';
  m_code += m_kind->code;
}

std::string Figure::title() const {
  if (m_kind->id == FigureId::Other) return Role(m_code).title();
  if (!m_kind->isOfDevice) return std::string(m_kind->title);
  if (m_kind->id == FigureId::FanSpeed) return Role(m_code).title();
  if (m_kind->id == FigureId::FanWoke) return Role(m_device.text()).title() + " " + std::string(m_kind->title);
  if (m_device.is(DeviceKind::Surface)) {
    if (m_kind->id == FigureId::Temperature) return Role(m_device.text()).title();
    return fmt::format("Surface {} {}", m_device.place(), m_kind->title);
  }
  return m_device.shortName() + " " + std::string(m_kind->title);
}

std::string Figure::differenceUnit() const { return ash::differenceUnit(unit()); }

Better Figure::better(bool lowerScoreIsBetter) const {
  return m_kind->id == FigureId::Score && lowerScoreIsBetter ? Better::Lower : m_kind->better;
}

bool Figure::isTemperature() const { return ash::differenceUnit(unit()) == kKelvin; }

FigureGroup Figure::group() const {
  const bool isSurface = m_device.is(DeviceKind::Surface);
  return isSurface && m_kind->group == FigureGroup::Temperature ? FigureGroup::Surfaces : m_kind->group;
}

std::string_view titleOf(FigureGroup group) {
  constexpr std::array<std::string_view, 7> kTitles = {"Temperature",    "Surfaces", "Speed", "Power",
                                                       "Noise and fans", "Value",    ""};
  return kTitles[static_cast<size_t>(group)];
}

bool isListedBefore(const Figure& a, const Figure& b) {
  // Rows of one device stand together: where the first of such rows of the group stands in the catalogue.
  const auto sectionOf = [](const FigureKind& kind) {
    const auto first = std::find_if(kKinds.begin(), kKinds.end(), [&](const FigureKind& row) {
      return kind.isOfDevice ? row.isOfDevice && row.group == kind.group : row.id == kind.id;
    });
    return first - kKinds.begin();
  };
  const auto keyOf = [&](const Figure& figure) {
    const Device& device = figure.device();
    return std::tuple(figure.group(), sectionOf(figure.kind()), device.kind(), device.number(), device.place(),
                      figure.id());
  };
  return keyOf(a) < keyOf(b);
}

std::vector<Figure> figuresToAskFor() {
  std::vector<Figure> all;
  for (const FigureKind& kind : kKinds) {
    if (!kind.mayLead) continue;
    if (!kind.isOfDevice) all.emplace_back(kind.id);
    std::vector<Device> devices;
    if (kind.isOfDevice) devices = {DeviceKind::Cpu, DeviceKind::Gpu};
    if (kind.isOfDevice && kind.ofEveryDevice)
      devices.insert(devices.end(), {Device(DeviceKind::Board, Device::kRegulators), Device(DeviceKind::Storage)});
    for (const Device& device : devices) all.emplace_back(device, kind.id);
  }
  std::sort(all.begin(), all.end(), isListedBefore);
  return all;
}

}  // namespace ash
