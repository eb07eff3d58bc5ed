// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg sample`: logs all readings into a CSV file; no load, no book.
#include <fmt/format.h>

#include <atomic>
#include <cstdio>
#include <filesystem>
#include <memory>

#include "cli/command.h"
#include "cli/signals.h"
#include "exchange/csv_write.h"
#include "runner/kernel_bench.h"
#include "runner/sim_bench.h"

namespace ash::cli {
namespace {

struct Options {
  std::string root, sim, out;
  double intervalS = 0.5, seconds = 0, speed = 1;
  uint64_t seed = 1;
};

Result<std::unique_ptr<RunBench>> makeBench(const Options& options) {
  if (options.sim.empty()) return std::unique_ptr<RunBench>(std::make_unique<KernelRunBench>(options.root, ""));
  auto spec = sim::loadBench(options.sim, "");
  if (!spec) return spec.error();
  return std::unique_ptr<RunBench>(
      std::make_unique<SimRunBench>(std::move(*spec), options.sim, options.seed, options.speed));
}

// One row per tick; the stamp is that of the first source.
void appendTick(const Tick& tick, Log& log) {
  size_t column = 0;
  log.timeS.push_back(tick.sweeps.front().second.timeS);
  for (const auto& [source, sweep] : tick.sweeps) {
    for (const double value : sweep.values) log.channels[column++].values.push_back(value);
  }
}

int run(const Options& options) {
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  auto bench = makeBench(options);
  if (!bench) return fail(bench.error());
  Log log;
  for (const SourceInfo& source : (*bench)->sources()) {
    for (const Reading& reading : source.readings) {
      log.channels.push_back({reading.column(), reading.quantity, reading.unit, {}, reading.role, reading.step});
    }
  }
  for (const std::string& sentence : (*bench)->missing()) std::fprintf(stderr, "%s\n", sentence.c_str());
  (*bench)->begin(options.intervalS);
  while (!isAsked) {
    const auto tick = (*bench)->next(0.05);
    if (!tick) continue;
    appendTick(*tick, log);
    if (log.timeS.back() - log.timeS.front() + options.intervalS >= options.seconds - 1e-6) break;
  }
  const double first = log.timeS.empty() ? 0 : log.timeS.front();
  for (double& t : log.timeS) t -= first;
  if (Status written = writeCsvLog(log, options.out); !written) return fail(written.error());
  std::puts(options.out.c_str());
  return kDone;
}

}  // namespace

void addSampleCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("sample", "Log all readings into a CSV file, without load or book");
  auto options = std::make_shared<Options>();
  auto* root = command->add_option("--root", options->root, "Read a tree that looks like a machine's root")
                   ->check(CLI::ExistingDirectory);
  command->add_option("--sim", options->sim, "A simulated bench")->excludes(root);
  command->add_option("--speed", options->speed, "How many bench seconds pass in a second, with --sim")
      ->check(CLI::Range(0.01, 1e6));
  command->add_option("--seed", options->seed, "Seed of the simulated bench's noise");
  command->add_option("--interval", options->intervalS, "Seconds between samples")
      ->required()
      ->check(CLI::Range(0.02, 3600.0));
  command->add_option("--seconds", options->seconds, "How long")->required()->check(CLI::PositiveNumber);
  command->add_option("--out", options->out, "The file")->required();
  command->callback([options, &action] { action = [options] { return run(*options); }; });
}

}  // namespace ash::cli
