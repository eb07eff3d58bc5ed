// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_progress.h"

#include "model/json_cursor.h"

namespace ash {
namespace {

Json passToJson(const Pass& pass) {
  return {{"start_s", pass.startS}, {"end_s", pass.endS}, {"score", numberOrNull(pass.score)}, {"scores", pass.scores}};
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
  JsonCursor::Mistakes passedOver;
  const JsonCursor line(told, passedOver);
  LoadProgress progress;
  progress.frames = kMissing;
  line.take("began_s", progress.beganS);
  line.take("seconds", progress.seconds);
  line.take("work", progress.work);
  line.take("errors", progress.errors);
  line.take("frames", progress.frames);
  line.take("live", progress.live);
  for (const JsonCursor& one : line.objects("passes")) {
    Pass pass;
    one.take("start_s", pass.startS);
    one.take("end_s", pass.endS);
    pass.score = one.number("score");
    one.take("scores", pass.scores);
    progress.passes.push_back(std::move(pass));
  }
  for (const JsonCursor& one : line.objects("wrong")) {
    WrongResults wrong;
    one.take("at_s", wrong.atS);
    one.take("core", wrong.core);
    one.take("count", wrong.count);
    progress.wrong.push_back(wrong);
  }
  return progress;
}

}  // namespace ash
