// SPDX-License-Identifier: GPL-3.0-or-later
// Figures and comparisons as text for a terminal.
#pragma once

#include <string>

#include "analysis/comparison/compare.h"
#include "analysis/heat/projection.h"
#include "analysis/run/setting_steps.h"

namespace ash::cli {

std::string figuresText(const RunLog& run, const Figures& figures);
/// A setting that was changed under load, and what stood before and after it.
std::string settingStepText(const SettingStep& step);
std::string projectionText(const Projection& projection);
std::string comparisonText(const Comparison& comparison);

}  // namespace ash::cli
