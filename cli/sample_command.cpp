// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg sample`: logs all readings into a CSV file; no load, no book.
#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <memory>
#include <optional>
#include <set>

#include "cli/command.h"
#include "cli/instruments_option.h"
#include "cli/signals.h"
#include "exchange/csv_write.h"
#include "runner/kernel_bench.h"
#include "runner/sim_bench.h"

namespace ash::cli {
namespace {

struct SampleArguments {
  std::string root, sim, out, instruments;
  double intervalS = 0.5, seconds = 0, speed = 1;
  uint64_t seed = 1;
};

Result<std::unique_ptr<RunBench>> makeBench(const SampleArguments& options) {
  if (options.sim.empty()) {
    auto instruments = readInstruments(options.instruments);
    if (!instruments) return instruments.error();
    auto machine = MachineSources::open({options.root, {}, LoadOptions(), {}, std::move(*instruments)});
    return std::unique_ptr<RunBench>(std::make_unique<KernelRunBench>(std::move(machine), ""));
  }
  auto spec = sim::loadBench(options.sim, "");
  if (!spec) return spec.error();
  spec->stepFor(options.intervalS);
  return std::unique_ptr<RunBench>(
      std::make_unique<SimRunBench>(SimulatedMachine{std::move(*spec), options.sim, options.seed}, options.speed));
}

/// The log as rows: what is swept at about one moment stands in one row, and a source with a pace of its own has empty
/// cells in between.
class Rows {
 public:
  Rows(const std::vector<SourceInfo>& sources, double intervalS) : m_withinS(intervalS / 2) {
    for (const SourceInfo& source : sources) {
      m_first.push_back(m_log.channels.size());
      for (const Reading& reading : source.readings)
        m_log.channels.push_back({reading.column(), reading.quantity, reading.unit, {}, reading.role, reading.step});
    }
  }

  void take(const Tick& tick) {
    for (const auto& [source, sweep] : tick.sweeps) {
      // A second sweep of a source begins a row, whatever its stamp.
      const bool isNews =
          m_log.timeS.empty() || m_taken.contains(source) || sweep.timeS - m_log.timeS.back() > m_withinS;
      // What is told late stands in the row it belongs to.
      const bool isLate = !m_log.timeS.empty() && sweep.timeS < m_log.timeS.back() - m_withinS;
      const auto earlier = isNews || isLate ? rowAt(sweep.timeS) : std::nullopt;
      if ((isNews || isLate) && !earlier && !m_log.timeS.empty() && sweep.timeS <= m_log.timeS.back()) continue;
      if (isNews && !earlier) {
        m_log.timeS.push_back(sweep.timeS);
        for (Channel& channel : m_log.channels) channel.values.push_back(kMissing);
        m_taken.clear();
      }
      const size_t row = earlier.value_or(m_log.timeS.size() - 1);
      if (!earlier) m_taken.insert(source);
      const size_t first = m_first[static_cast<size_t>(source)];
      for (size_t i = 0; i < sweep.values.size(); ++i) m_log.channels[first + i].values[row] = sweep.values[i];
    }
  }
  double lengthS() const { return m_log.timeS.empty() ? 0 : m_log.timeS.back() - m_log.timeS.front(); }
  bool isEmpty() const { return m_log.timeS.empty(); }

  /// The log with its time counted from the first row.
  Log take() {
    const double first = m_log.timeS.empty() ? 0 : m_log.timeS.front();
    for (double& t : m_log.timeS) t -= first;
    return std::move(m_log);
  }

 private:
  /// The row of an earlier moment, but not the last one.
  std::optional<size_t> rowAt(double timeS) const {
    const auto& times = m_log.timeS;
    if (times.size() < 2 || timeS > times[times.size() - 2] + m_withinS) return std::nullopt;
    const auto after = std::lower_bound(times.begin(), times.end() - 1, timeS);
    size_t row = static_cast<size_t>(after - times.begin());
    if (row > 0 && timeS - times[row - 1] < times[row] - timeS) --row;
    return std::abs(times[row] - timeS) <= m_withinS ? std::optional(row) : std::nullopt;
  }

  double m_withinS;
  std::vector<size_t> m_first;  // by source: its first column
  std::set<int> m_taken;        // sources that stand in the last row
  Log m_log;
};

int carryOutSample(const SampleArguments& options) {
  std::atomic<bool> isAsked{false};
  const SignalWatch signals([&](int) { isAsked = true; });
  auto bench = makeBench(options);
  if (!bench) return fail(bench.error());
  Rows rows((*bench)->sources(), options.intervalS);
  for (const std::string& sentence : (*bench)->missing()) std::fprintf(stderr, "%s\n", sentence.c_str());
  (*bench)->begin(options.intervalS);
  while (!isAsked) {
    const auto tick = (*bench)->next(0.05);
    if (!tick) continue;
    rows.take(*tick);
    if (!rows.isEmpty() && rows.lengthS() + options.intervalS >= options.seconds - 1e-6) break;
  }
  const Log log = rows.take();
  if (Status written = writeCsvLog(log, options.out); !written) return fail(written.error());
  std::puts(options.out.c_str());
  return kDone;
}

}  // namespace

void addSampleCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("sample", "Log all readings into a CSV file, without load or book");
  auto options = std::make_shared<SampleArguments>();
  auto* root = command->add_option("--root", options->root, "Read a tree that looks like a machine's root")
                   ->check(CLI::ExistingDirectory);
  command->add_option("--sim", options->sim, "A simulated bench")->excludes(root);
  addInstrumentsOption(*command, options->instruments)->excludes("--sim");
  command->add_option("--speed", options->speed, "How many bench seconds pass in a second, with --sim")
      ->check(CLI::Range(0.01, 1e6));
  command->add_option("--seed", options->seed, "Seed of the simulated bench's noise");
  command->add_option("--interval", options->intervalS, "Seconds between samples")
      ->required()
      ->check(CLI::Range(0.005, 3600.0));
  command->add_option("--seconds", options->seconds, "How long")->required()->check(CLI::PositiveNumber);
  command->add_option("--out", options->out, "The file")->required();
  command->callback([options, &action] { action = [options] { return carryOutSample(*options); }; });
}

}  // namespace ash::cli
