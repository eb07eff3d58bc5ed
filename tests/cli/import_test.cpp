// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg import`: what is said of a log, what is kept of it, and how it is refused.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>

#include "book/book.h"
#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using namespace ash::tests;

namespace {

constexpr char kLog[] =
    "Bench of mine\n\nZeit;CPU-Temperatur [°C];Sensor 7 [°C];Drehzahl [1/min]\n29.11.2026 19:04:00;41,5;30;900\n"
    "29.11.2026 19:04:01;42,5;31;n/a?\n29.11.2026 19:04:02;43,5;32;920\n";

std::string longLog(int rows) {
  std::string text = "time,CPU [°C],Power [W]\n";
  for (int i = 0; i < rows; ++i) text += std::to_string(i) + ".5,41.25,88.125\n";
  return text;
}

}  // namespace

TEST_CASE("aLookSaysWhatWasUnderstoodAndKeepsNothing") {
  const Bench bench;
  bench.write("log.csv", kLog);
  const Ran look = bench.ashg("import log.csv --look --json");
  INFO(look.err);
  REQUIRE(look.status == 0);
  const Json facts = parseObject(look.out);
  CHECK(facts["contract"] == 1);
  CHECK(facts["encoding"] == "utf-8");
  CHECK(facts["separator"] == ";");
  CHECK(facts["decimal"] == ",");
  CHECK(facts["header_line"] == 3);
  CHECK(facts["first_line"] == 4);
  CHECK(facts["rows"] == 3);
  CHECK(facts["time"]["columns"] == Json::array({"Zeit"}));
  CHECK(facts["time"]["starts"] == "2026-11-29T19:04:00");
  CHECK(facts["time"]["interval_s"] == 1.0);
  REQUIRE(facts["columns"].size() == 3);
  CHECK(facts["columns"][0] == Json{{"name", "CPU-Temperatur"},
                                    {"unit", "°C"},
                                    {"role", "cpu.temp"},
                                    {"why", "rule"},
                                    {"doubt", nullptr},
                                    {"taken", 3},
                                    {"refused", 0},
                                    {"first_refused", nullptr}});
  CHECK(facts["columns"][1]["role"].is_null());
  CHECK(facts["columns"][1]["why"] == "none");
  CHECK(facts["columns"][2]["refused"] == 1);
  CHECK(facts["columns"][2]["first_refused"] == Json{{"line", 5}, {"column", 4}, {"text", "n/a?"}});
  CHECK(facts.find("run") == facts.end());
}

TEST_CASE("aLogIsKeptAnalysedAndItsColumnsRemembered") {
  const Bench bench;
  bench.write("log.csv", kLog);
  const Ran kept =
      bench.ashg("import log.csv --book b.ashbook --study s --setup a --map 'Sensor 7=coolant.temp' --json");
  INFO(kept.err);
  REQUIRE(kept.status == 0);
  const std::string run = parseObject(kept.out)["run"];
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  const auto read = book->readRun(run);
  REQUIRE(read);
  CHECK(read->log.find("coolant.temp")->values == std::vector<double>{30, 31, 32});
  CHECK(bench.ashg("analyze --book b.ashbook " + run).status == 0);
  // What was said of a column holds for the next log of this person.
  const Json look = parseObject(bench.ashg("import log.csv --look --json").out);
  CHECK(look["columns"][1]["role"] == "coolant.temp");
  CHECK(look["columns"][1]["why"] == "earlier");
}

TEST_CASE("whatCannotBeTakenInIsRefusedWithOneLine") {
  const Bench bench;
  bench.write("letter.txt", "Dear reader,\nthis is no log.\n");
  bench.write("open.csv", "time,CPU [°C]\n05/04/2026 09:30:00,40\n05/04/2026 09:30:01,41\n");
  const auto refused = [&](const std::string& arguments, const std::string& words) {
    const Ran ran = bench.ashg("import " + arguments + " --book n.ashbook");
    INFO(arguments << ": " << ran.err);
    CHECK(ran.status == 2);
    CHECK(ran.err.find(words) != std::string::npos);
    CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
    CHECK_FALSE(std::filesystem::exists(bench.path("n.ashbook")));
  };
  refused("letter.txt", "There is no log in letter.txt");
  refused("open.csv", "--time");
  refused("open.csv --time 'DD/MM hh'", "--time");
  refused("open.csv --map 'CPU=cpu.tempp'", "there is no role");
  refused("open.csv --map 'GPU=gpu.temp' --time 'DD/MM/YYYY hh:mm:ss'", "there is no column \"GPU\"");
  refused("gone.csv", "Cannot read gone.csv");
  CHECK(bench.ashg("import open.csv --book y.ashbook --time 'DD/MM/YYYY hh:mm:ss'").status == 0);
}

