// SPDX-License-Identifier: GPL-3.0-or-later
// A program of the reviewer's own as an instrument, run each time or followed; nothing of it is left behind.
#include <signal.h>
#include <catch2/catch.hpp>

#include <cmath>
#include <filesystem>
#include <fstream>

#include "instruments/instrument_source.h"
#include "system/process_identity.h"
#include "tests/support/patience.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

Instrument scale(const std::string& command, bool isFollowed, const std::string& pattern = "^([-+0-9.,]+) g$") {
  Instrument scale;
  scale.name = "scale";
  scale.kind = InstrumentKind::Command;
  scale.command = command;
  scale.isFollowed = isFollowed;
  scale.intervalS = 0.2;
  InstrumentReading reading;
  reading.name = "water lost";
  reading.unitText = "g";
  reading.pattern = pattern;
  scale.readings = {reading};
  return scale;
}

int pidIn(const std::string& file) {
  int pid = 0;
  std::ifstream(file) >> pid;
  return pid;
}

}  // namespace

TEST_CASE("aCommandIsRunAtEachInterval") {
  const TempFolder folder;
  const std::string count = folder.path("count");
  InstrumentSource source(scale("echo x >> " + count + "; echo 'scale 1'; echo \"12,5 g\"", false));
  REQUIRE(eventually([&] { return source.state().answers >= 3; }));
  CHECK(source.sweep().values == std::vector<double>{12.5});
  CHECK(std::filesystem::file_size(count) >= 6);
  CHECK(source.info().readings[0].unit == "g");
}

TEST_CASE("whatACommandDoesNotSayIsToldInWords") {
  InstrumentSource nothing(scale("echo hello", false));
  REQUIRE(eventually([&] { return nothing.state().failures > 0; }));
  CHECK(nothing.whyMissing(0) == "nothing that it printed matches ^([-+0-9.,]+) g$");
  InstrumentSource failing(scale("echo 'no scale here'; exit 3", false));
  REQUIRE(eventually([&] { return failing.state().failures > 0; }));
  CHECK(failing.whyMissing(0) == "the command ended with 3, its last words: no scale here");
  Instrument slow = scale("sleep 100", false);
  slow.timeoutS = 0.3;
  InstrumentSource late(slow);
  REQUIRE(eventually([&] { return late.state().failures > 0; }));
  CHECK(late.whyMissing(0) == "it did not end within 0.3 s");
}

TEST_CASE("linesAreFollowedAndTheCommandStartedAgain") {
  const TempFolder folder;
  const std::string pid = folder.path("pid");
  InstrumentSource source(scale("echo $$ > " + pid + "; while true; do echo '7.25 g'; sleep 0.05; done", true));
  REQUIRE(eventually([&] { return source.sweep().values[0] == 7.25; }));
  const int first = pidIn(pid);
  REQUIRE(first > 0);
  kill(first, SIGKILL);
  REQUIRE(eventually([&] { return source.isGone(); }));
  CHECK(source.whyMissing(0).starts_with("the command was ended by signal 9"));
  REQUIRE(eventually([&] { return !source.isGone() && source.sweep().values[0] == 7.25; }));
  CHECK(pidIn(pid) != first);
}

TEST_CASE("aCommandEndsWithItsInstrumentDescendantsToo") {
  const TempFolder folder;
  const std::string pid = folder.path("pid");
  {
    InstrumentSource source(scale("setsid sh -c 'echo $$ > " + pid + "; sleep 1000' & echo '1 g'; wait", true));
    REQUIRE(eventually([&] { return pidIn(pid) > 0; }));
    CHECK(isRunning(pidIn(pid)));
  }
  CHECK(eventually([&] { return !isRunning(pidIn(pid)); }));
}

TEST_CASE("linesThatStopMakeTheReadingMissing") {
  InstrumentSource source(scale("echo '3 g'; sleep 1000", true));
  REQUIRE(eventually([&] { return source.sweep().values[0] == 3; }));
  // It counts for two of its intervals, at least a second.
  CHECK(eventually([&] { return std::isnan(source.sweep().values[0]); }));
  CHECK_FALSE(source.isGone());
}
