// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>
#include <cstdio>
#include <map>
#include <memory>

#include "book/book.h"
#include "cli/book_allow.h"
#include "cli/book_recover.h"
#include "cli/command.h"
#include "runner/run_queue.h"

namespace ash::cli {
namespace {

struct BookArguments {
  std::string path, root;
  bool json = false;
};

// Sentences on how a book was opened go beside the results.
void tellNotice(const Book& book) {
  if (!book.notice().empty()) std::fprintf(stderr, "%s\n", book.notice().c_str());
}

Json bookToJson(const Book& book, const std::string& path, const std::vector<Study>& studies,
                const std::vector<RunSummary>& runs, const std::map<std::string, size_t>& owed) {
  Json list = Json::array();
  for (const Study& study : studies) {
    Json setups = Json::array(), loads = Json::array(), ofStudy = Json::array();
    for (const Setup& setup : study.setups) setups.push_back(setup.name);
    for (const Load& load : study.loads) loads.push_back(load.name);
    for (const RunSummary& run : runs) {
      if (run.info.study != study.name) continue;
      Json one = runJson(run);
      if (const auto open = owed.find(run.info.id); open != owed.end()) one["still_to_take"] = open->second;
      ofStudy.push_back(std::move(one));
    }
    list.push_back({{"name", study.name}, {"setups", setups}, {"loads", loads}, {"runs", ofStudy}});
  }
  return {{"contract", 1}, {"book", path}, {"format", book.format()}, {"studies", list}};
}

// How many readings a person still owes each run.
std::map<std::string, size_t> owedByRuns(const Book& book, const std::vector<Study>& studies,
                                         const std::vector<RunSummary>& runs) {
  std::map<std::string, size_t> owed;
  for (const RunSummary& run : runs) {
    for (const Study& study : studies) {
      if (study.name != run.info.study) continue;
      const auto list = owedBy(book, run, planFromJson(study.plan));
      if (list && !list->empty()) owed[run.info.id] = list->size();
    }
  }
  return owed;
}

int info(const BookArguments& options) {
  const auto book = Book::open(options.path, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  tellNotice(*book);
  const auto studies = book->studies();
  if (!studies) return fail(studies.error());
  const auto runs = book->runs();
  if (!runs) return fail(runs.error());
  const auto owed = owedByRuns(*book, *studies, *runs);
  if (options.json) {
    printJson(bookToJson(*book, options.path, *studies, *runs, owed));
    return kDone;
  }
  for (const Study& study : *studies) {
    std::puts(study.name.c_str());
    for (const RunSummary& run : *runs) {
      if (run.info.study != study.name) continue;
      const auto open = owed.find(run.info.id);
      std::puts(fmt::format("  {}  {} / {} #{}  {}  {} samples  {}{}{}", run.info.id, run.info.setup, run.info.load,
                            run.info.repeat, run.info.started, run.sampleCount, outcomeText(run.info.outcome),
                            open == owed.end() ? "" : ", " + openWords(open->second),
                            run.info.reason.empty() ? "" : ": " + run.info.reason)
                    .c_str());
    }
  }
  return kDone;
}

int makeNew(const BookArguments& options) {
  const auto book = Book::create(options.path);
  return book ? kDone : fail(book.error());
}

int check(const BookArguments& options) {
  const auto book = Book::open(options.path, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  tellNotice(*book);
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

}  // namespace

void addBookCommand(CLI::App& app, Action& action) {
  CLI::App* book = app.add_subcommand("book", "Create, describe, verify or recover a book");
  book->require_subcommand(1);
  auto options = std::make_shared<BookArguments>();
  const auto add = [&](const char* name, const char* what, int (*function)(const BookArguments&)) {
    CLI::App* command = book->add_subcommand(name, what);
    command->add_option("book", options->path, "The book")->required();
    command->add_flag("--json", options->json, "One JSON document");
    command->callback([options, function, &action] { action = [options, function] { return function(*options); }; });
  };
  add("new", "Make an empty book", makeNew);
  add("info", "List studies, setups and runs", info);
  add("check", "Verify the file; 1 when there is a fault", check);
  add("recover", "Close interrupted runs and tell their last minute; save what can be read of a damaged book",
      [](const BookArguments& given) { return recoverBook(given.path, given.json); });
  auto all = std::make_shared<bool>(false);
  CLI::App* allow = book->add_subcommand(
      "allow", "List the commands, addresses and knobs of a book and what it says of readings; confirm them here");
  allow->add_option("book", options->path, "The book")->required();
  allow->add_option("--root", options->root, "The machine is a tree that looks like one's root")
      ->check(CLI::ExistingDirectory);
  allow->add_flag("--all", *all, "Confirm all of them for this machine");
  allow->add_flag("--json", options->json, "One JSON document");
  allow->callback([options, all, &action] {
    action = [options, all] { return allowBook(options->path, options->root, *all, options->json); };
  });
}

}  // namespace ash::cli
