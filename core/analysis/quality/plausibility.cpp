// SPDX-License-Identifier: GPL-3.0-or-later
// Values that cannot be what the header says, and sources that contradict each other.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/energy/energy.h"
#include "analysis/quality/problems.h"
#include "model/role.h"

namespace ash {
namespace {

/// Of which readings a doubt holds. One without a role may be the mains.
enum class Of { Anything, Device, Room };

bool isMeant(Of of, const Role& role) {
  return of == Of::Anything || (of == Of::Room ? role.isRoom() : role.isKnown());
}

struct Doubt {
  Quantity quantity;
  Of of;
  double from, to;  // of the median: then it is doubted
  const char* rather;
};

// What no such reading can be, and what it then most likely is.
constexpr std::array kDoubts = {
    Doubt{Quantity::Temperature, Of::Anything, 1000, INFINITY, "thousandths of a degree"},
    Doubt{Quantity::Temperature, Of::Anything, 250, 1000, "kelvin"},
    Doubt{Quantity::Temperature, Of::Room, 50, 120, "degrees Fahrenheit"},
    Doubt{Quantity::Temperature, Of::Anything, 130, 250, "degrees Fahrenheit"},
    Doubt{Quantity::Clock, Of::Anything, 0.05, 12, "GHz"},
    Doubt{Quantity::Clock, Of::Anything, 1e5, 1e8, "kHz"},
    Doubt{Quantity::Clock, Of::Anything, 1e8, INFINITY, "Hz"},
    Doubt{Quantity::Power, Of::Anything, 3000, INFINITY, "mW"},
    Doubt{Quantity::Voltage, Of::Device, 100, INFINITY, "mV"},
    Doubt{Quantity::Voltage, Of::Anything, 600, INFINITY, "mV"},
};

void doubtUnit(const Channel& channel, const SeriesView& series, std::vector<Problem>& problems) {
  const SeriesView all = series;
  std::vector<double> some;
  const size_t stride = all.size() / 5000 + 1;
  for (size_t i = 0; i < all.size(); i += stride) some.push_back(all.v[i]);
  const double middle = medianOf(std::move(some));
  const auto doubt = std::find_if(kDoubts.begin(), kDoubts.end(), [&](const Doubt& one) {
    return one.quantity == channel.quantity && isMeant(one.of, channel.role) && middle >= one.from && middle < one.to;
  });
  if (doubt != kDoubts.end()) {
    problems.push_back(
        {ProblemKind::UnitSuspected, channel.name, series.t.front(), series.t.back(),
         fmt::format("{} is around {:.4g} {}, which it can hardly be; it looks like {}: correct the unit "
                     "in the header.",
                     channel.name, middle, channel.unit, doubt->rather)});
  }
}

bool isLoad(const Role& role) {
  return role.quantity() == Quantity::Percent && role.isMain() && !role.device().is(DeviceKind::Battery);
}

// A load that never leaves 0 … 1 while power says there was work.
void doubtShare(const RunContext& context, const Channel& channel, const SeriesView& series,
                std::vector<Problem>& problems) {
  if (channel.quantity != Quantity::Percent || !isLoad(channel.role) || !context.load) return;
  const SeriesView part = viewOf(series, *context.load);
  if (part.size() < 8) return;
  const double highest = *std::max_element(series.v.begin(), series.v.end());
  if (highest > 1.0 + 1e-9 || meanOf(part.v) < 0.3) return;
  problems.push_back(
      {ProblemKind::UnitSuspected, channel.name, series.t.front(), series.t.back(),
       fmt::format("{} never exceeds 1 %; it looks like a ratio: correct the unit in the header.", channel.name)});
}

void add(std::vector<Problem>& problems, const std::string& channel, const TimeSpan& span, std::string text) {
  problems.push_back({ProblemKind::SourcesDisagree, channel, span.startS, span.endS, std::move(text)});
}

void compareRooms(const RunContext& context, const TimeSpan& span, std::vector<Problem>& problems) {
  constexpr double kRoomsApartK = 2;
  const double room = meanIn(context, roles::kRoom, span);
  for (const Channel& channel : context.run.log.channels) {
    if (!channel.role.isRoom() || channel.name == roles::kRoom) continue;
    const double other = meanIn(context, channel.name, span);
    if (!(std::abs(other - room) > kRoomsApartK)) continue;
    add(problems, channel.name, span,
        fmt::format("room.temp says {:.1f} °C and {} {:.1f} °C: see which one stands at the intake.", room,
                    channel.name, other));
  }
}

// An energy counter and the power beside it tell the same joules.
void compareCounters(const RunContext& context, const TimeSpan& span, std::vector<Problem>& problems) {
  constexpr double kCountersApart = 0.07;
  for (const DeviceKind device : {DeviceKind::Cpu, DeviceKind::Gpu, DeviceKind::Wall}) {
    const std::string name = Role(device, Quantity::Power).text();
    const SeriesView* power = context.find(name);
    const SeriesView* counter = context.find(Role(device, Quantity::Energy).text());
    if (power == nullptr || counter == nullptr) continue;
    const SeriesView part = viewOf(*counter, span);
    if (part.size() < 8) continue;
    const bool rises = std::is_sorted(part.v.begin(), part.v.end());
    const double counted = part.v.back() - part.v.front();
    const auto integrated = integrateW(*power, {part.t.front(), part.t.back()}, INFINITY);
    if (!rises || !integrated || !(counted > 0)) continue;
    if (std::abs(*integrated / counted - 1) <= kCountersApart) continue;
    add(problems, name, span,
        fmt::format("{} adds up to {:.0f} J and its counter to {:.0f} J: say which one is to be quoted.", name,
                    *integrated, counted));
  }
}

// The whole draws no less than its parts.
void compareWhole(const RunContext& context, const TimeSpan& span, std::vector<Problem>& problems) {
  const double wall = meanIn(context, roles::kWallPower, span);
  double parts = 0;
  for (const char* part : {roles::kCpuPower, roles::kGpuPower}) {
    const double watts = meanIn(context, part, span);
    if (std::isfinite(watts)) parts += watts;
  }
  if (wall < 0.97 * parts) {
    add(problems, roles::kWallPower, span,
        fmt::format("wall.power says {:.0f} W while the devices behind it draw {:.0f} W: see what the meter measures.",
                    wall, parts));
  }
  const double board = meanIn(context, roles::kGpuPower, span), chip = meanIn(context, roles::kGpuPowerChip, span);
  if (board < 0.97 * chip) {
    add(problems, roles::kGpuPower, span,
        fmt::format("gpu.power (whole board) says {:.0f} W and its chip alone {:.0f} W: see which is which.", board,
                    chip));
  }
}

void compareTemperatures(const RunContext& context, const TimeSpan& span, std::vector<Problem>& problems) {
  constexpr double kPackageApartK = 12;
  const double hottest = meanIn(context, roles::kCpuTemp, span);
  const double mean = meanIn(context, roles::kCpuTempMean, span),
               package = meanIn(context, roles::kCpuTempPackage, span);
  if (mean > hottest + 2) {
    add(problems, roles::kCpuTempMean, span,
        fmt::format("cpu.temp.mean ({:.1f} °C) is above cpu.temp ({:.1f} °C), the hottest: they are mixed up.", mean,
                    hottest));
  }
  if (std::abs(package - hottest) > kPackageApartK) {
    add(problems, roles::kCpuTempPackage, span,
        fmt::format("cpu.temp says {:.1f} °C and cpu.temp.package {:.1f} °C: say which one is to be quoted.", hottest,
                    package));
  }
}

}  // namespace

std::vector<Problem> findImplausible(const RunContext& context) {
  std::vector<Problem> problems;
  for (const Channel& channel : context.run.log.channels) {
    const SeriesView& series = context.series.at(channel.name);
    if (series.size() < 4) continue;
    doubtUnit(channel, series, problems);
    doubtShare(context, channel, series, problems);
  }
  const auto& times = context.run.log.timeS;
  if (times.empty()) return problems;
  const TimeSpan span = context.window ? context.window->span : TimeSpan{times.front(), times.back()};
  compareRooms(context, span, problems);
  compareCounters(context, context.load ? *context.load : span, problems);
  compareWhole(context, span, problems);
  compareTemperatures(context, span, problems);
  return problems;
}

std::vector<Problem> findSecondSources(const RunContext& context, const Figures& figures) {
  std::vector<Problem> problems;
  for (const SecondSource& one : figures.seconds) {
    if (!context.window || !one.disagrees()) continue;
    add(problems, one.other, context.window->span,
        fmt::format("{} says {:.1f} {} and {} {:.1f}, {}: say on Readings which one is quoted.", one.quoted,
                    one.quotedMean, one.unit, one.other, one.otherMean,
                    one.isStated ? "farther apart than both may be off" : "too far apart for one thing"));
  }
  return problems;
}

}  // namespace ash
