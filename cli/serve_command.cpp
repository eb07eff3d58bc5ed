// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg serve`: this machine's readings for other machines.
#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <ctime>
#include <memory>

#include "cli/command.h"
#include "cli/instruments_option.h"
#include "cli/signals.h"
#include "load/activity.h"
#include "runner/sim_bench.h"
#include "serve/reading_board.h"
#include "serve/reading_server.h"
#include "system/clock.h"
#include "system/secret_file.h"

namespace ash::cli {
namespace {

struct ServeArguments {
  std::string listen = "127.0.0.1:9410", tokenFile, root, sim, instruments;
  ServeOptions server;
  double intervalS = 0.5;
};

double wallClockS() {
  return std::chrono::duration<double>(std::chrono::system_clock::now().time_since_epoch()).count();
}

Status takeListen(const std::string& text, ServeOptions& server) {
  const size_t colon = text.rfind(':');
  const std::string port = colon == std::string::npos ? "" : text.substr(colon + 1);
  const bool isPort = !port.empty() && port.size() <= 5 && port.find_first_not_of("0123456789") == std::string::npos;
  server.host = text.substr(0, colon);
  if (server.host.starts_with('[') && server.host.ends_with(']'))
    server.host = server.host.substr(1, server.host.size() - 2);
  if (!isPort || server.host.empty() || std::stoi(port) > 65535)
    return Error::badInput(fmt::format("--listen {}: write HOST:PORT, e.g. 127.0.0.1:9410.", text));
  server.port = std::stoi(port);
  return {};
}

// A simulated bench works as much as the loads that go on here.
void followLoads(sim::Bench& bench, double elapsedS) {
  double share = 0;
  for (const ActiveLoad& load : activeLoads()) share += load.share;
  if (share <= 0)
    bench.clearLoad();
  else
    bench.setLoad("vector", std::min(share, 1.0));
  bench.advanceTo(elapsedS);
}

Result<MachineSources> openMachine(const ServeArguments& options) {
  if (options.sim.empty()) {
    auto instruments = readInstruments(options.instruments);
    if (!instruments) return instruments.error();
    return MachineSources::open({options.root, {}, {}, {}, std::move(*instruments)});
  }
  auto spec = sim::loadBench(options.sim, "");
  if (!spec) return spec.error();
  return MachineSources::open({"", {}, {}, SimulatedMachine{std::move(*spec), options.sim, 1}, {}});
}

int carryOutServe(ServeArguments options) {
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  if (Status taken = takeListen(options.listen, options.server); !taken) return fail(taken.error());
  if (!options.tokenFile.empty()) {
    auto token = readSecret(options.tokenFile);
    if (!token) return fail(token.error());
    options.server.token = *token;
  }
  auto machine = openMachine(options);
  if (!machine) return fail(machine.error());
  ReadingBoard board(machine->infos());
  const double startS = bootTimeS();
  const bool isSimulated = machine->simulated() != nullptr;
  // The clock of a simulated bench begins at zero.
  const auto benchS = [isSimulated, startS] { return bootTimeS() - (isSimulated ? startS : 0); };
  auto server = ReadingServer::start(options.server,
                                     [&] { return metricsPage(board.now(benchS(), wallClockS()), wallClockS()); });
  if (!server) return fail(server.error());
  std::puts(fmt::format("http{}://{}:{}/metrics", options.server.certFile.empty() ? "" : "s", options.server.host,
                        (*server)->port())
                .c_str());
  std::fflush(stdout);
  if (!isSimulated) machine->begin(options.intervalS);
  while (!isAsked) {
    if (!isSimulated) {
      if (const auto tick = machine->next(0.1)) board.take(*tick);
      continue;
    }
    followLoads(*machine->simulated(), bootTimeS() - startS);
    board.take(machine->sweepInStep());
    std::this_thread::sleep_for(std::chrono::duration<double>(std::min(options.intervalS, 0.1)));
  }
  return kDone;
}

}  // namespace

void addServeCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("serve", "Offer this machine's readings to others, in OpenMetrics over HTTP");
  auto options = std::make_shared<ServeArguments>();
  command->add_option("--listen", options->listen, "HOST:PORT; beyond this machine only with a token")
      ->capture_default_str();
  command->add_option("--token-file", options->tokenFile, "File (0600) whose first line whoever asks must know");
  command->add_option("--tls-cert", options->server.certFile, "Certificate (PEM), for HTTPS");
  command->add_option("--tls-key", options->server.keyFile, "Its key (PEM)");
  auto* root = command->add_option("--root", options->root, "Read a tree that looks like a machine's root")
                   ->check(CLI::ExistingDirectory);
  command->add_option("--sim", options->sim, "A simulated bench")->excludes(root);
  addInstrumentsOption(*command, options->instruments)->excludes("--sim");
  command->add_option("--interval", options->intervalS, "Seconds between two looks at the readings")
      ->check(CLI::Range(0.05, 60.0))
      ->capture_default_str();
  command->callback([options, &action] { action = [options] { return carryOutServe(*options); }; });
}

}  // namespace ash::cli
