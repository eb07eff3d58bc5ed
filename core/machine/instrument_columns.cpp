// SPDX-License-Identifier: GPL-3.0-or-later
#include "machine/instrument_columns.h"

#include <optional>

#include "instruments/instrument_source.h"

namespace ash {
namespace {

// What was said of a reading's role; empty text where it is to have none.
std::optional<std::string> saidOf(const Instrument& instrument, const InstrumentReading& reading,
                                  const ReadingChoices& choices) {
  const auto choice = choices.find(instrumentReadingId(instrument, reading));
  if (reading.role.empty()) return std::nullopt;  // its column is all that it is known by
  if (choice == choices.end() || !choice->second.role) return std::nullopt;
  return choice->second.role->text();
}

std::string ofItsOwn(const Instrument& instrument, const InstrumentReading& reading,
                     const std::set<std::string>& taken) {
  if (!reading.role.empty()) return freeRole(reading.role, taken).text();
  return taken.contains(reading.name) ? instrument.name + ": " + reading.name : reading.name;
}

}  // namespace

std::set<std::string> rolesGivenToInstruments(const MachineDescription& description) {
  std::set<std::string> given;
  for (const Instrument& instrument : description.instruments) {
    for (const InstrumentReading& reading : instrument.readings) {
      const auto said = saidOf(instrument, reading, description.choices);
      if (said && Role(*said).isKnown()) given.insert(*said);
    }
  }
  return given;
}

std::vector<std::string> columnsOf(const Instrument& instrument, const ReadingChoices& choices,
                                   std::set<std::string>& taken, const std::set<std::string>& given) {
  std::vector<std::string> columns;
  for (const InstrumentReading& reading : instrument.readings) {
    const auto said = saidOf(instrument, reading, choices);
    std::set<std::string> together = taken;
    together.insert(given.begin(), given.end());
    std::string column = said && !said->empty() ? freeRole(Role(*said), taken).text()
                         : said                 ? instrument.name + ": " + reading.title()
                                                : ofItsOwn(instrument, reading, together);
    // What is hidden takes no role from another. A column that is known by its name alone keeps that from the others.
    if (reading.role.empty() || !hides(choices, instrumentReadingId(instrument, reading))) taken.insert(column);
    columns.push_back(std::move(column));
  }
  return columns;
}

}  // namespace ash
