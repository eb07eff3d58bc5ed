// SPDX-License-Identifier: GPL-3.0-or-later
// A log is refused or taken whole: time never goes back, every channel is as long as the time axis, and it can be
// analysed.
#include "analysis/analyze.h"
#include "exchange/csv_read.h"
#include "tests/fuzz/fuzz.h"

using namespace ash;

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  auto log = parseCsvLog(fuzz::textOf(data, size), "x.csv");
  if (!log) {
    fuzz::mustHold(!log.error().message.empty());
    return 0;
  }
  for (size_t i = 1; i < log->timeS.size(); ++i) fuzz::mustHold(log->timeS[i] >= log->timeS[i - 1]);
  for (const Channel& channel : log->channels) fuzz::mustHold(channel.values.size() == log->timeS.size());
  if (log->timeS.size() > 400 || log->channels.size() > 20) return 0;
  RunLog run;
  run.name = "x";
  run.log = std::move(*log);
  static_cast<void>(analyzeRun(run));
  return 0;
}
