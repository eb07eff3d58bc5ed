// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_options.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "load/load_kinds.h"
#include "model/cpu_list.h"
#include "model/json_cursor.h"
#include "model/pattern.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr int kHighestCore = 4095;
constexpr size_t kMostSteps = 1000, kLongestName = 100, kLongestPath = 4096;

std::string percentText(double percent) { return fmt::format("{:.4g}%", percent); }

Result<DutyStep> parseStep(std::string_view text) {
  static const Pattern kStep =
      Pattern::own(R"(\s*([0-9.]+)\s*%?\s*(?:\.\.\s*([0-9.]+)\s*%?)?\s*([0-9.]+\s*(?:s|min|h))?\s*)");
  const auto wrong = [&] {
    return Error::badInput(fmt::format("“{}” is no step of a duty; write 25% 60s, or 25%..100% 2min for a ramp.",
                                       trimmed(text.substr(0, kLongestName))));
  };
  const auto parts = kStep.matchWhole(text);
  if (!parts) return wrong();
  const bool isRamp = !(*parts)[2].empty(), hasTime = !(*parts)[3].empty();
  DutyStep step;
  const auto from = parseNumber((*parts)[1]);
  const auto to = isRamp ? parseNumber((*parts)[2]) : from;
  if (!from || !to || !(*from >= 0 && *from <= 100 && *to >= 0 && *to <= 100)) return wrong();
  step.fromPercent = *from;
  step.toPercent = *to;
  if (!hasTime) return isRamp ? Result<DutyStep>(wrong()) : Result<DutyStep>(step);
  std::string time((*parts)[3]);
  std::erase(time, ' ');
  const auto seconds = parseDurationS(time);
  if (!seconds || !(*seconds > 0)) return wrong();
  step.seconds = *seconds;
  return step;
}

Status checkOne(const LoadOptions& options) {
  if (options.kind == LoadKind::Other)
    return Error::badInput(fmt::format("There is no load \"{}\" in this version; it has: {}.", options.kind.text(),
                                       fmt::join(knownLoadKinds(), ", ")));
  if (!(options.seconds > 0)) return Error::badInput("Time and work of a load must be above zero.");
  if (options.passes > 0 && !(options.passWork > 0))
    return Error::badInput("Passes need the work of one pass (--pass-work), above zero.");
  if (options.folder.size() > kLongestPath) return Error::badInput("The folder of a load has too long a name.");
  if (Status checked = checkRanges(options); !checked) return checked;
  // What a kind cannot have holds whatever the kind of this load is: no field is kept that could never be.
  for (const LoadKindRow* row : loadKindRows()) {
    const bool isAsked = options.kind == row->kind || row->checksAll;
    if (row->check == nullptr || !isAsked) continue;
    if (Status checked = row->check(options); !checked) return checked;
  }
  return {};
}

LoadOptions loadAt(const std::string& name, const JsonCursor& spec, int depth);

void readOthers(const JsonCursor& spec, LoadOptions& options, int depth) {
  const JsonCursor also = spec.at("also");
  if (!also.isThere()) return;
  if (!also.value().is_array()) return also.refuse("must be a list of loads");
  if (also.value().size() > kMostOtherLoads) return also.refuse("must be a list of at most 16 loads");
  if (depth > 0) return also.refuse("must not be: a load beside another cannot have others beside it");
  for (const JsonCursor& part : spec.objects("also")) options.also.push_back(loadAt("", part, depth + 1));
}

LoadOptions loadAt(const std::string& name, const JsonCursor& spec, int depth) {
  LoadOptions options;
  options.kind = LoadKind::fromText(spec.text("kind", name));
  readFields(spec, options);
  double flip = -1;
  spec.take("flip_at_block", flip);
  options.flipAtBlock = static_cast<long long>(std::clamp(flip, -1.0, 1e15));
  readOthers(spec, options, depth);
  return options;
}

}  // namespace

