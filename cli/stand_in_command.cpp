// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg stand-in`: small simulated devices; `machine` is a simulated machine as a live tree of kernel-like files.
#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <limits>
#include <memory>
#include <thread>

#include "cli/command.h"
#include "cli/signals.h"
#include "cli/stand_in_meter.h"
#include "cli/stand_in_sensor.h"
#include "load/activity.h"
#include "sim/stand_in_machine.h"
#include "system/clock.h"

namespace ash::cli {
namespace {

struct StandInArguments {
  std::string folder, sim = "larch12", setup;
  double speed = 1;
  double seconds = std::numeric_limits<double>::infinity();
  uint64_t seed = 1;
};

constexpr auto kMoveEvery = std::chrono::milliseconds(50);

int carryOutStandIn(const StandInArguments& options) {
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  auto spec = sim::loadBench(options.sim, options.setup);
  if (!spec) return fail(spec.error());
  auto machine = sim::StandInMachine::create(options.folder, std::move(*spec), options.seed, options.speed);
  if (!machine) return fail(machine.error());
  std::puts(options.folder.c_str());
  std::fflush(stdout);
  std::fputs("The stand-in machine is moving; it warms up while an `ashg load` runs. Ctrl-C ends it.\n", stderr);
  const double startS = monotonicS();
  while (!isAsked && monotonicS() - startS < options.seconds) {
    double share = 0;
    std::string kind;
    for (const ActiveLoad& load : activeLoads()) {
      share += load.share;
      kind = load.kind;
    }
    const Status moved = (*machine)->update((monotonicS() - startS) * options.speed, kind, std::min(1.0, share));
    if (!moved) return fail(moved.error());
    std::this_thread::sleep_for(kMoveEvery);
  }
  const sim::Bench& bench = (*machine)->bench();
  for (size_t d = 0; d < bench.spec().devices.size(); ++d)
    std::fprintf(stderr, "%s has drawn %.1f J in %.1f s of the bench.\n", bench.spec().devices[d].name.c_str(),
                 bench.energyJ(d), bench.timeS());
  return kDone;
}

}  // namespace

void addStandInCommand(CLI::App& app, Action& action) {
  CLI::App* standIn = app.add_subcommand("stand-in", "Small simulated devices to try things out with");
  standIn->require_subcommand(1);
  CLI::App* machine = standIn->add_subcommand("machine", "Keep a tree of kernel-like files moving, for --root");
  auto options = std::make_shared<StandInArguments>();
  machine->add_option("--dir", options->folder, "Folder to make the tree in")->required();
  machine->add_option("--sim", options->sim, "A bench that ships (larch12, wren) or a JSON file")
      ->capture_default_str();
  machine->add_option("--setup", options->setup, "Setup of the bench");
  machine->add_option("--speed", options->speed, "How many bench seconds pass in a second")
      ->check(CLI::Range(0.01, 1e5));
  machine->add_option("--seconds", options->seconds, "End after so many seconds")->check(CLI::PositiveNumber);
  machine->add_option("--seed", options->seed, "Seed of the noise");
  addStandInMeter(*standIn, action);
  addStandInSensor(*standIn, action);
  machine->callback([options, &action] { action = [options] { return carryOutStandIn(*options); }; });
}

}  // namespace ash::cli
