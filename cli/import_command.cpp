// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg import`: a foreign log as a run; --look only says how it would be understood.
#include <fmt/format.h>
#include <unistd.h>

#include <atomic>
#include <cmath>
#include <cstdio>
#include <memory>

#include "book/beside.h"
#include "cli/command.h"
#include "cli/signals.h"
#include "intake/beside_log.h"
#include "intake/take_in.h"
#include "model/entry_line.h"
#include "model/number_text.h"
#include "model/text.h"
#include "package/package.h"
#include "system/clock.h"

namespace ash::cli {
namespace {

struct ImportArguments {
  std::string file, time;
  std::string into, offset = "auto", off;
  std::vector<std::string> accuracy, place, note;
  ImportPlace where;
  std::vector<std::string> map, skip;
  bool look = false, json = false;
};

/// A line on stderr every two seconds, written over on a terminal.
class ImportLine {
 public:
  void show(double share) {
    constexpr double kEveryS = 2;
    if (monotonicS() - m_shownS < (m_isTerminal ? 0.2 : kEveryS)) return;
    m_shownS = monotonicS();
    std::fputs(
        fmt::format("{}{:.0f} % done{}", m_isTerminal ? "\r" : "", 100 * share, m_isTerminal ? "" : "\n").c_str(),
        stderr);
    m_hasShown = true;
  }
  ~ImportLine() {
    if (m_hasShown && m_isTerminal) std::fputs("\r\033[K", stderr);
  }

