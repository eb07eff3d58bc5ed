// SPDX-License-Identifier: GPL-3.0-or-later
// Chips of /sys/class/hwmon: temperatures, fans, duties, power, voltages, currents, energies, clocks.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "readings/source.h"
#include "readings/sysfs_file.h"

namespace ash {

/// One hwmon chip. Its readings are those that could be read when it was opened. A chip that vanishes (module unloaded,
/// device unplugged) and comes back under another hwmonN at the same place is the same chip: its values are missing
/// meanwhile.
class HwmonSource : public Source {
 public:
  HwmonSource(SourceInfo info, std::vector<SysfsFile> files, std::vector<double> scales)
      : m_info(std::move(info)), m_files(std::move(files)), m_scales(std::move(scales)) {}
  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override;

  /// Roles are given after all chips are known (see roles.h).
  SourceInfo& mutableInfo() { return m_info; }

 private:
  void lookAgain(double nowS);

  SourceInfo m_info;
  std::vector<SysfsFile> m_files;
  std::vector<double> m_scales;
  double m_lookedS = 0;
};

/// Opens every chip below `root` ("" = this machine). What cannot be used goes to `skipped` with its reason.
std::vector<std::unique_ptr<HwmonSource>> findHwmonSources(const std::string& root,
                                                           std::vector<SkippedReading>& skipped);

}  // namespace ash
