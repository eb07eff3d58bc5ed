// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg readings`: what is found, what has been said of it, what may not be read.
#include <catch2/catch.hpp>

#include "book/book.h"
#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Ran;

namespace {

const std::string kRoot = "root/sys/devices/platform/board.0/hwmon/hwmon2";
const std::string kId = "sys/devices/platform/board.0/hwmon/hwmon*/temp1_input";

void writeMachine(const Bench& bench) {
  bench.write(kRoot + "/name", "nct6798\n");
  bench.write(kRoot + "/temp1_input", "41250\n");
  bench.write(kRoot + "/temp1_label", "AUXTIN3\n");
  bench.write(kRoot + "/temp2_input", "-62000\n");
  bench.write(kRoot + "/fan1_input", "900\n");
  bench.write("root/proc/sys/kernel/hostname", "larch\n");
  bench.write("root/proc/stat", "cpu  1 0 0 1 0 0 0 0\n");
  std::filesystem::create_directories(bench.path("root/sys/class/hwmon"));
  std::filesystem::create_directory_symlink(bench.path(kRoot), bench.path("root/sys/class/hwmon/hwmon2"));
}

Json readings(const Bench& bench, const std::string& more = "") {
  const Ran ran = bench.ashg("readings --root root --json " + more);
  INFO(ran.err);
  REQUIRE(ran.status == 0);
  return Json::parse(ran.out);
}

Json one(const Json& all, const std::string& id) {
  for (const Json& reading : all["readings"]) {
    if (reading["id"] == id) return reading;
  }
  return {};
}

}  // namespace

TEST_CASE("readingsAreListedWithTheirMeaningAndWhatIsLeftOut") {
  const Bench bench;
  writeMachine(bench);
  const Json all = readings(bench);
  const Json reading = one(all, kId);
  CHECK(reading["path"] == "sys/devices/platform/board.0/hwmon/hwmon2/temp1_input");
  CHECK(reading["value"] == 41.25);
  CHECK(reading["unit"] == "°C");
  CHECK(reading["role"].is_null());
  REQUIRE(all["skipped"].size() == 1);
  CHECK(all["skipped"][0]["path"] == "sys/devices/platform/board.0/hwmon/hwmon2/temp2_input");
  const Ran words = bench.ashg("readings --root root");
  CHECK(words.out.find("Air and fans\n") != std::string::npos);
  CHECK(words.out.find("AUXTIN3") != std::string::npos);
}

TEST_CASE("whatAReadingMeansIsKeptInTheBookForTheMachine") {
  const Bench bench;
  writeMachine(bench);
  const Json said =
      readings(bench, "--book b.ashbook --means '" + kId + "=room.temp' --limit '" + kId + "=throttle=60'");
  CHECK(one(said, kId)["role"] == "room.temp");
  CHECK(one(said, kId)["limits"]["throttle"] == 60);
  CHECK(one(said, kId)["limit_origins"]["throttle"] == "typed");
  CHECK(one(readings(bench, "--book b.ashbook"), kId)["role"] == "room.temp");
  CHECK(one(readings(bench), kId)["role"].is_null());  // another book, another word
  // A run in that book follows it.
  const Ran ran = bench.ashg("run --book b.ashbook --study s --setup x --root root --interval 0.1 --phases 'idle 1s'");
  INFO(ran.err);
  REQUIRE(ran.status == 0);
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  const auto run = book->readRun(book->runs()->front().info.id);
  REQUIRE(run->log.find("room.temp"));
  CHECK(run->log.find("room.temp")->values.front() == 41.25);
  bool hasEnd = false;
  for (const Event& event : run->facts.events) hasEnd |= event.kind == EventKind::Settings;
  CHECK(hasEnd);
  CHECK(book->check()->empty());
  // On another machine the same place is another reading.
  bench.write("root/proc/sys/kernel/hostname", "other\n");
  CHECK(one(readings(bench, "--book b.ashbook"), kId)["role"].is_null());
}

TEST_CASE("aReadingIsHiddenShownAgainAndForgotten") {
  const Bench bench;
  writeMachine(bench);
  CHECK(one(readings(bench, "--book b.ashbook --hide '" + kId + "'"), kId).is_null());
  CHECK(bench.ashg("readings --root root --book b.ashbook").out.find("hidden by you") != std::string::npos);
  CHECK_FALSE(one(readings(bench, "--book b.ashbook --unhide '" + kId + "'"), kId).is_null());
  readings(bench, "--book b.ashbook --means '" + kId + "=case.temp'");
  CHECK(one(readings(bench, "--book b.ashbook --forget '" + kId + "'"), kId)["role"].is_null());
}

TEST_CASE("whatIsSaidWronglyIsRefusedInASentence") {
  const Bench bench;
  writeMachine(bench);
  for (const std::string& wrong : std::vector<std::string>{
           "--means '" + kId + "=no.role'", std::string("--means 'nowhere=room.temp'"), "--means '" + kId + "=fan.cpu'",
           "--limit '" + kId + "=throttle=hot'", std::string("--hide nothing")}) {
    const Ran ran = bench.ashg("readings --root root --book b.ashbook " + wrong);
    INFO(wrong);
    CHECK(ran.status == 2);
    CHECK(ran.out.empty());
    CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
    CHECK_FALSE(std::filesystem::exists(bench.path("b.ashbook")));  // what was refused has made no book
  }
  CHECK(bench.ashg("readings --root root --means '" + kId + "=room.temp'").status == 2);  // no book to keep it in
}

TEST_CASE("whoHasNoRightsIsToldTheRemedyOnce") {
  if (geteuid() != 0 || std::system("command -v setpriv >/dev/null") != 0) {
    WARN("left out: needs root and setpriv, to be somebody else");
    return;
  }
  const Bench bench;
  writeMachine(bench);
  const std::string zone = "root/sys/devices/virtual/powercap/intel-rapl/intel-rapl:0";
  bench.write(zone + "/name", "package-0\n");
  const std::string counter = bench.write(zone + "/energy_uj", "123456\n");
  std::filesystem::permissions(counter, std::filesystem::perms::owner_read);
  std::filesystem::create_directories(bench.path("root/sys/class/powercap"));
  std::filesystem::create_directory_symlink(bench.path(zone), bench.path("root/sys/class/powercap/intel-rapl:0"));
  std::filesystem::permissions(bench.path(), std::filesystem::perms(0755));
  const std::string as = "setpriv --reuid=65534 --regid=65534 --clear-groups";
  const Ran ran = bench.ashg("readings --root root --json", as);
  INFO(ran.err);
  REQUIRE(ran.status == 0);
  const Json all = Json::parse(ran.out);
  bool isTold = false;
  for (const Json& skipped : all["skipped"])
    isTold |= skipped["path"] == "sys/devices/virtual/powercap/intel-rapl/intel-rapl:0/energy_uj" &&
              skipped["why"] == "needs rights: only root may read it; `ashg readings --rights` tells how to let others";
  CHECK(isTold);
  CHECK(bench.ashg("readings --root root", as).err.find("No processor power: only root may read its energy counter") !=
        std::string::npos);
  const Ran rule = bench.ashg("readings --rights");
  CHECK(rule.status == 0);
  CHECK(rule.out == tests::readFile(PROJECT_FOLDER "/packaging/60-ash-gauge.rules"));
}
