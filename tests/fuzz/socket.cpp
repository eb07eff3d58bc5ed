// SPDX-License-Identifier: GPL-3.0-or-later
// A line on a run's socket, as the recorder takes it and as the window does.
#include "app/follow/live_messages.h"
#include "runner/run_messages.h"
#include "runner/run_wish.h"
#include "tests/fuzz/fuzz.h"

using namespace ash;

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const Json message = parseQuietly(fuzz::textOf(data, size));
  if (!message.is_object()) return 0;
  const auto wish = parseWish(message);
  if (wish) fuzz::mustHold(wish->seconds >= 0 && wish->seconds <= 86400);
  const LiveRunInfo info = infoFromHello(message);
  static_cast<void>(stateFromMessage(message));
  static_cast<void>(phaseFromMessage(message));
  static_cast<void>(outcomeFromMessage(message));
  static_cast<void>(answerFromMessage(message));
  // What was told once is told again the same.
  const Event event = eventFromMessage(message);
  const Event again = eventFromMessage(parseQuietly(jsonText(eventMessage(event))));
  fuzz::mustHold(again.extra == event.extra || jsonText(again.extra) == jsonText(event.extra));
  Log log;
  for (const auto& [name, reading] : info.readings)
    log.channels.push_back({name, reading.quantity, reading.unit, {}, "", 0});
  const auto samples = samplesFromMessage(message);
  if (!info.columns.empty() && samples) appendRow(log, info.columns[0], *samples, 0.5);
  for (const Channel& channel : log.channels) fuzz::mustHold(channel.values.size() == log.timeS.size());
  return 0;
}
