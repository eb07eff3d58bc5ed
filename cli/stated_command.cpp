// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg stated`: what was expected before it was measured, and what others claim.
#include <fmt/format.h>

#include <cstdio>
#include <memory>

#include "book/book.h"
#include "book/run_places.h"
#include "cli/command.h"
#include "model/text.h"
#include "report/answer/stated.h"
#include "system/clock.h"

namespace ash::cli {
namespace {

struct StatedArguments {
  std::string where, line, study, book;
  size_t takeBack = 0;
  bool json = false;
};

Json toJson(const StatedFigure& one, size_t number, const std::vector<RunSummary>& runs) {
  Json json = statedToJson({one})[0];
  json["number"] = number;
  json["words"] = statedBy(one) + ": " + statedText(one);
  json["history"] = statedHistory(one, runs);
  return json;
}

std::vector<RunSummary> runsOf(const Book& book, const std::string& study) {
  std::vector<RunSummary> own;
  if (const auto runs = book.runs()) {
    for (const RunSummary& run : *runs) {
      if (run.info.study == study) own.push_back(run);
    }
  }
  return own;
}

// What came of each, load by load; nothing while no run has ended.
Json outcomesToJson(const Book& book, const std::string& study) {
  Json all = Json::array();
  const auto report = gatherStudy(book, study);
  if (!report) return all;
  for (const LoadStanding& load : report->loads) {
    for (const StatedOutcome& outcome : outcomesOf(*report, load)) {
      all.push_back({{"words", statedText(*outcome.stated)},
                     {"setup", outcome.stated->setup},
                     {"by", statedBy(*outcome.stated)},
                     {"load", load.load},
                     {"outcome", outcomeWords(outcome)}});
    }
  }
  return all;
}

int list(const Book& book, const StatedArguments& options) {
  const auto study = book.study(options.study);
  if (!study) return fail(study.error());
  const StudyPlan plan = planFromJson(study->plan);
  const auto runs = runsOf(book, study->name);
  const Json outcomes = outcomesToJson(book, study->name);
  if (options.json) {
    Json said = Json::array();
    for (size_t i = 0; i < plan.stated.size(); ++i) said.push_back(toJson(plan.stated[i], i + 1, runs));
    printJson({{"contract", 1}, {"study", study->name}, {"stated", said}, {"outcomes", outcomes}});
    return kDone;
  }
  for (size_t i = 0; i < plan.stated.size(); ++i) {
    const StatedFigure& one = plan.stated[i];
    std::puts(fmt::format("{:>4}  {}, {}: {} ({})", i + 1, one.setup, statedBy(one), statedText(one),
                          statedHistory(one, runs))
                  .c_str());
  }
  for (const Json& one : outcomes)
    std::puts(fmt::format("      {}, {}, {}: {}", valueIn(one, "setup", ""), valueIn(one, "load", ""),
                          valueIn(one, "words", ""), valueIn(one, "outcome", ""))
                  .c_str());
  return kDone;
}

// Writes the study with another list; what was there is told when somebody else has changed it meanwhile.
int put(Book& book, const Study& study, const StudyPlan& plan) {
  Study after = study;
  after.plan = planToJson(plan);
  const auto kept = book.putStudy(study, after);
  return kept ? kDone : fail(kept.error());
}

int say(Book& book, const StatedArguments& options) {
  const auto place = setupNamed(book, options.where);
  if (!place) return fail(place.error());
  StudyPlan plan = planFromJson(place->study.plan);
  auto one = parseStated(options.line, place->study, plan, place->setup.name);
  if (!one) return fail(one.error());
  one->written = isoTimeNow();
  const auto runs = runsOf(book, place->study.name);
  state(plan.stated, *one, hasResult(*one, runs));
  if (const int status = put(book, place->study, plan); status != kDone) return status;
  std::puts(
      fmt::format("{}, {}: {} ({})", one->setup, statedBy(*one), statedText(*one), statedHistory(*one, runs)).c_str());
  return kDone;
}

int takeOneBack(Book& book, const StatedArguments& options) {
  const auto study = book.study(options.study);
  if (!study) return fail(study.error());
  StudyPlan plan = planFromJson(study->plan);
  const size_t index = options.takeBack - 1;
  if (index >= plan.stated.size())
    return fail(Error::badInput(fmt::format("\"{}\" has {} of them, no number {}.", withoutControls(study->name),
                                            plan.stated.size(), options.takeBack)));
  const std::string words = statedText(plan.stated[index]);
  const bool isThere = hasResult(plan.stated[index], runsOf(book, study->name));
  takeBack(plan.stated, index, isoTimeNow(), isThere);
  if (const int status = put(book, *study, plan); status != kDone) return status;
  std::puts(fmt::format("Taken back: {}.{}", words, isThere ? " It stays to be seen, for there is a result of it." : "")
                .c_str());
  return kDone;
}

int carryOut(const StatedArguments& options) {
  const bool writes = !options.line.empty() || options.takeBack > 0;
  if (!options.where.empty() && options.line.empty())
    return fail(Error::badInput("Say what of it: \"CPU over room 44 to 48 K\"."));
  if (options.line.empty() && options.study.empty())
    return fail(Error::badInput("Name \"STUDY / SETUP\" and what is to be said of it, or a --study to list."));
  auto book = Book::open(options.book, writes ? BookAccess::ReadWrite : BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  if (options.takeBack > 0) return takeOneBack(*book, options);
  return options.line.empty() ? list(*book, options) : say(*book, options);
}

}  // namespace

void addStatedCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("stated", "Write down what is expected of a setup, or what others claim");
  auto options = std::make_shared<StatedArguments>();
  auto* where = command->add_option("where", options->where, "\"STUDY / SETUP\"");
  command->add_option("what", options->line,
                      "\"CPU over room 44 to 48 K\", \"claimed by the maker: CPU over room 45 K\"");
  command->add_option("--book", options->book, "The book")->required();
  auto* study = command->add_option("--study", options->study, "List what was stated of a study")->excludes(where);
  command->add_option("--take-back", options->takeBack, "Take the one of this number of the --study back")
      ->needs(study)
      ->check(CLI::PositiveNumber);
  command->add_flag("--json", options->json, "One JSON document");
  command->callback([options, &action] { action = [options] { return carryOut(*options); }; });
}

}  // namespace ash::cli
