// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/activity.h"

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <filesystem>
#include <fstream>

#include "model/json.h"
#include "system/process_identity.h"
#include "system/runtime_folder.h"

namespace ash {
namespace fs = std::filesystem;

LoadBeacon::LoadBeacon(const LoadOptions& options) {
  const auto folder = runtimeSubfolder("loads");
  if (!folder) return;
  const ProcessIdentity self = thisProcess();
  const int threads = options.threads > 0 ? options.threads : usableCpuCount();
  const double share = std::min(1.0, static_cast<double>(threads) / usableCpuCount()) * options.dutyPercent / 100;
  const Json sign = {{"pid", self.pid},
                     {"boot_id", self.bootId},
                     {"start", self.startTicks},
                     {"kind", options.kind.text()},
                     {"share", share}};
  m_path = fmt::format("{}/{}.json", *folder, self.pid);
  const std::string unfinished = m_path + ".new";
  std::ofstream(unfinished) << jsonText(sign);
  std::error_code error;
  fs::rename(unfinished, m_path, error);
}

LoadBeacon::~LoadBeacon() {
  if (!m_path.empty()) unlink(m_path.c_str());
}

std::vector<ActiveLoad> activeLoads() {
  std::vector<ActiveLoad> loads;
  const auto folder = runtimeSubfolder("loads");
  if (!folder) return loads;
  std::error_code error;
  for (const fs::directory_entry& entry : fs::directory_iterator(*folder, error)) {
    if (entry.path().extension() != ".json") continue;
    std::ifstream file(entry.path());
    const Json sign = parseQuietly({std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>()});
    if (!sign.is_object()) continue;
    const ProcessIdentity process{valueIn(sign, "boot_id", ""), valueIn(sign, "pid", 0), valueIn(sign, "start", 0ULL)};
    if (stateOf(process) != ProcessState::Alive) {
      fs::remove(entry.path(), error);
      continue;
    }
    if (isRunning(process.pid)) loads.push_back({process.pid, valueIn(sign, "kind", ""), valueIn(sign, "share", 0.0)});
  }
  return loads;
}

}  // namespace ash
