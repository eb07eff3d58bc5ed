// SPDX-License-Identifier: GPL-3.0-or-later
// Figures and comparisons as the JSON of docs/analysis-contract.md.
#pragma once

#include "analysis/comparison/compare.h"
#include "analysis/heat/projection.h"
#include "analysis/run/figures.h"
#include "analysis/run/setting_steps.h"
#include "model/json.h"

namespace ash {

inline constexpr int kContractVersion = 1;

Json figuresToJson(const Figures& figures);
Json settingStepsToJson(const std::vector<SettingStep>& steps);
Json projectionsToJson(const std::vector<Projection>& projections);
Json comparisonToJson(const Comparison& comparison);

}  // namespace ash
