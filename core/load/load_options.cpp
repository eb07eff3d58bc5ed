// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_options.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "load/guardian/guardian.h"
#include "load/load_kinds.h"
#include "model/cpu_list.h"
#include "model/pattern.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr int kHighestCore = 4095;
constexpr size_t kMostSteps = 1000, kMostParts = 16, kMostPatterns = 64, kLongestName = 100, kLongestPath = 4096;

Error badKey(const std::string& key, const char* wanted) {
  return Error::badInput(fmt::format("The load's \"{}\" must be {}.", key, wanted));
}

/// Takes keys out of a spec one by one and remembers the first that has the wrong shape.
class SpecReader {
 public:
  explicit SpecReader(const Json& spec) : m_spec(spec) {}

  void number(const char* key, double& value) {
    const auto found = m_spec.find(key);
    if (found == m_spec.end() || found->is_null()) return;
    if (found->is_number())
      value = found->get<double>();
    else
      refuse(key, "a number");
  }
  void integer(const char* key, int& value) {
    double number = value;
    this->number(key, number);
    if (std::abs(number) <= 1e9 && number == std::floor(number))
      value = static_cast<int>(number);
    else
      refuse(key, "a whole number");
  }
  void text(const char* key, std::string& value) {
    const auto found = m_spec.find(key);
    if (found == m_spec.end() || found->is_null()) return;
    if (found->is_string())
      value = found->get<std::string>();
    else
      refuse(key, "text");
  }
  // A line for the shell, or a list of words that becomes one.
  void commandLine(const char* key, std::string& value) {
    const auto found = m_spec.find(key);
    if (found == m_spec.end() || !found->is_array()) return text(key, value);
    value.clear();
    for (const Json& word : *found) {
      if (!word.is_string()) return refuse(key, "a line or a list of words");
      value += (value.empty() ? "'" : " '");
      for (const char c : word.get<std::string>()) value += c == '\'' ? std::string("'\\''") : std::string(1, c);
      value += "'";
    }
  }
  void texts(const char* key, std::map<std::string, std::string>& values) {
    const auto found = m_spec.find(key);
    if (found == m_spec.end() || found->is_null()) return;
    if (!found->is_object()) return refuse(key, "an object of texts");
    for (const auto& [name, value] : found->items()) {
      if (!value.is_string()) return refuse(key, "an object of texts");
      values[name] = value.get<std::string>();
    }
  }
  void refuse(const char* key, const char* wanted) {
    if (!m_error) m_error = badKey(key, wanted);
  }
  void refuse(Error error) {
    if (!m_error) m_error = std::move(error);
  }
  const std::optional<Error>& error() const { return m_error; }

 private:
  const Json& m_spec;
  std::optional<Error> m_error;
};

void readLists(const Json& spec, SpecReader& reader, LoadOptions& options) {
  std::string cores, steps, size;
  reader.text("cores", cores);
  reader.text("steps", steps);
  reader.text("size", size);
  if (!cores.empty()) {
    if (auto list = parseCoreList(cores))
      options.cores = *list;
    else
      reader.refuse(list.error());
  }
  if (!steps.empty()) {
    if (auto list = parseDutySteps(steps))
      options.steps = *list;
    else
      reader.refuse(list.error());
  }
  if (!size.empty()) std::tie(options.width, options.height) = parseSize(size);
  const auto also = spec.find("also");
  if (also == spec.end() || also->is_null()) return;
  if (!also->is_array()) return reader.refuse("also", "a list of loads");
  if (also->size() > kMostParts) return reader.refuse("also", "a list of at most 16 loads");
  for (const Json& part : *also) {
    auto other = loadFromJson("", part);
    if (!other) return reader.refuse(other.error());
    options.also.push_back(std::move(*other));
  }
}

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

Status checkPatterns(const std::map<std::string, std::string>& patterns) {
  if (patterns.size() > kMostPatterns)
    return Error::badInput(
        fmt::format("A command may have {} patterns of a kind, not {}.", kMostPatterns, patterns.size()));
  for (const auto& [name, text] : patterns) {
    const auto pattern = Pattern::compile(text);
    if (pattern && pattern->groupCount() == 1 && !name.empty() && name.size() <= kLongestName) continue;
    return Error::badInput(fmt::format(
        "The pattern \"{}\" of {} must be a regular expression (without look-ahead and back-references, at "
        "most {} characters) with one group that holds the number, e.g. score: ([0-9.]+).",
        withoutControls(asUtf8(text.substr(0, kLongestName))),
        name.empty() ? "a score" : withoutControls(asUtf8(name.substr(0, kLongestName))), Pattern::kLongestPattern));
  }
  return {};
}

// What is handed to the guardian in one piece, as texts that end with NUL.
Status checkCommand(const LoadOptions& options) {
  size_t bytes = options.command.size() + options.folder.size();
  bool hasNul = options.command.find('\0') != std::string::npos || options.folder.find('\0') != std::string::npos;
  for (const auto& [name, value] : options.environment) {
    bytes += name.size() + value.size() + 2;
    hasNul |= name.find('\0') != std::string::npos || value.find('\0') != std::string::npos;
    if (name.empty() || name.find('=') != std::string::npos)
      return Error::badInput("A variable of the command's environment needs a name without an equals sign.");
  }
  if (hasNul) return Error::badInput("A command, its folder and its environment cannot hold a NUL character.");
  if (bytes + 1024 > kLongestOrderB)
    return Error::badInput(fmt::format("The command with its environment is too long: {} bytes, at most {}.", bytes,
                                       kLongestOrderB - 1024));
  return {};
}