Json loadToJson(const LoadOptions& options) {
  Json spec = {{"kind", options.kind.text()}};
  writeFields(options, spec);
  if (options.flipAtBlock != LoadOptions().flipAtBlock) spec["flip_at_block"] = options.flipAtBlock;
  for (const LoadOptions& other : options.also) spec["also"].push_back(loadToJson(other));
  return spec;
}

Result<LoadOptions> loadFromJson(const std::string& name, const Json& spec) {
  JsonCursor::Mistakes mistakes;
  LoadOptions options = loadAt(name, JsonCursor(spec, mistakes), 0);
  if (mistakes.empty()) return options;
  return Error::badInput(fmt::format("The load's \"{}\" {}.", mistakes.front().path, mistakes.front().why));
}

std::string loadKindText(const LoadOptions& options) {
  std::string text(options.kind.text());
  for (const LoadOptions& other : options.also) text += " + " + std::string(other.kind.text());
  return text;
}

Result<std::vector<int>> parseCoreList(const std::string& text) {
  std::vector<int> cores;
  for (const std::string_view part : splitText(text, ',')) {
    const auto range = parseCpuRange(part, kHighestCore);
    if (!range || cores.size() > 100'000)
      return Error::badInput(
          fmt::format("“{}” is no list of cores; write 0-3,6.", asUtf8(text.substr(0, kLongestName))));
    for (int core = range->first; core <= range->second; ++core) cores.push_back(core);
  }
  std::sort(cores.begin(), cores.end());
  cores.erase(std::unique(cores.begin(), cores.end()), cores.end());
  return cores;
}

Result<std::vector<DutyStep>> parseDutySteps(const std::string& text) {
  std::vector<DutyStep> steps;
  for (const std::string_view part : splitText(text, ',')) {
    if (steps.size() >= kMostSteps)
      return Error::badInput(fmt::format("A duty may have {} steps, not more.", kMostSteps));
    if (!steps.empty() && !std::isfinite(steps.back().seconds))
      return Error::badInput(
          fmt::format("Only the last step of a duty may leave out its time: {}.", text.substr(0, kLongestName)));
    auto step = parseStep(part);
    if (!step) return step.error();
    steps.push_back(*step);
  }
  return steps;
}

std::string dutyStepsText(const std::vector<DutyStep>& steps) {
  std::string text;
  for (const DutyStep& step : steps) {
    text += (text.empty() ? "" : ", ") + percentText(step.fromPercent);
    if (step.toPercent != step.fromPercent) text += ".." + percentText(step.toPercent);
    if (std::isfinite(step.seconds)) text += fmt::format(" {:.6g}s", step.seconds);
  }
  return text;
}

double dutyAt(const LoadOptions& options, double seconds) {
  if (options.steps.empty()) return options.dutyPercent;
  for (const DutyStep& step : options.steps) {
    if (seconds < step.seconds)
      return std::isfinite(step.seconds)
                 ? step.fromPercent + (step.toPercent - step.fromPercent) * std::max(0.0, seconds) / step.seconds
                 : step.fromPercent;
    seconds -= step.seconds;
  }
  return options.steps.back().toPercent;
}

std::pair<int, int> parseSize(const std::string& text) {
  const size_t by = text.find('x');
  if (by == std::string::npos) return {0, 0};
  const auto width = parseNumber(text.substr(0, by)), height = parseNumber(text.substr(by + 1));
  const bool isSize = width && height && *width >= 1 && *width < 1e5 && *height >= 1 && *height < 1e5;
  return isSize ? std::pair(static_cast<int>(*width), static_cast<int>(*height)) : std::pair(0, 0);
}

Status checkLoadOptions(const LoadOptions& options) {
  if (Status checked = checkOne(options); !checked) return checked;
  for (const LoadOptions& other : options.also) {
    if (!other.also.empty()) return Error::badInput("A load beside another cannot have others beside it.");
    if (Status checked = checkOne(other); !checked) return checked;
  }
  return {};
}

}  // namespace ash
