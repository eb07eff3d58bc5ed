// SPDX-License-Identifier: GPL-3.0-or-later
// A book from elsewhere runs nothing, and changes nothing of what is watched, before it is confirmed whole.
#include <sqlite3.h>
#include <sys/stat.h>

#include <catch2/catch.hpp>
#include <fstream>

#include "book/book.h"
#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Ran;

namespace {

struct OwnBench : Bench {
  OwnBench() { write("root/proc/stat", "cpu  100 0 100 800 0 0 0 0 0 0\n"); }
  /// A book as a stranger makes it: with this load, and nothing that was confirmed here.
  void strangersBook(const std::string& load, const Json& spec, const Json& plan = Json::object()) const {
    std::filesystem::remove(path("b.ashbook"));
    auto book = Book::create(path("b.ashbook"));
    Study study;
    study.name = "s";
    study.plan = plan;
    study.setups = {{"x", Json::object(), Json::object(), Json::object()}};
    study.loads = {{load, spec}};
    REQUIRE(book->putStudy({}, study));
  }
  Ran run(const std::string& load, const std::string& more = "") const {
    return ashg("run --book b.ashbook --study s --setup x --root root --interval 0.1 --phases 'soak 5s' --load '" +
                load + "' " + more);
  }
  bool hasRun() const { return std::filesystem::exists(path("ran")); }
};

Json touching() { return {{"kind", "command"}, {"command", "touch ran; sleep 0.2"}, {"repeats", 1}}; }

}  // namespace

TEST_CASE("aConfirmedCommandWithAnotherEnvironmentIsAnotherCommand") {
  const OwnBench bench;
  bench.strangersBook("render", touching());
  CHECK(bench.run("render").status == 2);
  CHECK_FALSE(bench.hasRun());
  REQUIRE(bench.ashg("book allow b.ashbook --all").status == 0);
  const Ran allowed = bench.run("render");
  INFO(allowed.err);
  CHECK(allowed.status == 0);
  CHECK(bench.hasRun());
  for (const auto& [key, value] :
       std::vector<std::pair<std::string, Json>>{{"environment", {{"PATH", bench.path("evil")}}},
                                                 {"folder", bench.path("run")},
                                                 {"live", {{"x", "([0-9])"}}}}) {
    INFO(key);
    std::filesystem::remove(bench.path("ran"));
    Json other = touching();
    other[key] = value;
    bench.strangersBook("render", other);
    const Ran refused = bench.run("render");
    CHECK(refused.status == 2);
    CHECK(refused.err.find("that nobody has confirmed on this machine (kind: command; command: touch ran; sleep 0.2") !=
          std::string::npos);
    CHECK(refused.err.find(key) != std::string::npos);
    CHECK_FALSE(bench.hasRun());
  }
}

TEST_CASE("allThatDecidesIsListedBeforeItIsConfirmed") {
  const OwnBench bench;
  Json spec = touching();
  spec["environment"] = {{"PATH", "/opt/evil"}};
  bench.strangersBook("render", spec);
  const Ran told = bench.ashg("book allow b.ashbook");
  CHECK(told.out ==
        "not yet  s / load render: command\n"
        "           kind: command\n"
        "           command: touch ran; sleep 0.2\n"
        "           repeats: 1\n"
        "           environment.PATH: /opt/evil\n");
  CHECK(Json::parse(bench.ashg("book allow b.ashbook --json").out)["parts"][0]["whole"] == spec);
}

TEST_CASE("aNameThatLooksTypedIsNotTyped") {
  const OwnBench bench;
  // A load that is called like the line that it is: what window and queue pass on is a name, and nobody typed it.
  const std::string line = "command repeats=1 command=\"touch ran; sleep 0.2\"";
  REQUIRE(bench.run(line).status == 0);  // typed: confirmed by that
  REQUIRE(bench.hasRun());
  std::filesystem::remove(bench.path("ran"));
  std::filesystem::remove_all(bench.path("config"));
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  REQUIRE(book->studies()->front().loads[0].name == line);
  CHECK(bench.run(line, "--as-planned").status == 2);
  CHECK_FALSE(bench.hasRun());
  const Ran queue = bench.ashg("queue --book b.ashbook --study s --root root --changed");
  CHECK(queue.err.find("nobody has confirmed") != std::string::npos);
  CHECK_FALSE(bench.hasRun());
}

TEST_CASE("aCommandThatWasTypedRunsLaterOutOfTheBook") {
  const OwnBench bench;
  REQUIRE(bench.run("command repeats=1 command=\"touch ran; sleep 0.2\"").status == 0);
  std::filesystem::remove(bench.path("ran"));
  CHECK(bench.run("command repeats=1 command=\"touch ran; sleep 0.2\"", "--as-planned").status == 0);
  CHECK(bench.hasRun());
}

