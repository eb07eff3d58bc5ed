// SPDX-License-Identifier: GPL-3.0-or-later
// Nothing that is printed, and nobody who does not read it, holds a recording up or ends it; names of any bytes.
#include <fcntl.h>
#include <sys/resource.h>
#include <sys/wait.h>

#include <catch2/catch.hpp>

#include "book/book.h"
#include "load/activity.h"
#include "model/text.h"
#include "system/clock.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Ran;

namespace {

// Four seconds on a machine with a load, with its progress in the terminal's manner.
const char* kPrintedRun =
    "run --book b.ashbook --study s --setup x --root root --threads 1 --interval 0.1 --phases 'idle 1s, soak 2s, cool "
    "1s'";

void printingMachine(const Bench& bench) { bench.write("root/proc/stat", "cpu  100 0 100 800 0 0 0 0 0 0\n"); }

Outcome outcomeOf(const Bench& bench) {
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  REQUIRE(book);
  const auto runs = book->runs();
  REQUIRE(runs->size() == 1);
  return runs->front().info.outcome;
}

/// Starts the run with its stderr in a pipe; the reading end is given.
pid_t startWithErrors(const Bench& bench, int& reader) {
  int ends[2];
  REQUIRE(pipe(ends) == 0);
  const pid_t child = fork();
  if (child == 0) {
    dup2(ends[1], 2);
    dup2(ends[1], 1);
    close(ends[0]);
    close(ends[1]);
    execl("/bin/sh", "sh", "-c", ("cd '" + bench.path() + "' && exec '" + ASHG_PROGRAM + "' " + kPrintedRun).c_str(),
          nullptr);
    _exit(127);
  }
  close(ends[1]);
  reader = ends[0];
  return child;
}

}  // namespace

TEST_CASE("aReaderThatGoesAwayEndsNoRun") {
  const Bench bench;
  printingMachine(bench);
  int reader = -1;
  const pid_t recorder = startWithErrors(bench, reader);
  char first = 0;
  CHECK(read(reader, &first, 1) == 1);
  close(reader);
  CHECK(Bench::wait(recorder, 15) == 0);
  CHECK(outcomeOf(bench) == Outcome::Completed);
}

TEST_CASE("aTerminalThatStandsStillHoldsNoRunUp") {
  const Bench bench;
  printingMachine(bench);
  int reader = -1;
  // As after Ctrl-S: nobody reads, and the pipe is full from the beginning.
  const pid_t recorder = [&] {
    int ends[2];
    REQUIRE(pipe(ends) == 0);
    fcntl(ends[1], F_SETFL, O_NONBLOCK);
    const std::string filler(65536, 'x');
    while (write(ends[1], filler.data(), filler.size()) > 0) {
    }
    fcntl(ends[1], F_SETFL, 0);
    reader = ends[0];
    const pid_t child = fork();
    if (child == 0) {
      dup2(ends[1], 2);
      close(ends[0]);
      close(ends[1]);
      execl("/bin/sh", "sh", "-c",
            ("cd '" + bench.path() + "' && exec '" + ASHG_PROGRAM + "' " + kPrintedRun + " >/dev/null").c_str(),
            nullptr);
      _exit(127);
    }
    close(ends[1]);
    return child;
  }();
  CHECK(Bench::wait(recorder, 15) == 0);
  close(reader);
  CHECK(outcomeOf(bench) == Outcome::Completed);
}

TEST_CASE("namesThatAreNoUtf8AreRefusedOrTakenAndStopNothing") {
  const Bench bench;
  printingMachine(bench);
  const std::string bad = "$(printf 'a\\377b')";
  for (const std::string option : {"--study", "--setup", "--load"}) {
    INFO(option);
    std::string names;
    for (const std::string name : {"--study", "--setup", "--load"})
      names += name + " " + (name == option ? "\"" + bad + "\" " : "vector ");
    const Ran ran = bench.ashg("run --book b.ashbook --sim larch12 --phases 'idle 1s' " + names);
    CHECK(ran.status == 2);
    CHECK(ran.err ==
          "ashg: " + option + " is no UTF-8 text (“a\uFFFDb”); type it on a terminal with a UTF-8 locale.\n");
  }
  CHECK_FALSE(std::filesystem::exists(bench.path("b.ashbook")));
  // A file's name is bytes and nothing else.
  const Ran ran = bench.ashg("run --book \"" + bad +
                             ".ashbook\" --study s --setup x --sim larch12 --speed 1000 --phases "
                             "'idle 5s'");
  INFO(ran.err);
  CHECK(ran.status == 0);
  CHECK(std::filesystem::exists(bench.path("a\377b.ashbook")));
  CHECK(bench.ashg("book info \"" + bad + ".ashbook\" --json").status == 0);
}

TEST_CASE("tooFewDescriptorsAreRaisedOrToldBeforeTheStart") {
  const Bench bench;
  printingMachine(bench);
  for (int chip = 0; chip < 24; ++chip) {
    const std::string at = "root/sys/class/hwmon/hwmon" + std::to_string(chip) + "/";
    bench.write(at + "name", "board\n");
    for (int n = 1; n <= 50; ++n) bench.write(at + "temp" + std::to_string(n) + "_input", "31000\n");
  }
  const auto missingIn = [&](const std::string& limits) {
    std::filesystem::remove(bench.path("b.ashbook"));
    const std::string command =
        "cd '" + bench.path() + "' && " + limits + " && '" + ASHG_PROGRAM +
        "' run --book b.ashbook --study s --setup x --root root --interval 0.2 --phases 'idle 1s' "
        ">/dev/null 2>.err";
    REQUIRE(std::system(command.c_str()) == 0);
    const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
    const auto run = book->readRun(book->runs()->front().info.id);
    int missing = 0;
    for (const Channel& channel : run->log.channels)
      missing += channel.quantity == Quantity::Temperature && !(channel.values.back() > 0);
    return missing;
  };
  // The shell's soft limit is one that may be raised.
  CHECK(missingIn("ulimit -Sn 1024 -Hn 4096 2>/dev/null || ulimit -Sn 1024") == 0);
  CHECK(tests::readFile(bench.path(".err")).find("Too few files") == std::string::npos);
  // The hard one is not.
  CHECK(missingIn("ulimit -n 1024") > 0);
  const std::string told = tests::readFile(bench.path(".err"));
  CHECK(told.find("Too few files may be open here: the readings need 12") != std::string::npos);
  CHECK(told.find("the limit is 1024") != std::string::npos);
}

TEST_CASE("aWrittenFileTakesNobodyElsesPlace") {
  const Bench bench;
  bench.write("log.csv.part", "precious");
  REQUIRE(bench.ashg("sample --sim larch12 --speed 1000 --interval 1 --seconds 5 --out log.csv").status == 0);
  CHECK(tests::readFile(bench.path("log.csv.part")) == "precious");
  CHECK(tests::readFile(bench.path("log.csv")).find("time [s],") == 0);
  int parts = 0;
  for (const auto& entry : std::filesystem::directory_iterator(bench.path()))
    parts += entry.path().extension() == ".part";
  CHECK(parts == 1);
}
