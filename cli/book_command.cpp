// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>
#include <cstdio>
#include <memory>

#include "book/book.h"
#include "book/book_format.h"
#include "cli/command.h"

namespace ash::cli {
namespace {

struct Options {
  std::string path;
  bool json = false;
};

Json runToJson(const RunSummary& run) {
  return {{"id", run.info.id},
          {"setup", run.info.setup},
          {"load", run.info.load},
          {"repeat", run.info.repeat},
          {"outcome", outcomeText(run.info.outcome)},
          {"reason", run.info.reason.empty() ? Json(nullptr) : Json(run.info.reason)},
          {"started", run.info.started},
          {"samples", run.sampleCount},
          {"last_sample_s", numberOrNull(run.lastSampleS)}};
}

Json bookToJson(const std::string& path, const std::vector<Study>& studies, const std::vector<RunSummary>& runs) {
  Json list = Json::array();
  for (const Study& study : studies) {
    Json setups = Json::array(), loads = Json::array(), ofStudy = Json::array();
    for (const Setup& setup : study.setups) setups.push_back(setup.name);
    for (const Load& load : study.loads) loads.push_back(load.name);
    for (const RunSummary& run : runs) {
      if (run.info.study == study.name) ofStudy.push_back(runToJson(run));
    }
    list.push_back({{"name", study.name}, {"setups", setups}, {"loads", loads}, {"runs", ofStudy}});
  }
  return {{"contract", 1}, {"book", path}, {"format", kBookFormat}, {"studies", list}};
}

int info(const Options& options) {
  const auto book = Book::open(options.path, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto studies = book->studies();
  if (!studies) return fail(studies.error());
  const auto runs = book->runs();
  if (!runs) return fail(runs.error());
  if (options.json) {
    printJson(bookToJson(options.path, *studies, *runs));
    return kDone;
  }
  for (const Study& study : *studies) {
    std::puts(study.name.c_str());
    for (const RunSummary& run : *runs) {
      if (run.info.study != study.name) continue;
      std::puts(fmt::format("  {}  {} / {} #{}  {}  {} samples  {}{}", run.info.id, run.info.setup, run.info.load,
                            run.info.repeat, run.info.started, run.sampleCount, outcomeText(run.info.outcome),
                            run.info.reason.empty() ? "" : ": " + run.info.reason)
                    .c_str());
    }
  }
  return kDone;
}

int makeNew(const Options& options) {
  const auto book = Book::create(options.path);
  return book ? kDone : fail(book.error());
}

int check(const Options& options) {
  const auto book = Book::open(options.path, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto faults = book->check();
  if (!faults) return fail(faults.error());
  if (options.json) {
    printJson({{"contract", 1}, {"sound", faults->empty()}, {"faults", *faults}});
  } else if (faults->empty()) {
    std::puts("sound");
  } else {
    for (const std::string& fault : *faults) std::puts(fault.c_str());
  }
  return faults->empty() ? kDone : kAnswerIsNo;
}

int recover(const Options& options) {
  auto book = Book::open(options.path, BookAccess::ReadWrite);
  if (!book) return fail(book.error());
  const auto closed = book->closeInterrupted();
  if (!closed) return fail(closed.error());
  Json list = Json::array();
  for (const std::string& id : *closed) {
    const auto run = book->run(id);
    if (!run) return fail(run.error());
    list.push_back(runToJson(*run));
    if (!options.json) {
      std::puts(fmt::format("{}  {} / {}: {} ({} samples up to {:.1f} s). {}", id, run->info.setup, run->info.load,
                            outcomeText(run->info.outcome), run->sampleCount, run->lastSampleS, run->info.reason)
                    .c_str());
    }
  }
  if (options.json)
    printJson({{"contract", 1}, {"closed", list}});
  else if (closed->empty())
    std::fputs("No run was interrupted.\n", stderr);
  return kDone;
}

}  // namespace

void addBookCommand(CLI::App& app, Action& action) {
  CLI::App* book = app.add_subcommand("book", "Create, describe, verify or recover a book");
  book->require_subcommand(1);
  auto options = std::make_shared<Options>();
  const auto add = [&](const char* name, const char* what, int (*function)(const Options&)) {
    CLI::App* command = book->add_subcommand(name, what);
    command->add_option("book", options->path, "The book")->required();
    command->add_flag("--json", options->json, "One JSON document");
    command->callback([options, function, &action] { action = [options, function] { return function(*options); }; });
  };
  add("new", "Make an empty book", makeNew);
  add("info", "List studies, setups and runs", info);
  add("check", "Verify the file; 1 when there is a fault", check);
  add("recover", "Close runs whose recorder died, with their outcome", recover);
}

}  // namespace ash::cli
