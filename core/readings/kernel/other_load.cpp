// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/other_load.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "model/text.h"
#include "readings/kernel/cpu_times.h"
#include "readings/kernel/found.h"

namespace ash {
namespace {

constexpr double kFewestTicks = 20;  // of all CPUs together; below it the share is mostly rounding

std::optional<ProcessTicks> ticksOf(const std::string& process) {
  const auto line = readSmallFile("/proc/" + process + "/stat");
  return line ? parseProcessTicks(*line) : std::nullopt;
}

class OtherLoadGauge : public Gauge {
 public:
  explicit OtherLoadGauge(std::shared_ptr<const std::atomic<int>> loadPid) : m_loadPid(std::move(loadPid)) {}

  double read(const Moment& moment) override {
    const auto text = m_file.viewText(moment.nowS);
    const auto rows = text ? parseCpuTicks(*text) : std::vector<CpuTicks>();
    const auto self = ticksOf("self");
    if (rows.empty() || !self) return kMissing;
    const int pid = m_loadPid->load();
    // What a load has used goes over to its parent's ended children when it ends, so nothing is lost in between.
    const auto load = pid > 0 ? ticksOf(std::to_string(pid)) : std::optional<ProcessTicks>(ProcessTicks());
    if (!load) return kMissing;
    const double ours = self->own + self->ofEndedChildren + load->own + load->ofEndedChildren;
    const auto all = static_cast<double>(rows.front().total), busy = static_cast<double>(rows.front().busy);
    if (m_all > 0 && all - m_all < kFewestTicks) return kMissing;
    const double share = m_all > 0 ? 100 * ((busy - m_busy) - (ours - m_ours)) / (all - m_all) : kMissing;
    m_all = all;
    m_busy = busy;
    m_ours = ours;
    return std::clamp(share, 0.0, 100.0);
  }

 private:
  SysfsFile m_file{"/proc/stat"};
  std::shared_ptr<const std::atomic<int>> m_loadPid;
  double m_all = 0, m_busy = 0, m_ours = 0;
};

}  // namespace

std::optional<ProcessTicks> parseProcessTicks(std::string_view line) {
  // The name stands in brackets and may hold anything, brackets too.
  const size_t end = line.rfind(')');
  if (end == std::string_view::npos) return std::nullopt;
  const auto words = splitText(trimmed(line.substr(end + 1)), ' ');
  constexpr size_t kUserTime = 11;  // field 14 of the line, counted from the state behind the name
  if (words.size() < kUserTime + 4) return std::nullopt;
  std::array<double, 4> ticks{};
  for (size_t i = 0; i < ticks.size(); ++i) {
    const auto number = parseKernelInteger(words[kUserTime + i]);
    if (!number) return std::nullopt;
    ticks[i] = static_cast<double>(*number);
  }
  return ProcessTicks{ticks[0] + ticks[1], ticks[2] + ticks[3]};
}

std::unique_ptr<GaugeSource> makeOtherLoadSource(std::shared_ptr<const std::atomic<int>> loadPid) {
  auto source = std::make_unique<GaugeSource>("other-load");
  Reading reading = makeReading(Quantity::Percent, "load", "load of everything else");
  reading.id = "computed/cpu.load.other";
  reading.device = "processor";
  reading.deviceKey = "processor";
  reading.driver = "computed";
  reading.role = "cpu.load.other";
  reading.meaning = "load of everything but the load under test and its recorder, computed";
  source->add(std::move(reading), std::make_unique<OtherLoadGauge>(std::move(loadPid)));
  return source;
}

}  // namespace ash
