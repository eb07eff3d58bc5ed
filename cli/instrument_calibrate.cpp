// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg instruments calibrate NAME LEVEL`: what a sound level meter beside the microphone shows.
#include "cli/instrument_calibrate.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdio>
#include <memory>

#include "cli/instruments_option.h"
#include "instruments/calibration.h"
#include "model/text.h"

namespace ash::cli {
namespace {

struct CalibrateArguments {
  std::string file, name;
  double shownDba = 0, seconds = 10;
};

int carryOutCalibrate(const CalibrateArguments& options) {
  const auto list = readInstruments(options.file);
  if (!list) return fail(list.error());
  const auto one = std::find_if(list->begin(), list->end(),
                                [&](const Instrument& instrument) { return instrument.name == options.name; });
  if (one == list->end())
    return fail(
        Error::badInput(fmt::format("There is no instrument \"{}\"; `ashg instruments list` tells which there are.",
                                    withoutControls(options.name))));
  const auto levels = listenTo(*one, options.seconds);
  if (!levels) return fail(levels.error());
  const auto calibration = calibrationFrom(*levels, one->calibrationDb, options.shownDba);
  if (!calibration) return fail(calibration.error());
  if (Status kept = calibrateInstrument(options.file, options.name, calibration->fullScaleDb); !kept)
    return fail(kept.error());
  std::puts(fmt::format("{}: full scale is {:.1f} dB, from {} intervals within {:.1f} dB; it tells noise in dBA now.",
                        options.name, calibration->fullScaleDb, calibration->intervals, calibration->spreadDb)
                .c_str());
  return kDone;
}

}  // namespace

void addCalibrate(CLI::App& command, Action& action) {
  auto options = std::make_shared<CalibrateArguments>();
  CLI::App* calibrate =
      command.add_subcommand("calibrate", "Tie a microphone to what a sound level meter beside it shows");
  addInstrumentsOption(*calibrate, options->file);
  calibrate->add_option("name", options->name, "The instrument, of kind sound")->required();
  calibrate->add_option("level", options->shownDba, "What the meter shows, in dBA, with an even sound")
      ->required()
      ->check(CLI::Range(0.0, 140.0));
  calibrate->add_option("--seconds", options->seconds, "How long to listen (10)")->check(CLI::Range(1.0, 600.0));
  calibrate->callback([options, &action] { action = [options] { return carryOutCalibrate(*options); }; });
}

}  // namespace ash::cli
