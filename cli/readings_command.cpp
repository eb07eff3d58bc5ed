// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <chrono>
#include <cmath>
#include <cstdio>
#include <memory>
#include <thread>

#include "cli/command.h"
#include "readings/linux_machine.h"

namespace ash::cli {
namespace {

struct Options {
  std::string root;
  bool json = false;
};

struct Value {
  const Reading* reading;
  double value;
};

std::vector<Value> readTwice(LinuxMachine& machine) {
  // Loads are differences: the second sweep has something to compare with.
  for (auto& source : machine.sources) source->sweep();
  std::this_thread::sleep_for(std::chrono::milliseconds(250));
  std::vector<Value> values;
  for (auto& source : machine.sources) {
    const Sweep sweep = source->sweep();
    for (size_t i = 0; i < sweep.values.size(); ++i) values.push_back({&source->info().readings[i], sweep.values[i]});
  }
  return values;
}

Json toJson(const Value& value) {
  const Reading& r = *value.reading;
  return {{"id", r.id},
          {"path", r.path},
          {"device", r.device},
          {"driver", r.driver},
          {"kind", r.kind},
          {"name", r.name},
          {"role", r.role.empty() ? Json(nullptr) : Json(r.role)},
          {"value", numberOrNull(value.value)},
          {"unit", r.unit},
          {"limits", r.limits}};
}

int run(const Options& options) {
  LinuxMachine machine = openLinuxMachine(options.root);
  const auto values = readTwice(machine);
  if (options.json) {
    Json readings = Json::array(), skipped = Json::array();
    for (const Value& value : values) readings.push_back(toJson(value));
    for (const SkippedReading& skip : machine.skipped) skipped.push_back({{"path", skip.path}, {"why", skip.why}});
    printJson({{"contract", 1}, {"readings", readings}, {"skipped", skipped}});
    return kDone;
  }
  for (const Value& value : values) {
    const Reading& r = *value.reading;
    const std::string number = std::isfinite(value.value) ? fmt::format("{:.2f}", value.value) : "–";
    std::puts(fmt::format("{:<24} {:<18} {:<16} {:>10} {:<5} {}", r.role.empty() ? "-" : r.role, r.device, r.name,
                          number, r.unit, r.id)
                  .c_str());
  }
  for (const SkippedReading& skip : machine.skipped)
    std::puts(fmt::format("left out: {}: {}", skip.path, skip.why).c_str());
  for (const std::string& sentence : machine.missing) std::fprintf(stderr, "%s\n", sentence.c_str());
  return kDone;
}

}  // namespace

void addReadingsCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("readings", "List every reading found now");
  auto options = std::make_shared<Options>();
  command->add_option("--root", options->root, "Read a tree that looks like a machine's root instead of this machine")
      ->check(CLI::ExistingDirectory);
  command->add_flag("--json", options->json, "One JSON document");
  command->callback([options, &action] { action = [options] { return run(*options); }; });
}

}  // namespace ash::cli
