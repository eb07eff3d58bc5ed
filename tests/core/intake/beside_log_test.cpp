// SPDX-License-Identifier: GPL-3.0-or-later
// A meter's own log stands beside a run, on the run's clock, and can be taken off again.
#include <catch2/catch.hpp>
#include <cmath>
#include <cstdlib>

#include "book/beside.h"
#include "book/book.h"
#include "intake/beside_log.h"
#include "intake/take_in.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

double powerAt(double t) {
  if (t < 120 || t > 1500) return 9;
  if (t > 700 && t < 760) return 30;
  return 88 + 4 * std::exp(-(t - 120) / 200);
}

/// A book with a run of power and temperature, and a meter's log of the wall that began `offsetS` later.
struct Bench {
  TempFolder folder;
  std::string book = folder.path("b.ashbook"), run;
  Bench() {
    setenv("XDG_STATE_HOME", folder.path("state").c_str(), 1);
    std::string text = "time,CPU [°C],CPU power [W]\n";
    for (int i = 0; i < 1800; ++i)
      text += std::to_string(i) + "," + std::to_string(30 + powerAt(i) / 3) + "," + std::to_string(powerAt(i)) + "\n";
    const auto taken = takeIn(folder.write("run.csv", text), {}, {book, "s", "mesh", "vector"});
    REQUIRE(taken);
    run = taken->run;
  }
  ~Bench() { unsetenv("XDG_STATE_HOME"); }

  std::string meter(double offsetS, double stepS = 1, double lastS = 1700) const {
    std::string text = "elapsed,P [W],State\n";
    for (double t = 0; t + offsetS < lastS; t += stepS)
      text += std::to_string(t) + "," + std::to_string(powerAt(t + offsetS) * 1.15 + 20) + "," +
              (t < 300 ? "warming" : "ready") + "\n";
    return folder.write("meter.csv", text);
  }
  ImportWishes asWall() const {
    ImportWishes wishes;
    wishes.map["P"] = {"wall.power", ""};
    return wishes;
  }
  RunLog read() const {
    auto run_ = Book::open(book, BookAccess::ReadOnly)->readRun(run);
    REQUIRE(run_);
    return *run_;
  }
};

}  // namespace

TEST_CASE("aMetersLogIsPlacedByThePowerBothSaw") {
  const Bench bench;
  BesideWishes wishes{bench.book, bench.run, {}, {{"P", "1 % + 0.5 W"}}, {{"wall.power", "before the UPS"}}};
  const RunLog before = bench.read();
  const auto taken = takeBeside(bench.meter(33.4), bench.asWall(), wishes);
  REQUIRE(taken);
  INFO(taken->refusal);
  REQUIRE(taken->source == "meter.csv");
  CHECK(std::abs(taken->offset.offsetS - 33.4) < 1);
  CHECK(taken->by == std::vector<std::string>{"wall.power", "cpu.power"});
  const RunLog after = bench.read();
  // The run itself is as it was: the same moments and values.
  CHECK(after.log.timeS == before.log.timeS);
  CHECK(after.log.find("cpu.power")->values == before.log.find("cpu.power")->values);
  const Channel* wall = after.log.find("wall.power");
  REQUIRE(wall != nullptr);
  CHECK(wall->values[1000] == Approx(powerAt(1000) * 1.15 + 20).margin(0.2));
  CHECK(std::isnan(wall->values[10]));  // the meter did not run yet
  CHECK(after.facts.accuracies.at("wall.power").percent == 1);
  CHECK(after.facts.places.at("wall.power") == "before the UPS");
  CHECK(Book::open(bench.book, BookAccess::ReadOnly)->check()->empty());
}

TEST_CASE("theSearchForAClockSaysHowFarItIsAndIsGivenUp") {
  const Bench bench;
  const BesideWishes wishes{bench.book, bench.run, {}, {}, {}};
  std::vector<double> shares;
  REQUIRE(takeBeside(bench.meter(33.4), bench.asWall(), wishes, [&](double share) {
    shares.push_back(share);
    return true;
  }));
  CHECK(std::is_sorted(shares.begin(), shares.end()));
  CHECK(shares.back() >= 0.5);
  CHECK(shares.back() <= 1);
  REQUIRE(takeOffBeside(bench.book, bench.run, "meter.csv"));
  // In the middle of the search: nothing is kept.
  const auto taken = takeBeside(bench.meter(33.4), bench.asWall(), wishes, [](double share) { return share < 0.5; });
  REQUIRE_FALSE(taken);
  CHECK(taken.error().message == "It was given up: nothing of the log was kept.");
  CHECK(bench.read().log.find("wall.power") == nullptr);
}

