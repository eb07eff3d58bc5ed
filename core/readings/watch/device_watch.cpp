// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/watch/device_watch.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>

#include "readings/kernel/device_sleep.h"
#include "readings/kernel/found.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

const MachineSetting* find(const std::vector<MachineSetting>& settings, const std::string& key) {
  const auto found =
      std::find_if(settings.begin(), settings.end(), [&](const MachineSetting& s) { return s.key == key; });
  return found == settings.end() ? nullptr : &*found;
}

// Keys of both, each once, in the order of the first.
std::vector<std::string> allKeys(const std::vector<MachineSetting>& before, const std::vector<MachineSetting>& now) {
  std::vector<std::string> keys;
  for (const auto* list : {&before, &now}) {
    for (const MachineSetting& setting : *list) {
      if (std::find(keys.begin(), keys.end(), setting.key) == keys.end()) keys.push_back(setting.key);
    }
  }
  return keys;
}

Event makeEvent(EventKind kind, const std::string& text, Json extra) {
  Event event;
  event.kind = kind;
  event.text = text;
  event.extra = std::move(extra);
  return event;
}

Json valueOf(const MachineSetting* setting) { return setting == nullptr ? Json() : setting->value; }

std::string alarmWords(const fs::path& folder, const std::string& file) {
  const std::string channel = file.substr(0, file.find('_'));
  std::string label = readWords(folder / (channel + "_label"));
  if (label.empty()) label = channel;
  std::string which = file.substr(channel.size() + 1);
  which.resize(which.size() - std::string("alarm").size());
  std::replace(which.begin(), which.end(), '_', ' ');
  return fmt::format("{} of {} ({}limit)", label, readWords(folder / "name"), which);
}

bool isAlarmFile(const std::string& name) {
  if (!name.ends_with("_alarm") || name.find('_') == std::string::npos) return false;
  for (const char* start : {"temp", "fan", "in", "curr", "power"}) {
    const size_t length = std::string(start).size();
    if (name.starts_with(start) && name.size() > length && std::isdigit(static_cast<unsigned char>(name[length])) != 0)
      return true;
  }
  return false;
}

}  // namespace

std::map<std::string, std::string> NewDevices::list() const {
  struct Class {
    const char* folder;
    const char* nameFile;
  };
  constexpr Class kClasses[] = {{"/sys/class/hwmon", "name"},
                                {"/sys/class/thermal", "type"},
                                {"/sys/class/power_supply", "model_name"},
                                {"/sys/block", "device/model"},
                                {"/sys/class/drm", "device/product_name"}};
  std::map<std::string, std::string> entries;
  for (const Class& row : kClasses) {
    std::error_code error;
    for (fs::directory_iterator it(m_root + row.folder, error), end; !error && it != end; it.increment(error)) {
      const std::string name = it->path().filename().string();
      if (name.starts_with("loop") || name.starts_with("dm-") || name.find('-') != std::string::npos) continue;
      const std::string words = readWords(it->path() / row.nameFile);
      // A chip that comes back under another number is the same chip; its place tells.
      std::error_code broken;
      const fs::path place = fs::canonical(it->path(), broken);
      entries[broken ? name : stableId(place.string())] = words.empty() ? name : words;
    }
  }
  return entries;
}

std::vector<Event> NewDevices::take() {
  auto now = list();
  std::vector<Event> events;
  for (const auto& [entry, words] : now) {
    if (m_known.contains(entry)) continue;
    events.push_back(makeEvent(EventKind::Fault,
                               fmt::format("{} was plugged in; its readings begin with the next run.", words),
                               {{"source", "devices"}, {"failure", "plugged in"}}));
    m_known[entry] = words;
  }
  return events;
}

void ChipAlarms::begin() {
  m_alarms.clear();
  for (const auto& [number, folder] : numberedEntries(m_root + "/sys/class/hwmon", "hwmon")) {
    if (isAsleep(folder / "device")) continue;
    std::error_code error;
    for (fs::directory_iterator it(folder, error), end; !error && it != end; it.increment(error)) {
      const std::string name = it->path().filename().string();
      if (!isAlarmFile(name)) continue;
      const auto state = readNumber(it->path());
      if (state) m_alarms.push_back({it->path().string(), alarmWords(folder, name), *state != 0});
    }
  }
}

std::vector<Event> ChipAlarms::take() {
  std::vector<Event> events;
  for (Alarm& alarm : m_alarms) {
    const auto state = readNumber(alarm.file);
    if (!state) continue;
    const bool isOn = *state != 0;
    if (isOn && !alarm.isOn) {
      events.push_back(
          makeEvent(EventKind::Fault, fmt::format("The chip's own alarm came on: {}.", alarm.words),
                    {{"source", "alarm"}, {"failure", "alarm"}, {"file", fs::path(alarm.file).filename().string()}}));
    }
    alarm.isOn = isOn;
  }
  return events;
}

std::vector<Event> SettingsWatch::take() {
  auto now = readMachineSettings(m_root);
  std::vector<Event> events;
  for (const std::string& key : allKeys(m_before, now)) {
    const MachineSetting* before = find(m_before, key);
    const MachineSetting* after = find(now, key);
    const MachineSetting& any = after != nullptr ? *after : *before;
    if (!any.matters || valueOf(before) == valueOf(after)) continue;
    std::string text = fmt::format("{} went from {} to {}.", any.words, settingText(before), settingText(after));
    // The same question for this setting alone: is it still as it was asked for?
    if (after != nullptr) {
      for (const std::string& sentence : notAsAsked(m_asked, {*after})) text += " " + sentence;
    }
    events.push_back(
        makeEvent(EventKind::Change, text, {{"setting", key}, {"before", valueOf(before)}, {"after", valueOf(after)}}));
  }
  m_before = std::move(now);
  return events;
}

Event SettingsWatch::atEnd() {
  const auto now = readMachineSettings(m_root);
  std::string differing;
  for (const std::string& key : allKeys(m_atStart, now)) {
    const MachineSetting* before = find(m_atStart, key);
    const MachineSetting* after = find(now, key);
    if (valueOf(before) == valueOf(after)) continue;
    const MachineSetting& any = after != nullptr ? *after : *before;
    differing += fmt::format("{}{}: {} at the start, {} at the end", differing.empty() ? "" : "; ", any.words,
                             settingText(before), settingText(after));
  }
  return makeEvent(EventKind::Settings,
                   differing.empty() ? "The machine's settings at the end are those of the start."
                                     : "The machine's settings at the end differ. " + differing + ".",
                   {{"settings", settingsToJson(now)}});
}

}  // namespace ash
