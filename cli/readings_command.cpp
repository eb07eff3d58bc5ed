// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <memory>
#include <thread>

#include "book/book.h"
#include "cli/command.h"
#include "cli/instruments_option.h"
#include "machine/machine_sources.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"
#include "readings/linux_machine.h"
#include "readings/meaning/words.h"
#include "readings/rights.h"
#include "runner/reading_choices.h"

namespace ash::cli {
namespace {

struct ReadingsArguments {
  std::string root, book, instruments;
  std::vector<std::string> means, limits, hide, unhide, forget;
  bool json = false, tellsRights = false;
};

struct Value {
  const Reading* reading;
  double value;
};

// Made of two looks; on a machine that stands still there may be none.
bool isDifference(const Reading& reading) {
  return reading.kind == "load" || reading.kind == "throughput" || reading.path.find('#') != std::string::npos;
}

// What did not answer goes to `skipped`.
std::vector<Value> readTwice(const MachineSources& machine, std::vector<SkippedReading>& skipped) {
  // Loads and rates are differences: the second sweep has something to compare with.
  for (const auto& source : machine.sources()) sweepPatiently(source);
  std::this_thread::sleep_for(std::chrono::milliseconds(250));
  std::vector<Value> values;
  for (const auto& source : machine.sources()) {
    const Sweep sweep = sweepPatiently(source);
    for (size_t i = 0; i < sweep.values.size(); ++i) {
      const Reading& reading = source->info().readings[i];
      if (reading.isHidden) continue;
      const std::string why = std::isfinite(sweep.values[i]) ? std::string() : source->whyMissing(i);
      if (!why.empty() && !isDifference(reading))
        skipped.push_back({reading.path.empty() ? reading.id : reading.path, why});
      else
        values.push_back({&reading, sweep.values[i]});
    }
  }
  return values;
}

Json toJson(const Value& value) {
  const Reading& r = *value.reading;
  return {{"id", r.id},
          {"path", r.path},
          {"device", r.device},
          {"driver", r.driver},
          {"kind", r.kind},
          {"name", r.name},
          {"role", r.role.empty() ? Json(nullptr) : Json(r.role.text())},
          {"value", numberOrNull(value.value)},
          {"unit", r.unit},
          {"limits", r.limits},
          {"means", meaningWords(r)},
          {"limit_origins", r.origins}};
}

// "ID=REST", split at the last "=" but `count` - 1: an id may hold one itself.
std::vector<std::string> splitFromEnd(const std::string& text, int count) {
  std::vector<std::string> parts;
  std::string rest = text;
  for (int i = 1; i < count; ++i) {
    const size_t at = rest.rfind('=');
    if (at == std::string::npos) return {};
    parts.insert(parts.begin(), rest.substr(at + 1));
    rest.resize(at);
  }
  parts.insert(parts.begin(), rest);
  return parts;
}

// Every change that is asked for, on top of what has been said before.
Result<ReadingChoices> wantedChoices(const ReadingsArguments& options, const ReadingChoices& before) {
  ReadingChoices wanted;
  const auto entry = [&](const std::string& id) -> ReadingChoice& {
    const auto known = before.find(id);
    return wanted.try_emplace(id, known == before.end() ? ReadingChoice() : known->second).first->second;
  };
  for (const std::string& id : options.forget) wanted[id] = {};
  for (const std::string& id : options.hide) entry(id).isHidden = true;
  for (const std::string& id : options.unhide) entry(id).isHidden = false;
  for (const std::string& text : options.means) {
    const auto parts = splitFromEnd(text, 2);
    if (parts.empty() || (!parts[1].empty() && !Role(parts[1]).isKnown()))
      return Error::badInput(
          fmt::format("--means {}: give ID=ROLE with a role of docs/analysis-contract.md, or ID= for none.", text));
    entry(parts[0]).role = parts[1];
  }
  for (const std::string& text : options.limits) {
    const auto parts = splitFromEnd(text, 3);
    const auto value = parts.empty() ? std::nullopt : parseNumber(parts[2]);
    if (!value) return Error::badInput(fmt::format("--limit {}: give ID=NAME=VALUE, e.g. ID=throttle=95.", text));
    entry(parts[0]).limits[parts[1]] = *value;
  }
  return wanted;
}

Status checkIds(const ReadingChoices& wanted, const ReadingChoices& before, const MachineSources& machine) {
  for (const auto& [id, choice] : wanted) {
    const Reading* found = machine.find(id);
    if (found == nullptr && !before.contains(id))
      return Error::badInput(
          fmt::format("There is no reading {} here; `ashg readings` lists them with their ids.", id));
    if (found == nullptr || !choice.role || choice.role->empty()) continue;
    if (choice.role->quantity() != found->quantity)
      return Error::badInput(fmt::format("{} is in {} and cannot be {}.", id, found->unit, choice.role->text()));
  }
  return {};
}

// What is said is kept in the book for this machine; the readings are then those that follow from it.
// The machine is opened where ids have to be looked up.
Result<SortedChoices> takeChoices(const ReadingsArguments& options, const std::vector<Instrument>& instruments,
                                  MachineSources& machine) {
  const bool saysSomething = !options.means.empty() || !options.limits.empty() || !options.hide.empty() ||
                             !options.unhide.empty() || !options.forget.empty();
  if (options.book.empty()) {
    if (saysSomething) return Error::badInput("What a reading means is kept in a book; name one with --book.");
    return SortedChoices();
  }
  const std::string key = machineKey(machineFacts(options.root));
  std::error_code error;
  ReadingChoices before;
  if (!saysSomething || std::filesystem::exists(options.book, error)) {
    const auto known = Book::open(options.book, BookAccess::ReadOnly);
    if (!known) return known.error();
    auto said = choicesOn(*known, key);
    if (!said || !saysSomething) return said;
    before = std::move(said->accepted);
  }
  const auto wanted = wantedChoices(options, before);
  if (!wanted) return wanted.error();
  machine = MachineSources::open({options.root, before, {}, {}, instruments});
  if (Status checked = checkIds(*wanted, before, machine); !checked) return checked.error();
  // Only what can be kept makes a book.
  auto book = Book::openOrCreate(options.book);
  if (!book) return book.error();
  for (const auto& [id, choice] : *wanted) {
    if (Status put = sayOfReading(*book, key, id, choice); !put) return put.error();
  }
  return choicesOn(*book, key);
}

void printAsJson(const std::vector<SkippedReading>& notRead, const std::vector<Value>& values) {
  Json readings = Json::array(), skipped = Json::array();
  for (const Value& value : values) readings.push_back(toJson(value));
  for (const SkippedReading& skip : notRead) skipped.push_back({{"path", skip.path}, {"why", skip.why}});
  printJson({{"contract", 1}, {"readings", readings}, {"skipped", skipped}});
}

// By the way of the heat, words first.
void printAsText(const MachineSources& machine, const std::vector<SkippedReading>& notRead, std::vector<Value> values) {
  std::stable_sort(values.begin(), values.end(),
                   [](const Value& a, const Value& b) { return heatPlaceOf(*a.reading) < heatPlaceOf(*b.reading); });
  std::string group;
  for (const Value& value : values) {
    const Reading& r = *value.reading;
    if (const std::string place = heatPlaceWords(heatPlaceOf(r)); place != group) {
      group = place;
      std::puts(fmt::format("{}{}", group == heatPlaceWords(HeatPlace::Processor) ? "" : "\n", group).c_str());
    }
    const auto limit = r.limits.find("throttle");
    const std::string left = limit == r.limits.end()
                                 ? ""
                                 : fmt::format("limit {:g} ({})", limit->second,
                                               r.origins.contains("throttle") ? r.origins.at("throttle") : "");
    std::puts(fmt::format("  {:<44} {:>10} {:<6} {:<20} {:<34} {}", meaningWords(r),
                          numberText(value.value, usualDigits(r.unit)), r.unit, r.role.empty() ? "-" : r.role.text(),
                          r.device + ", " + r.name, left)
                  .c_str());
  }
  if (!notRead.empty()) std::puts("\nNot read");
  for (const SkippedReading& skip : notRead) std::puts(fmt::format("  {}: {}", skip.path, skip.why).c_str());
  for (const Reading& hidden : machine.hidden()) std::puts(fmt::format("  {}: hidden by you", hidden.id).c_str());
  std::fflush(stdout);
  for (const std::string& sentence : machine.missing()) std::fprintf(stderr, "%s\n", sentence.c_str());
}

int carryOutReadings(const ReadingsArguments& options) {
  if (options.tellsRights) {
    std::fputs(std::string(rightsRule()).c_str(), stdout);
    return kDone;
  }
  MachineSources machine;
  const auto instruments = readInstruments(options.instruments);
  if (!instruments) return fail(instruments.error());
  const auto choices = takeChoices(options, *instruments, machine);
  if (!choices) return fail(choices.error());
  if (machine.sources().empty())
    machine = MachineSources::open({options.root, choices->accepted, {}, {}, *instruments});
  else
    machine.openAnew(choices->accepted);
  std::vector<SkippedReading> skipped = machine.skipped();
  auto values = readTwice(machine, skipped);
  if (const std::string proposal = proposalSentence(*choices); !proposal.empty())
    std::fprintf(stderr, "%s\n", proposal.c_str());
  if (options.json)
    printAsJson(skipped, values);
  else
    printAsText(machine, skipped, std::move(values));
  return kDone;
}

}  // namespace

void addReadingsCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("readings", "List every reading found now");
  auto options = std::make_shared<ReadingsArguments>();
  command->add_option("--root", options->root, "Read a tree that looks like a machine's root instead of this machine")
      ->check(CLI::ExistingDirectory);
  addInstrumentsOption(*command, options->instruments);
  command->add_option("--book", options->book, "The book that knows what has been said of this machine's readings");
  command
      ->add_option("--means", options->means, "ID=ROLE: what a reading means here, kept in the book; ID= for nothing")
      ->take_all();
  command
      ->add_option("--limit", options->limits, "ID=NAME=VALUE: a limit the device does not tell, e.g. ID=throttle=95")
      ->take_all();
  command
      ->add_option("--hide", options->hide,
                   "ID of a reading that is not shown (and logged only where a stop rule hangs on it)")
      ->take_all();
  command->add_option("--unhide", options->unhide, "ID of a reading that is to be shown and logged again")->take_all();
  command->add_option("--forget", options->forget, "ID of a reading of which nothing is said any more")->take_all();
  command->add_flag("--rights", options->tellsRights,
                    "Print the udev rule that lets a group read the processor's energy counters");
  command->add_flag("--json", options->json, "One JSON document");
  command->callback([options, &action] { action = [options] { return carryOutReadings(*options); }; });
}

}  // namespace ash::cli
