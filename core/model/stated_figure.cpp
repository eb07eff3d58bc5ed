// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/stated_figure.h"

#include <algorithm>
#include <cmath>

namespace ash {
namespace {
constexpr char kExpected[] = "expected", kClaimed[] = "claimed";
}

bool StatedFigure::isAboutSame(const StatedFigure& other) const {
  return kind == other.kind && by == other.by && setup == other.setup && load == other.load && figure == other.figure &&
         isDifference == other.isDifference;
}

std::vector<StatedFigure> statedFrom(const std::vector<JsonCursor>& entries) {
  std::vector<StatedFigure> all;
  for (const JsonCursor& entry : entries) {
    StatedFigure one;
    const std::string kind = entry.text("kind");
    one.kind = kind == kClaimed ? StatedKind::Claimed : StatedKind::Expected;
    one.by = entry.text("by");
    one.setup = entry.text("setup");
    one.load = entry.text("load");
    one.figure = entry.text("figure");
    entry.take("difference", one.isDifference);
    one.low = entry.number("low");
    one.high = entry.number("high");
    one.written = entry.text("written");
    one.takenBack = entry.text("taken_back");
    for (const JsonCursor& was : entry.objects("before"))
      one.before.push_back({was.number("low"), was.number("high"), was.text("until")});
    const bool isKnown = kind == kClaimed || kind == kExpected;
    if (isKnown && !one.setup.empty() && !one.figure.empty() && one.low <= one.high) all.push_back(std::move(one));
  }
  return all;
}

Json statedToJson(const std::vector<StatedFigure>& all) {
  Json list = Json::array();
  for (const StatedFigure& one : all) {
    Json json = {{"kind", one.kind == StatedKind::Claimed ? kClaimed : kExpected},
                 {"by", one.by},
                 {"setup", one.setup},
                 {"load", one.load},
                 {"figure", one.figure},
                 {"difference", one.isDifference},
                 {"low", one.low},
                 {"high", one.high},
                 {"written", one.written}};
    if (!one.takenBack.empty()) json["taken_back"] = one.takenBack;
    for (const StatedBefore& was : one.before)
      json["before"].push_back({{"low", was.low}, {"high", was.high}, {"until", was.until}});
    list.push_back(std::move(json));
  }
  return list;
}

void state(std::vector<StatedFigure>& all, StatedFigure now, bool hasResult) {
  const auto same =
      std::find_if(all.begin(), all.end(), [&](const StatedFigure& other) { return other.isAboutSame(now); });
  if (same == all.end()) {
    all.push_back(std::move(now));
    return;
  }
  if (same->low == now.low && same->high == now.high && same->takenBack.empty()) return;
  const bool wasShown = hasResult || !same->before.empty();
  if (wasShown) {
    now.before = same->before;
    now.before.push_back({same->low, same->high, same->takenBack.empty() ? now.written : same->takenBack});
    now.written = same->written;
  }
  *same = std::move(now);
}

void takeBack(std::vector<StatedFigure>& all, size_t index, const std::string& when, bool hasResult) {
  if (index >= all.size()) return;
  if (hasResult || !all[index].before.empty())
    all[index].takenBack = when;
  else
    all.erase(all.begin() + static_cast<std::ptrdiff_t>(index));
}

void keepTraces(const std::vector<StatedFigure>& now, std::vector<StatedFigure>& then, const std::string& when,
                const std::function<bool(const StatedFigure&)>& hasResult) {
  for (const StatedFigure& said : now) {
    if (!hasResult(said)) continue;
    const auto same =
        std::find_if(then.begin(), then.end(), [&](const StatedFigure& other) { return other.isAboutSame(said); });
    if (same == then.end()) {
      then.push_back(said);
      if (said.takenBack.empty()) then.back().takenBack = when;
    } else if (!(*same == said)) {
      same->before = said.before;
      same->before.push_back({said.low, said.high, said.takenBack.empty() ? when : said.takenBack});
      same->written = said.written;
    }
  }
}

}  // namespace ash
