// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/judge.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/analyze.h"
#include "model/number_text.h"
#include "model/text.h"

namespace ash {
namespace {

// A rule has stopped the load or the run; not one that only sees to it that the log can be kept.
bool hasRuleStopped(const RunLog& run) {
  return std::any_of(run.facts.events.begin(), run.facts.events.end(), [](const Event& event) {
    if (event.kind != EventKind::Rule) return false;
    const std::string action = valueIn(event.extra, "action", "");
    const bool hasStopped =
        action == stopActionText(StopRule::Action::StopLoad) || action == stopActionText(StopRule::Action::StopRun);
    // A default rule of a reading without a role cannot be written down, but then it is none of the disk's either.
    const auto rule = parseStopRule(valueIn(event.extra, "rule", ""));
    return hasStopped && (!rule || rule->kind != StopRule::Kind::Disk);
  });
}

std::optional<double> readBackOf(const RunLog& run, const std::string& knob) {
  std::optional<double> value;
  for (const Event& event : run.facts.events) {
    if (event.kind != EventKind::Setting || valueIn(event.extra, "knob", "") != knob) continue;
    value = parseNumber(valueIn(event.extra, "read_back", ""));
  }
  return value;
}

bool hasWorked(const RunLog& run) {
  return std::any_of(run.facts.phases.begin(), run.facts.phases.end(),
                     [](const PhaseSpan& phase) { return isUnderLoad(phase.kind) && phase.endS > phase.startS; });
}

// The mean of a reading in the window that a run's figures come from; missing where it was not read there.
double meanInWindow(const RunLog& run, const Role& role) {
  const Channel* channel = run.log.find(role.text());
  const auto window = analyzeRun(run).window;
  if (channel == nullptr || !window) return kMissing;
  double sum = 0;
  size_t count = 0;
  for (size_t i = 0; i < run.log.timeS.size(); ++i) {
    const bool isIn = run.log.timeS[i] >= window->span.startS && run.log.timeS[i] < window->span.endS;
    if (!isIn || !std::isfinite(channel->values[i])) continue;
    sum += channel->values[i];
    ++count;
  }
  return count == 0 ? kMissing : sum / static_cast<double>(count);
}

// The temperature that is nearest to its limit in the window; a run without window or limits leaves both empty.
void lookForRoomLeft(const RunLog& run, StepVerdict& verdict) {
  const Figures figures = analyzeRun(run);
  for (const ChannelFigures& channel : figures.channels) {
    if (!channel.headroomK || !std::isfinite(*channel.headroomK)) continue;
    if (verdict.leftK && *verdict.leftK <= *channel.headroomK) continue;
    verdict.leftK = channel.headroomK;
    const Role role(channel.name);
    verdict.leftOf = role.empty() ? channel.name : role.title();
  }
}

// Of the first step that was held: what later ones are held against.
const LadderStep* firstOf(const Ladder& ladder, const LadderStep& step) {
  for (const LadderStep& one : ladder.steps) {
    if (!one.isConfirming && one.index == 0 && one.held && one.runId != step.runId) return &one;
  }
  return nullptr;
}

Result<StepVerdict> judgeAgainstFirst(const Book& book, const Ladder& ladder, const LadderStep& step, const RunLog& run,
                                      StepVerdict verdict) {
  verdict.held = true;
  lookForRoomLeft(run, verdict);
  // Another load does another amount of work: it is not held against the first.
  const bool isOtherLoad = step.isConfirming && !ladder.ask.confirmLoad.empty();
  const LadderStep* first = isOtherLoad ? nullptr : firstOf(ladder, step);
  for (const LadderRule& one : ladder.ask.until) {
    const auto* rule = std::get_if<OfFirst>(&one);
    if (rule == nullptr || isOtherLoad) continue;
    const double now = meanInWindow(run, rule->role);
    if (!std::isfinite(now))
      return Error::badInput(fmt::format("The rule \"{}\" cannot be looked at: the run {} has no {} under load.",
                                         ladderRuleText(one), run.name, rule->role.text()));
    if (first == nullptr) continue;
    const auto before = book.readRun(first->runId);
    if (!before) return before.error();
    const double percent = 100 * now / meanInWindow(*before, rule->role);
    if (!(rule->isBelow ? percent < rule->percent : percent > rule->percent)) continue;
    verdict.held = false;
    verdict.leftK.reset();
    verdict.leftOf.clear();
    verdict.why = fmt::format("{} was at {} of the first step's.", rule->role.title(), withUnit(percent, 1, "%"));
    return verdict;
  }
  return verdict;
}

}  // namespace

Result<StepVerdict> judgeStep(const Book& book, const Ladder& ladder, const LadderStep& step) {
  const auto summary = book.run(step.runId);
  if (!summary) return StepVerdict{};  // it never began
  const auto run = book.readRun(step.runId);
  if (!run) return run.error();
  StepVerdict verdict;
  verdict.readBack = readBackOf(*run, ladder.ask.knob);
  const auto notHeld = [&] {
    verdict.held = false;
    verdict.why = summary->info.reason;
    return verdict;
  };
  switch (summary->info.outcome) {
    case Outcome::Completed:
    case Outcome::TakenIn:
      return judgeAgainstFirst(book, ladder, step, *run, std::move(verdict));
    case Outcome::StoppedByRule:
      if (hasRuleStopped(*run)) return notHeld();
      return Error::environment(summary->info.reason);
    case Outcome::LoadFailed:
      // One that did not even start says nothing of the knob.
      if (hasWorked(*run)) return notHeld();
      return Error::environment(summary->info.reason);
    case Outcome::MachineWentDown:
      return notHeld();
    case Outcome::StoppedByHand:
      verdict.isStopped = true;
      return verdict;
    case Outcome::Running:
      return Error::badInput(
          fmt::format("The run {} of this ladder goes on still; wait for it, or end it.", step.runId));
    case Outcome::RecorderDied:
    case Outcome::Void:
      return verdict;
  }
  return verdict;
}

}  // namespace ash
