// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/meaning/roles.h"

#include <algorithm>
#include <array>
#include <map>
#include <optional>
#include <set>
#include <string>

#include "model/pattern.h"
#include "model/role.h"
#include "readings/kernel/hwmon_drivers.h"
#include "readings/meaning/role_rules.h"

namespace ash {
namespace {

// The limit that `from` names becomes the one where the device slows down.
bool takeThrottleFrom(const char* from, Reading& reading) {
  const auto limit = reading.limits.find(from);
  if (limit == reading.limits.end()) return false;
  reading.limits["throttle"] = limit->second;
  const auto origin = reading.origins.find(from);
  if (origin != reading.origins.end()) reading.origins["throttle"] = origin->second;
  return true;
}

// Where a device slows itself down. coretemp: crit is TjMax, where it does; amdgpu: crit, with emergency above it;
// zones: the passive trip; others: max, else crit. Monitoring limits of a board chip are settings, not limits of a
// device.
void addThrottleLimit(Reading& reading) {
  if (reading.quantity != Quantity::Temperature || !reading.role.isLoadedTemperature()) return;
  if (hwmonDriver(reading.driver).slowsAtCritical && takeThrottleFrom("critical", reading)) return;
  for (const char* from : {"passive", "hot", "max", "critical"}) {
    if (takeThrottleFrom(from, reading)) return;
  }
}

// fam15h_power documents power1_crit as the processor's rated power (Documentation/hwmon/fam15h_power.rst).
void addPowerLimit(Reading& reading) {
  const auto rated = reading.limits.find("critical");
  if (hwmonDriver(reading.driver).criticalIsRated && rated != reading.limits.end()) {
    reading.limits["sustained"] = rated->second;
    reading.origins["sustained"] = reading.origins["critical"];
  }
  const auto cap = reading.limits.find("cap");
  if (reading.quantity == Quantity::Power && cap != reading.limits.end()) {
    reading.limits["sustained"] = cap->second;
    reading.origins["sustained"] = reading.origins["cap"];
  }
}

// The socket that a processor's reading tells of itself: "package-1", "Package id 1", coretemp.1.
std::optional<int> socketOf(const Reading& reading) {
  static const Pattern kSocket = Pattern::own("(?i)(?:package-|coretemp\\.|package id |physical id )([0-9]{1,3})");
  for (const std::string* text : {&reading.deviceKey, &reading.device, &reading.name}) {
    if (const auto match = kSocket.find(*text)) return std::stoi(std::string((*match)[1]));
  }
  return std::nullopt;
}

// Devices whose readings share one number; others (fans, places, probes) count up where a role is taken.
bool hasNumber(DeviceKind kind) {
  constexpr std::array kNumbered = {DeviceKind::Cpu, DeviceKind::Gpu, DeviceKind::Storage, DeviceKind::Memory,
                                    DeviceKind::Battery};
  return std::find(kNumbered.begin(), kNumbered.end(), kind) != kNumbered.end();
}

/// Numbers of devices: 1 for the first of a kind, by socket for processors.
class DeviceNumbers {
 public:
  int numberOf(const Reading& reading, const Role& role) {
    const DeviceKind kind = role.device().kind();
    if (!hasNumber(kind)) return 1;
    if (kind == DeviceKind::Cpu) {
      if (const auto socket = socketOf(reading)) return *socket + 1;
      // Several chips of one driver are several processors; chips of different drivers are the same one.
      return placeIn(m_known[{kind, reading.driver}], reading.deviceKey);
    }
    return placeIn(m_known[{kind, ""}], reading.deviceKey);
  }