TEST_CASE("whatWasPutBesideIsTakenOffWithoutATrace") {
  const Bench bench;
  const RunLog before = bench.read();
  const std::string meter = bench.meter(33);
  BesideWishes wishes{bench.book, bench.run, 33.0, {}, {}};
  REQUIRE(takeBeside(meter, bench.asWall(), wishes)->source == "meter.csv");
  REQUIRE(takeBeside(meter, bench.asWall(), wishes)->source == "meter.csv (2)");
  RunLog both = bench.read();
  CHECK(both.log.find("wall.power") != nullptr);
  CHECK(both.log.find("wall.power (2)") != nullptr);
  CHECK(both.facts.events.size() == before.facts.events.size() + 4);  // "warming", "ready", of each
  REQUIRE(takeOffBeside(bench.book, bench.run, "meter.csv"));
  both = bench.read();
  CHECK(both.log.find("wall.power") != nullptr);
  CHECK(both.log.find("wall.power (2)") == nullptr);
  REQUIRE(takeOffBeside(bench.book, bench.run, "meter.csv (2)"));
  const RunLog after = bench.read();
  CHECK(after.log.channels.size() == before.log.channels.size());
  CHECK(after.facts.events.size() == before.facts.events.size());
  const Status again = takeOffBeside(bench.book, bench.run, "meter.csv");
  REQUIRE_FALSE(again);
  CHECK(again.error().message.find("meter.csv") != std::string::npos);
}

TEST_CASE("aDenserLogGivesEachMomentTheMeanOfWhatLiesThere") {
  const Bench bench;
  std::string text = "time,P [W]\n";  // ten a second: ten values around each moment, 0 to 9
  for (int i = 0; i < 3000; ++i) text += std::to_string(i / 10.0) + "," + std::to_string((i + 5) % 10) + "\n";
  ImportWishes imported = bench.asWall();
  REQUIRE(takeBeside(bench.folder.write("dense.csv", text), imported, {bench.book, bench.run, 100.0, {}, {}}));
  const RunLog run = bench.read();
  const Channel* wall = run.log.find("wall.power");
  REQUIRE(wall != nullptr);
  CHECK(wall->values[200] == Approx(4.5));
  CHECK(std::isnan(wall->values[99]));
  CHECK(std::isnan(wall->values[401]));
}

TEST_CASE("theLogsOwnSecondsCount") {
  const Bench bench;
  // A meter that has been on for 1000 s: 60 s of its clock are not 60 s since its first row.
  const std::string text = "time,P [W]\n1000,1\n1001,2\n1002,3\n1003,4\n";
  REQUIRE(takeBeside(bench.folder.write("on.csv", text), bench.asWall(), {bench.book, bench.run, -900.0, {}, {}}));
  CHECK(bench.read().log.find("wall.power")->values[102] == 3);
}

TEST_CASE("whatCannotStandBesideARunIsRefusedAndNothingIsKept") {
  const Bench bench;
  const RunLog before = bench.read();
  // Shapes that share nothing.
  std::string text = "time,P [W]\n";
  for (int i = 0; i < 900; ++i) text += std::to_string(i) + "," + std::to_string(50 + i * 7919 % 13) + "\n";
  const auto nothing =
      takeBeside(bench.folder.write("noise.csv", text), bench.asWall(), {bench.book, bench.run, {}, {}, {}});
  REQUIRE(nothing);
  CHECK(nothing->source.empty());
  CHECK(nothing->refusal.find("--offset") != std::string::npos);
  const std::string meter = bench.meter(33);
  CHECK_FALSE(takeBeside(meter, bench.asWall(), {bench.book, "no-such-run", 3.0, {}, {}}));
  CHECK_FALSE(takeBeside(meter, bench.asWall(), {bench.book, bench.run, 9000.0, {}, {}}));
  CHECK_FALSE(takeBeside(meter, bench.asWall(), {bench.book, bench.run, 33.0, {{"Q", "1 %"}}, {}}));
  CHECK_FALSE(takeBeside(meter, bench.asWall(), {bench.book, bench.run, 33.0, {{"P", "1 K"}}, {}}));
  CHECK(bench.read().log.channels.size() == before.log.channels.size());
}
