// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/catalogue/figure.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <tuple>

#include "model/number_text.h"
#include "model/role.h"
#include "model/unit.h"

namespace ash {
namespace {

using catalogue::kKinds;
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

int Figure::digits() const { return m_kind->digits == kUsualDigits ? usualDigits(unit()) : m_kind->digits; }

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

std::vector<std::pair<Figure, Figure>> tradeOffPairs() {
  std::vector<const FigureKind*> costs;
  for (const FigureKind& kind : kKinds) {
    if (kind.trade.place > 0) costs.push_back(&kind);
  }
  std::sort(costs.begin(), costs.end(),
            [](const FigureKind* a, const FigureKind* b) { return a->trade.place < b->trade.place; });
  const auto figureOf = [](const FigureKind& kind, DeviceKind device) {
    return kind.isOfDevice ? Figure(Device(device), kind.id) : Figure(kind.id);
  };
  std::vector<std::pair<Figure, Figure>> pairs;
  for (const DeviceKind device : {DeviceKind::Cpu, DeviceKind::Gpu}) {
    for (const FigureKind* cost : costs) {
      for (const FigureId bought : cost->trade.buys) {
        if (bought == kNoFigure) continue;
        const std::pair pair(figureOf(*cost, device), figureOf(kindOf(bought), device));
        if (std::find(pairs.begin(), pairs.end(), pair) == pairs.end()) pairs.push_back(pair);
      }
    }
  }
  return pairs;
}

}  // namespace ash
