// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/earlier_runs.h"

#include "analysis/analyze.h"

namespace ash {
namespace {

constexpr double kShareOfEarlier = 0.6;

std::string textOf(const Json& object, const char* key) {
  const auto found = object.find(key);
  return found != object.end() && found->is_string() ? found->get<std::string>() : std::string();
}

std::string benchOf(const RunInfo& info) {
  return textOf(info.bench, "kind") + "/" + textOf(info.bench, "name") + "/" + textOf(info.machine, "name");
}

}  // namespace

double leastSoakS(const Book& book, const RunInfo& next) {
  const auto runs = book.runs();
  if (!runs) return 0;
  const RunInfo* last = nullptr;
  for (const RunSummary& run : *runs) {
    const RunInfo& info = run.info;
    const bool isSame = info.study == next.study && info.setup == next.setup && info.load == next.load &&
                        benchOf(info) == benchOf(next) && info.outcome == Outcome::Completed && info.id != next.id;
    if (isSame) last = &info;
  }
  if (last == nullptr) return 0;
  const auto run = book.readRun(last->id);
  if (!run) return 0;
  const Figures figures = analyzeRun(*run);
  const ChannelFigures* watched = figures.channel(figures.watched);
  if (watched == nullptr || !watched->settled || !watched->settled->isSettled || !figures.load) return 0;
  return kShareOfEarlier * (watched->settled->atS - figures.load->startS);
}

}  // namespace ash
