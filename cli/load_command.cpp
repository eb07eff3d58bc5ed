// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <unistd.h>

#include <algorithm>
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
#include "load/load_field.h"
#include "load/load_progress.h"
#include "load/load_text.h"
#include "load/load_worker.h"
#include "machine/machine_sources.h"
#include "model/role.h"
#include "model/text.h"

namespace ash::cli {
namespace {

struct LoadArguments {
  LoadOptions load;
  double seconds = 0;
  std::string kind;  // as typed: a kind, or a whole line
  std::string spec;
  std::vector<std::vector<std::string>> said;  // by field of loadFields(): what was typed of it
  std::vector<std::string> also;
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
    const MachineSources machine = MachineSources::open({});
    for (const auto& source : machine.sources()) {
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

Status complete(LoadArguments& options) {
  options.load.kind = LoadKind::fromText(options.kind);
  // "vector + graphics", "vector threads=2": the line that a plan has.
  if (options.kind.find_first_of(" +=") != std::string::npos) {
    auto load = parseLoadText(options.kind);
    if (!load) return load.error();
    options.load = std::move(*load);
  }
  if (!options.spec.empty()) {
    const Json spec = parseQuietly(options.spec);
    if (!spec.is_object()) return Error::badInput("--spec takes a load as one JSON object, as docs/loads.md has it.");
    auto load = loadFromJson(options.kind, spec);
    if (!load) return load.error();
    options.load = std::move(*load);
  }
  if (options.seconds > 0) options.load.seconds = options.seconds;
  for (size_t i = 0; i < options.said.size(); ++i) {
    for (const std::string& text : options.said[i]) {
      if (Status taken = takeFieldText(loadFields()[i], text, options.load); !taken) return taken;
    }
  }
  for (const std::string& text : options.also) {
    auto other = parseLoadText(text);
    if (!other) return other.error();
    options.load.also.push_back(*other);
  }
  return checkLoadOptions(options.load);
}

int carryOutLoad(LoadArguments& options) {
  const ParentWatch parent;
  goFirstWithoutMemory();
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  // Below its recorder, so that sampling goes on under full load.
  if (options.stream) setpriority(PRIO_PROCESS, 0, std::min(19, getpriority(PRIO_PROCESS, 0) + 1));
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

// An option for every field of a load, whichever kind it is for.
void addFieldOptions(CLI::App& command, LoadArguments& options) {
  options.said.resize(loadFields().size());
  for (size_t i = 0; i < loadFields().size(); ++i) {
    const LoadField& field = loadFields()[i];
    const std::string usual = field.isAlwaysWritten ? std::string() : usualText(field);
    const std::string help = std::string(field.help) + (usual.empty() ? "" : ", " + usual + " when not given");
    CLI::Option* option = command.add_option(std::string(field.option), options.said[i], help);
    option->type_name(field.isNumber() ? "NUMBER" : "TEXT")->expected(1)->allow_extra_args(false);
    if (field.isNamed()) option->take_all();
  }
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
  command->add_option("--seconds", options->seconds, "Stop after so many seconds")->check(CLI::PositiveNumber);
  command
      ->add_option("--also", options->also,
                   "Another load at the same time, e.g. \"graphics size=640x360\"; may be given several times")
      ->take_all();
  addFieldOptions(*command, *options);
  command->add_flag("--json", options->json, "One JSON document at the end");
  command->add_flag("--stream", options->stream, "A JSON line four times a second, for a recorder")->group("");
  command->add_option("--spec", options->spec, "The load as JSON, for a recorder")->group("");
  command->callback([options, &action] { action = [options] { return carryOutLoad(*options); }; });
}

}  // namespace ash::cli
