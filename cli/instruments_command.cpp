// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg instruments`: what is read from outside; list, try, add, remove.
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <memory>
#include <thread>

#include "cli/command.h"
#include "cli/instrument_calibrate.h"
#include "cli/instruments_option.h"
#include "instruments/instrument_source.h"
#include "instruments/instrument_tries.h"
#include "instruments/spoken_reading.h"
#include "model/number_text.h"
#include "model/text.h"
#include "readings/meaning/words.h"
#include "system/clock.h"

namespace ash::cli {
namespace {

struct InstrumentsArguments {
  std::string file, name, kind, address, place;
  std::vector<std::string> readings;
  double seconds = 2;
  std::optional<double> intervalS, timeoutS, delayS;
  std::string form, tokenFile, tlsCa;
  std::optional<double> calibrationDb;
  bool withoutSpectrum = false;
  std::vector<std::string> setup;
  bool all = false, json = false;
};

/// One instrument and what came of trying it.
struct Tried {
  Instrument instrument;
  InstrumentState state;
  bool isGood() const {
    return std::all_of(state.hasAnswered.begin(), state.hasAnswered.end(), [](bool has) { return has; });
  }
};

std::vector<Tried> tryAll(const std::vector<Instrument>& list, double seconds) {
  std::vector<std::unique_ptr<InstrumentSource>> sources;
  for (const Instrument& instrument : list) sources.push_back(std::make_unique<InstrumentSource>(instrument));
  std::this_thread::sleep_for(std::chrono::duration<double>(seconds));
  // One that is slow has its time-out to answer at least once.
  const double endS = monotonicS() + 3;
  for (const auto& source : sources) source->waitForFirst(endS - monotonicS());
  std::vector<Tried> tried;
  for (size_t i = 0; i < list.size(); ++i) {
    tried.push_back({list[i], sources[i]->state()});
    InstrumentState& state = tried.back().state;
    if (state.answers == 0 && state.error.empty())
      state.error = fmt::format("it has not answered within {:g} s", seconds);
  }
  return tried;
}

Json toJson(const Tried& tried) {
  Json readings = Json::array();
  for (size_t i = 0; i < tried.instrument.readings.size(); ++i) {
    const InstrumentReading& reading = tried.instrument.readings[i];
    const Answer& answer = tried.state.last[i];
    readings.push_back({{"role", reading.title()},
                        {"value", numberOrNull(answer.value)},
                        {"unit", reading.storedUnit()},
                        {"age_s", numberOrNull(bootTimeS() - answer.atS)},
                        {"fault", answer.isFailure() ? Json(answer.fault) : Json(nullptr)}});
  }
  const InstrumentState& state = tried.state;
  return {{"name", tried.instrument.name},
          {"identity", state.identity.empty() ? Json(nullptr) : Json(state.identity)},
          {"answers", state.answers},
          {"failures", state.failures},
          {"round_trip_ms", numberOrNull(1000 * state.roundTripS)},
          {"clock_offset_s", numberOrNull(state.clockOffsetS)},
          {"readings", std::move(readings)},
          {"error", state.error.empty() ? Json(nullptr) : Json(state.error)}};
}

void printTried(const Tried& tried) {
  const InstrumentState& state = tried.state;
  std::puts(fmt::format("{}: {} answers, {} failures{}{}", tried.instrument.name, state.answers, state.failures,
                        std::isfinite(state.roundTripS) ? fmt::format(", {:.1f} ms", 1000 * state.roundTripS) : "",
                        state.identity.empty() ? "" : ", " + state.identity)
                .c_str());
  for (size_t i = 0; i < tried.instrument.readings.size(); ++i) {
    const InstrumentReading& reading = tried.instrument.readings[i];
    const std::string unit = reading.storedUnit();
    std::puts(
        fmt::format("  {:<20} {:>10} {}", reading.title(), numberText(state.last[i].value, usualDigits(unit)), unit)
            .c_str());
  }
  if (!state.error.empty()) std::puts(fmt::format("  {}", state.error).c_str());
}

int carryOutTest(const InstrumentsArguments& options) {
  auto list = readInstruments(options.file);
  if (!list) return fail(list.error());
  if (!options.all) {
    std::erase_if(*list, [&](const Instrument& one) { return one.name != options.name; });
    if (list->empty())
      return fail(
          Error::badInput(fmt::format("There is no instrument \"{}\"; `ashg instruments list` tells which there are.",
                                      withoutControls(options.name))));
  }
  const auto tried = tryAll(*list, options.seconds);
  InstrumentTries tries = InstrumentTries::load();
  Json all = Json::array();
  for (const Tried& one : tried) {
    tries.set(one.instrument, one.isGood());
    options.json ? all.push_back(toJson(one)) : printTried(one);
  }
  if (options.json) printJson({{"contract", 1}, {"instruments", std::move(all)}});
  tries.keep();
  const bool isGood = std::all_of(tried.begin(), tried.end(), [](const Tried& one) { return one.isGood(); });
  return isGood ? kDone : kAnswerIsNo;
}

int carryOutList(const InstrumentsArguments& options) {
  const auto list = readInstruments(options.file);
  if (!list) return fail(list.error());
  const auto tries = InstrumentTries::load();
  if (options.json) {
    Json all = Json::array();
    for (const Instrument& instrument : *list) {
      Json one = instrumentToJson(instrument);
      const auto isGood = tries.of(instrument);
      one["ok"] = isGood ? Json(*isGood) : Json(nullptr);
      all.push_back(std::move(one));
    }
    printJson({{"contract", 1}, {"list", std::move(all)}});
    return kDone;
  }
  if (list->empty()) std::puts("No instruments; `ashg instruments add` takes one in.");
  for (const Instrument& instrument : *list) {
    const auto isGood = tries.of(instrument);
    std::puts(fmt::format("{}  {} {}, every {:g} s, {}", instrument.name, instrumentKindText(instrument.kind),
                          instrument.where(), instrument.intervalS,
                          !isGood   ? "not tried"
                          : *isGood ? "answered when it was tried"
                                    : "did not answer when it was tried")
                  .c_str());
    for (const InstrumentReading& reading : instrument.readings)
      std::puts(fmt::format("    {:<20} {}", reading.title(), askedText(reading)).c_str());
  }
  return kDone;
}

int carryOutAdd(const InstrumentsArguments& options) {
  const auto kind = instrumentKindFrom(options.kind);
  if (!kind)
    return fail(Error::badInput(fmt::format("\"{}\" is no kind of instrument: it must be {}.",
                                            withoutControls(options.kind), instrumentKindWords())));
  Json instrument = {{"name", options.name}, {"kind", options.kind}};
  const bool isSound = *kind == InstrumentKind::Sound;
  std::vector<std::string> readings = options.readings;
  if (isSound && readings.empty()) readings = {roles::kNoise};
  if (readings.empty())
    return fail(Error::badInput("--reading is missing: what is to be read, e.g. \"wall.power=MEAS:POW? W\"."));
  instrument[isSound ? "device" : *kind == InstrumentKind::Command ? "command" : "address"] = options.address;
  if (options.calibrationDb) instrument["calibration_db"] = *options.calibrationDb;
  if (options.withoutSpectrum) instrument["spectrum"] = false;
  if (options.intervalS) instrument["interval_s"] = *options.intervalS;
  if (options.timeoutS) instrument["timeout_s"] = *options.timeoutS;
  if (options.delayS) instrument["delay_s"] = *options.delayS;
  if (!options.form.empty()) instrument["form"] = options.form;
  if (!options.tokenFile.empty()) instrument["token_file"] = options.tokenFile;
  if (!options.tlsCa.empty()) instrument["tls_ca"] = options.tlsCa;
  if (!options.setup.empty()) instrument["setup"] = options.setup;
  instrument["readings"] = Json::array();
  for (const std::string& text : readings) {
    auto reading = parseSpokenReading(text, *kind);
    if (!reading) return fail(reading.error());
    if (!options.place.empty()) (*reading)["place"] = options.place;
    instrument["readings"].push_back(std::move(*reading));
  }
  if (Status added = addInstrument(options.file, instrument); !added) return fail(added.error());
  std::puts(fmt::format("{} is kept; `ashg instruments test \"{}\"` tries it.", options.name, options.name).c_str());
  return kDone;
}

int carryOutRemove(const InstrumentsArguments& options) {
  if (Status removed = removeInstrument(options.file, options.name); !removed) return fail(removed.error());
  std::puts(fmt::format("{} is removed.", options.name).c_str());
  return kDone;
}

using Options = std::shared_ptr<InstrumentsArguments>;

void addTest(CLI::App& command, const Options& options, Action& action) {
  CLI::App* test = command.add_subcommand("test", "Ask for some seconds; 0 when all answered, else 1");
  addInstrumentsOption(*test, options->file);
  auto* name = test->add_option("name", options->name, "The instrument");
  auto* all = test->add_flag("--all", options->all, "All of them")->excludes(name);
  test->add_option("--seconds", options->seconds, "How long")->check(CLI::Range(0.1, 3600.0));
  test->add_flag("--json", options->json, "One JSON document");
  test->callback([name, all, options, &action] {
    if (name->count() + all->count() == 0) throw CLI::RequiredError("NAME or --all");
    action = [options] { return carryOutTest(*options); };
  });
}

void addAdd(CLI::App& command, const Options& options, Action& action) {
  CLI::App* add = command.add_subcommand("add", "Keep one more");
  addInstrumentsOption(*add, options->file);
  add->add_option("name", options->name, "What you call it")->required();
  add->add_option("kind", options->kind, instrumentKindWords())->required();
  add->add_option("address", options->address, "host:port, a URL, a command, or a capture device")->required();
  add->add_option("--reading", options->readings,
                  "\"ROLE=QUERY [UNIT] [±ACCURACY]\", e.g. \"wall.power=MEAS:POW? W ±0.5 % + 0.2 W\"; several times")
      ->take_all()
      ->allow_extra_args(false);
  add->add_option("--interval", options->intervalS, "Seconds between two questions (1)");
  add->add_option("--timeout", options->timeoutS, "Seconds to wait for an answer (1)");
  add->add_option("--delay", options->delayS, "By how many seconds its answers are late (0)");
  add->add_option("--place", options->place, "Where it sits: \"before the UPS\", \"50 cm\"");
  add->add_option("--form", options->form, "Of a command: once (run each time) or lines (left running)");
  add->add_option("--setup", options->setup, "A line that is sent once connected (scpi)")->allow_extra_args(false);
  add->add_option("--token-file", options->tokenFile, "File that holds the bearer token (openmetrics)");
  add->add_option("--tls-ca", options->tlsCa, "File of the authorities to trust, instead of the system's");
  add->add_option("--calibration", options->calibrationDb,
                  "The level of a full-scale sine, in dB (sound); see calibrate");
  add->add_flag("--no-spectrum", options->withoutSpectrum, "Neither third-octave bands nor tones (sound)");
  add->callback([options, &action] { action = [options] { return carryOutAdd(*options); }; });
}

}  // namespace

void addInstrumentsCommand(CLI::App& app, Action& action) {
  CLI::App* command =
      app.add_subcommand("instruments", "What is read from outside: meters, sensors, other machines, programs");
  command->require_subcommand(1);
  auto options = std::make_shared<InstrumentsArguments>();
  CLI::App* list = command->add_subcommand("list", "List them");
  addInstrumentsOption(*list, options->file);
  list->add_flag("--json", options->json, "One JSON document");
  list->callback([options, &action] { action = [options] { return carryOutList(*options); }; });
  addTest(*command, options, action);
  addAdd(*command, options, action);
  addCalibrate(*command, action);
  CLI::App* remove = command->add_subcommand("remove", "Keep it no more");
  addInstrumentsOption(*remove, options->file);
  remove->add_option("name", options->name, "The instrument")->required();
  remove->callback([options, &action] { action = [options] { return carryOutRemove(*options); }; });
}

}  // namespace ash::cli