Status checkOne(const LoadOptions& options) {
  if (options.kind == LoadKind::Other)
    return Error::badInput(fmt::format("There is no load \"{}\" in this version; it has: {}.", options.kind.text(),
                                       fmt::join(knownLoadKinds(), ", ")));
  if (options.threads < 0 || options.threads > 4096)
    return Error::badInput("The number of threads must be from 1 to 4096.");
  if (!(options.dutyPercent > 0 && options.dutyPercent <= 100))
    return Error::badInput("The duty must be above 0 and at most 100 %.");
  if (!(options.seconds > 0) || !(options.work > 0))
    return Error::badInput("Time and work of a load must be above zero.");
  if (options.passes < 0 || options.passWork < 0 || (options.passes > 0 && !(options.passWork > 0)))
    return Error::badInput("Passes need the work of one pass (--pass-work), above zero.");
  if (options.cacheLevel < 1 || options.cacheLevel > 4) return Error::badInput("The cache level must be from 1 to 4.");
  if (options.memoryMb < 0 || options.memoryMb > 16e6)
    return Error::badInput("The memory must be from 0 to 16,000,000 MB.");
  if (options.width < 16 || options.width > 8192 || options.height < 16 || options.height > 8192)
    return Error::badInput("The size of the picture must be from 16x16 to 8192x8192, e.g. 1280x720.");
  if (!(options.fileMb >= 16 && options.fileMb <= 1e7))
    return Error::badInput("The file of the storage load must be from 16 to 10,000,000 MB.");
  if (options.queueDepth < 1 || options.queueDepth > 64)
    return Error::badInput("The queue depth must be from 1 to 64.");
  if (options.blockKb < 4 || options.blockKb > 4096 || options.blockKb % 4 != 0)
    return Error::badInput("The block of the storage load must be a multiple of 4 from 4 to 4096 KB.");
  if (options.folder.size() > kLongestPath) return Error::badInput("The folder of a load has too long a name.");
  const double blocksMb = static_cast<double>(options.queueDepth) * options.blockKb * 1024 / 1e6;
  if (options.kind == LoadKind::Storage && options.fileMb < blocksMb)
    return Error::badInput(
        fmt::format("{} requests of {} KB at a time need a file of at least {:.0f} MB, not {:g} (--file).",
                    options.queueDepth, options.blockKb, std::ceil(blocksMb), options.fileMb));
  if ((options.kind == LoadKind::Command) == options.command.empty())
    return Error::badInput("The load \"command\" needs a command line (--command), and only that load takes one.");
  if (Status checked = checkCommand(options); !checked) return checked;
  if (Status checked = checkPatterns(options.scores); !checked) return checked;
  return checkPatterns(options.live);
}

}  // namespace

Json loadToJson(const LoadOptions& options) {
  const LoadOptions usual;
  Json spec = {{"kind", options.kind.text()}, {"threads", options.threads}, {"duty", options.dutyPercent}};
  const auto add = [&spec](const char* key, const auto& value, const auto& usually) {
    if (value != usually) spec[key] = value;
  };
  if (std::isfinite(options.work)) spec["work"] = options.work;
  if (!options.cores.empty()) spec["cores"] = cpuListText(options.cores);
  if (!options.steps.empty()) spec["steps"] = dutyStepsText(options.steps);
  add("pass_work", options.passWork, usual.passWork);
  add("passes", options.passes, usual.passes);
  add("variant", options.variant, usual.variant);
  add("pattern", options.pattern, usual.pattern);
  add("memory_mb", options.memoryMb, usual.memoryMb);
  add("level", options.cacheLevel, usual.cacheLevel);
  if (options.width != usual.width || options.height != usual.height)
    spec["size"] = fmt::format("{}x{}", options.width, options.height);
  add("folder", options.folder, usual.folder);
  add("file_mb", options.fileMb, usual.fileMb);
  add("queue_depth", options.queueDepth, usual.queueDepth);
  add("block_kb", options.blockKb, usual.blockKb);
  add("command", options.command, usual.command);
  if (!options.environment.empty()) spec["environment"] = options.environment;
  add("repeats", options.repeats, usual.repeats);
  add("exit_code", options.exitCode, usual.exitCode);
  if (!options.scores.empty()) spec["scores"] = options.scores;
  if (!options.live.empty()) spec["live"] = options.live;
  add("flip_at_block", options.flipAtBlock, usual.flipAtBlock);
  for (const LoadOptions& other : options.also) spec["also"].push_back(loadToJson(other));
  return spec;
}

Result<LoadOptions> loadFromJson(const std::string& name, const Json& spec) {
  LoadOptions options;
  options.kind = LoadKind::fromText(name);
  if (!spec.is_object()) return options;
  SpecReader reader(spec);
  double flip = -1;
  std::string kind = name;
  reader.text("kind", kind);
  options.kind = LoadKind::fromText(kind);
  reader.integer("threads", options.threads);
  reader.number("duty", options.dutyPercent);
  reader.number("work", options.work);
  reader.number("pass_work", options.passWork);
  reader.integer("passes", options.passes);
  reader.text("variant", options.variant);
  reader.text("pattern", options.pattern);
  reader.number("memory_mb", options.memoryMb);
  reader.integer("level", options.cacheLevel);
  reader.text("folder", options.folder);
  reader.number("file_mb", options.fileMb);
  reader.integer("queue_depth", options.queueDepth);
  reader.integer("block_kb", options.blockKb);
  reader.commandLine("command", options.command);
  reader.texts("environment", options.environment);
  reader.integer("repeats", options.repeats);
  reader.integer("exit_code", options.exitCode);
  reader.texts("scores", options.scores);
  reader.texts("live", options.live);
  reader.number("flip_at_block", flip);
  options.flipAtBlock = static_cast<long long>(std::clamp(flip, -1.0, 1e15));
  readLists(spec, reader, options);
  if (reader.error()) return *reader.error();
  return options;
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
