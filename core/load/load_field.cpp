// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_field.h"

#include <fmt/format.h>

#include <cmath>

#include "load/load_kinds.h"
#include "model/cpu_list.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr LoadTextForm kCores = {
    [](const std::string& text, LoadOptions& options) -> Status {
      auto cores = parseCoreList(text);
      if (!cores) return cores.error();
      options.cores = std::move(*cores);
      return {};
    },
    [](const LoadOptions& options) { return options.cores.empty() ? std::string() : cpuListText(options.cores); }};

constexpr LoadTextForm kSteps = {[](const std::string& text, LoadOptions& options) -> Status {
                                   auto steps = parseDutySteps(text);
                                   if (!steps) return steps.error();
                                   options.steps = std::move(*steps);
                                   return {};
                                 },
                                 [](const LoadOptions& options) { return dutyStepsText(options.steps); }};

// Of every kind, or of several.
constexpr LoadField kCommonFields[] = {
    {"threads",
     "--threads",
     "Threads; as many as there are CPUs when not given",
     &LoadOptions::threads,
     {0, 4096},
     "The number of threads must be from 1 to 4096.",
     true},
    {"duty",
     "--duty",
     "Share of the time that is worked, in percent",
     &LoadOptions::dutyPercent,
     {0, 100, true},
     "The duty must be above 0 and at most 100 %.",
     true},
    {"work", "--work", "The task: end after exactly so many work units", &LoadOptions::work, kAboveZero,
     "Time and work of a load must be above zero."},
    {"cores", "--cores", "CPUs to keep to, e.g. 0-3,6; one thread each", kCores},
    {"steps", "--steps", "Duty over time: \"25% 60s, 50%..100% 2min, 80%\"", kSteps},
    {"pass_work", "--pass-work", "Work units of a pass; each is timed and scored", &LoadOptions::passWork, kNotNegative,
     "Passes need the work of one pass (--pass-work), above zero."},
    {"passes", "--passes", "End after so many passes", &LoadOptions::passes, kNotNegative,
     "A load ends after 1 pass or more."},
    {"variant", "--variant", "Instruction set of vector, memory, cache: avx512, avx2, portable", &LoadOptions::variant},
    {"pattern", "--pattern",
     "memory: triad, copy, read, write; storage: mix, write, read, random-write, random-read; graphics: both, "
     "arithmetic, memory",
     &LoadOptions::pattern},
    {"memory_mb",
     "--memory",
     "MB that memory and cache work on, all threads together",
     &LoadOptions::memoryMb,
     {0, 16e6},
     "The memory must be from 0 to 16,000,000 MB."},
    {"folder", "--folder", "Folder of the storage load's own file, or in which a command runs", &LoadOptions::folder},
};

std::string withoutFullStop(std::string sentence) {
  if (sentence.ends_with('.')) sentence.pop_back();
  return sentence;
}

void readCommandLine(const JsonCursor& spec, const LoadField& field, std::string& line) {
  const JsonCursor place = spec.at(field.key);
  if (!place.value().is_array()) return spec.take(field.key, line);
  line.clear();
  for (const Json& word : place.value()) {
    if (!word.is_string()) return place.refuse("must be a line or a list of words");
    line += (line.empty() ? "" : " ") + shellWord(word.get<std::string>());
  }
}

void readField(const JsonCursor& spec, const LoadField& field, LoadOptions& options) {
  std::visit(
      [&](const auto& place) {
        using Place = std::decay_t<decltype(place)>;
        if constexpr (std::is_same_v<Place, LoadTextForm>) {
          const std::string text = spec.text(field.key);
          if (text.empty()) return;
          if (const Status read = place.read(text, options); !read)
            spec.refuse(field.key, "cannot be read: " + withoutFullStop(read.error().message));
        } else if constexpr (std::is_same_v<Place, LoadCommandLine>) {
          readCommandLine(spec, field, options.*place.line);
        } else if constexpr (std::is_same_v<Place, LoadNamedTexts>) {
          spec.take(field.key, options.*place.texts);
        } else {
          spec.take(field.key, options.*place);
        }
      },
      field.place);
}

