// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg attach`: pictures, sounds and other files kept with a setup, a run or a moment of one.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>
#include <memory>

#include "attach/take_file.h"
#include "book/book.h"
#include "book/run_places.h"
#include "cli/command.h"
#include "model/entry_line.h"
#include "model/text.h"
#include "system/whole_file.h"

namespace ash::cli {
namespace {

struct AttachArguments {
  std::string where, book, text, reading, to;
  std::vector<std::string> files;
  double atS = kMissing;
  long long off = 0, get = 0;
  bool list = false, json = false;
};

/// A run, or a setup by its row.
struct Owner {
  std::string run;
  long long setup = 0;
  double lastS = kMissing;  // of the run
};

Result<Owner> ownerOf(const Book& book, const std::string& where) {
  if (const auto run = book.run(where)) return Owner{run->info.id, 0, run->lastSampleS};
  const auto place = setupNamed(book, where);
  if (!place)
    return Error::badInput(
        fmt::format("\"{}\" is no run of {}, and: {}", withoutControls(where), book.path(), place.error().message));
  return Owner{{}, place->setup.id, kMissing};
}

/// "STUDY / SETUP" by the rows of setups.
using SetupNames = std::map<long long, std::string>;

SetupNames setupNames(const Book& book) {
  SetupNames names;
  if (const auto studies = book.studies()) {
    for (const Study& study : *studies) {
      for (const Setup& setup : study.setups) names[setup.id] = study.name + " / " + setup.name;
    }
  }
  return names;
}

std::string nameOf(long long setup, const SetupNames& names) {
  const auto found = names.find(setup);
  return found == names.end() ? "a setup that is gone" : found->second;
}

Json toJson(const Attachment& one, const SetupNames& names) {
  Json json = {{"number", one.id}};
  if (!one.run.empty())
    json["run"] = one.run;
  else
    json["setup"] = nameOf(one.setup, names);
  json["at_s"] = numberOrNull(one.atS);
  json["name"] = one.name;
  json["type"] = one.type;
  json["text"] = one.text;
  json["bytes"] = one.sizeB;
  json["hash"] = "sha256:" + one.hash;
  json["added"] = one.added;
  for (const auto& [key, value] : one.extra.items()) json[key] = value;
  return json;
}

std::string lineOf(const Attachment& one, const SetupNames& names) {
  std::string line =
      fmt::format("{:>4}  {}  {}", one.id, one.run.empty() ? nameOf(one.setup, names) : "run " + one.run, one.name);
  if (std::isfinite(one.atS)) line += fmt::format("  at {} s", one.atS);
  line += fmt::format("  {}, {:.1f} kB", one.type, static_cast<double>(one.sizeB) / 1000);
  if (!one.text.empty()) line += "  “" + one.text + "”";
  return withoutControls(line);
}

int list(const Book& book, const AttachArguments& options) {
  auto all = book.attachments();
  if (!all) return fail(all.error());
  if (!options.where.empty()) {
    const auto owner = ownerOf(book, options.where);
    if (!owner) return fail(owner.error());
    std::erase_if(*all, [&](const Attachment& one) { return one.run != owner->run || one.setup != owner->setup; });
  }
  const SetupNames names = setupNames(book);
  Json files = Json::array();
  for (const Attachment& one : *all) {
    if (options.json)
      files.push_back(toJson(one, names));
    else
      std::puts(lineOf(one, names).c_str());
  }
  if (options.json) printJson({{"contract", 1}, {"book", book.path()}, {"files", files}});
  return kDone;
}

int get(const Book& book, const AttachArguments& options) {
  const auto bytes = book.attachmentBytes(options.get);
  if (!bytes) return fail(bytes.error());
  if (Status written = writeWholeFile(*bytes, options.to); !written) return fail(written.error());
  return kDone;
}

int takeOff(Book& book, const AttachArguments& options) {
  const auto gone = book.detach(options.off);
  if (!gone) return fail(gone.error());
  std::fprintf(stderr, "%s is taken off.\n", withoutControls(gone->name).c_str());
  return kDone;
}

// The value that a picture shows, as the entry line takes it; kept at the picture's moment.
Result<Event> readingOf(const AttachArguments& options) {
  const auto entry = parseEntry(options.reading);
  if (!entry) return entry.error();
  if (entry->kind != Entry::Kind::Reading)
    return Error::badInput(
        fmt::format("--reading takes a reading as the entry line does (\"surface hinge 47.5\"), not \"{}\".",
                    withoutControls(options.reading)));
  if (!std::isfinite(options.atS)) return Error::badInput("A reading out of a picture needs its moment: --at S.");
  return eventOf(*entry, options.atS);
}

Status checkMoment(const Owner& owner, const AttachArguments& options) {
  if (!std::isfinite(options.atS)) return {};
  if (owner.run.empty()) return Error::badInput("--at is a moment of a run; a setup has none.");
  if (options.atS < 0 || (std::isfinite(owner.lastS) && options.atS > owner.lastS))
    return Error::badInput(
        fmt::format("Run {} has no moment {} s; it goes from 0 to {:.1f} s.", owner.run, options.atS, owner.lastS));
  return {};
}

// All of them are read before the first is kept: one that cannot be read leaves nothing behind.
int attachAll(Book& book, const AttachArguments& options) {
  if (options.where.empty() || options.files.empty())
    return fail(Error::badInput("Name a run or \"STUDY / SETUP\", and the files to keep with it."));
  const auto owner = ownerOf(book, options.where);
  if (!owner) return fail(owner.error());
  if (Status fits = checkMoment(*owner, options); !fits) return fail(fits.error());
  std::optional<Event> reading;
  if (!options.reading.empty()) {
    auto read = readingOf(options);
    if (!read) return fail(read.error());
    reading = std::move(*read);
  }
  std::vector<std::pair<Attachment, std::string>> taken;
  std::vector<std::string> remarks;
  const PictureReader reader = PictureReader::beside();
  for (const std::string& path : options.files) {
    auto one = takeFile(path, reader);
    if (!one) return fail(one.error());
    one->about.run = owner->run;
    one->about.setup = owner->setup;
    one->about.atS = options.atS;
    one->about.text = withoutControls(options.text);
    taken.emplace_back(std::move(one->about), std::move(one->bytes));
    remarks.push_back(std::move(one->remarks));
  }
  const auto kept = book.attach(taken);
  if (!kept) return fail(kept.error());
  const SetupNames names = setupNames(book);
  Json files = Json::array();
  for (size_t i = 0; i < kept->size(); ++i) {
    const Attachment& one = (*kept)[i];
    if (options.json) {
      files.push_back(toJson(one, names));
      files.back()["remarks"] = remarks[i];
    } else {
      std::puts(lineOf(one, names).c_str());
      if (!remarks[i].empty()) std::puts(("      " + remarks[i]).c_str());
    }
  }
  if (reading) {
    reading->extra["attachment"] = kept->front().hash;
    if (Status added = book.addEvent(owner->run, *reading); !added) return fail(added.error());
  }
  if (options.json) printJson({{"contract", 1}, {"book", book.path()}, {"files", files}});
  return kDone;
}

int carryOut(const AttachArguments& options) {
  const bool looks = options.list || options.get != 0;
  auto book = Book::open(options.book, looks ? BookAccess::ReadOnly : BookAccess::ReadWrite);
  if (!book) return fail(book.error());
  if (options.list) return list(*book, options);
  if (options.get != 0) return get(*book, options);
  if (options.off != 0) return takeOff(*book, options);
  return attachAll(*book, options);
}

}  // namespace

void addAttachCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("attach", "Keep a picture, a sound or another file with a run or a setup");
  auto options = std::make_shared<AttachArguments>();
  command->add_option("where", options->where, "A run's id, or \"STUDY / SETUP\"");
  auto* files = command->add_option("file", options->files, "What to keep; pictures are scaled to 2560 pixels");
  command->add_option("--book", options->book, "The book")->required();
  command->add_option("--at", options->atS, "Seconds since the run's first sample");
  command->add_option("--text", options->text, "What is to be said of it");
  command->add_option("--reading", options->reading, "A value that it shows, \"surface hinge 47.5\"; kept at --at");
  auto* list = command->add_flag("--list", options->list, "What is kept, with its numbers")->excludes(files);
  auto* off = command->add_option("--off", options->off, "Take the file of this number off")->excludes(files, list);
  auto* get = command->add_option("--get", options->get, "Write the file of this number")->excludes(files, list, off);
  auto* to = command->add_option("--to", options->to, "Where --get writes")->needs(get);
  get->needs(to);
  command->add_flag("--json", options->json, "One JSON document");
  command->callback([options, &action] { action = [options] { return carryOut(*options); }; });
}

}  // namespace ash::cli
