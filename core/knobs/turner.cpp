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
#include "knobs/writable.h"
#include "model/text.h"
#include "readings/gauges/sysfs_file.h"

namespace ash {
namespace {

constexpr char kClockMost[] = "cpu.clock.most", kClockLeast[] = "cpu.clock.least";
constexpr double kReadBackShare = 0.005;                  // a driver rounds to its own steps
constexpr auto kAnswer = std::chrono::milliseconds(300);  // until firmware has made something else of a value
constexpr auto kLook = std::chrono::milliseconds(50);
constexpr char kFullDuty[] = "255", kByHand[] = "1", kModeEnd[] = "_enable";

std::string dutyOf(const std::string& modeFile) { return modeFile.substr(0, modeFile.size() - (sizeof kModeEnd - 1)); }

// A number, or a word as the kernel's lists have them: nothing else is ever written.
bool isPlainValue(const std::string& text) {
  constexpr size_t kLongest = 64;
  if (parseKernelInteger(text)) return true;
  return !text.empty() && text.size() <= kLongest && std::all_of(text.begin(), text.end(), [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_' || c == '-';
  });
}

}  // namespace

std::string putBackLeft(const std::string& root) {
  if (!TurnedJournal::isThere(root)) return {};
  auto turner = Turner::open(root, TurnedBy::Run);
  if (!turner) return turner.error().message;
  std::vector<std::string> ids;
  for (const TurnedFile& one : turner->turned()) {
    if (one.by == TurnedBy::Run && std::find(ids.begin(), ids.end(), one.knob) == ids.end()) ids.push_back(one.knob);
  }
  if (ids.empty()) return {};
  const auto troubles = turner->restore(false);
  if (!troubles.empty()) return fmt::format("{}", fmt::join(troubles, " "));
  return fmt::format("What an earlier run had left turned was put back: {}.", fmt::join(ids, ", "));
}

Turner::Turner(std::string root, TurnedJournal journal, TurnedBy by)
    : m_root(std::move(root)), m_journal(std::move(journal)), m_by(by) {}

Result<Turner> Turner::open(const std::string& root, TurnedBy by) {
  auto journal = TurnedJournal::open(root);
  if (!journal) return journal.error();
  Turner turner(root, std::move(*journal), by);
  turner.m_knobs = findKnobs(root);
  return turner;
}

// The lowest clock allowed stays below the highest one (Documentation/admin-guide/pm/cpufreq.rst). A procedure may turn
// the other one first, so that is asked when it is turned.
Status Turner::checkOrder(const Knob& knob, const KnobTarget& target) const {
  const bool isMost = knob.id == kClockMost;
  if (!isMost && knob.id != kClockLeast) return {};
  const Knob* other = find(isMost ? kClockLeast : kClockMost);
  if (other == nullptr || !other->value) return {};
  const bool isInOrder = isMost ? target.number >= *other->value : target.number <= *other->value;
  if (isInOrder) return {};
  return Error::badInput(fmt::format("{} cannot be {} while {} is {}; turn that first.", knob.id,
                                     valueText(target.number, knob.unit), other->id,
                                     valueText(*other->value, other->unit)));
}

Status Turner::write(const std::string& file, const std::string& raw) const {
  const std::string path = m_root + "/" + file;
  if (!isWritableFile(file))
    return Error::badInput(fmt::format("/{} is no file of a knob; it is not written.", withoutControls(file)));
  if (!m_root.empty()) return overwriteSmallFile(path, raw);
  const int descriptor = ::open(path.c_str(), O_WRONLY | O_CLOEXEC);
  if (descriptor < 0) return Error::io("write", path, errno);
  const std::string line = raw + "\n";
  const ssize_t written = ::write(descriptor, line.data(), line.size());
  const int error = errno;
  ::close(descriptor);
  return written == static_cast<ssize_t>(line.size()) ? Status() : Error::io("write", path, error);
}

std::string Turner::rawOf(const Knob& knob, size_t file, const KnobTarget& target) const {
  if (!knob.isNumber()) return target.raw;
  double number = target.number;
  if (file < knob.ranges.size()) number = std::clamp(number, knob.ranges[file].first, knob.ranges[file].second);
  return fmt::format("{}", std::llround(number * knob.rawPerUnit));
}

// What stands now in all that turning a knob changes: of a fan its mode and its duty.
Result<std::vector<TurnedFile>> Turner::asTheyAre(const Knob& knob) const {
  std::vector<std::string> files;
  if (!knob.modeFile.empty()) files.push_back(knob.modeFile);
  files.insert(files.end(), knob.files.begin(), knob.files.end());
  if (knob.isFan && !knob.isNumber()) files.push_back(dutyOf(knob.files.front()));
  std::vector<TurnedFile> all;
  for (const std::string& file : files) {
    // It may just be being written by who shows it.
    auto text = readSmallFile(m_root + "/" + file);
    for (auto waited = kLook; waited <= kAnswer && !(text && isPlainValue(*text)); waited += kLook) {
      std::this_thread::sleep_for(kLook);
      text = readSmallFile(m_root + "/" + file);
    }
    if (!text || !isPlainValue(*text))
      return Error::environment(fmt::format("{} is not turned: what stands in /{} cannot be read.", knob.id, file));
    all.push_back({knob.id, file, *text, m_by});
  }
  return all;
}

Result<Turned> Turner::turn(const std::string& id, const std::string& value,
                            const std::function<NearLimit()>& nearest) {
  if (Status checked = check(id, value); !checked) return checked.error();
  const Knob knob = *find(id);
  const KnobTarget target = *targetOf(knob, value);
  if (Status order = checkOrder(knob, target); !order) return order.error();
  const bool slows = knob.isFan && (knob.isNumber() ? target.number < knob.value.value_or(0) : target.raw == kByHand);
  if (const NearLimit now = slows ? nearest() : NearLimit(); now.isNear())
    return Error::environment(fmt::format("No fan is turned down now: {}.", now.sentence()));
  const auto before = asTheyAre(knob);
  if (!before) return before.error();
  if (Status kept = m_journal.add(*before); !kept) return kept.error();
  if (!knob.modeFile.empty()) {
    if (Status byHand = write(knob.modeFile, kByHand); !byHand) return byHand.error();
  }
  for (size_t i = 0; i < knob.files.size(); ++i) {
    if (Status written = write(knob.files[i], rawOf(knob, i, target)); !written) return written.error();
  }
  return readBack(knob, target);
}

// Reads a knob anew; false when what stands in its file can be read by nobody just now.
bool Turner::look(const std::string& id) {
  Knob& knob = *std::find_if(m_knobs.begin(), m_knobs.end(), [&](const Knob& one) { return one.id == id; });
  const auto text = readSmallFile(m_root + "/" + knob.files.front());
  if (!text || text->empty()) return false;
  if (knob.isNumber()) {
    const auto number = parseKernelInteger(*text);
    if (number) knob.value = static_cast<double>(*number) / knob.rawPerUnit;
    return number.has_value();
  }
  const auto word =
      std::find_if(knob.choices.begin(), knob.choices.end(), [&](const KnobChoice& one) { return one.raw == *text; });
  knob.choice = word == knob.choices.end() ? *text : word->word;
  return true;
}

// A driver shows at once what it made of a value, firmware a moment later. The first file is looked at, whose own range
// may be narrower.
Turned Turner::readBack(const Knob& knob, const KnobTarget& target) {
  Turned turned{knob.id, knob.unit, knob.isNumber() ? knobNumber(target.number) : target.word, "nothing", true};
  bool isRead = false;
  const double slack = std::max(knob.step.value_or(0), std::abs(target.number) * kReadBackShare) + 1e-9;
  for (auto waited = kLook; waited <= kAnswer && turned.isAsAsked; waited += kLook) {
    std::this_thread::sleep_for(kLook);
    if (!look(knob.id)) continue;
    isRead = true;
    const Knob& now = *find(knob.id);
    turned.isAsAsked = knob.isNumber() ? std::abs(*now.value - target.number) <= slack : now.choice == target.word;
    turned.readBack = knob.isNumber() ? knobNumber(*now.value) : now.choice;
  }
  turned.isAsAsked = turned.isAsAsked && isRead;
  return turned;
}

bool Turner::isFileOfFan(const std::string& file) const {
  return std::any_of(m_knobs.begin(), m_knobs.end(), [&](const Knob& knob) {
    return knob.isFan && (knob.modeFile == file || knob.files.front() == file);
  });
}

// The journal is only a file: what it names has to be a file of a knob that is there, and what stood in it a value.
bool Turner::canGoBack(const TurnedFile& one) const {
  const bool isKnown = std::any_of(m_knobs.begin(), m_knobs.end(), [&](const Knob& knob) {
    return knob.modeFile == one.file || std::find(knob.files.begin(), knob.files.end(), one.file) != knob.files.end();
  });
  return isKnown && isPlainValue(one.before);
}

// What drives a fan goes back before all else. Its duty follows only where it was driven by hand: otherwise the duty is
// the driver's own, and many refuse to have it written.
std::vector<std::string> Turner::putBack(const std::vector<TurnedFile>& files) {
  std::vector<TurnedFile> order(files.rbegin(), files.rend());
  const auto isMode = [](const TurnedFile& one) { return one.file.ends_with(kModeEnd); };
  std::stable_partition(order.begin(), order.end(), isMode);
  const auto isDrivenByItself = [&](const TurnedFile& duty) {
    return std::any_of(order.begin(), order.end(), [&](const TurnedFile& mode) {
      return isMode(mode) && mode.by == duty.by && dutyOf(mode.file) == duty.file && mode.before != kByHand;
    });
  };
  std::vector<std::string> troubles;
  std::vector<TurnedFile> back;
  for (const TurnedFile& one : order) {
    if (isDrivenByItself(one) || (canGoBack(one) && write(one.file, one.before))) {
      back.push_back(one);
      continue;
    }
    // A fan that does not go back runs full.
    if (isMode(one) && canGoBack(one)) static_cast<void>(write(dutyOf(one.file), kFullDuty).operator bool());
    troubles.push_back(withoutControls(fmt::format("{} did not go back to {}: /{} is not there or cannot be written.",
                                                   one.knob, one.before, one.file)));
  }
  if (Status gone = m_journal.remove(back); !gone) troubles.push_back(gone.error().message);
  for (const TurnedFile& one : back) {
    if (find(one.knob) != nullptr) static_cast<void>(look(one.knob));
  }
  return troubles;
}

std::vector<std::string> Turner::restore(bool all) {
  std::vector<std::string> troubles;
  // A run's first: under it may lie what a person has set.
  for (const TurnedBy by : {TurnedBy::Run, TurnedBy::Hand}) {
    if (!all && by != m_by) continue;
    std::vector<TurnedFile> files;
    for (const TurnedFile& one : m_journal.turned()) {
      if (one.by == by) files.push_back(one);
    }
    for (std::string& trouble : putBack(files)) troubles.push_back(std::move(trouble));
  }
  return troubles;
}

bool Turner::hasTurnedFans() const {
  return std::any_of(m_journal.turned().begin(), m_journal.turned().end(),
                     [&](const TurnedFile& one) { return one.by == m_by && isFileOfFan(one.file); });
}

std::vector<std::string> Turner::releaseFans() {
  std::vector<TurnedFile> fans;
  for (const TurnedFile& one : m_journal.turned()) {
    if (one.by == m_by && isFileOfFan(one.file)) fans.push_back(one);
  }
  return putBack(fans);
}

}  // namespace ash
