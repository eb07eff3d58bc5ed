// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/same_way.h"

#include <fmt/format.h>

#include <cmath>

#include "model/condition_field.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kLongestLine = 60;
constexpr char kKind[] = "kind", kCommand[] = "command";

std::string kindOf(const AnalyzedRun& run) { return withoutControls(valueIn(run.run.facts.loadSpec, kKind, "")); }

std::string_view deviceWord(DeviceKind kind) {
  if (kind == DeviceKind::Gpu) return "graphics";
  return kind == DeviceKind::Storage ? "drive" : "processor";
}

// Bytes of UTF-8 that go on are not cut from their first.
std::string shortened(std::string text) {
  if (text.size() <= kLongestLine) return text;
  size_t end = kLongestLine;
  while (end > 0 && (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80) --end;
  return text.substr(0, end) + "…";
}

}  // namespace

bool isOtherWay(const AnalyzedRun& a, const AnalyzedRun& b) {
  const RunFacts &one = a.run.facts, &two = b.run.facts;
  return one.load == two.load && !one.loadSpec.empty() && !two.loadSpec.empty() && one.loadSpec != two.loadSpec;
}

std::string wayText(const AnalyzedRun& run, const AnalyzedRun& other) {
  const Json &spec = run.run.facts.loadSpec, &beside = other.run.facts.loadSpec;
  const std::string line = valueIn(spec, kCommand, "");
  std::string text = line.empty() ? kindOf(run) : shortened(withoutControls(line));
  for (const auto& [key, value] : spec.items()) {
    const auto found = beside.find(key);
    const bool isSame = found != beside.end() && *found == value;
    if (key == kKind || key == kCommand || isSame || value.is_structured()) continue;
    text += fmt::format(", {} {}", key, withoutControls(bareText(value)));
  }
  return text;
}

bool isTaskByName(const AnalyzedRun& a, const AnalyzedRun& b) {
  const Json &one = a.run.facts.loadSpec, &two = b.run.facts.loadSpec;
  return isOtherWay(a, b) &&
         (kindOf(a) != kindOf(b) || valueIn(one, kCommand, Json()) != valueIn(two, kCommand, Json()));
}

bool didEqualWork(const AnalyzedRun& a, const AnalyzedRun& b) {
  const RunFacts &one = a.run.facts, &two = b.run.facts;
  const bool isSameTask = !isTaskByName(a, b) && one.work && two.work && std::isfinite(one.work->units) &&
                          one.work->units == two.work->units && one.work->unit == two.work->unit;
  const bool areBothDone = one.work && two.work && std::isfinite(one.work->doneS) && std::isfinite(two.work->doneS);
  return isSameTask || (areBothDone && isTaskByName(a, b)) ||
         (!one.passes.empty() && one.passes.size() == two.passes.size());
}

void refuseOtherWay(MetricRow& row, const std::vector<const AnalyzedRun*>& runs,
                    const std::vector<const AnalyzedRun*>& others, const Figure& metric) {
  if (runs.empty() || others.empty()) return;
  const AnalyzedRun &here = *runs.front(), &there = *others.front();
  const bool isOfWork = metric.id() == FigureId::WorkRate || metric.id() == FigureId::WorkPerJoule;
  if (isOfWork && isOtherWay(here, there) && kindOf(here) != kindOf(there)) {
    row.verdict = Verdict::NotComparable;
    row.bound = Bound::None;
    row.reason =
        fmt::format("A unit of work of {} is none of {}: compare time and energy.", kindOf(here), kindOf(there));
    return;
  }
  if (!metric.kind().isOfDevice || metric.id() == FigureId::Power) return;
  const DeviceKind works = here.figures.worked, worked = there.figures.worked;
  const bool isItsDevice = metric.device().is(works) || metric.device().is(worked);
  if (works == worked || !isItsDevice || !isOtherWay(here, there)) return;
  row.verdict = Verdict::NotComparable;
  row.bound = Bound::None;
  row.reason = fmt::format("The {} did the work here, the {} there: the heat goes another way.", deviceWord(works),
                           deviceWord(worked));
}

}  // namespace ash