TEST_CASE("aBenchThatABookNamesIsNoDeviceAndIsAskedAbout") {
  const OwnBench bench;
  const auto queue = [&](const char* file) {
    bench.strangersBook("vector", {{"kind", "vector"}}, {{"bench", file}, {"phases", "idle 1s"}});
    return bench.ashg("queue --book b.ashbook --study s --changed");
  };
  CHECK(queue("/dev/zero").err.find("has a bench that nobody has confirmed on this machine (bench: /dev/zero)") !=
        std::string::npos);
  REQUIRE(bench.ashg("book allow b.ashbook --all").status == 0);
  // Confirmed or not: no device, no pipe and nothing without end is read.
  const Ran zero = bench.ashg("queue --book b.ashbook --study s --changed");
  CHECK(zero.err.find("There is no bench \"/dev/zero\"") != std::string::npos);
  REQUIRE(mkfifo(bench.path("pipe.json").c_str(), 0600) == 0);
  CHECK(bench.ashg("run --book c.ashbook --study s --setup x --sim pipe.json").status == 2);
  bench.write("big.json", std::string(5'000'000, ' '));
  CHECK(bench.ashg("run --book c.ashbook --study s --setup x --sim big.json").status == 2);
}

TEST_CASE("whatABookSaysOfReadingsIsAProposalUntilItIsAccepted") {
  const OwnBench bench;
  bench.write("root/proc/sys/kernel/hostname", "studio\n");
  bench.write("root/sys/class/hwmon/hwmon0/name", "board\n");
  bench.write("root/sys/class/hwmon/hwmon0/temp1_input", "31000\n");
  const auto roleOf = [&] {
    const Json all = Json::parse(bench.ashg("readings --root root --book b.ashbook --json").out);
    for (const Json& reading : all["readings"]) {
      if (reading["kind"] == "temp") return reading["role"];
    }
    return Json("none at all");
  };
  const std::string id =
      Json::parse(bench.ashg("readings --root root --json").out)["readings"][0]["id"].get<std::string>();
  {
    auto book = Book::create(bench.path("b.ashbook"));
    REQUIRE(book->putReadingChoice("studio", id, {std::string("board.temp.vrm"), {}, false}));
  }
  CHECK(roleOf() != "board.temp.vrm");
  CHECK(bench.ashg("readings --root root --book b.ashbook").err.find("says of 1 reading of this machine") !=
        std::string::npos);
  const Ran told = bench.ashg("book allow b.ashbook --root root");
  CHECK(told.out.find("not yet  reading " + id + ": reading") == 0);
  CHECK(told.out.find("said.role: board.temp.vrm") != std::string::npos);
  REQUIRE(bench.ashg("book allow b.ashbook --root root --all").status == 0);
  CHECK(roleOf() == "board.temp.vrm");
  // What is said here counts at once.
  REQUIRE(bench.ashg("readings --root root --book b.ashbook --means '" + id + "=case.temp'").status == 0);
  CHECK(roleOf() == "case.temp");
}

TEST_CASE("recoverLeavesADamagedFileAsItIsToTheByte") {
  const Bench bench;
  REQUIRE(bench
              .ashg("run --book b.ashbook --study s --setup mesh --sim larch12 --speed 100000 --phases 'idle 5s, soak "
                    "20s'")
              .status == 0);
  // A log beside it, as a killed recorder leaves it: closing the file would write it into the damaged pages.
  sqlite3* writer = nullptr;
  REQUIRE(sqlite3_open(bench.path("b.ashbook").c_str(), &writer) == SQLITE_OK);
  REQUIRE(sqlite3_exec(writer, "UPDATE study SET question = 'late'", nullptr, nullptr, nullptr) == SQLITE_OK);
  std::filesystem::copy_file(bench.path("b.ashbook"), bench.path("d.ashbook"));
  std::filesystem::copy_file(bench.path("b.ashbook-wal"), bench.path("d.ashbook-wal"));
  sqlite3_close(writer);
  {
    std::fstream file(bench.path("d.ashbook"), std::ios::in | std::ios::out | std::ios::binary);
    file.seekp(4096 * 6);
    file << std::string(4096 * 2, '\x55');
  }
  const std::string before = tests::readFile(bench.path("d.ashbook")),
                    log = tests::readFile(bench.path("d.ashbook-wal"));
  REQUIRE_FALSE(log.empty());
  const Ran recovered = bench.ashg("book recover d.ashbook");
  INFO(recovered.out << recovered.err);
  CHECK(recovered.status == 0);
  CHECK(recovered.out.find("d.ashbook is damaged.") == 0);
  CHECK(tests::readFile(bench.path("d.ashbook")) == before);
  CHECK(tests::readFile(bench.path("d.ashbook-wal")) == log);
  CHECK(Book::open(bench.path("d-saved.ashbook"), BookAccess::ReadOnly)->studies()->front().question == "late");
}
