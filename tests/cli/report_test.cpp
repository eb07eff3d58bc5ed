// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg report` in every format: the same bytes wherever and whenever it is asked, and numbers that are those of
// `ashg compare`.
#include <algorithm>
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>

#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using namespace ash::tests;

namespace {

std::string bytesOf(const std::filesystem::path& path) {
  std::ifstream file(path, std::ios::binary);
  return {std::istreambuf_iterator<char>(file), {}};
}

std::vector<std::string> namesIn(const std::string& folder) {
  std::vector<std::string> names;
  for (const auto& entry : std::filesystem::directory_iterator(folder)) names.push_back(entry.path().filename());
  std::sort(names.begin(), names.end());
  return names;
}

/// Two setups, once each, on the simulated bench.
struct Reported : Bench {
  Reported() {
    for (const char* setup : {"solid", "mesh"}) {
      REQUIRE(
          ashg(std::string("run --book b.ashbook --study 'Which panel?' --setup ") + setup +
               " --load vector --sim larch12 --speed 1e6 --phases 'idle 1min, soak settled 8min..30min, measure 5min'")
              .status == 0);
    }
  }
};

}  // namespace

TEST_CASE("aReportIsWrittenInEveryFormatAndTheSameAgain") {
  const Reported bench;
  const std::string all = "report 'Which panel?' --book b.ashbook --format html,md,csv,json,svg,pdf,png,package --to ";
  const Ran first = bench.ashg(all + "one");
  INFO(first.err);
  REQUIRE(first.status == 0);
  const std::vector<std::string> names = namesIn(bench.path("one"));
  for (const char* ending : {".csv", ".html", ".json", ".md", ".pdf", ".zip"})
    CHECK(std::count(names.begin(), names.end(), std::string("which-panel") + ending) == 1);
  // Each chart as a drawing and as a picture.
  for (const char* chart : {"answer", "warm-up", "power", "clock"}) {
    for (const char* ending : {".svg", ".png"})
      CHECK(std::count(names.begin(), names.end(), std::string("which-panel-") + chart + ending) == 1);
  }
  for (const std::string& name : names) CHECK(first.out.find("one/" + name + "\n") != std::string::npos);
  // In another time zone, over what is there.
  REQUIRE(bench.ashg(all + "two").status == 0);
  const Ran again = bench.ashg(all + "two", "TZ=Pacific/Auckland");
  REQUIRE(again.status == 0);
  CHECK(namesIn(bench.path("two")) == names);
  for (const std::string& name : names) {
    INFO(name);
    CHECK(bytesOf(bench.path("one/" + name)) == bytesOf(bench.path("two/" + name)));
  }
  const std::string pdf = bytesOf(bench.path("one/which-panel.pdf")),
                    png = bytesOf(bench.path("one/which-panel-answer.png"));
  CHECK(pdf.starts_with("%PDF-1."));
  CHECK(pdf.find("%%EOF") != std::string::npos);
  CHECK(png.starts_with("\x89PNG"));
  // In sizes of their own, dark: a thumbnail is as large as it says (PNG, 11.2.2: width and height behind "IHDR").
  const Ran dark =
      bench.ashg("report 'Which panel?' --book b.ashbook --format png --size phone,thumbnail --dark --to d");
  REQUIRE(dark.status == 0);
  const std::string wide = bytesOf(bench.path("d/which-panel-answer-thumbnail-dark.png"));
  CHECK(wide.substr(12, 12) == std::string("IHDR\0\0\x07\x80\0\0\x04\x38", 12));
  CHECK(bytesOf(bench.path("d/which-panel-answer-phone-dark.png")).substr(16, 4) == std::string("\0\0\x04\x92", 4));
  CHECK(bench.ashg("report 'Which panel?' --book b.ashbook --format svg --size poster --to d").status == 2);
  // The package comes back in.
  CHECK(bench.ashg("import one/which-panel.zip --book c.ashbook").status == 0);
}

TEST_CASE("theNumbersOfAReportAreThoseOfTheComparison") {
  const Reported bench;
  REQUIRE(bench.ashg("report 'Which panel?' --book b.ashbook --format html,json --to r").status == 0);
  const Json document = parseObject(bytesOf(bench.path("r/which-panel.json")));
  const Json runs = document["loads"][0]["comparison"]["runs"];
  REQUIRE(runs.size() == 2);
  const Ran compared =
      bench.ashg("compare " + std::string(runs[0]) + " " + std::string(runs[1]) + " --book b.ashbook --json");
  REQUIRE(compared.status == 0);
  const Json comparison = parseObject(compared.out);
  CHECK(document["loads"][0]["comparison"]["rows"] == comparison["rows"]);
  // And on the page, unrounded, beside what is read there.
  const std::string page = bytesOf(bench.path("r/which-panel.html"));
  size_t found = 0;
  for (const Json& row : comparison["rows"]) {
    for (const auto& [code, metric] : row["metrics"].items()) {
      const std::string place =
          "data-run=\"" + std::string(row["run"]) + "\" data-metric=\"" + code + "\" data-value=\"";
      for (size_t at = page.find(place); at != std::string::npos; at = page.find(place, at + 1)) {
        CHECK(Json::parse(page.substr(at + place.size(), page.find('"', at + place.size()) - at - place.size())) ==
              metric["value"]);
        ++found;
      }
    }
  }
  CHECK(found > 20);
}

TEST_CASE("aReportTellsHowFarItIsWhenItIsAsked") {
  const Reported bench;
  const Ran told = bench.ashg("report 'Which panel?' --book b.ashbook --format md,png,package --to out --progress");
  REQUIRE(told.status == 0);
  CHECK(told.err == "1 of 2 runs worked out …\n2 of 2 runs worked out …\nPacking the runs …\nDrawing png …\n");
  const Ran quiet = bench.ashg("report 'Which panel?' --book b.ashbook --format md --to out");
  CHECK(quiet.err.empty());
}

TEST_CASE("aReportThatCannotBeIsRefusedWhole") {
  const Reported bench;
  const Ran format = bench.ashg("report 'Which panel?' --book b.ashbook --format html,docx --to r");
  CHECK(format.status == 2);
  CHECK(format.err.find("\"docx\" is no format of a report") != std::string::npos);
  CHECK_FALSE(std::filesystem::exists(bench.path("r")));
  CHECK(bench.ashg("report 'No such' --book b.ashbook --format pdf --to r").status == 2);
  CHECK(bench.ashg("report 'Which panel?' --book b.ashbook --format pdf --paper a3 --to r").status == 2);
  CHECK(namesIn(bench.path()).size() > 0);
  CHECK_FALSE(std::filesystem::exists(bench.path("r/which-panel.pdf")));
}
