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

#include "cli/command.h"
#include "cli/signals.h"
#include "load/activity.h"
#include "load/heartbeat.h"
#include "load/load_worker.h"

namespace ash::cli {
namespace {

struct Options {
  LoadOptions load;
  double seconds = 0;
  double work = 0;
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

Json toJson(const LoadReport& report) {
  return {{"contract", 1},
          {"kind", report.kind},
          {"threads", report.threads},
          {"seconds", report.seconds},
          {"work_rate", report.work / report.seconds},
          {"unit", report.unit},
          {"work", report.work},
          {"errors", report.errors},
          {"per_second", report.perSecond},
          {"variant", report.variant},
          {"precision", report.precision},
          {"pattern", nullptr},
          {"energy_j", nullptr}};
}

void tellProgress(const LoadProgress& progress) {
  std::puts(Json({{"seconds", progress.seconds}, {"work", progress.work}, {"errors", progress.errors}}).dump().c_str());
  std::fflush(stdout);
}

// When memory runs out the load goes first: proc(5), /proc/PID/oom_score_adj. Everybody may raise it.
void goFirstWithoutMemory() { std::ofstream("/proc/self/oom_score_adj") << 1000; }

// Why a recorder's load must end: nobody watches it any more.
void tellSilence(HeartbeatWatch::State state) {
  if (state != HeartbeatWatch::State::Silent) return;
  std::puts(Json({{"ended", "The load ended itself: its recorder stood still for 0.6 s."}}).dump().c_str());
  std::fflush(stdout);
}

int run(Options& options) {
  const ParentWatch parent;
  goFirstWithoutMemory();
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  // Below its recorder, so that sampling goes on under full load.
  if (options.stream) setpriority(PRIO_PROCESS, 0, 1);
  if (options.seconds > 0) options.load.seconds = options.seconds;
  if (options.work > 0) options.load.work = options.work;
  const LoadBeacon beacon(options.load);
  HeartbeatWatch recorder(options.stream ? STDIN_FILENO : -1);
  const auto report = runLoad(
      options.load, [&] { return isAsked || parent.isGone() || recorder.look() != HeartbeatWatch::State::Heard; },
      [&](const LoadProgress& progress) {
        if (options.stream) tellProgress(progress);
      });
  if (!report) return fail(report.error());
  tellSilence(recorder.look());
  if (options.json) {
    printJson(toJson(*report));
  } else if (!options.stream) {
    std::puts(fmt::format("{}: {:.1f} {} on {} threads for {:.1f} s ({}, {}), {} wrong results", report->kind,
                          report->work / report->seconds, report->unit, report->threads, report->seconds,
                          report->variant, report->precision, report->errors)
                  .c_str());
  }
  return report->errors > 0 ? kAnswerIsNo : kDone;
}

}  // namespace

void addLoadCommand(CLI::App& app, Action& action) {
  CLI::App* command =
      app.add_subcommand("load", "Run one of our loads; it ends with its time, with SIGTERM or with its parent");
  auto options = std::make_shared<Options>();
  command->add_option("kind", options->load.kind, "The load: vector (fused multiply-adds, every result checked)")
      ->required();
  command->add_option("--threads", options->load.threads, "Threads; as many as there are CPUs when not given")
      ->check(CLI::Range(1, 4096));
  command->add_option("--seconds", options->seconds, "Stop after so many seconds")->check(CLI::PositiveNumber);
  command->add_option("--duty", options->load.dutyPercent, "Share of the time that is worked, in percent")
      ->check(CLI::Range(0.1, 100.0));
  command->add_option("--work", options->work, "Stop after so many work units (GFLOP for vector)")
      ->check(CLI::PositiveNumber);
  command->add_flag("--json", options->json, "One JSON document at the end");
  command->add_flag("--stream", options->stream, "A JSON line four times a second, for a recorder")->group("");
  command->callback([options, &action] { action = [options] { return run(*options); }; });
}

}  // namespace ash::cli
