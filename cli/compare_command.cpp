// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <cstdio>
#include <memory>
#include <optional>

#include "analysis/comparison/ladder.h"
#include "analysis/figures_json.h"
#include "book/run_places.h"
#include "cli/command.h"
#include "cli/figures_text.h"
#include "cli/run_sources.h"
#include "cli/told_before.h"
#include "exchange/csv_read.h"
#include "model/text.h"

namespace ash::cli {
namespace {

struct CompareArguments {
  std::vector<std::string> runs, metrics, margins, repeatability;
  std::string reference, book, toldBefore, equal = "none";
  bool json = false;
};

// "cpu.temp=0.5", or a plain number in kelvin for all temperatures.
Status readMargins(const std::vector<std::string>& texts, CompareOptions& options) {
  for (const std::string& text : texts) {
    const size_t equals = text.find('=');
    const auto value = parseNumber(equals == std::string::npos ? text : text.substr(equals + 1));
    if (!value || *value < 0) {
      return Error::badInput(fmt::format("--margin \"{}\": give a number in K, or NAME=VALUE such as noise=1.", text));
    }
    if (equals == std::string::npos)
      options.temperatureMargin = *value;
    else
      options.margins[text.substr(0, equals)] = *value;
  }
  return {};
}

int tell(const Comparison& comparison, const CompareArguments& options) {
  Json all = comparisonToJson(comparison);
  std::optional<FiguresBeside> beside;
  if (!options.toldBefore.empty()) {
    auto held = besideFile(options.toldBefore, all);
    if (!held) return fail(held.error());
    beside = std::move(*held);
    // What was left out on request is not lost.
    if (!options.metrics.empty()) beside->lost.clear();
  }
  if (options.json) {
    if (beside) all["beside"] = besideToJson(*beside);
    printJson(all);
    return kDone;
  }
  std::fputs(comparisonText(comparison).c_str(), stdout);
  if (beside) std::fputs(besideText(*beside).c_str(), stdout);
  return kDone;
}

int carryOutCompare(const CompareArguments& options) {
  CompareOptions compare;
  if (Status read = readMargins(options.margins, compare); !read) return fail(read.error());
  compare.metrics.assign(options.metrics.begin(), options.metrics.end());
  auto equal = parseEqualBy(options.equal);
  if (!equal) return fail(equal.error());
  compare.equal = *equal;
  for (const std::string& text : options.repeatability) {
    const size_t equals = text.find('=');
    const auto value = parseNumber(equals == std::string::npos ? text : text.substr(equals + 1));
    if (!value || *value < 0)
      return fail(
          Error::badInput(fmt::format("--repeatability \"{}\": give a standard deviation in K, or NAME=VALUE.", text)));
    if (equals == std::string::npos)
      compare.temperatureRepeatability = *value;
    else
      compare.repeatability[text.substr(0, equals)] = *value;
  }
  const auto runs = findRuns(options.runs, options.book);
  if (!runs) return fail(runs.error());
  if (!options.reference.empty()) {
    compare.reference = options.reference;
    const std::string named = splitRunPlace(options.reference).what;
    for (const AnalyzedRun& candidate : *runs) {
      const std::string& name = candidate.run.name;
      if (name == runNameOfFile(options.reference) || name == named || name.ends_with("#" + named))
        compare.reference = name;
    }
  }
  const auto comparison = compareRuns(*runs, compare);
  if (!comparison) return fail(comparison.error());
  return tell(*comparison, options);
}

}  // namespace

void addCompareCommand(CLI::App& app, Action& action) {
  CLI::App* command =
      app.add_subcommand("compare", "Compare runs: repeats pooled, differences with intervals, verdicts");
  auto options = std::make_shared<CompareArguments>();
  command->add_option("runs", options->runs, "CSV files, with --book ids or STUDY/SETUP, or OTHER.ashbook#RUN")
      ->required();
  command->add_option("--book", options->book, "The book that holds the runs");
  command->add_option("--reference", options->reference, "What the others are held against; the first when not given");
  command->add_option("--metric", options->metrics, "Only these figures; may be given several times")->take_all();
  command->add_option("--margin", options->margins, "What counts as negligible: K for all temperatures, or NAME=VALUE")
      ->take_all();
  command
      ->add_option("--repeatability", options->repeatability,
                   "How far repeats scatter (standard deviation), for setups with a single run: K, or NAME=VALUE")
      ->take_all();
  command->add_option("--equal", options->equal,
                      "Level the field first: noise, power or fan, with =VALUE; read off between measured settings");
  command->add_option("--beside", options->toldBefore,
                      "What --json wrote earlier: which of its values are told otherwise today, with both");
  command->add_flag("--json", options->json, "One JSON document");
  command->callback([options, &action] { action = [options] { return carryOutCompare(*options); }; });
}

}  // namespace ash::cli
