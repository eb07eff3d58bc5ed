// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/figure.h"

#include <array>

#include "model/role.h"
#include "model/unit.h"

namespace ash {
namespace {

constexpr Concerns kHeat{true, false, true}, kRun{false, false, true}, kEfficiency{false, true, true}, kStated{};
constexpr FigureWords kWarmth{"runs", "cooler", "warmer"}, kPace{"runs", "slower", "faster"}, kPlain{},
    kLoudness{"is", "quieter", "louder"};
constexpr bool kHasRatio = true, kNoRatio = false;
constexpr bool kOfDevice = true, kOfRun = false;

// Title and definition are what a reader sees; docs/method.md says how each is worked out.
constexpr std::array kKinds = {
    FigureKind{FigureId::OverRoom, "over_ambient_k", kOfDevice, "over room", "K",
               "Temperature minus room temperature, mean of the window.", Better::Lower, kUsualDigits, 1, kNoRatio,
               MeasuredBy::OverRoom, WhileWarming::Above, kHeat, kWarmth},
    FigureKind{FigureId::Temperature, "temp", kOfDevice, "temperature", "°C", "Mean temperature of the window.",
               Better::Lower, kUsualDigits, 1, kNoRatio, MeasuredBy::Temperature, WhileWarming::Above, kHeat, kWarmth},
    FigureKind{FigureId::Peak, "peak_c", kOfDevice, "highest", "°C",
               "Highest temperature under load; single-sample spikes are left out.", Better::Lower, kUsualDigits, 1,
               kNoRatio, MeasuredBy::Temperature, WhileWarming::Above, kHeat, kWarmth},
    FigureKind{FigureId::HeadroomK, "headroom_k", kOfDevice, "headroom", "K",
               "Throttle limit minus temperature, mean of the window.", Better::Higher, kUsualDigits, 1, kNoRatio,
               MeasuredBy::TemperatureMean, WhileWarming::Below, kHeat, kPlain},
    FigureKind{FigureId::Resistance, "resistance_k_per_w", kOfDevice, "thermal resistance", "K/W",
               "Kelvin over room per watt of the same device, in the window; holds for the fan speed of that window.",
               Better::Lower, kUsualDigits, 1, kHasRatio, MeasuredBy::Itself, WhileWarming::Same, kHeat, kPlain},
    FigureKind{FigureId::HeadroomW, "headroom_w", kOfDevice, "headroom", "W",
               "Watts it could carry more before its limit, at this room and fan speed.", Better::Higher, kUsualDigits,
               1, kNoRatio, MeasuredBy::Itself, WhileWarming::Same, kHeat, kPlain},
    FigureKind{FigureId::HottestRoom, "hottest_room_c", kOfDevice, "hottest room", "°C",
               "Room at which the limit would be reached under this load.", Better::Higher, kUsualDigits, 1, kNoRatio,
               MeasuredBy::Itself, WhileWarming::Same, kHeat, kPlain},
    FigureKind{FigureId::Clock, "clock", kOfDevice, "clock", "MHz", "Mean clock of the window.", Better::Higher,
               kUsualDigits, 1, kHasRatio, MeasuredBy::Itself, WhileWarming::Same, kRun, kPace},
    FigureKind{FigureId::ThrottledThermal, "throttled_share_thermal", kOfDevice, "slowed by heat", "%",
               "Share of the load during which heat held the clock at least 3 % down.", Better::Lower, 0, 100, kNoRatio,
               MeasuredBy::Itself, WhileWarming::Same, kRun, kPlain},
    FigureKind{FigureId::Throttled, "throttled_share", kOfDevice, "slowed", "%",
               "Share of the load with the clock at least 3 % down.", Better::Lower, 0, 100, kNoRatio,
               MeasuredBy::Itself, WhileWarming::Same, kRun, kPlain},
    FigureKind{FigureId::Power, "power", kOfDevice, "power", "W", "Mean power of the window.", Better::Neither,
               kUsualDigits, 1, kHasRatio, MeasuredBy::Itself, WhileWarming::Same, kRun, kPlain},
    FigureKind{FigureId::FanSpeed, "", kOfDevice, "", "RPM", "Mean fan speed of the window.", Better::Neither,
               kUsualDigits, 1, kNoRatio, MeasuredBy::Itself, WhileWarming::Same, kRun, kPlain},
    FigureKind{FigureId::FanWoke, "woke_s", kOfDevice, "woke after", "s",
               "From the start of the load until the fan runs clearly faster than at rest.", Better::Neither,
               kUsualDigits, 1, kNoRatio, MeasuredBy::Itself, WhileWarming::Same, kRun, kPlain},
    FigureKind{FigureId::WorkRate, "work.rate", kOfRun, "Work rate", "1/s",
               "Work units per second of the load, mean of the window.", Better::Higher, kUsualDigits, 1, kHasRatio,
               MeasuredBy::Itself, WhileWarming::Same, kRun, kPace},
    FigureKind{FigureId::Score, "score", kOfRun, "Score", "", "Mean over passes.", Better::Higher, kUsualDigits, 1,
               kHasRatio, MeasuredBy::Itself, WhileWarming::Same, kRun, kPlain},
    FigureKind{FigureId::FrameRate, "frame.rate", kOfRun, "Frame rate", "frames/s", "Mean of the window.",
               Better::Higher, kUsualDigits, 1, kHasRatio, MeasuredBy::Itself, WhileWarming::Same, kRun, kPlain},
    FigureKind{FigureId::Stability, "stability_percent", kOfRun, "Pass stability", "%", "Worst pass score over best.",
               Better::Higher, kUsualDigits, 1, kNoRatio, MeasuredBy::Itself, WhileWarming::Same, kRun, kPlain},
    FigureKind{FigureId::TaskTime,
               "task_s",
               kOfRun,
               "Task time",
               "s",
               "Time the work took.",
               Better::Lower,
               kUsualDigits,
               1,
               kHasRatio,
               MeasuredBy::Itself,
               WhileWarming::Same,
               kRun,
               {"has", "less", "more", "time"}},
    FigureKind{FigureId::Runtime,
               "runtime_s",
               kOfRun,
               "Runtime",
               "s",
               "Time on battery until it was empty.",
               Better::Higher,
               kUsualDigits,
               1,
               kHasRatio,
               MeasuredBy::Itself,
               WhileWarming::Same,
               kRun,
               {"has", "less", "more", "time"}},
    FigureKind{FigureId::WallPower, "wall.power", kOfRun, "Wall power", "W", "Mean of the window.", Better::Neither,
               kUsualDigits, 1, kHasRatio, MeasuredBy::Itself, WhileWarming::Same, kRun, kPlain},
    FigureKind{FigureId::IdleWallPower, "idle.wall.power", kOfRun, "Wall power at rest", "W", "Mean of the rest phase.",
               Better::Lower, kUsualDigits, 1, kHasRatio, MeasuredBy::AtRest, WhileWarming::Same, kStated, kPlain},
    FigureKind{FigureId::WorkPerJoule, "work_per_joule", kOfRun, "Work per joule", "1/J",
               "Work done under load over the energy it took.", Better::Higher, kUsualDigits, 1, kHasRatio,
               MeasuredBy::PowerShare, WhileWarming::Same, kEfficiency, kPlain},
    FigureKind{FigureId::ScorePerWatt, "score_per_watt", kOfRun, "Score per watt", "1/W",
               "Mean over passes of score over power while it was earned.", Better::Higher, kUsualDigits, 1, kHasRatio,
               MeasuredBy::PowerShare, WhileWarming::Same, kEfficiency, kPlain},
    FigureKind{FigureId::Energy,
               "energy_j",
               kOfRun,
               "Energy of the load",
               "J",
               "Power integrated over the load phase.",
               Better::Lower,
               kUsualDigits,
               1,
               kHasRatio,
               MeasuredBy::PowerShare,
               WhileWarming::Same,
               kEfficiency,
               {"has", "less", "more", "energy"}},
    FigureKind{FigureId::Noise, "noise", kOfRun, "Noise", "dBA", "Mean of the window, or as typed.", Better::Lower,
               kUsualDigits, 1, kNoRatio, MeasuredBy::Itself, WhileWarming::Same, kRun, kLoudness},
    FigureKind{FigureId::IdleNoise, "idle.noise", kOfRun, "Noise at rest", "dBA", "Mean of the rest phase.",
               Better::Lower, kUsualDigits, 1, kNoRatio, MeasuredBy::AtRest, WhileWarming::Same, kStated, kPlain},
    FigureKind{FigureId::Price, "price", kOfRun, "Price", "", "As stated for the setup.", Better::Lower, 0, 1, kNoRatio,
               MeasuredBy::Itself, WhileWarming::Same, kStated, kPlain},
};
static_assert([] {
  for (size_t i = 0; i < kKinds.size(); ++i)
    if (static_cast<size_t>(kKinds[i].id) != i) return false;
  return kKinds.size() == static_cast<size_t>(FigureId::Other);
}());

constexpr FigureKind kOther{
    FigureId::Other,    "",   kOfDevice, "", "", "", Better::Neither, kUsualDigits, 1, kNoRatio, MeasuredBy::Itself,
    WhileWarming::Same, kRun, kPlain};

const FigureKind& kindOf(FigureId id) { return id == FigureId::Other ? kOther : kKinds[static_cast<size_t>(id)]; }

bool isFan(std::string_view code) { return code.starts_with("fan."); }

}  // namespace

std::span<const FigureKind> figureKinds() { return kKinds; }

Figure::Figure(std::string_view code) : m_code(code), m_kind(&kOther) {
  for (const FigureKind& kind : kKinds) {
    if (!kind.isOfDevice && code == kind.code) {
      m_kind = &kind;
      return;
    }
  }
  const size_t dot = code.rfind('.');
  if (dot == std::string_view::npos) return;
  const std::string_view what = code.substr(dot + 1);
  for (const FigureKind& kind : kKinds) {
    const bool fits = kind.isOfDevice && !kind.code.empty() && what == kind.code;
    if (!fits || isFan(code) != (kind.id == FigureId::FanWoke)) continue;
    m_kind = &kind;
    m_device = code.substr(0, dot);
    return;
  }
  if (!isFan(code)) return;
  m_kind = &kindOf(FigureId::FanSpeed);
  m_device = code;
}

Figure::Figure(std::string_view device, FigureId id) : m_device(device), m_kind(&kindOf(id)) {
  m_code = device;
  if (!device.empty() && !m_kind->code.empty()) m_code += '.';
  m_code += m_kind->code;
}

std::string Figure::title() const {
  if (m_kind->id == FigureId::Other) return plainRoleName(m_code);
  if (!m_kind->isOfDevice) return std::string(m_kind->title);
  if (m_kind->id == FigureId::FanSpeed) return plainRoleName(m_device);
  if (m_kind->id == FigureId::FanWoke) return plainRoleName(m_device) + " " + std::string(m_kind->title);
  if (isSurfaceRole(m_device)) return plainRoleName(m_device);
  return shortDeviceName(temperatureRoleOf(m_device)) + " " + std::string(m_kind->title);
}

std::string Figure::differenceUnit() const { return ash::differenceUnit(unit()); }

Better Figure::better(bool lowerScoreIsBetter) const {
  return m_kind->id == FigureId::Score && lowerScoreIsBetter ? Better::Lower : m_kind->better;
}

bool Figure::isTemperature() const { return ash::differenceUnit(unit()) == kKelvin; }

std::string temperatureRoleOf(const std::string& device) {
  if (isSurfaceRole(device)) return device;
  // The regulators are a part of their board: "board.vrm" is read as "board.temp.vrm".
  const size_t dot = device.find('.');
  return device.substr(0, dot) + ".temp" + (dot == std::string::npos ? "" : device.substr(dot));
}

}  // namespace ash
