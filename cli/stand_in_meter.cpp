// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg stand-in meter`: a small power meter that answers SCPI on this machine.
#include "cli/stand_in_meter.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <limits>
#include <memory>
#include <mutex>
#include <thread>

#include "cli/signals.h"
#include "load/activity.h"
#include "sim/stand_in_machine.h"
#include "sim/stand_in_meter.h"
#include "system/clock.h"

namespace ash::cli {
namespace {

struct MeterArguments {
  sim::MeterOptions meter;
  std::string sim = "larch12", follow, fault;
  double seconds = std::numeric_limits<double>::infinity();
};

constexpr auto kMeterBeat = std::chrono::milliseconds(50);

/// What the meter shows, moved on by one thread and read by others.
class Shown {
 public:
  void set(double powerW, double elapsedS) {
    const std::lock_guard lock(m_mutex);
    m_values.powerW = powerW;
    m_values.energyWh += powerW * elapsedS / 3600;
  }
  sim::MeterValues get() {
    const std::lock_guard lock(m_mutex);
    return m_values;
  }

 private:
  std::mutex m_mutex;
  sim::MeterValues m_values;
};

int carryOutMeter(MeterArguments options) {
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  if (!options.fault.empty()) options.meter.fault = *sim::meterFaultFrom(options.fault);
  Shown shown;
  std::unique_ptr<sim::Bench> bench;
  if (options.follow.empty()) {
    auto spec = sim::loadBench(options.sim, "");
    if (!spec) return fail(spec.error());
    bench = std::make_unique<sim::Bench>(std::move(*spec), 1);
    shown.set(bench->wallPowerW(), 0);
  } else if (const auto watts = sim::wallPowerOfStandIn(options.follow)) {
    shown.set(*watts, 0);
  } else {
    return fail(Error::badInput(fmt::format(
        "{} is no folder of a stand-in machine; `ashg stand-in machine --dir` makes one.", options.follow)));
  }
  auto meter = sim::StandInMeter::start(options.meter, [&shown] { return shown.get(); });
  if (!meter) return fail(meter.error());
  std::puts(fmt::format("127.0.0.1:{}", (*meter)->port()).c_str());
  std::fflush(stdout);
  const double startS = monotonicS();
  for (double lastS = startS; !isAsked && lastS - startS < options.seconds;) {
    std::this_thread::sleep_for(kMeterBeat);
    const double nowS = monotonicS();
    if (bench) {
      double share = 0;
      for (const ActiveLoad& load : activeLoads()) share += load.share;
      share > 0 ? static_cast<void>(bench->setLoad("vector", std::min(share, 1.0))) : bench->clearLoad();
      bench->advanceTo(nowS - startS);
    }
    const auto watts = bench ? bench->wallPowerW() : sim::wallPowerOfStandIn(options.follow);
    if (watts) shown.set(*watts, nowS - lastS);
    lastS = nowS;
  }
  return kDone;
}

}  // namespace

void addStandInMeter(CLI::App& standIn, Action& action) {
  CLI::App* meter =
      standIn.add_subcommand("meter", "Answer as a small power meter would (SCPI over TCP), for instruments");
  auto options = std::make_shared<MeterArguments>();
  meter->add_option("--port", options->meter.port, "TCP port on 127.0.0.1; 0 for any that is free")
      ->required()
      ->check(CLI::Range(0, 65535));
  auto* sim = meter->add_option("--sim", options->sim, "The bench at whose wall it measures")->capture_default_str();
  meter->add_option("--follow", options->follow, "Folder of a stand-in machine at whose wall it measures")
      ->excludes(sim);
  meter->add_option("--fault", options->fault, "What is wrong with it: " + sim::meterFaultWords())
      ->check([](const std::string& text) {
        return sim::meterFaultFrom(text) ? std::string() : "must be one of " + sim::meterFaultWords();
      });
  meter->add_option("--every", options->meter.everyNth, "The fault is in every N-th answer")
      ->check(CLI::Range(1, 1000000));
  meter->add_option("--seconds", options->seconds, "End after so many seconds")->check(CLI::PositiveNumber);
  meter->callback([options, &action] { action = [options] { return carryOutMeter(*options); }; });
}

}  // namespace ash::cli
