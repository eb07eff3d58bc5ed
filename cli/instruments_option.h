// SPDX-License-Identifier: GPL-3.0-or-later
// `--instruments FILE` of the commands that read a machine.
#pragma once

#include <CLI/CLI.hpp>
#include <string>

#include "instruments/instrument_file.h"

namespace ash::cli {

inline CLI::Option* addInstrumentsOption(CLI::App& command, std::string& file) {
  return command.add_option(
      "--instruments", file,
      "File of the instruments to read beside the machine, \"none\" for none; when not given, your own");
}

}  // namespace ash::cli
