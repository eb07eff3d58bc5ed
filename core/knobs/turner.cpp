// SPDX-License-Identifier: GPL-3.0-or-later
#include "knobs/turner.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <thread>

#include "knobs/find_knobs.h"
#include "model/number_text.h"
#include "model/text.h"
#include "readings/gauges/sysfs_file.h"
#include "readings/linux_machine.h"

namespace ash {
namespace {

constexpr char kClockMost[] = "cpu.clock.most", kClockLeast[] = "cpu.clock.least";
constexpr double kNearLimitK = 5;
constexpr double kReadBackShare = 0.005;                  // a driver rounds to its own steps
constexpr auto kAnswer = std::chrono::milliseconds(300);  // until firmware has made something else of a value
constexpr char kFullDuty[] = "255", kByHand[] = "1";

std::string shownNumber(double value, const std::string& unit) { return fmt::format("{} {}", knobNumber(value), unit); }

// The smallest distance of a temperature to its critical limit, with its words.
std::pair<double, std::string> nearestToLimit(const std::string& root) {
  std::pair<double, std::string> nearest{INFINITY, {}};
  for (const auto& source : openLinuxMachine(root).sources) {
    const Sweep sweep = sweepPatiently(source);
    for (size_t i = 0; i < source->info().readings.size() && i < sweep.values.size(); ++i) {
      const Reading& reading = source->info().readings[i];
      const auto critical = reading.limits.find("critical");
      if (reading.quantity != Quantity::Temperature || critical == reading.limits.end()) continue;
      const double leftK = critical->second - sweep.values[i];
      if (leftK < nearest.first) nearest = {leftK, reading.role.empty() ? reading.id : reading.role.title()};
    }
  }
  return nearest;
}

}  // namespace

std::string turnedWords(const Turned& turned) {
  const std::string unit = turned.unit.empty() ? "" : " " + turned.unit;
  if (turned.isAsAsked) return fmt::format("{}: {}{}", turned.knob, turned.readBack, unit);
  return fmt::format("{}: asked {}{}, got {}{}", turned.knob, turned.asked, unit, turned.readBack, unit);
}

Result<KnobTarget> targetOf(const Knob& knob, const std::string& value) {
  KnobTarget target;
  if (!knob.isNumber()) {
    std::vector<std::string> words;
    for (const KnobChoice& one : knob.choices) {
      words.push_back(one.word);
      if (one.word == value) return KnobTarget{0, one.word, one.raw};
    }
    return Error::badInput(
        fmt::format("{} takes one of: {}; not \"{}\".", knob.id, fmt::join(words, ", "), withoutControls(value)));
  }
  std::string_view number = trimmed(value);
  if (!knob.unit.empty() && number.ends_with(knob.unit))
    number = trimmed(number.substr(0, number.size() - knob.unit.size()));
  const auto parsed = parseNumber(number);
  if (!parsed || !std::isfinite(*parsed))
    return Error::badInput(
        fmt::format("{} takes a number ({}), not \"{}\".", knob.id, knob.unit, withoutControls(value)));
  constexpr double kLargest = 1e9;
  const double least = knob.least.value_or(0), most = knob.most.value_or(kLargest);
  if (*parsed < least || *parsed > most || (!knob.least && *parsed <= 0))
    return Error::badInput(knob.most ? fmt::format("{} goes from {} to {}.", knob.id, shownNumber(least, knob.unit),
                                                   shownNumber(most, knob.unit))
                                     : fmt::format("{} has to be above 0.", knob.id));
  target.number = *parsed;
  return target;
}

std::string putBackLeft(const std::string& root) {
  if (!TurnedJournal::isThere(root)) return {};
  auto turner = Turner::open(root);
  if (!turner) return turner.error().message;
  std::vector<std::string> ids;
  for (const TurnedFile& one : turner->turned()) {
    if (std::find(ids.begin(), ids.end(), one.knob) == ids.end()) ids.push_back(one.knob);
  }
  if (ids.empty()) return {};
  const auto troubles = turner->restore();
  if (!troubles.empty()) return fmt::format("{}", fmt::join(troubles, " "));
  return fmt::format("What an earlier run had left turned was put back: {}.", fmt::join(ids, ", "));
}

Turner::Turner(std::string root, TurnedJournal journal) : m_root(std::move(root)), m_journal(std::move(journal)) {}

Result<Turner> Turner::open(const std::string& root) {
  auto journal = TurnedJournal::open(root);
  if (!journal) return journal.error();
  Turner turner(root, std::move(*journal));
  turner.m_knobs = findKnobs(root);
  return turner;
}

const Knob* Turner::find(const std::string& id) const {
  const auto found = std::find_if(m_knobs.begin(), m_knobs.end(), [&](const Knob& knob) { return knob.id == id; });
  return found == m_knobs.end() ? nullptr : &*found;
}

Status Turner::check(const std::string& id, const std::string& value) const {
  const Knob* knob = find(id);
  if (knob == nullptr)
    return Error::badInput(
        fmt::format("There is no knob \"{}\" on this machine; `ashg knobs` lists them.", withoutControls(id)));
  if (!knob->isTurnable()) return Error::environment(fmt::format("{} cannot be turned. {}", id, knob->whyNot));
  const auto target = targetOf(*knob, value);
  if (!target) return target.error();
  return checkOrder(*knob, *target);
}

// The lowest clock allowed stays below the highest one (Documentation/admin-guide/pm/cpufreq.rst).
Status Turner::checkOrder(const Knob& knob, const KnobTarget& target) const {
  const bool isMost = knob.id == kClockMost;
  if (!isMost && knob.id != kClockLeast) return {};
  const Knob* other = find(isMost ? kClockLeast : kClockMost);
  if (other == nullptr || !other->value) return {};
  const bool isInOrder = isMost ? target.number >= *other->value : target.number <= *other->value;
  if (isInOrder) return {};
  return Error::badInput(fmt::format("{} cannot be {} while {} is {}; turn that first.", knob.id,
                                     shownNumber(target.number, knob.unit), other->id,
                                     shownNumber(*other->value, other->unit)));
}

// Only a number or a word out of the kernel's own list is ever written.
Status Turner::write(const std::string& file, const std::string& raw) const {
  const std::string path = m_root + "/" + file;
  const int descriptor = ::open(path.c_str(), O_WRONLY | O_CLOEXEC | (m_root.empty() ? 0 : O_TRUNC));
  if (descriptor < 0) return Error::io("write", path, errno);
  const std::string line = raw + "\n";
  const ssize_t written = ::write(descriptor, line.data(), line.size());
  const int error = errno;
  ::close(descriptor);
  return written == static_cast<ssize_t>(line.size()) ? Status() : Error::io("write", path, error);
}

Status Turner::turnFile(const Knob& knob, const std::string& file, const std::string& raw, bool isFanMode) {
  const auto before = readSmallFile(m_root + "/" + file);
  if (!before) return Error::environment(fmt::format("/{} cannot be read.", file));
  if (Status kept = m_journal.add({knob.id, file, *before, isFanMode}); !kept) return kept;
  return write(file, raw);
}

Status Turner::checkCool(const Knob& knob, const KnobTarget& target) const {
  const bool isDuty = !knob.modeFile.empty();
  const bool isMode = knob.id.starts_with("fan.") && !knob.isNumber();
  const bool slows = (isDuty && target.number < knob.value.value_or(0)) || (isMode && target.word == "manual");
  if (!slows) return {};
  const auto [leftK, words] = nearestToLimit(m_root);
  if (leftK >= kNearLimitK) return {};
  return Error::environment(fmt::format("No fan is turned down now: {} is {} K below its critical limit.", words,
                                        roundedText(std::max(0.0, leftK), 1)));
}

Result<Turned> Turner::turn(const std::string& id, const std::string& value) {
  if (Status checked = check(id, value); !checked) return checked.error();
  const Knob knob = *find(id);
  const KnobTarget target = *targetOf(knob, value);
  if (Status cool = checkCool(knob, target); !cool) return cool.error();
  if (!knob.modeFile.empty()) {
    if (Status byHand = turnFile(knob, knob.modeFile, kByHand, true); !byHand) return byHand.error();
  }
  const std::string raw =
      knob.isNumber() ? fmt::format("{}", std::llround(target.number * knob.rawPerUnit)) : target.raw;
  const bool isMode = knob.id.starts_with("fan.") && !knob.isNumber();
  for (const std::string& file : knob.files) {
    if (Status turned = turnFile(knob, file, raw, isMode); !turned) return turned.error();
  }
  return readBack(knob, target);
}

// A driver shows at once what it made of a value, firmware a moment later.
Turned Turner::readBack(const Knob& knob, const KnobTarget& target) {
  Turned turned{knob.id, knob.unit, knob.isNumber() ? knobNumber(target.number) : target.word, "nothing", true};
  const double slack = std::max(knob.step.value_or(0), std::abs(target.number) * kReadBackShare) + 1e-9;
  constexpr auto kLook = std::chrono::milliseconds(50);
  for (auto waited = kLook; waited <= kAnswer && turned.isAsAsked; waited += kLook) {
    std::this_thread::sleep_for(kLook);
    const auto text = readSmallFile(m_root + "/" + knob.files.front());
    if (!text || text->empty()) continue;  // it is just being written
    Knob& now = *std::find_if(m_knobs.begin(), m_knobs.end(), [&](const Knob& one) { return one.id == knob.id; });
    if (knob.isNumber()) {
      const auto number = parseKernelInteger(*text);
      if (!number) continue;
      now.value = static_cast<double>(*number) / knob.rawPerUnit;
      turned.readBack = knobNumber(*now.value);
      turned.isAsAsked = std::abs(*now.value - target.number) <= slack;
    } else {
      now.choice.clear();
      for (const KnobChoice& one : knob.choices) {
        if (one.raw == *text) now.choice = one.word;
      }
      turned.readBack = now.choice.empty() ? *text : now.choice;
      turned.isAsAsked = now.choice == target.word;
    }
  }
  if (turned.readBack == "nothing") turned.isAsAsked = false;
  return turned;
}

// A fan that does not go back runs full.
bool Turner::putBack(const TurnedFile& one) const {
  const Status written = write(one.file, one.before);
  if (written) return true;
  if (one.isFanMode)
    static_cast<void>(static_cast<bool>(write(one.file.substr(0, one.file.rfind("_enable")), kFullDuty)));
  return false;
}

std::vector<std::string> Turner::restore() {
  std::vector<std::string> troubles;
  std::vector<TurnedFile> order(m_journal.turned().rbegin(), m_journal.turned().rend());
  // A fan that was driven by hand before has its duty back first, the others what drives them.
  std::stable_partition(order.begin(), order.end(),
                        [](const TurnedFile& one) { return one.isFanMode && one.before != kByHand; });
  for (const TurnedFile& one : order) {
    if (!putBack(one)) {
      troubles.push_back(
          fmt::format("{} did not go back to {}: /{} cannot be written.", one.knob, one.before, one.file));
      continue;
    }
    if (Status gone = m_journal.remove(one.file); !gone) troubles.push_back(gone.error().message);
  }
  m_knobs = findKnobs(m_root);
  return troubles;
}

}  // namespace ash
