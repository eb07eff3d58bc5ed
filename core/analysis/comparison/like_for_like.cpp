// SPDX-License-Identifier: GPL-3.0-or-later
// Was it a fair field? Load, conditions, room, machine and clock held against each other.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "analysis/comparison/compare.h"
#include "analysis/comparison/same_way.h"
#include "model/condition_field.h"
#include "model/role.h"
#include "model/study.h"

namespace ash {
namespace {

constexpr double kRoomWithinK = 1.0;
constexpr double kClockWithin = 0.02;

// Fields of conditions that describe, but do not make runs unequal.
bool isOnlyDescriptive(const std::string& field) {
  static const std::set<std::string> kFields = {"price", "currency", "room_c", "note", "picture"};
  return kFields.contains(field);
}

bool isUnderTest(const AnalyzedRun& a, const AnalyzedRun& b, const std::string& field) {
  const auto names = [&](const AnalyzedRun& run) {
    return std::find(run.run.facts.underTest.begin(), run.run.facts.underTest.end(), field) !=
           run.run.facts.underTest.end();
  };
  return names(a) || names(b);
}

std::string words(const Json& value) {
  if (value.is_null()) return "not stated";
  return value.is_string() ? value.get<std::string>() : jsonText(value);
}

std::optional<double> roomOf(const AnalyzedRun& run) {
  if (const ChannelFigures* room = run.figures.channel(roles::kRoom); room != nullptr && room->window.n > 0) {
    return room->window.mean;
  }
  return run.run.facts.conditionNumber(fields::kRoom);
}

class Checker {
 public:
  Checker(const AnalyzedRun& a, const AnalyzedRun& b, std::string nameA, std::string nameB, Comparison& comparison)
      : m_a(a), m_b(b), m_between{std::move(nameA), std::move(nameB)}, m_comparison(comparison) {}

  void run() {
    checkLoad();
    checkConditions();
    checkRoom();
    checkMachine();
    checkBench();
    checkProcedure();
    checkSettings();
    checkClock();
    checkMethod();
    checkFans();
    checkSettled();
    checkLength();
    checkVersions();
    checkInstruments();
    checkOtherWork();
    checkPowerRole();
    checkHowMuchChanged();
  }

 private:
  void add(Severity severity, CheckKind kind, std::string text, std::string subject = {}) {
    m_comparison.checks.push_back({severity, m_between, kind, std::move(text), std::move(subject)});
  }
  void addDifference(const std::string& field, const Json& a, const Json& b) {
    m_comparison.whatDiffers.push_back({m_between, field, a, b});
  }

  void checkLoad() {
    const std::string& a = m_a.run.facts.load;
    const std::string& b = m_b.run.facts.load;
    if (a == b && isOtherWay(m_a, m_b)) checkWays();
    if (a == b || a.empty() || b.empty()) return;
    addDifference("load", a, b);
    if (!isUnderTest(m_a, m_b, "load"))
      add(Severity::Block, CheckKind::Load, fmt::format("The loads differ: {} and {}.", a, b));
  }

  // One task done in two ways is a fair question where it is the same task.
  void checkWays() {
    const bool isEqual = didEqualWork(m_a, m_b);
    add(isEqual ? Severity::Info : Severity::Warn, CheckKind::Load,
        fmt::format("{} was carried out in two ways: {} and {}{}.", m_a.run.facts.load, wayText(m_a, m_b),
                    wayText(m_b, m_a),
                    !isEqual                 ? "; no equal work is known, so only rates can be held against each other"
                    : isTaskByName(m_a, m_b) ? "; that both do the same task is the study's own word"
                                             : ""));
  }