 private:
  static int placeIn(std::vector<std::string>& known, const std::string& key) {
    const auto found = std::find(known.begin(), known.end(), key);
    if (found != known.end()) return static_cast<int>(found - known.begin()) + 1;
    known.push_back(key);
    return static_cast<int>(known.size());
  }
  std::map<std::pair<DeviceKind, std::string>, std::vector<std::string>> m_known;
};

struct Wish {
  Reading* reading;
  RoleWish wish;
  bool countsUp = false;  // a second one takes the next number instead of going without
};

// Of readings that would be the same thing the lowest rank gets it, the next its other role.
void give(std::vector<Wish>& wishes) {
  std::stable_sort(wishes.begin(), wishes.end(),
                   [](const Wish& a, const Wish& b) { return a.wish.rank < b.wish.rank; });
  std::set<Role> taken;
  for (Wish& wish : wishes) {
    std::vector<Role> wanted = {wish.wish.role, wish.wish.otherwise};
    for (int number = 2; wish.countsUp && number <= 64; ++number) wanted.push_back(wish.wish.role.ofNumber(number));
    for (const Role& role : wanted) {
      if (!role.isKnown() || !taken.insert(role).second) continue;
      wish.reading->role = role;
      break;
    }
  }
}

// A fan's speed and its duty stand under one number of a chip: fan2 and pwm2.
void nameDuties(const std::vector<Reading*>& readings) {
  static const Pattern kPath = Pattern::own("(.*)/(?:fan|pwm)([0-9]+)(?:_input)?");
  // What both have in common: the chip and the number.
  const auto placeOf = [](const std::string& path) -> std::string {
    const auto match = kPath.matchWhole(path);
    return match ? std::string((*match)[1]) + "#" + std::string((*match)[2]) : std::string();
  };
  std::map<std::string, Device> fans;
  for (const Reading* reading : readings) {
    if (reading->quantity == Quantity::FanSpeed && !reading->role.empty())
      fans[placeOf(reading->path)] = reading->role.device();
  }
  for (Reading* reading : readings) {
    const std::string place =
        reading->kind == kDutyKind && reading->role.empty() ? placeOf(reading->path) : std::string();
    const auto fan = fans.find(place);
    if (place.empty() || fan == fans.end()) continue;
    if (const Role duty(fan->second, Quantity::Percent, Part::Duty); duty.isKnown()) reading->role = duty;
  }
}

void applyChoices(const std::vector<Reading*>& readings, const ReadingChoices& choices) {
  for (Reading* reading : readings) {
    const auto choice = choices.find(reading->id);
    if (choice == choices.end()) continue;
    if (choice->second.role && !choice->second.role->empty()) {
      for (Reading* other : readings) {
        if (other != reading && other->role == *choice->second.role) other->role = Role();
      }
    }
    applyChoice(choice->second, *reading);
  }
}

}  // namespace

void assignRoles(const std::vector<Reading*>& readings, const ReadingChoices& choices) {
  DeviceNumbers numbers;
  std::vector<Wish> wishes;
  for (Reading* reading : readings) {
    Wish wish{reading, wishFor(*reading), false};
    reading->role = Role();
    if (wish.wish.role.empty()) continue;
    wish.countsUp = !hasNumber(wish.wish.role.device().kind());
    const int number = numbers.numberOf(*reading, wish.wish.role);
    wish.wish.role = wish.wish.role.ofNumber(number);
    wish.wish.otherwise = wish.wish.otherwise.ofNumber(number);
    wishes.push_back(std::move(wish));
  }
  give(wishes);
  nameDuties(readings);
  for (Reading* reading : readings) {
    addThrottleLimit(*reading);
    addPowerLimit(*reading);
    reading->ruleRole = reading->role;
  }
  applyChoices(readings, choices);
}

void giveWay(const std::vector<Reading*>& readings, const std::set<std::string>& toldElsewhere) {
  std::set<std::string> taken = toldElsewhere;
  for (const Reading* reading : readings) taken.insert(reading->role.text());
  for (Reading* reading : readings) {
    if (!toldElsewhere.contains(reading->role.text())) continue;
    reading->role = freeRole(reading->role, taken);
    taken.insert(reading->role.text());
  }
}

void tellDevicesApart(const std::vector<Reading*>& readings) {
  std::map<std::string, std::set<std::string>> keys;
  for (const Reading* reading : readings) keys[reading->device].insert(reading->deviceKey);
  for (Reading* reading : readings) {
    if (keys[reading->device].size() > 1 && !reading->place.empty()) reading->device += " (" + reading->place + ")";
  }
}

}  // namespace ash
