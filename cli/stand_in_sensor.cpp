// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg stand-in sensor`: a room sensor that tells a broker on this machine how warm a simulated room is.
#include "cli/stand_in_sensor.h"

#include <fmt/format.h>

#include <atomic>
#include <chrono>
#include <cstdio>
#include <limits>
#include <memory>
#include <thread>

#include "cli/signals.h"
#include "instruments/line_socket.h"
#include "sim/bench.h"
#include "sim/stand_in_machine.h"
#include "sim/stand_in_sensor.h"
#include "system/clock.h"

namespace ash::cli {
namespace {

struct SensorArguments {
  std::string broker = "127.0.0.1:1883", topic = "bench/air", sim = "larch12", follow;
  double intervalS = 1, seconds = std::numeric_limits<double>::infinity();
};

constexpr auto kLook = std::chrono::milliseconds(50);
constexpr const char* kUsualPort = "1883";

Result<sim::SensorOptions> sensorOf(const SensorArguments& options) {
  const auto broker = parseHostPort(options.broker, kUsualPort);
  if (!broker)
    return Error::badInput(fmt::format("\"{}\" is no broker's address, such as 127.0.0.1:1883.", options.broker));
  return sim::SensorOptions{broker->host, std::stoi(broker->port), options.topic};
}

int carryOutSensor(const SensorArguments& options) {
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  const auto where = sensorOf(options);
  if (!where) return fail(where.error());
  auto spec = sim::loadBench(options.sim, "");
  if (!spec) return fail(spec.error());
  sim::Bench bench(std::move(*spec), 1);
  if (!options.follow.empty() && !sim::roomOfStandIn(options.follow))
    return fail(Error::badInput(fmt::format(
        "{} is no folder of a stand-in machine; `ashg stand-in machine --dir` makes one.", options.follow)));
  auto sensor = sim::StandInSensor::start(*where);
  if (!sensor) return fail(sensor.error());
  std::puts(options.topic.c_str());
  std::fflush(stdout);
  const double startS = monotonicS();
  for (double nowS = startS, toldS = -1e9; !isAsked && nowS - startS < options.seconds; nowS = monotonicS()) {
    if (nowS - toldS >= options.intervalS) {
      toldS = nowS;
      bench.advanceTo(nowS - startS);
      const double roomC =
          options.follow.empty() ? bench.roomC() : sim::roomOfStandIn(options.follow).value_or(bench.roomC());
      if (Status told = (*sensor)->tell(roomC); !told) return fail(told.error());
    }
    std::this_thread::sleep_for(kLook);
  }
  return kDone;
}

}  // namespace

void addStandInSensor(CLI::App& standIn, Action& action) {
  CLI::App* sensor =
      standIn.add_subcommand("sensor", "Tell a broker how warm the room is, as a sensor would (MQTT), for instruments");
  auto options = std::make_shared<SensorArguments>();
  sensor->add_option("--broker", options->broker, "Where the broker listens")->capture_default_str();
  sensor->add_option("--topic", options->topic, "What it is told under")->capture_default_str();
  auto* sim = sensor->add_option("--sim", options->sim, "The bench in whose room it hangs")->capture_default_str();
  sensor->add_option("--follow", options->follow, "Folder of a stand-in machine in whose room it hangs")->excludes(sim);
  sensor->add_option("--interval", options->intervalS, "Seconds between two messages")
      ->capture_default_str()
      ->check(CLI::Range(0.05, 3600.0));
  sensor->add_option("--seconds", options->seconds, "End after so many seconds")->check(CLI::PositiveNumber);
  sensor->callback([options, &action] { action = [options] { return carryOutSensor(*options); }; });
}

}  // namespace ash::cli
