// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_progress.h"

namespace ash {
namespace {

Json passToJson(const Pass& pass) {
  return {{"start_s", pass.startS}, {"end_s", pass.endS}, {"score", numberOrNull(pass.score)}, {"scores", pass.scores}};
}

std::map<std::string, double> numbersIn(const Json& told, const char* key) {
  std::map<std::string, double> numbers;
  const auto found = told.find(key);
  if (found == told.end() || !found->is_object()) return numbers;
  for (const auto& [name, value] : found->items()) {
    if (value.is_number()) numbers[name] = value.get<double>();
  }
  return numbers;
}

template <typename F>
void eachObject(const Json& told, const char* key, F take) {
  const auto found = told.find(key);
  if (found == told.end() || !found->is_array()) return;
  for (const Json& one : *found) {
    if (one.is_object()) take(one);
  }
}

}  // namespace

Json progressToJson(const LoadProgress& progress) {
  Json json = {{"began_s", numberOrNull(progress.beganS)},
               {"seconds", progress.seconds},
               {"work", progress.work},
               {"errors", progress.errors}};
  if (std::isfinite(progress.frames)) json["frames"] = progress.frames;
  if (!progress.live.empty()) json["live"] = progress.live;
  for (const Pass& pass : progress.passes) json["passes"].push_back(passToJson(pass));
  for (const WrongResults& wrong : progress.wrong)
    json["wrong"].push_back({{"at_s", wrong.atS}, {"core", wrong.core}, {"count", wrong.count}});
  return json;
}

LoadProgress progressFromJson(const Json& told) {
  LoadProgress progress{valueIn(told, "began_s", kMissing),
                        valueIn(told, "seconds", 0.0),
                        valueIn(told, "work", 0.0),
                        valueIn(told, "errors", 0LL),
                        valueIn(told, "frames", kMissing),
                        numbersIn(told, "live"),
                        {},
                        {}};
  eachObject(told, "passes", [&](const Json& one) {
    progress.passes.push_back({valueIn(one, "start_s", 0.0), valueIn(one, "end_s", 0.0),
                               valueIn(one, "score", kMissing), numbersIn(one, "scores")});
  });
  eachObject(told, "wrong", [&](const Json& one) {
    progress.wrong.push_back({valueIn(one, "at_s", 0.0), valueIn(one, "core", -1), valueIn(one, "count", 0LL)});
  });
  return progress;
}

}  // namespace ash
