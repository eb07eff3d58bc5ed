// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg export` and `ashg import` of what it wrote: every run of the demo book comes back with the same figures.
#include <algorithm>
#include <catch2/catch.hpp>

#include "book/book.h"
#include "book/whole_run.h"
#include "model/json.h"
#include "tests/support/demo_book.h"
#include "tests/support/program.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("everyDemoRunComesBackFromItsPackageWithEveryFigure") {
  const Bench bench;
  tests::putDemoBook(bench, "a.ashbook");
  std::string runs;
  std::vector<std::string> ids;
  const auto runsOfDemo = Book::open(bench.path("a.ashbook"), BookAccess::ReadOnly)->runs();
  REQUIRE(runsOfDemo);
  for (const RunSummary& run : *runsOfDemo) {
    ids.push_back(run.info.id);
    runs += " " + run.info.id;
  }
  REQUIRE(ids.size() > 20);
  const Ran out = bench.ashg("export --book a.ashbook --to out --license CC-BY-4.0" + runs);
  INFO(out.err);
  REQUIRE(out.status == 0);
  const Ran in = bench.ashg("import out --book b.ashbook");
  INFO(in.err);
  REQUIRE(in.status == 0);
  for (const std::string& id : ids) {
    INFO(id);
    const auto before = readWholeRun(bench.path("a.ashbook"), id), after = readWholeRun(bench.path("b.ashbook"), id);
    REQUIRE(before);
    REQUIRE(after);
    // The licence came along; all else of the row is as it was.
    WholeRun bare = *after;
    CHECK(bare.row["extra"]["package"]["description"]["licenses"][0]["name"] == "CC-BY-4.0");
    bare.row["extra"].erase("package");
    CHECK(before->row == bare.row);
    CHECK(before->events == after->events);
    CHECK(before->phases == after->phases);
  }
  // Figures of some of them, from the program itself.
  for (size_t i = 0; i < ids.size(); i += 8) {
    const Ran before = bench.ashg("analyze --book a.ashbook " + ids[i] + " --json");
    REQUIRE(before.status == 0);
    CHECK(before.out == bench.ashg("analyze --book b.ashbook " + ids[i] + " --json").out);
  }
}

TEST_CASE("whatCannotBeExportedIsRefused") {
  const Bench bench;
  bench.write("log.csv", "time,CPU [°C]\n0,40\n1,41\n2,42\n");
  REQUIRE(bench.ashg("import log.csv --book a.ashbook --study s").status == 0);
  CHECK(bench.ashg("export --book a.ashbook --to out rnone").status == 2);
  CHECK(bench.ashg("export --book a.ashbook --to out").status == 2);
  CHECK(bench.ashg("export --book a.ashbook --to out --study none").status == 2);
  CHECK_FALSE(std::filesystem::exists(bench.path("out")));
  CHECK(bench.ashg("export --book a.ashbook --to out --study s").status == 0);
  CHECK(bench.ashg("export --book a.ashbook --to out --study s").status == 2);
  // A package is taken in, not looked at.
  CHECK(bench.ashg("import out --look --book b.ashbook").status == 2);
  CHECK_FALSE(std::filesystem::exists(bench.path("b.ashbook")));
}

TEST_CASE("aStudyIsOneZipFileAndComesBackFromIt") {
  const Bench bench;
  bench.write("log.csv", "time,CPU [°C]\n0,40\n1,41\n2,42\n");
  REQUIRE(bench.ashg("import log.csv --book a.ashbook --study s --setup x").status == 0);
  REQUIRE(bench.ashg("import log.csv --book a.ashbook --study s --setup y").status == 0);
  REQUIRE(bench.ashg("export --book a.ashbook --to s.zip --study s").status == 0);
  CHECK(bench.ashg("export --book a.ashbook --to s.zip --study s").status == 2);
  CHECK(bench.ashg("import s.zip --look --book b.ashbook").status == 2);
  REQUIRE(bench.ashg("import s.zip --book b.ashbook").status == 0);
  CHECK(Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->runs()->size() == 2);
  // Cut on its way: one sentence, no book.
  bench.write("cut.zip", readFile(bench.path("s.zip")).substr(0, 400));
  const Ran cut = bench.ashg("import cut.zip --book c.ashbook");
  CHECK(cut.status == 2);
  CHECK(std::count(cut.err.begin(), cut.err.end(), '\n') == 1);
  CHECK_FALSE(std::filesystem::exists(bench.path("c.ashbook")));
}