TEST_CASE("anImportThatIsInterruptedLeavesNothing") {
  const Bench bench;
  bench.write("long.csv", longLog(3'000'000));
  const pid_t importing = bench.start({"import", "long.csv", "--book", "b.ashbook"});
  // It has begun when its book is there.
  REQUIRE(Bench::waitUntil([&] { return std::filesystem::exists(bench.path("b.ashbook")); }, 20));
  kill(importing, SIGINT);
  CHECK(Bench::wait(importing, 30) != 0);
  for (const char* end : {"", "-wal", "-shm"}) CHECK_FALSE(std::filesystem::exists(bench.path("b.ashbook") + end));
}

TEST_CASE("aMetersLogIsPutBesideARunAndTakenOffByName") {
  const Bench bench;
  const auto powerAt = [](double t) { return t < 100 || t > 700 ? 9.0 : t > 400 && t < 430 ? 40.0 : 88.0; };
  std::string run = "time,CPU [°C],CPU power [W]\n", meter = "elapsed,P [W]\n";
  for (int i = 0; i < 900; ++i)
    run += std::to_string(i) + "," + std::to_string(30 + i % 7) + "," + std::to_string(powerAt(i)) + "\n";
  for (int i = 0; i < 800; ++i) meter += std::to_string(i) + "," + std::to_string(20 + 1.15 * powerAt(i + 25)) + "\n";
  bench.write("run.csv", run);
  bench.write("meter.csv", meter);
  const std::string id = parseObject(bench.ashg("import run.csv --book b.ashbook --json").out)["run"];
  const std::string into = "--book b.ashbook --into " + id;
  const Ran put = bench.ashg("import meter.csv " + into + " --map P=wall.power --json");
  INFO(put.err);
  REQUIRE(put.status == 0);
  const Json told = parseObject(put.out);
  CHECK(told["source"] == "meter.csv");
  CHECK(std::abs(told["offset_s"].get<double>() - 25) < 1);
  CHECK(told["offset_low_s"] <= told["offset_s"]);
  CHECK(told["offset_s"] <= told["offset_high_s"]);
  CHECK(told["drift_ppm"].is_null());
  CHECK(told["by"] == Json::array({"wall.power", "cpu.power"}));
  // A look says the same and keeps nothing.
  const Ran look = bench.ashg("import meter.csv " + into + " --map P=wall.power --look --json");
  REQUIRE(look.status == 0);
  CHECK(parseObject(look.out)["source"] == "");
  // It goes along into a package, and back.
  REQUIRE(bench.ashg("export --book b.ashbook --to out --study \"Taken in\"").status == 0);
  REQUIRE(bench.ashg("import out --book c.ashbook").status == 0);
  const std::string figures = bench.ashg("analyze " + id + " --book b.ashbook --json").out;
  CHECK(figures.find("wall.power") != std::string::npos);
  CHECK(bench.ashg("analyze " + id + " --book c.ashbook --json").out == figures);
  // What cannot be told is an answer; what is wrong is wrong.
  std::string other = "elapsed,P [W]\n";
  for (int i = 0; i < 500; ++i) other += std::to_string(i) + "," + std::to_string(50 + i * 7919 % 13) + "\n";
  bench.write("other.csv", other);
  const Ran untold = bench.ashg("import other.csv " + into);
  CHECK(untold.status == 1);
  CHECK(std::count(untold.err.begin(), untold.err.end(), '\n') == 1);
  CHECK(bench.ashg("import meter.csv " + into + " --offset soon").status == 2);
  CHECK(bench.ashg("import meter.csv --book b.ashbook --offset 3").status == 2);
  CHECK(bench.ashg("import meter.csv " + into + " --note 'room 22'").status == 2);
  CHECK(bench.ashg("import out " + into).status == 2);  // a package is no log
  CHECK(bench.ashg("import out --book d.ashbook --skip P").status == 2);
  CHECK(bench.ashg("import " + into + " --off other.csv").status == 2);
  CHECK(bench.ashg("import " + into + " --off meter.csv").status == 0);
  CHECK(bench.ashg("analyze " + id + " --book b.ashbook --json").out.find("wall.power") == std::string::npos);
}

TEST_CASE("whatIsKnownBesidesIsTypedAsInTheEntryLine") {
  const Bench bench;
  bench.write("log.csv", longLog(300));
  const Ran taken = bench.ashg("import log.csv --book b.ashbook --note 'room 22.4' --note 'note new paste' --json");
  INFO(taken.err);
  REQUIRE(taken.status == 0);
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  const auto run = book->readRun(parseObject(taken.out)["run"]);
  REQUIRE(run);
  REQUIRE(run->facts.events.size() == 2);
  const auto& events = run->facts.events;
  CHECK(std::any_of(events.begin(), events.end(),
                    [](const Event& one) { return one.role == "room.temp" && one.value == 22.4; }));
  CHECK(std::any_of(events.begin(), events.end(), [](const Event& one) { return one.text == "new paste"; }));
  const Ran wrong = bench.ashg("import log.csv --book c.ashbook --note 'room warm'");
  CHECK(wrong.status == 2);
  CHECK_FALSE(std::filesystem::exists(bench.path("c.ashbook")));
}