  void checkConditions() {
    std::set<std::string> fields;
    for (const auto& [field, value] : m_a.run.facts.conditions.items()) fields.insert(field);
    for (const auto& [field, value] : m_b.run.facts.conditions.items()) fields.insert(field);
    for (const std::string& field : fields) {
      const Json a = m_a.run.facts.conditions.value(field, Json());
      const Json b = m_b.run.facts.conditions.value(field, Json());
      if (a == b || field == fields::kRoom) continue;
      addDifference(field, a, b);
      if (isUnderTest(m_a, m_b, field) || isOnlyDescriptive(field)) continue;
      const bool isStatedTwice = !a.is_null() && !b.is_null();
      const bool isSetting = field.find("power") != std::string::npos || field.find("clock") != std::string::npos;
      const std::string text = fmt::format("{} differs: {} and {}.", field, words(a), words(b));
      // Nobody said what was under test: then what differs may well be the question.
      const bool nothingDeclared = m_a.run.facts.underTest.empty() && m_b.run.facts.underTest.empty();
      add(isStatedTwice && isSetting && !nothingDeclared ? Severity::Block
          : nothingDeclared                              ? Severity::Info
                                                         : Severity::Warn,
          CheckKind::Field, text, field);
    }
  }

  void checkRoom() {
    const auto a = roomOf(m_a);
    const auto b = roomOf(m_b);
    if (a && b) {
      if (std::abs(*a - *b) < kRoomWithinK) return;
      add(Severity::Warn, CheckKind::Room,
          fmt::format("The room was {:.1f} °C and {:.1f} °C; figures over room allow for it.", *a, *b));
    } else if (a || b) {
      add(Severity::Block, CheckKind::Room,
          "Only one of them has a room temperature, so temperatures cannot be set against each other.");
    }
  }

  void checkMachine() {
    const auto name = [](const AnalyzedRun& run) { return valueIn(run.run.facts.machine, "name", std::string()); };
    if (name(m_a) == name(m_b) || name(m_a).empty() || name(m_b).empty()) return;
    addDifference("machine", name(m_a), name(m_b));
    if (isUnderTest(m_a, m_b, "machine")) return;
    add(Severity::Warn, CheckKind::Machine, fmt::format("They ran on two machines: {} and {}.", name(m_a), name(m_b)));
  }

  // A simulated bench and one of metal, or two simulated ones.
  void checkBench() {
    const auto nameOf = [](const AnalyzedRun& run) {
      const Json& bench = run.run.facts.bench;
      if (bench.empty() || bench.contains("taken_in")) return std::string();
      return isSimulated(bench) ? "the simulated bench " + valueIn(bench, "name", std::string("without a name"))
                                : std::string("a bench of metal");
    };
    const std::string a = nameOf(m_a), b = nameOf(m_b);
    if (a == b || a.empty() || b.empty()) return;
    const auto machine = [](const AnalyzedRun& run) { return valueIn(run.run.facts.machine, "name", std::string()); };
    if (machine(m_a) == machine(m_b)) addDifference("bench", a, b);
    if (!isUnderTest(m_a, m_b, "bench"))
      add(Severity::Warn, CheckKind::Bench, fmt::format("They ran on {} and on {}.", a, b));
  }

  // Settled figures are the same however long the soak may have been.
  void checkProcedure() {
    const std::string &a = m_a.run.facts.procedure, &b = m_b.run.facts.procedure;
    if (a == b || a.empty() || b.empty()) return;
    const bool isAllowedFor = hasSettled(m_a) && hasSettled(m_b);
    add(isAllowedFor ? Severity::Info : Severity::Warn, CheckKind::Procedure,
        fmt::format("The procedures differ: {} and {}.", a, b));
  }

  // How the machine was set, as read back from it at the start of each run.
  void checkSettings() {
    const Json a = valueIn(m_a.run.facts.machine, "settings", Json());
    const Json b = valueIn(m_b.run.facts.machine, "settings", Json());
    if (!a.is_object() || !b.is_object() || isUnderTest(m_a, m_b, "machine")) return;
    if (valueIn(m_a.run.facts.machine, "name", std::string()) != valueIn(m_b.run.facts.machine, "name", std::string()))
      return;  // two machines are set in their own ways; that they are two is told
    for (auto it = a.begin(); it != a.end(); ++it) {
      const auto other = b.find(it.key());
      if (other == b.end() || *other == it.value()) continue;
      // A card or drive lowers the speed of its link by itself, and a fan's duty is told by its own reading.
      if (it.key().ends_with(".speed") || it.key().ends_with(".duty_percent")) continue;
      addDifference(it.key(), it.value(), *other);
      if (!isUnderTest(m_a, m_b, it.key()))
        add(Severity::Warn, CheckKind::Field,
            fmt::format("The machine was set differently, {}: {} and {}.", it.key(), words(it.value()), words(*other)),
            it.key());
    }
  }