 private:
  bool m_isTerminal = isatty(STDERR_FILENO) != 0, m_hasShown = false;
  double m_shownS = monotonicS();
};

Result<ImportWishes> wishesOf(const ImportArguments& options) {
  ImportWishes wishes;
  wishes.skip = options.skip;
  wishes.time = options.time;
  wishes.earlier = rememberedColumns();
  for (const std::string& text : options.map) {
    auto said = parseSaidOfColumn(text);
    if (!said) return said.error();
    wishes.map.insert(std::move(*said));
  }
  return wishes;
}

std::string columnLine(const ColumnFacts& one) {
  const PlannedColumn& column = one.column;
  std::string line = fmt::format("  {:<28} {:<8} {:<20} {:<8} {:>9} taken", column.name, column.unitText,
                                 column.role.empty() ? "–" : column.role.text(), roleReasonText(column.why), one.taken);
  if (one.refused > 0) line += fmt::format(", {} refused", one.refused);
  return withoutControls(line);
}

void print(const LogFacts& facts) {
  std::puts(fmt::format("{}: {} rows over {}, {}, {}, decimals with “{}”{}", facts.file, facts.rows,
                        clockText(facts.lengthS), facts.encoding,
                        facts.separator == 0      ? std::string("fixed width")
                        : facts.separator == '\t' ? std::string("separated by tabs")
                                                  : fmt::format("separated by “{}”", facts.separator),
                        facts.decimal, facts.startsS ? ", from " + startText(facts) : ", no date told")
                .c_str());
  for (const ColumnFacts& one : facts.columns) std::puts(columnLine(one).c_str());
  for (const Problem& problem : facts.problems) std::puts(fmt::format("! {}", withoutControls(problem.text)).c_str());
  for (const std::string& wanting : whatItCannotTell(facts)) std::puts(fmt::format("– {}", wanting).c_str());
}

int carryOutPackage(const ImportArguments& options) {
  if (options.look)
    return fail(Error::badInput("--look is for logs: what is in a package stands in its datapackage.json."));
  if (options.where.book.empty()) return fail(Error::badInput("--book is missing: where is it to be kept?"));
  const auto runs = readPackage(options.file, options.where.book);
  if (!runs) return fail(runs.error());
  if (options.json) printJson({{"contract", 1}, {"runs", *runs}});
  for (const std::string& run : *runs) {
    if (!options.json) std::puts(fmt::format("Kept as run {}.", run).c_str());
  }
  return kDone;
}

// "COLUMN=TEXT", several times.
Result<std::map<std::string, std::string>> namedTexts(const std::vector<std::string>& given, const char* option) {
  std::map<std::string, std::string> named;
  for (const std::string& text : given) {
    const size_t equals = text.find('=');
    if (equals == 0 || equals == std::string::npos || equals + 1 == text.size())
      return Error::badInput(fmt::format("{} takes \"COLUMN=…\", not \"{}\".", option, withoutControls(text)));
    named[text.substr(0, equals)] = text.substr(equals + 1);
  }
  return named;
}

Result<BesideWishes> besideWishes(const ImportArguments& options) {
  BesideWishes wishes{options.where.book, options.into, std::nullopt, {}, {}};
  if (options.offset != "auto") {
    wishes.offsetS = parseNumber(options.offset);
    if (!wishes.offsetS || !(std::abs(*wishes.offsetS) < 1e9))
      return Error::badInput(
          fmt::format("--offset takes seconds or auto, not \"{}\".", withoutControls(options.offset)));
  }
  auto accuracy = namedTexts(options.accuracy, "--accuracy"), place = namedTexts(options.place, "--place");
  if (!accuracy) return accuracy.error();
  if (!place) return place.error();
  wishes.accuracy = std::move(*accuracy);
  wishes.place = std::move(*place);
  return wishes;
}

int refuse(const std::string& why) {
  std::fputs((withoutControls(why) + "\n").c_str(), stderr);
  return kAnswerIsNo;
}

std::string besideLine(const TakenBeside& taken, const std::string& what) {
  const ClockOffset& offset = taken.offset;
  std::string line = fmt::format("{}, {} s", what, signedText(offset.offsetS, 2));
  if (!taken.by.empty())
    line += fmt::format(" ({} to {}), by {} with {}", signedText(offset.offsetLowS, 2),
                        signedText(offset.offsetHighS, 2), taken.by.front(), taken.by.back());
  if (offset.driftPpm) line += fmt::format("; its clock drifts by {} ppm", signedText(*offset.driftPpm, 0));
  return withoutControls(line + ".");
}

int takeOff(const ImportArguments& options) {
  if (Status off = takeOffBeside(options.where.book, options.into, options.off); !off) return fail(off.error());
  if (options.json)
    printJson({{"contract", 1}, {"off", options.off}});
  else
    std::puts(fmt::format("“{}” no longer stands beside the run.", withoutControls(options.off)).c_str());
  return kDone;
}

void printBeside(const LogFacts& facts, const TakenBeside& taken, bool asJson) {
  if (!asJson) return print(facts);
  Json json = factsToJson(facts);
  json.update(besideToJson(taken));
  printJson(json);
}

// How it would stand beside the run; nothing is kept.
int lookOnlyBeside(const ImportArguments& options, const ImportWishes& imported, const ImportProgress& progress) {
  const auto wishes = besideWishes(options);
  if (!wishes) return fail(wishes.error());
  const auto look = lookBeside(options.file, imported, *wishes, progress);
  if (!look) return fail(look.error());
  if (!look->told.refusal.empty()) return refuse(look->told.refusal);
  printBeside(look->told.facts, look->told, options.json);
  if (!options.json) std::puts(besideLine(look->told, "It would stand beside the run").c_str());
  return kDone;
}

int carryOutBeside(const ImportArguments& options, const ImportWishes& imported, const ImportProgress& progress) {
  const auto wishes = besideWishes(options);
  if (!wishes) return fail(wishes.error());
  const auto taken = takeBeside(options.file, imported, *wishes, progress);
  if (!taken) return fail(taken.error());
  if (!taken->refusal.empty()) return refuse(taken->refusal);
  printBeside(taken->facts, *taken, options.json);
  if (!options.json) std::puts(besideLine(*taken, fmt::format("Kept beside the run as “{}”", taken->source)).c_str());
  return kDone;
}

// What the options say together; empty when that can be carried out.
std::string contradiction(const ImportArguments& options) {
  const bool hasBeside = options.offset != "auto" || !options.accuracy.empty() || !options.place.empty();
  if (options.into.empty() && (hasBeside || !options.off.empty()))
    return "--offset, --accuracy, --place and --off belong to --into RUN.";
  if (!options.into.empty() && options.where.book.empty()) return "--book is missing: in which book is the run?";
  if (!options.off.empty() && !options.file.empty()) return "--off takes a log off again: it needs no file.";
  if (options.off.empty() && options.file.empty()) return "Which log is to be taken in?";
  if (!options.into.empty() && !options.note.empty())
    return "--note is for a run of its own, not for a log beside another.";
  const bool isOfLogs = !options.into.empty() || !options.note.empty() || !options.map.empty() ||
                        !options.skip.empty() || !options.time.empty();
  if (isOfLogs && !options.file.empty() && isPackage(options.file))
    return "A data package says itself what is in it: --into, --note, --map, --skip and --time are for logs.";
  const bool hasPlace = !options.where.study.empty() || !options.where.setup.empty() || !options.where.load.empty();
  if (!options.into.empty() && hasPlace) return "With --into the run has its study, setup and load already.";
  return {};
}

int carryOut(const ImportArguments& options) {
  if (const std::string wrong = contradiction(options); !wrong.empty()) return fail(Error::badInput(wrong));
  if (isPackage(options.file)) return carryOutPackage(options);
  if (!options.off.empty()) return takeOff(options);
  std::atomic<bool> isGivenUp{false};
  const SignalWatch watch([&](int) { isGivenUp = true; });
  const auto wishes = wishesOf(options);
  if (!wishes) return fail(wishes.error());
  ImportLine line;
  const ImportProgress progress = [&](double share) {
    line.show(share);
    return !isGivenUp;
  };
  if (!options.into.empty() && options.look) return lookOnlyBeside(options, *wishes, progress);
  if (!options.into.empty() && !options.look) return carryOutBeside(options, *wishes, progress);
  if (options.look) {
    const auto facts = readForeignLog(options.file, *wishes, nullptr, progress);
    if (!facts) return fail(facts.error());
    options.json ? printJson(factsToJson(*facts)) : print(*facts);
    return kDone;
  }
  ImportPlace place = options.where;
  for (const std::string& noted : options.note) {
    const auto entry = parseEntry(noted);
    if (!entry) return fail(entry.error());
    place.typed.push_back(eventOf(*entry, kMissing));
  }
  if (options.where.book.empty()) return fail(Error::badInput("--book is missing: where is it to be kept?"));
  const auto taken = takeIn(options.file, *wishes, place, progress);
  if (!taken) return fail(taken.error());
  if (options.json) {
    Json json = factsToJson(taken->facts);
    json["run"] = taken->run;
    printJson(json);
  } else {
    print(taken->facts);
    std::puts(fmt::format("Kept as run {}.", taken->run).c_str());
  }
  return kDone;
}

}  // namespace

void addImportCommand(CLI::App& app, Action& action) {
  CLI::App* command = app.add_subcommand("import", "Take a log of another program in as a run");
  auto options = std::make_shared<ImportArguments>();
  command->add_option("file", options->file,
                      "The log: CSV or the like, also packed with gzip; or the folder of a data package");
  command->add_option("--book", options->where.book, "The book; made when missing");
  command->add_option("--study", options->where.study, "The study; made when missing (\"Taken in\")");
  command->add_option("--setup", options->where.setup, "The setup; made when missing (as the file is called)");
  command->add_option("--load", options->where.load, "The load; made when missing (\"not told\")");
  command->add_option("--map", options->map, "\"COLUMN=ROLE [UNIT]\"; several times, kept for other logs of yours")
      ->allow_extra_args(false);
  command->add_option("--skip", options->skip, "A column to leave out; several times")->allow_extra_args(false);
  command->add_option("--time", options->time,
                      "How its time is written: of YYYY YY MM DD hh mm ss .f AM, or epoch, or epoch-ms");
  command->add_option("--into", options->into,
                      "A run that has ended: the log is put beside it, as a source of its own");
  command->add_option("--offset", options->offset,
                      "With --into: seconds to be added to its time; auto, which is usual, = found by what both saw");
  command->add_option("--accuracy", options->accuracy, "With --into: \"COLUMN=0.5 % + 0.2 W\"; several times")
      ->allow_extra_args(false);
  command->add_option("--place", options->place, "With --into: \"COLUMN=where it was measured\"; several times")
      ->allow_extra_args(false);
  command->add_option("--off", options->off, "With --into: take what was put beside the run under this name off again");
  command->add_option("--note", options->note, "What belongs to it: \"room 22.4\", \"note new paste\"; several times")
      ->allow_extra_args(false);
  command->add_flag("--look", options->look, "Only say how it would be understood");
  command->add_flag("--json", options->json, "One JSON document");
  command->callback([options, &action] { action = [options] { return carryOut(*options); }; });
}

}  // namespace ash::cli
