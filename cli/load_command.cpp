// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <unistd.h>

#include <atomic>
#include <cmath>
#include <csignal>
#include <cstdio>
#include <fstream>
#include <memory>
#include <optional>

#include "cli/command.h"
#include "cli/signals.h"
#include "load/activity.h"
#include "load/heartbeat.h"
#include "load/load_progress.h"
#include "load/load_text.h"
#include "load/load_worker.h"
#include "model/role.h"
#include "model/text.h"
#include "readings/linux_machine.h"

namespace ash::cli {
namespace {

struct LoadArguments {
  LoadOptions load;
  double seconds = 0;
  double work = 0;
  std::string kind;  // as typed: a kind, or a whole line
  std::string spec, cores, steps, size;
  std::vector<std::string> also, environment, scores, live;
  bool json = false;
  bool stream = false;
};

// A load never outlives the one who started it: the kernel sends SIGTERM at the parent's death, and the parent's id is
// looked at besides, for a parent that died before this line ran.
class ParentWatch {
 public:
  ParentWatch() : m_parent(getppid()) { prctl(PR_SET_PDEATHSIG, SIGTERM); }
  bool isGone() const { return getppid() != m_parent; }

 private:
  pid_t m_parent;
};

Json wordOrNull(const std::string& word) { return word.empty() ? Json(nullptr) : Json(word); }

Json toJson(const LoadReport& report, std::optional<double> energyJ) {
  const LoadPartReport& first = report.parts.front();
  Json json = {{"contract", 1},
               {"kind", first.kind},
               {"threads", first.threads},
               {"seconds", report.seconds},
               {"work_rate", report.seconds > 0 ? Json(first.work / report.seconds) : Json(nullptr)},
               {"unit", first.unit},
               {"work", first.work},
               {"errors", report.errors()},
               {"per_second", report.perSecond},
               {"variant", wordOrNull(first.variant)},
               {"precision", wordOrNull(first.precision)},
               {"pattern", wordOrNull(first.pattern)},
               {"energy_j", numberOrNull(energyJ)}};
  for (const WrongResults& wrong : report.wrong)
    json["wrong"].push_back({{"at_s", wrong.atS}, {"core", wrong.core}, {"count", wrong.count}});
  for (const Pass& pass : report.passes)
    json["passes"].push_back(
        {{"start_s", pass.startS}, {"end_s", pass.endS}, {"score", numberOrNull(pass.score)}, {"scores", pass.scores}});
  for (size_t i = 1; i < report.parts.size(); ++i) {
    const LoadPartReport& part = report.parts[i];
    json["also"].push_back({{"kind", part.kind},
                            {"threads", part.threads},
                            {"work", part.work},
                            {"work_rate", report.seconds > 0 ? Json(part.work / report.seconds) : Json(nullptr)},
                            {"unit", part.unit},
                            {"errors", part.errors},
                            {"variant", wordOrNull(part.variant)}});
  }
  return json;
}

std::string partText(const LoadPartReport& part, double seconds) {
  std::string how = part.variant;
  if (!part.precision.empty()) how += ", " + part.precision;
  if (!part.pattern.empty()) how += (how.empty() ? "" : ", ") + part.pattern;
  return fmt::format("{}: {:.4g} {} on {} {} for {:.1f} s{}, {} wrong results", part.kind,
                     part.work / std::max(seconds, 1e-9), part.unit, part.threads,
                     part.threads == 1 ? "thread" : "threads", seconds, how.empty() ? "" : " (" + how + ")",
                     part.errors);
}

void printText(const LoadReport& report) {
  for (const LoadPartReport& part : report.parts) std::puts(partText(part, report.seconds).c_str());
  for (size_t i = 0; i < report.passes.size(); ++i) {
    const Pass& pass = report.passes[i];
    std::string line = fmt::format("pass {}: {:.1f} s, {:.5g}", i + 1, pass.endS - pass.startS, pass.score);
    for (const auto& [name, score] : pass.scores) line += fmt::format(", {} {:.5g}", name, score);
    std::puts(line.c_str());
  }
  if (const std::string wrong = wrongResultsText(report.wrong); !wrong.empty()) std::puts((wrong + ".").c_str());
}

void tell(const Json& line) {
  std::puts(jsonText(line).c_str());
  std::fflush(stdout);
}

/// What the processor has drawn, where its counter may be read.
class EnergyCounter {
 public:
  EnergyCounter() {
    LinuxMachine machine = openLinuxMachine("");
    for (auto& source : machine.sources) {
      const auto& readings = source->info().readings;
      for (size_t i = 0; i < readings.size(); ++i) {
        if (readings[i].role != roles::kCpuEnergy) continue;
        m_source = source;
        m_column = i;
        m_start = read();
        return;
      }
    }
  }
  std::optional<double> joules() {
    if (!m_source) return std::nullopt;
    const double spent = read() - m_start;
    return std::isfinite(spent) && spent >= 0 ? std::optional(spent) : std::nullopt;
  }

