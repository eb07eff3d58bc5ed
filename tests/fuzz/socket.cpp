// SPDX-License-Identifier: GPL-3.0-or-later
// A line on a run's socket, as the recorder takes it and as the window does.
#include "app/follow/live_messages.h"
#include "runner/run_wish.h"
#include "tests/fuzz/fuzz.h"

using namespace ash;

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const Json message = parseQuietly(fuzz::textOf(data, size));
  if (!message.is_object()) return 0;
  const auto wish = parseWish(message);
  if (wish) fuzz::mustHold(wish->seconds >= 0 && wish->seconds <= 86400);
  const LiveRunInfo info = liveInfo(message);
  static_cast<void>(liveState(message));
  static_cast<void>(liveEvent(message));
  const auto columns = columnsOfSources(message);
  Log log;
  for (const auto& [name, reading] : info.readings)
    log.channels.push_back({name, reading.quantity, reading.unit, {}, "", 0});
  if (!columns.empty())
    appendRow(log, columns[0], valueIn(message, "t", 0.0), valueIn(message, "values", Json::array()), 0.5);
  for (const Channel& channel : log.channels) fuzz::mustHold(channel.values.size() == log.timeS.size());
  return 0;
}
