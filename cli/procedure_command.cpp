// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg procedure`: procedures that have a name in a book, and those that ship.
#include <fmt/format.h>

#include <cstdio>
#include <memory>
#include <set>

#include "book/book.h"
#include "cli/command.h"
#include "model/active_parts.h"
#include "model/procedure_preset.h"
#include "model/text.h"
#include "system/confirmed.h"

namespace ash::cli {
namespace {

struct ProcedureArguments {
  std::string book, name, text;
  int version = 0;
  bool json = false;
};

Json toJson(const NamedProcedure& one) {
  return {{"name", one.name},
          {"version", one.version > 0 ? Json(one.version) : Json(nullptr)},
          {"text", one.text},
          {"created", one.created.empty() ? Json(nullptr) : Json(one.created)}};
}

int list(const ProcedureArguments& options) {
  std::vector<NamedProcedure> all;
  if (!options.book.empty()) {
    const auto book = Book::open(options.book, BookAccess::ReadOnly);
    if (!book) return fail(book.error());
    auto kept = book->procedures();
    if (!kept) return fail(kept.error());
    all = std::move(*kept);
  }
  std::set<std::string> names;
  for (const NamedProcedure& one : all) names.insert(one.name);
  for (const ProcedurePreset& preset : kProcedurePresets) {
    if (!names.contains(std::string(preset.name)))
      all.push_back({std::string(preset.name), 0, std::string(preset.text), {}});
  }
  if (options.json) {
    Json listed = Json::array();
    for (const NamedProcedure& one : all) listed.push_back(toJson(one));
    printJson({{"contract", 1}, {"procedures", listed}});
    return kDone;
  }
  for (const NamedProcedure& one : all)
    std::puts(withoutControls(fmt::format("{:<12} {:<6} {}", one.name,
                                          one.version > 0 ? fmt::format("v{}", one.version) : "ships", one.text))
                  .c_str());
  return kDone;
}

int show(const ProcedureArguments& options) {
  const auto book = Book::open(options.book, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto one = book->procedure(options.name, options.version);
  if (!one) return fail(one.error());
  if (options.json) {
    Json json = toJson(*one);
    json["contract"] = 1;
    printJson(json);
  } else {
    std::puts(withoutControls(one->text).c_str());
  }
  return kDone;
}

int put(const ProcedureArguments& options) {
  auto book = Book::openOrCreate(options.book);
  if (!book) return fail(book.error());
  const auto kept = book->putProcedure(options.name, options.text);
  if (!kept) return fail(kept.error());
  // Who types it has confirmed the knobs that it turns; a folder that cannot be written costs only a question.
  if (const auto part = activePart("procedure " + kept->name, kept->text))
    static_cast<void>(confirm({*part}).operator bool());
  if (options.json) {
    Json json = toJson(*kept);
    json["contract"] = 1;
    printJson(json);
  } else {
    std::puts(fmt::format("{} v{}: {}", kept->name, kept->version, kept->text).c_str());
  }
  return kDone;
}

int drop(const ProcedureArguments& options) {
  auto book = Book::open(options.book, BookAccess::ReadWrite);
  if (!book) return fail(book.error());
  const Status dropped = book->dropProcedure(options.name);
  return dropped ? kDone : fail(dropped.error());
}

}  // namespace

void addProcedureCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("procedure", "Procedures that have a name: of a book, and those that ship");
  command->require_subcommand(1);
  auto options = std::make_shared<ProcedureArguments>();
  const auto add = [&](const char* name, const char* what, int (*carryOut)(const ProcedureArguments&)) {
    CLI::App* one = command->add_subcommand(name, what);
    one->add_flag("--json", options->json, "One JSON document");
    one->callback([options, carryOut, &action] { action = [options, carryOut] { return carryOut(*options); }; });
    return one;
  };
  const char* ofBook = "The book";
  add("list", "List them, every version", list)->add_option("--book", options->book, ofBook);
  CLI::App* one = add("show", "Print one as its phases", show);
  one->add_option("name", options->name, "Its name")->required();
  one->add_option("--version", options->version, "An earlier version")->check(CLI::PositiveNumber);
  one->add_option("--book", options->book, ofBook)->required();
  one = add("put", "Keep phases under a name; a name that is there gets a new version", put);
  one->add_option("name", options->name, "Its name")->required();
  one->add_option("text", options->text, "Phases and their ends")->required();
  one->add_option("--book", options->book, "The book; made when missing")->required();
  one = add("drop", "Forget one with all its versions; runs keep what they followed", drop);
  one->add_option("name", options->name, "Its name")->required();
  one->add_option("--book", options->book, ofBook)->required();
}

}  // namespace ash::cli