 private:
  double read() { return m_source->sweep().values.at(m_column); }
  std::shared_ptr<Source> m_source;
  size_t m_column = 0;
  double m_start = kMissing;
};

// When memory runs out the load goes first: proc(5), /proc/PID/oom_score_adj. Everybody may raise it.
void goFirstWithoutMemory() { std::ofstream("/proc/self/oom_score_adj") << 1000; }

// Why a recorder's load must end: nobody watches it any more.
void tellSilence(HeartbeatWatch::State state) {
  if (state == HeartbeatWatch::State::Silent)
    tell({{"ended", "The load ended itself: its recorder stood still for 0.6 s."}});
}

// "NAME=TEXT" pairs of an option that may be given several times.
Status takePairs(const std::vector<std::string>& texts, const char* option, std::map<std::string, std::string>& pairs) {
  for (const std::string& text : texts) {
    const size_t equals = text.find('=');
    if (equals == std::string::npos || equals == 0)
      return Error::badInput(fmt::format("{} takes NAME=TEXT, not {}.", option, text));
    pairs[text.substr(0, equals)] = text.substr(equals + 1);
  }
  return {};
}

Status complete(LoadArguments& options) {
  options.load.kind = LoadKind::fromText(options.kind);
  // "vector + graphics", "vector threads=2": the line that a plan has.
  if (options.kind.find_first_of(" +=") != std::string::npos) {
    auto load = parseLoadText(options.kind);
    if (!load) return load.error();
    options.load = std::move(*load);
  }
  if (!options.spec.empty()) {
    auto load = loadFromJson(options.kind, parseQuietly(options.spec));
    if (!load) return load.error();
    options.load = std::move(*load);
  }
  if (options.seconds > 0) options.load.seconds = options.seconds;
  if (options.work > 0) options.load.work = options.work;
  if (!options.size.empty()) std::tie(options.load.width, options.load.height) = parseSize(options.size);
  if (!options.cores.empty()) {
    auto cores = parseCoreList(options.cores);
    if (!cores) return cores.error();
    options.load.cores = *cores;
  }
  if (!options.steps.empty()) {
    auto steps = parseDutySteps(options.steps);
    if (!steps) return steps.error();
    options.load.steps = *steps;
  }
  for (const std::string& text : options.also) {
    auto other = parseLoadText(text);
    if (!other) return other.error();
    options.load.also.push_back(*other);
  }
  if (Status taken = takePairs(options.environment, "--env", options.load.environment); !taken) return taken;
  if (Status taken = takePairs(options.scores, "--score", options.load.scores); !taken) return taken;
  if (Status taken = takePairs(options.live, "--live", options.load.live); !taken) return taken;
  return checkLoadOptions(options.load);
}

int carryOutLoad(LoadArguments& options) {
  const ParentWatch parent;
  goFirstWithoutMemory();
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  // Below its recorder, so that sampling goes on under full load.
  if (options.stream) setpriority(PRIO_PROCESS, 0, 1);
  if (Status completed = complete(options); !completed) {
    if (options.stream) tell({{"ended", completed.error().message}});
    return fail(completed.error());
  }
  std::optional<EnergyCounter> energy;
  if (options.json && !options.stream) energy.emplace();
  const LoadBeacon beacon(options.load);
  HeartbeatWatch recorder(options.stream ? STDIN_FILENO : -1);
  const auto report = runLoad(
      options.load, [&] { return isAsked || parent.isGone() || recorder.look() != HeartbeatWatch::State::Heard; },
      [&](const LoadProgress& progress) {
        if (options.stream) tell(progressToJson(progress));
      });
  if (!report) {
    if (options.stream) tell({{"ended", report.error().message}});
    return fail(report.error());
  }
  tellSilence(recorder.look());
  if (options.stream && report->isTaskDone) tell({{"done", report->seconds}});
  if (options.json)
    printJson(toJson(*report, energy ? energy->joules() : std::nullopt));
  else if (!options.stream)
    printText(*report);
  return report->errors() > 0 ? kAnswerIsNo : kDone;
}

void addKindOptions(CLI::App& command, LoadArguments& options) {
  LoadOptions& load = options.load;
  command.add_option("--variant", load.variant, "Instruction set of vector, memory, cache: avx512, avx2, portable");
  command.add_option(
      "--pattern", load.pattern,
      "memory: triad, copy, read, write; storage: mix, write, read, random-write, random-read; graphics: "
      "both, arithmetic, memory");
  command.add_option("--memory", load.memoryMb, "MB that memory and cache work on, all threads together");
  command.add_option("--level", load.cacheLevel, "Cache level that the cache load fits")->capture_default_str();
  command.add_option("--size", options.size, "Picture of graphics, e.g. 1280x720");
  command.add_option("--folder", load.folder, "Folder of the storage load's own file, or in which a command runs");
  command.add_option("--file", load.fileMb, "MB of the storage load's file")->capture_default_str();
  command.add_option("--queue", load.queueDepth, "Requests at a time of the storage load")->capture_default_str();
  command.add_option("--block", load.blockKb, "KB of a sequential request")->capture_default_str();
  command.add_option("--command", load.command, "Line for /bin/sh that the load \"command\" runs");
  command.add_option("--env", options.environment, "NAME=VALUE for the command; may be given several times")
      ->take_all();
  command.add_option("--repeats", load.repeats, "Runs of the command; until it is ended when not given");
  command.add_option("--expect-exit", load.exitCode, "Exit code that means success")->capture_default_str();
  command
      .add_option("--score", options.scores,
                  "NAME=PATTERN: a score in the command's output, a regular expression with one group")
      ->take_all();
  command.add_option("--live", options.live, "NAME=PATTERN: a value in its output that is logged while it runs")
      ->take_all();
}

}  // namespace

void addLoadCommand(CLI::App& app, Action& action) {
  CLI::App* command =
      app.add_subcommand("load", "Run one of our loads; it ends with its time, with SIGTERM or with its parent");
  auto options = std::make_shared<LoadArguments>();
  command
      ->add_option("kind", options->kind,
                   "vector, integer, cache, memory, mixed, storage, graphics or command; every result is checked")
      ->required();
  command->add_option("--threads", options->load.threads, "Threads; as many as there are CPUs when not given")
      ->check(CLI::Range(1, 4096));
  command->add_option("--cores", options->cores, "CPUs to keep to, e.g. 0-3,6; one thread each");
  command->add_option("--seconds", options->seconds, "Stop after so many seconds")->check(CLI::PositiveNumber);
  command->add_option("--duty", options->load.dutyPercent, "Share of the time that is worked, in percent")
      ->check(CLI::Range(0.1, 100.0));
  command->add_option("--steps", options->steps, "Duty over time: \"25% 60s, 50%..100% 2min, 80%\"");
  command->add_option("--work", options->work, "The task: end after exactly so many work units")
      ->check(CLI::PositiveNumber);
  command->add_option("--passes", options->load.passes, "End after so many passes");
  command->add_option("--pass-work", options->load.passWork, "Work units of a pass; each is timed and scored");
  command
      ->add_option("--also", options->also,
                   "Another load at the same time, e.g. \"graphics size=640x360\"; may be given several times")
      ->take_all();
  addKindOptions(*command, *options);
  command->add_flag("--json", options->json, "One JSON document at the end");
  command->add_flag("--stream", options->stream, "A JSON line four times a second, for a recorder")->group("");
  command->add_option("--spec", options->spec, "The load as JSON, for a recorder")->group("");
  command->callback([options, &action] { action = [options] { return carryOutLoad(*options); }; });
}

}  // namespace ash::cli
