// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <cstdio>
#include <memory>
#include <optional>

#include "analysis/analyze.h"
#include "analysis/comparison/ladder.h"
#include "analysis/figures_json.h"
#include "cli/command.h"
#include "cli/figures_text.h"
#include "cli/run_sources.h"
#include "cli/told_before.h"
#include "model/number_text.h"

namespace ash::cli {
namespace {

struct AnalyzeArguments {
  std::string run, book, toldBefore;
  ProjectionQuestion projection;
  std::optional<double> hoursADay, tariff;
  std::optional<size_t> loadNumber;
  bool json = false;
};

// What a year of this load takes, by the power that efficiency is quoted with.
Json yearlyOf(const AnalyzeArguments& options, const Figures& figures) {
  const ChannelFigures* power = figures.channel(figures.efficiency.powerRole);
  if (power == nullptr || power->load.n == 0) return nullptr;
  const YearlyUse use = yearlyUse(power->load.mean, *options.hoursADay, options.tariff.value_or(kMissing));
  return {{"power_role", power->name},
          {"power_w", power->load.mean},
          {"hours_a_day", *options.hoursADay},
          {"kilowatt_hours", numberOrNull(use.kiloWattHours)},
          {"cost", numberOrNull(use.cost)}};
}

int carryOutAnalyze(const AnalyzeArguments& options) {
  const auto found = findRun(options.run, options.book);
  if (!found) return fail(found.error());
  const Figures figures = analyzeRun(*found, options.loadNumber);
  if (const size_t loads = figures.loads.size(); options.loadNumber.value_or(0) > loads)
    return fail(Error::badInput(fmt::format("--load-number {}: {} holds {} load{}.", *options.loadNumber, options.run,
                                            loads, loads == 1 ? "" : "s")));
  const bool isProjected = options.projection.isAsked();
  const auto projections = isProjected ? projectRun(*found, figures, options.projection) : std::vector<Projection>();
  const auto steps = settingSteps(*found, figures);
  std::optional<FiguresBeside> beside;
  if (!options.toldBefore.empty()) {
    auto held = besideFile(options.toldBefore, figuresToJson(figures));
    if (!held) return fail(held.error());
    beside = std::move(*held);
  }
  if (options.json) {
    Json all = figuresToJson(figures);
    if (beside) all["beside"] = besideToJson(*beside);
    if (!steps.empty()) all["setting_steps"] = settingStepsToJson(steps);
    if (isProjected) all["projection"] = projectionsToJson(projections);
    if (options.hoursADay) all["yearly"] = yearlyOf(options, figures);
    printJson(all);
    return kDone;
  }
  std::fputs(figuresText(*found, figures).c_str(), stdout);
  if (beside) std::fputs(besideText(*beside).c_str(), stdout);
  for (const SettingStep& step : steps) std::fputs(settingStepText(step).c_str(), stdout);
  for (const Projection& projection : projections) std::fputs(projectionText(projection).c_str(), stdout);
  if (options.hoursADay) {
    const Json yearly = yearlyOf(options, figures);
    if (yearly.is_null())
      std::fputs("A year cannot be worked out: it takes a load and its power.\n", stdout);
    else
      std::printf(
          "A year of %g h a day at %.1f W (%s): %.0f kWh%s\n", *options.hoursADay, valueIn(yearly, "power_w", 0.0),
          valueIn(yearly, "power_role", "").c_str(), valueIn(yearly, "kilowatt_hours", 0.0),
          options.tariff ? (", " + numberText(valueIn(yearly, "cost", 0.0), 2) + " in your currency").c_str() : "");
  }
  if (isProjected && projections.empty())
    std::fputs(
        "Nothing can be projected: it takes a load, its power, its temperature and the room, and for another fan speed "
        "a "
        "fan that turned at a quarter to four times of it.\n",
        stdout);
  return kDone;
}

}  // namespace

void addAnalyzeCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("analyze", "Work the figures of a run out");
  auto options = std::make_shared<AnalyzeArguments>();
  command->add_option("run", options->run, "A CSV file, with --book a run's id, or OTHER.ashbook#RUN")->required();
  command->add_option("--book", options->book, "The book that holds the run");
  command->add_option("--load-number", options->loadNumber, "Of a log with several loads: which one, from 1")
      ->check(CLI::Range(size_t{1}, size_t{100000}));
  command->add_option("--room", options->projection.roomC, "Project the run to a room of this temperature (°C)")
      ->check(CLI::Range(-60.0, 120.0));
  command->add_option("--power", options->projection.powerW, "Project the run to this power of the device (W)")
      ->check(CLI::Range(0.0, 1e5));
  command->add_option("--fan", options->projection.fanRpm, "Project the run to this speed of the device's fan (RPM)")
      ->check(CLI::Range(1.0, 1e5));
  command->add_option("--hours", options->hoursADay, "Energy of a year with so many hours of this load a day")
      ->check(CLI::Range(0.0, 24.0));
  command->add_option("--tariff", options->tariff, "Price of a kilowatt hour, for the cost of that year")
      ->check(CLI::NonNegativeNumber);
  command->add_option("--beside", options->toldBefore,
                      "What --json wrote earlier: which of its values are told otherwise today, with both");
  command->add_flag("--json", options->json, "One JSON document");
  command->callback([options, &action] { action = [options] { return carryOutAnalyze(*options); }; });
}

}  // namespace ash::cli