  void checkClock() {
    if (isOtherWay(m_a, m_b)) return;
    for (const ChannelFigures& channel : m_a.figures.channels) {
      if (channel.name != roles::kCpuClock && channel.name != roles::kGpuClock) continue;
      const ChannelFigures* other = m_b.figures.channel(channel.name);
      if (other == nullptr || channel.window.n == 0 || other->window.n == 0) continue;
      if (std::abs(channel.window.mean - other->window.mean) <= kClockWithin * channel.window.mean) continue;
      add(Severity::Warn, CheckKind::Clock,
          fmt::format(
              "{} was {:.0f} MHz and {:.0f} MHz: a lower clock makes less heat, so temperatures alone do not decide.",
              Role(channel.name).title(), channel.window.mean, other->window.mean),
          channel.name);
    }
  }

  void checkMethod() {
    const auto reason = [](const AnalyzedRun& run) {
      return run.figures.window ? run.figures.window->reason : "no window";
    };
    if (reason(m_a) == reason(m_b)) return;
    add(Severity::Info, CheckKind::Window,
        fmt::format("The windows were chosen differently: {} and {}.", reason(m_a), reason(m_b)));
  }

  bool isAnyUnderTest(const char* part) const {
    for (const AnalyzedRun* run : {&m_a, &m_b}) {
      for (const std::string& field : run->run.facts.underTest) {
        if (field.find(part) != std::string::npos) return true;
      }
    }
    return false;
  }

  // The automatic curve hides the difference.
  void checkFans() {
    constexpr double kFansWithin = 0.05;
    if (isAnyUnderTest("fan") || isAnyUnderTest("duty")) return;
    for (const ChannelFigures& channel : m_a.figures.channels) {
      const ChannelFigures* other = m_b.figures.channel(channel.name);
      if (channel.quantity != Quantity::FanSpeed || other == nullptr || channel.window.n == 0 || other->window.n == 0)
        continue;
      const double apart = std::abs(channel.window.mean - other->window.mean);
      if (apart <= kFansWithin * std::max(channel.window.mean, other->window.mean)) continue;
      // A pump is no fan: it is named by itself.
      const bool isFan = Role(channel.name).device().is(DeviceKind::Fan);
      add(Severity::Warn, isFan ? CheckKind::Fan : CheckKind::Field,
          fmt::format("{} was {:.0f} RPM and {:.0f} RPM: part of the difference is the fan's; compare at equal fan "
                      "speed or noise.",
                      Role(channel.name).title(), channel.window.mean, other->window.mean),
          channel.name);
    }
  }

  static bool hasSettled(const AnalyzedRun& run) {
    const ChannelFigures* watched = run.figures.channel(run.figures.watched);
    return watched != nullptr && watched->settled && watched->settled->isSettled;
  }

  void checkSettled() {
    // Nothing that could settle is nothing that did not.
    const auto isFine = [](const AnalyzedRun& run) {
      const ChannelFigures* watched = run.figures.channel(run.figures.watched);
      return watched == nullptr || !watched->settled || hasSettled(run);
    };
    const bool a = isFine(m_a), b = isFine(m_b);
    if (a && b) return;
    add(Severity::Warn, CheckKind::Settling,
        !a && !b ? "Neither of them had settled when its load ended: run them longer."
                 : fmt::format("{} had not settled when its load ended: run it longer.", m_between[a ? 1 : 0]));
  }

  void checkLength() {
    constexpr double kLengthsWithin = 0.25;
    if (!m_a.figures.load || !m_b.figures.load) return;
    // A soak that ends by itself takes as long as it takes.
    if (hasSettled(m_a) && hasSettled(m_b)) return;
    const double a = m_a.figures.load->lengthS(), b = m_b.figures.load->lengthS();
    if (std::abs(a - b) <= kLengthsWithin * std::max(a, b)) return;
    add(Severity::Info, CheckKind::Duration, fmt::format("The loads lasted {:.0f} s and {:.0f} s.", a, b));
  }

