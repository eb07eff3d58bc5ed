// SPDX-License-Identifier: GPL-3.0-or-later
// A foreign log becomes a run of a book: every value as it was, whole or not at all, whoever is killed meanwhile.
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <random>

#include "analysis/analyze.h"
#include "book/book.h"
#include "intake/take_in.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// Remembers columns for this test only.
struct OwnMemory {
  explicit OwnMemory(const TempFolder& folder) { setenv("XDG_STATE_HOME", folder.path("state").c_str(), 1); }
  ~OwnMemory() { unsetenv("XDG_STATE_HOME"); }
};

std::string logOf(int rows) {
  std::string text = "Date;Time;CPU [°C];Package power [W];Room [°C];Mode\n";
  for (int i = 0; i < rows; ++i) {
    const bool isLoaded = i >= 120;
    const int second = i % 60, minute = i / 60 % 60, hour = 9 + i / 3600;
    char line[160];
    snprintf(line, sizeof line, "04.05.2026;%02d:%02d:%02d;%.4f;%.3f;22,5;%s\n", hour, minute, second,
             isLoaded ? 70 - 30 * std::exp(-(i - 120) / 90.0) : 40.0, isLoaded ? 88.0 : 9.0,
             isLoaded ? "load" : "rest");
    for (char* c = line; *c != '\0'; ++c)
      if (*c == '.' && c > line + 10) *c = ',';
    text += line;
  }
  return text;
}

}  // namespace

TEST_CASE("aLogBecomesARunThatIsAnalysedLikeAnyOther") {
  const TempFolder folder;
  const OwnMemory memory(folder);
  const std::string log = folder.write("mesh.csv", logOf(1500)), path = folder.path("b.ashbook");
  const auto taken = takeIn(log, {}, {path, "Which panel?", "Mesh", "All cores"});
  REQUIRE(taken);
  CHECK(taken->facts.rows == 1500);
  const auto book = Book::open(path, BookAccess::ReadOnly);
  const auto run = book->readRun(taken->run);
  REQUIRE(run);
  CHECK(run->log.timeS.size() == 1500);
  CHECK(run->log.find("cpu.power")->values[200] == 88);
  CHECK(run->log.find("room.temp")->values[0] == 22.5);
  CHECK(run->facts.setup == "Mesh");
  CHECK(run->facts.started == "2026-05-04T09:00:00");
  CHECK_FALSE(run->facts.outcome);  // nobody told
  REQUIRE(run->facts.events.size() == 2);
  CHECK(run->facts.events[1].text == "Mode: load");
  CHECK(run->facts.events[1].atS == 120);
  // The load is found by what was drawn: 70 °C at its end, 22.5 K of room.
  const Figures figures = analyzeRun(*run);
  REQUIRE(figures.load);
  CHECK(figures.load->startS == Approx(120).margin(2));
  CHECK(*figures.channel("cpu.temp")->overAmbientK == Approx(47.5).margin(0.3));
}

TEST_CASE("whatWasSaidOfAColumnIsRememberedByItsName") {
  const TempFolder folder;
  const OwnMemory memory(folder);
  const std::string log = folder.write("a.csv", "time,Sensor 7 [°C]\n0,40\n1,41\n2,42\n"),
                    path = folder.path("b.ashbook");
  ImportWishes wishes;
  wishes.map["Sensor 7"] = {"coolant.temp", ""};
  // Looking remembers nothing.
  REQUIRE(readForeignLog(log, wishes, nullptr));
  CHECK(rememberedColumns().empty());
  REQUIRE(takeIn(log, wishes, {path}));
  ImportWishes later;
  later.earlier = rememberedColumns();
  const auto facts = readForeignLog(log, later, nullptr);
  REQUIRE(facts);
  CHECK(facts->columns[0].column.role == "coolant.temp");
  CHECK(facts->columns[0].column.why == RoleReason::Earlier);
}

TEST_CASE("aBookThatWasMadeForNothingIsGoneAgain") {
  const TempFolder folder;
  const OwnMemory memory(folder);
  const std::string path = folder.path("b.ashbook");
  CHECK_FALSE(takeIn(folder.write("no.csv", "Dear reader,\nthis is a letter.\n"), {}, {path}));
  CHECK_FALSE(std::filesystem::exists(path));
  const std::string log = folder.write("a.csv", logOf(20'000));
  CHECK_FALSE(takeIn(log, {}, {path}, [](double) { return false; }));
  CHECK_FALSE(std::filesystem::exists(path));
  // One that was there keeps what it had, and nothing of the log.
  REQUIRE(takeIn(folder.write("b.csv", logOf(200)), {}, {path, "s"}));
  CHECK_FALSE(takeIn(log, {}, {path, "other"}, [](double) { return false; }));
  const auto book = Book::open(path, BookAccess::ReadOnly);
  CHECK(book->runs()->size() == 1);
  CHECK(book->studies()->size() == 1);
}

TEST_CASE("anImportThatIsKilledLeavesTheWholeRunOrNone") {
  const TempFolder folder;
  const OwnMemory memory(folder);
  const std::string path = folder.path("b.ashbook"), log = folder.write("day.csv", logOf(40'000));
  REQUIRE(takeIn(folder.write("first.csv", logOf(200)), {}, {path, "s"}));
  std::mt19937 random(7);
  size_t kept = 1, killed = 0;
  for (int round = 0; round < 40; ++round) {
    const pid_t child = fork();
    if (child == 0) _exit(takeIn(log, {}, {path, "s"}) ? 0 : 1);
    usleep(std::uniform_int_distribution<useconds_t>(0, 400'000)(random));
    kill(child, SIGKILL);
    int status = 0;
    waitpid(child, &status, 0);
    killed += WIFSIGNALED(status);
    const auto book = Book::open(path, BookAccess::ReadOnly);
    REQUIRE(book);
    const auto runs = book->runs();
    REQUIRE(runs);
    for (const RunSummary& run : *runs) CHECK((run.sampleCount == 200 || run.sampleCount == 40'000));
    CHECK((runs->size() == kept || runs->size() == kept + 1));
    kept = runs->size();
  }
  CHECK(killed > 0);
  CHECK(Book::open(path, BookAccess::ReadOnly)->check()->empty());
}

TEST_CASE("rowsThatLieCloseAreAllReadBack") {
  const TempFolder folder;
  const OwnMemory memory(folder);
  const std::string path = folder.path("b.ashbook");
  // Twenty a second, with jitter, and two that lie a millisecond apart.
  std::string text = "time,CPU [°C]\n";
  std::mt19937 random(5);
  std::uniform_real_distribution<double> jitter(-0.01, 0.01);
  for (int i = 0; i < 2000; ++i) text += std::to_string(i * 0.05 + jitter(random)) + "," + std::to_string(i) + "\n";
  text += "200,1\n200.001,2\n201,3\n";
  const auto taken = takeIn(folder.write("quick.csv", text), {}, {path});
  REQUIRE(taken);
  const auto run = Book::open(path, BookAccess::ReadOnly)->readRun(taken->run);
  REQUIRE(run);
  REQUIRE(run->log.timeS.size() == 2003);
  const auto& values = run->log.find("cpu.temp")->values;
  for (size_t i = 0; i < 2000; ++i) CHECK(values[i] == static_cast<double>(i));
}
