// SPDX-License-Identifier: GPL-3.0-or-later
#include "package/others_keys.h"

#include <algorithm>
#include <charconv>
#include <string>
#include <string_view>
#include <vector>

namespace ash {
namespace {

struct LevelBelow;

/// An object of ours, or a list of such: its keys, and those below which there are more.
struct Level {
  std::vector<std::string_view> ours;
  std::vector<LevelBelow> below;

  const Level* at(std::string_view key) const;
  bool isOurs(std::string_view key) const { return std::find(ours.begin(), ours.end(), key) != ours.end(); }
};

struct LevelBelow {
  std::string_view key;
  Level level;
};

const Level* Level::at(std::string_view key) const {
  const auto found = std::find_if(below.begin(), below.end(), [&](const LevelBelow& one) { return one.key == key; });
  return found == below.end() ? nullptr : &found->level;
}

Level levelOf(PackagePart part) {
  switch (part) {
    case PackagePart::Description:
      return {{"profile", "name", "title", "created", "resources"}, {}};
    case PackagePart::Resource:
      return {{"profile", "name", "path", "title", "encoding", "bytes", "hash", "format", "mediatype", "dialect"},
              {{"schema", {{"missingValues"}, {{"fields", {{"name", "type", "title", "unit", "ucum", "role"}, {}}}}}}}};
    case PackagePart::Run:
      break;
  }
  const Level run{{"id", "outcome", "started", "procedure", "watched", "reason", "unwatched", "machine", "bench",
                   "conditions", "extra", "repeat", "interval_s"},
                  {{"study", {{"name", "question", "plan", "created"}, {}}},
                   {"setup", {{"name", "parts", "conditions", "levels"}, {}}},
                   {"load", {{"name", "spec"}, {}}}}};
  const Level source{{"id", "samples"}, {{"readings", {{"name", "role", "unit", "about"}, {}}}}};
  return {{"contract", "events", "files"},
          {{"run", run}, {"phases", {{"kind", "start_s", "end_s"}, {}}}, {"sources", source}}};
}

Json othersAt(const Level& level, const Json& given) {
  Json found = Json::object();
  if (given.is_array()) {
    for (size_t i = 0; i < given.size(); ++i) {
      if (Json one = othersAt(level, given[i]); !one.empty()) found[std::to_string(i)] = std::move(one);
    }
  } else if (given.is_object()) {
    for (const auto& [key, value] : given.items()) {
      if (const Level* below = level.at(key)) {
        if (Json more = othersAt(*below, value); !more.empty()) found[key] = std::move(more);
      } else if (!level.isOurs(key)) {
        found[key] = value;
      }
    }
  }
  return found;
}

// Of what is ours only what is there can take something back.
void putBackAt(const Level& level, const Json& others, Json& ours) {
  if (!others.is_object()) return;
  for (const auto& [key, value] : others.items()) {
    if (ours.is_array()) {
      size_t number = 0;
      const auto [end, error] = std::from_chars(key.data(), key.data() + key.size(), number);
      if (error == std::errc() && end == key.data() + key.size() && number < ours.size())
        putBackAt(level, value, ours[number]);
    } else if (!ours.is_object()) {
      return;
    } else if (const Level* below = level.at(key)) {
      if (ours.contains(key)) putBackAt(*below, value, ours[key]);
    } else if (!ours.contains(key)) {
      ours[key] = value;
    }
  }
}

}  // namespace

Json keysOfOthers(PackagePart part, const Json& given) {
  return given.is_object() ? othersAt(levelOf(part), given) : Json::object();
}

void putBack(PackagePart part, const Json& others, Json& ours) { putBackAt(levelOf(part), others, ours); }

}  // namespace ash