  void checkVersions() {
    if (isUnderTest(m_a, m_b, "machine")) return;
    for (const char* part : {"kernel", "firmware", "drivers"}) {
      const Json a = valueIn(m_a.run.facts.machine, part, Json()), b = valueIn(m_b.run.facts.machine, part, Json());
      if (a.is_null() || b.is_null() || a == b || isUnderTest(m_a, m_b, part)) continue;
      addDifference(part, a, b);
      add(Severity::Warn, CheckKind::Field, fmt::format("The {} differ: {} and {}.", part, words(a), words(b)), part);
    }
  }

  void checkInstruments() {
    for (const auto& [role, accuracy] : m_a.run.facts.accuracies) {
      const auto other = m_b.run.facts.accuracies.find(role);
      if (other == m_b.run.facts.accuracies.end() || accuracy.instrument.empty() || other->second.instrument.empty() ||
          accuracy.instrument == other->second.instrument)
        continue;
      add(Severity::Warn, CheckKind::Instrument,
          fmt::format("{} was measured with {} and with {}: what each may be off by stays in the difference.",
                      Role(role).title(), accuracy.instrument, other->second.instrument));
    }
  }

  void checkOtherWork() {
    struct Row {
      ProblemKind::Known problem;
      CheckKind kind;
      Severity severity;
      std::string_view text;
    };
    constexpr std::array kRows = {
        Row{ProblemKind::BackgroundLoad, CheckKind::BackgroundLoad, Severity::Warn,
            "Something else was running during {}: repeat it."},
        Row{ProblemKind::StartedWarm, CheckKind::StartedWarm, Severity::Warn,
            "{} began before the device had cooled down."},
        Row{ProblemKind::RoomMoved, CheckKind::RoomMoved, Severity::Info, "The room moved during {}."}};
    const auto had = [](const AnalyzedRun& run, ProblemKind::Known kind) {
      return std::any_of(run.figures.problems.begin(), run.figures.problems.end(),
                         [kind](const Problem& problem) { return problem.kind == kind; });
    };
    for (const Row& row : kRows) {
      const bool a = had(m_a, row.problem), b = had(m_b, row.problem);
      if (a != b) add(row.severity, row.kind, fmt::format(fmt::runtime(row.text), m_between[a ? 0 : 1]));
    }
  }

  void checkPowerRole() {
    const std::string& a = m_a.figures.efficiency.powerRole;
    const std::string& b = m_b.figures.efficiency.powerRole;
    if (a == b || a.empty() || b.empty()) return;
    add(Severity::Block, CheckKind::PowerRole,
        fmt::format("Energy and efficiency come from {} and from {}: they are never set against each other.", a, b));
  }

  // An answer needs one thing that changed. What is declared to be under test is one thing, however it is described.
  void checkHowMuchChanged() {
    std::vector<std::string> changed;
    bool isAnyDeclared = false;
    for (const FieldDifference& difference : m_comparison.whatDiffers) {
      if (difference.between != m_between || isOnlyDescriptive(difference.field)) continue;
      const bool isDeclared = isUnderTest(m_a, m_b, difference.field);
      if (!isDeclared || !isAnyDeclared) changed.push_back(difference.field);
      isAnyDeclared |= isDeclared;
    }
    if (changed.size() < 2) return;
    std::string names;
    for (const std::string& field : changed) names += (names.empty() ? "" : ", ") + field;
    add(Severity::Warn, CheckKind::SeveralChanges,
        fmt::format("More than one thing changed between {} and {} ({}): the difference belongs to all of them.",
                    m_between[0], m_between[1], names));
  }

  const AnalyzedRun& m_a;
  const AnalyzedRun& m_b;
  std::vector<std::string> m_between;
  Comparison& m_comparison;
};

}  // namespace

void checkLikeForLike(const AnalyzedRun& reference, const AnalyzedRun& other, const std::string& referenceName,
                      const std::string& otherName, Comparison& comparison) {
  Checker(reference, other, referenceName, otherName, comparison).run();
}

}  // namespace ash
