// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/book_recover.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdio>

#include "book/book.h"
#include "book/salvage.h"
#include "cli/command.h"
#include "model/number_text.h"
#include "model/text.h"
#include "runner/interrupted.h"

namespace ash::cli {
namespace {

constexpr size_t kMostColumns = 6;
constexpr double kRowEveryS = 5;

Json lastMinuteJson(const InterruptedRun& run) {
  Json readings = Json::object();
  for (const Channel& channel : run.lastMinute.channels) {
    Json values = Json::array();
    for (const double value : channel.values) values.push_back(numberOrNull(value));
    readings[channel.name] = values;
  }
  return {{"time_s", run.lastMinute.timeS}, {"readings", readings}};
}

// A row every five seconds and the very last one; six columns fit a terminal.
void printLastMinute(const InterruptedRun& run) {
  const auto columns = tellingChannels(run.lastMinute, run.run.info.watched, kMostColumns);
  if (columns.empty()) return;
  std::string head = fmt::format("  {:>10}", "time s");
  for (const Channel* column : columns)
    head += fmt::format("  {:>16}", column->name.substr(0, 16 - column->unit.size() / 2) + " " + column->unit);
  std::puts(head.c_str());
  double nextS = -INFINITY;
  for (size_t i = 0; i < run.lastMinute.timeS.size(); ++i) {
    const double t = run.lastMinute.timeS[i];
    if (t < nextS && i + 1 < run.lastMinute.timeS.size()) continue;
    nextS = t + kRowEveryS - 1e-9;
    std::string line = fmt::format("  {:10.1f}", t);
    for (const Channel* column : columns)
      line +=
          fmt::format("  {:>16}", std::isfinite(column->values[i]) ? fmt::format("{:.1f}", column->values[i]) : "-");
    std::puts(line.c_str());
  }
}

void printRun(const InterruptedRun& run) {
  const RunInfo& info = run.run.info;
  const std::string upTo = std::isfinite(run.run.lastSampleS)
                               ? fmt::format("{} samples up to {:.1f} s", run.run.sampleCount, run.run.lastSampleS)
                               : std::string("no sample");
  std::puts(fmt::format("{}  {} / {} / {}: {} ({}). {}", info.id, info.study, info.setup, info.load,
                        outcomeText(info.outcome), upTo, info.reason)
                .c_str());
  printLastMinute(run);
}

int tellSaved(const SalvageReport& report, const std::string& path, bool json) {
  if (json) {
    printJson({{"contract", 1},
               {"damaged", path},
               {"saved", report.path},
               {"studies", report.studies},
               {"setups", report.setups},
               {"loads", report.loads},
               {"runs", report.runs},
               {"events", report.events},
               {"sweeps", report.sweeps},
               {"losses", report.losses}});
    return kDone;
  }
  std::puts(
      fmt::format("{} is damaged. What can be read of it is in {}: {} studies, {} setups, {} loads, {} runs with {} "
                  "sweeps and {} events.",
                  path, report.path, report.studies, report.setups, report.loads, report.runs, report.sweeps,
                  report.events)
          .c_str());
  for (const std::string& loss : report.losses) std::puts(fmt::format("  {}", loss).c_str());
  if (report.losses.empty()) std::puts("  Nothing is missing in it as far as can be told.");
  return kDone;
}

// True when the file itself is broken; a book with other faults (a wrong checksum) still opens and works.
bool isBroken(const Result<std::vector<std::string>>& faults) {
  if (!faults) return true;
  return std::any_of(faults->begin(), faults->end(),
                     [](const std::string& fault) { return fault.starts_with("SQLite: "); });
}

}  // namespace

Json runJson(const RunSummary& run) {
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

int recoverBook(const std::string& path, bool json) {
  // For reading only: a file that is damaged stays as it is, to the byte.
  const auto looked = Book::open(path, BookAccess::ReadOnly);
  if (!looked && !looked.error().isDamage) return fail(looked.error());
  if (!looked || isBroken(looked->check())) {
    const auto saved = salvageBook(path, salvagePath(path));
    return saved ? tellSaved(*saved, path, json) : fail(saved.error());
  }
  auto book = Book::open(path, BookAccess::ReadWrite);
  if (!book) return fail(book.error());
  const auto closed = closeInterrupted(*book);
  if (!closed) return fail(closed.error());
  Json list = Json::array();
  for (const InterruptedRun& run : *closed) {
    if (!json) printRun(run);
    Json one = runJson(run.run);
    one["last_minute"] = lastMinuteJson(run);
    list.push_back(std::move(one));
  }
  if (json)
    printJson({{"contract", 1}, {"closed", list}});
  else if (closed->empty())
    std::fputs("No run was interrupted.\n", stderr);
  return kDone;
}

}  // namespace ash::cli
