// SPDX-License-Identifier: GPL-3.0-or-later
// `--beside OLD.json` of analyze and compare: what was told earlier, by this method or another, beside what is told
// now.
#pragma once

#include <string>

#include "analysis/told_figures.h"
#include "model/json.h"
#include "model/result.h"

namespace ash::cli {

/// The file's document held against today's. Error::badInput, naming the file, when it cannot be read, is larger than
/// 64 MiB, is no JSON, or tells figures of something else.
Result<FiguresBeside> besideFile(const std::string& path, const Json& now);

/// For a person: both methods, how many values are equal, and each that is not, with both values.
std::string besideText(const FiguresBeside& beside);

}  // namespace ash::cli