void writeField(const LoadField& field, const LoadOptions& options, const LoadOptions& usual, Json& spec) {
  const std::string key(field.key);
  std::visit(
      [&](const auto& place) {
        using Place = std::decay_t<decltype(place)>;
        if constexpr (std::is_same_v<Place, LoadTextForm>) {
          if (const std::string text = place.write(options); !text.empty()) spec[key] = text;
        } else if constexpr (std::is_same_v<Place, LoadCommandLine>) {
          if (!(options.*place.line).empty()) spec[key] = options.*place.line;
        } else if constexpr (std::is_same_v<Place, LoadNamedTexts>) {
          if (!(options.*place.texts).empty()) spec[key] = options.*place.texts;
        } else if (field.isAlwaysWritten || options.*place != usual.*place) {
          spec[key] = options.*place;
        }
      },
      field.place);
}

Status takeNumber(const LoadField& field, const std::string& text, LoadOptions& options) {
  const auto number = parseNumber(text);
  if (!number) return Error::badInput(fmt::format("\"{}\" of a load takes a number, not {}.", field.key, text));
  if (const auto* real = std::get_if<double LoadOptions::*>(&field.place)) {
    options.** real = *number;
    return {};
  }
  if (!(std::abs(*number) <= 1e9) || *number != std::floor(*number))
    return Error::badInput(fmt::format("The load's \"{}\" must be a whole number.", field.key));
  options.*std::get<int LoadOptions::*>(field.place) = static_cast<int>(*number);
  return {};
}

double numberOf(const LoadField& field, const LoadOptions& options) {
  if (const auto* real = std::get_if<double LoadOptions::*>(&field.place)) return options.**real;
  return options.*std::get<int LoadOptions::*>(field.place);
}

}  // namespace

const std::vector<LoadField>& loadFields() {
  static const std::vector<LoadField> all = [] {
    std::vector<LoadField> fields(std::begin(kCommonFields), std::end(kCommonFields));
    for (const LoadKindRow* kind : loadKindRows())
      fields.insert(fields.end(), kind->fields.begin(), kind->fields.end());
    return fields;
  }();
  return all;
}

Status takeFieldText(const LoadField& field, const std::string& text, LoadOptions& options) {
  if (field.isNumber()) return takeNumber(field, text, options);
  if (const auto* words = std::get_if<std::string LoadOptions::*>(&field.place)) {
    options.** words = text;
  } else if (const auto* form = std::get_if<LoadTextForm>(&field.place)) {
    return form->read(text, options);
  } else if (const auto* command = std::get_if<LoadCommandLine>(&field.place)) {
    options.*(command->line) = text;
  } else if (const auto* named = std::get_if<LoadNamedTexts>(&field.place)) {
    const size_t equals = text.find('=');
    if (equals == std::string::npos || equals == 0)
      return Error::badInput(fmt::format("{} takes NAME=TEXT, not {}.", field.option, text));
    (options.*(named->texts))[text.substr(0, equals)] = text.substr(equals + 1);
  }
  return {};
}

Status checkRanges(const LoadOptions& options) {
  for (const LoadField& field : loadFields()) {
    if (field.isNumber() && !field.range.holds(numberOf(field, options)))
      return Error::badInput(std::string(field.refusal));
  }
  return {};
}

void readFields(const JsonCursor& spec, LoadOptions& options) {
  for (const LoadField& field : loadFields()) readField(spec, field, options);
}

void writeFields(const LoadOptions& options, Json& spec) {
  const LoadOptions usual;
  for (const LoadField& field : loadFields()) writeField(field, options, usual, spec);
}

std::string usualText(const LoadField& field) {
  if (!field.isNumber()) return {};
  const double usual = numberOf(field, LoadOptions());
  return std::isfinite(usual) && usual != 0 ? fmt::format("{:g}", usual) : std::string();
}

}  // namespace ash
