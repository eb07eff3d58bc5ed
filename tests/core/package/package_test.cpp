// SPDX-License-Identifier: GPL-3.0-or-later
// Runs out as a data package and in again: equal to the bit; a package that is not what it says is refused whole.
#include <openssl/evp.h>

#include <bit>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>

#include "book/book.h"
#include "book/run_writer.h"
#include "book/whole_run.h"
#include "model/json.h"
#include "package/package.h"
#include "package/package_csv.h"
#include "system/sha256.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

namespace fs = std::filesystem;

Reading readingOf(const char* name, const char* role, Quantity quantity) {
  Reading reading;
  reading.id = name;
  reading.name = name;
  reading.role = role;
  reading.quantity = quantity;
  reading.unit = unitOf(quantity);
  reading.accuracy = 0.3;
  reading.place = "die, \"left\"";
  return reading;
}

// A run with everything that is awkward: gaps, odd decimals, two sources, quotes and line ends in words.
std::string makeRun(const std::string& path) {
  auto book = Book::openOrCreate(path);
  REQUIRE(book);
  Setup setup{"Mesh, fine", {{"panel", "mesh"}}, {{"room_c", 22.5}}, Json::object()};
  REQUIRE(book->ensurePlace("Which \"panel\"?", setup, {"All cores", {{"kind", "vector"}}}));
  RunInfo info;
  info.study = "Which \"panel\"?";
  info.setup = setup.name;
  info.load = "All cores";
  info.started = "2026-05-04T09:30:00+02:00";
  info.machine = {{"name", "Larch 12"}, {"später", "ä"}};
  info.conditions = {{"fan_duty", 60}};
  info.watched = "cpu.temp";
  auto writer = RunWriter::begin(
      path, info,
      {{"a", {readingOf("Tctl", "cpu.temp", Quantity::Temperature), readingOf("spare", "", Quantity::Temperature)}},
       {"b", {readingOf("wall", "wall.power", Quantity::Power)}}});
  REQUIRE(writer);
  writer->beginPhase(PhaseKind::Idle, 0);
  for (int i = 0; i < 3000; ++i) {
    const double t = i * 0.1 + 1e-7 * i;
    writer->addSweep(0, t, {40 + std::sin(i / 7.0) / 3, i % 11 == 0 ? kMissing : 1e-17 * i});
    if (i % 3 == 0) writer->addSweep(1, t + 0.013, {-0.0 + 88.123456789012345 * (i % 5)});
  }
  writer->endPhase(100.25);
  writer->beginPhase(PhaseKind::Soak, 100.25);
  Event event;
  event.atS = 12.345678901234567;
  event.kind = EventKind::Reading;
  event.text = " noise, \"38.5\"\nat 50 cm ";
  event.role = "noise";
  event.value = 38.5;
  event.extra = {{"place", "50 cm"}};
  writer->addEvent(event);
  event = {};
  event.text = "=1+1";
  writer->addEvent(event);
  REQUIRE(writer->finish(Outcome::StoppedByRule, "cpu.temp > 98 for 3s"));
  return info.id;
}

void mustBeEqual(const WholeRun& a, const WholeRun& b) {
  CHECK(a.row == b.row);
  CHECK(a.phases == b.phases);
  CHECK(a.events == b.events);
  REQUIRE(a.sources.size() == b.sources.size());
  const auto bits = [](const std::vector<double>& values) {
    std::vector<uint64_t> all;
    for (const double value : values) all.push_back(std::isnan(value) ? 1 : std::bit_cast<uint64_t>(value));
    return all;
  };
  for (size_t s = 0; s < a.sources.size(); ++s) {
    CHECK(a.sources[s].id == b.sources[s].id);
    CHECK(a.sources[s].readings == b.sources[s].readings);
    CHECK(bits(a.sources[s].timeS) == bits(b.sources[s].timeS));
    REQUIRE(a.sources[s].columns.size() == b.sources[s].columns.size());
    for (size_t c = 0; c < a.sources[s].columns.size(); ++c)
      CHECK(bits(a.sources[s].columns[c]) == bits(b.sources[s].columns[c]));
  }
}

/// A package of one run.
struct Packed {
  Packed() : id(makeRun(folder.path("a.ashbook"))) {
    REQUIRE(writePackage(folder.path("a.ashbook"), {{id}, "Panels", "CC-BY-4.0"}, folder.path("out")));
  }
  std::string file(const std::string& name) const { return folder.path("out/" + name); }
  Json description() const { return parseQuietly(readFile(file("datapackage.json"))); }
  void describe(const Json& json) const { folder.write("out/datapackage.json", json.dump()); }
  std::string refusal() const {
    const auto taken = readPackage(folder.path("out"), folder.path("b.ashbook"));
    CHECK_FALSE(fs::exists(folder.path("b.ashbook")));
    return taken ? std::string() : taken.error().message;
  }
  TempFolder folder;
  std::string id;
};

}  // namespace

TEST_CASE("aRunComesBackEqualToTheBit") {
  const Packed packed;
  const std::string other = packed.folder.path("b.ashbook");
  const auto taken = readPackage(packed.folder.path("out"), other);
  REQUIRE(taken);
  CHECK(*taken == std::vector<std::string>{packed.id});
  const auto before = readWholeRun(packed.folder.path("a.ashbook"), packed.id), after = readWholeRun(other, packed.id);
  REQUIRE(before);
  REQUIRE(after);
  CHECK(before->sources[0].timeS.size() == 3000);
  // What the package was called and its licence stay with it; all else is as it was.
  CHECK(after->row["extra"]["package"] ==
        Json{{"description", {{"licenses", {{{"name", "CC-BY-4.0"}}}}, {"title", "Panels"}}}});
  WholeRun bare = *after;
  bare.row["extra"].erase("package");
  mustBeEqual(*before, bare);
  // A second time it is there already, and stays as it is.
  const auto again = readPackage(packed.folder.path("out"), other);
  REQUIRE_FALSE(again);
  CHECK(again.error().message.find("has run " + packed.id + " already") != std::string::npos);
}

TEST_CASE("thePackageSaysWhatIsInItByTheStandard") {
  const Packed packed;
  const Json description = packed.description();
  CHECK(description["profile"] == "data-package");
  CHECK(description["licenses"][0]["name"] == "CC-BY-4.0");
  std::set<std::string> names;
  for (const Json& resource : description["resources"]) {
    const std::string name = resource["name"], path = resource["path"];
    // Data Resource 1.0: names of small letters, digits, '.', '_' and '-', each once; paths within.
    CHECK(name.find_first_not_of("abcdefghijklmnopqrstuvwxyz0123456789._-") == std::string::npos);
    CHECK(names.insert(name).second);
    const std::string text = readFile(packed.file(path));
    CHECK(resource["bytes"] == text.size());
    if (resource.value("profile", "") != "tabular-data-resource") continue;
    // Tabular Data Resource 1.0: the header is the fields of the schema.
    const auto records = parseStrictCsv(text, path);
    REQUIRE(records);
    std::vector<std::string> fields;
    for (const Json& field : resource["schema"]["fields"]) fields.push_back(field["name"]);
    CHECK(records->front() == fields);
    CHECK(resource["schema"]["missingValues"] == Json::array({""}));
  }
  const auto of = [&](const std::string& end) {
    for (const Json& resource : description["resources"]) {
      if (resource["path"].get<std::string>().ends_with(end)) return resource;
    }
    return Json();
  };
  const Json field = of("samples-1.csv")["schema"]["fields"][1];
  CHECK(field["name"] == "cpu.temp");
  CHECK(field["unit"] == "°C");
  CHECK(field["ucum"] == "Cel");
}

TEST_CASE("whatOthersHaveWrittenIntoAPackageGoesOutWithItsRuns") {
  const Packed packed;
  Json description = packed.description();
  description["contributors"] = {{{"title", "The bench"}, {"role", "author"}}};
  description["keywords"] = {"panels", "air"};
  for (Json& resource : description["resources"]) {
    const std::string path = resource["path"];
    if (!path.ends_with("samples-1.csv")) continue;
    resource["sources"] = {{{"title", "die"}}};
    resource["schema"]["primaryKey"] = "time";
    resource["schema"]["fields"][1]["description"] = "beside the die";
    resource["schema"]["fields"][1]["constraints"] = {{"minimum", 0}};
  }
  Json run = parseQuietly(readFile(packed.file(packed.id + "/run.json")));
  run["checkedBy"] = "a second person";
  run["run"]["weather"] = {{"hPa", 1013}};
  run["run"]["setup"]["shelf"] = 4;
  run["sources"][1]["readings"][0]["serial"] = "W-7";
  const std::string text = run.dump();
  packed.folder.write("out/" + packed.id + "/run.json", text);
  for (Json& resource : description["resources"]) {
    if (!resource["path"].get<std::string>().ends_with("run.json")) continue;
    resource["bytes"] = text.size();
    resource["hash"] = "sha256:" + sha256Hex(text);
  }
  packed.describe(description);
  REQUIRE(readPackage(packed.folder.path("out"), packed.folder.path("b.ashbook")));
  REQUIRE(writePackage(packed.folder.path("b.ashbook"), {{packed.id}, "", ""}, packed.folder.path("again")));
  // Equal but for when it was made, and lengths and hashes of run.json, which is set out otherwise.
  Json again = parseQuietly(readFile(packed.folder.path("again/datapackage.json")));
  const auto plain = [](Json one) {
    one.erase("created");
    for (Json& resource : one["resources"]) {
      if (!resource["path"].get<std::string>().ends_with("run.json")) continue;
      resource.erase("bytes");
      resource.erase("hash");
    }
    return one;
  };
  // In whatever order the keys stand.
  const auto sorted = [](const Json& one) { return nlohmann::json::parse(one.dump()); };
  CHECK(sorted(plain(again)) == sorted(plain(description)));
  CHECK(sorted(parseQuietly(readFile(packed.folder.path("again/" + packed.id + "/run.json")))) == sorted(run));
  // What is wished goes before what it came with.
  REQUIRE(writePackage(packed.folder.path("b.ashbook"), {{packed.id}, "Mine", "CC0-1.0"}, packed.folder.path("mine")));
  again = parseQuietly(readFile(packed.folder.path("mine/datapackage.json")));
  CHECK(again["title"] == "Mine");
  CHECK(again["licenses"] == Json{{{"name", "CC0-1.0"}}});
  CHECK(again["keywords"] == description["keywords"]);
}

TEST_CASE("tooManyKeysOfOthersAreRefused") {
  const Packed packed;
  Json description = packed.description();
  description["heap"] = std::string(300'000, 'x');
  packed.describe(description);
  CHECK(packed.refusal().find("more than 256 KiB") != std::string::npos);
}

TEST_CASE("theHashIsSha256") {
  // FIPS 180-4's example "abc".
  CHECK(sha256Hex("abc") == "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
}

TEST_CASE("aPackageThatIsNotWhatItSaysIsRefusedWhole") {
  const Packed packed;
  const std::string samples = packed.file(packed.id + "/samples-1.csv"), text = readFile(samples);
  SECTION("another byte") {
    std::string other = text;
    other[other.size() - 3] = other[other.size() - 3] == '1' ? '2' : '1';
    packed.folder.write("out/" + packed.id + "/samples-1.csv", other);
    CHECK(packed.refusal().find("hash") != std::string::npos);
  }
  SECTION("another length") {
    packed.folder.write("out/" + packed.id + "/samples-1.csv", text + "\n");
    CHECK(packed.refusal().find("not as long") != std::string::npos);
  }
  SECTION("a link") {
    fs::rename(samples, packed.folder.path("elsewhere.csv"));
    fs::create_symlink(packed.folder.path("elsewhere.csv"), samples);
    CHECK(packed.refusal().find("is a link") != std::string::npos);
  }
  SECTION("ways out, addresses, two of one name") {
    for (const char* path : {"../a.ashbook", "/etc/hostname", "https://example.org/x.csv", "a/../../b"}) {
      Json description = packed.description();
      description["resources"][0]["path"] = path;
      packed.describe(description);
      CHECK(packed.refusal().find("outside") != std::string::npos);
    }
    Json description = packed.description();
    description["resources"][0]["path"] = "x.csv";
    description["resources"][0]["name"] = description["resources"][1]["name"];
    packed.describe(description);
    CHECK(packed.refusal().find("two resources") != std::string::npos);
  }
  SECTION("rubbish") {
    packed.folder.write("out/datapackage.json", "[[[[");
    CHECK(packed.refusal().find("lists no resources") != std::string::npos);
    Json description = {{"resources", Json::array()}};
    packed.describe(description);
    CHECK(packed.refusal().find("There is no run") != std::string::npos);
  }
}

TEST_CASE("unlistedFilesAreIgnoredAndPlacesThatSayOtherwiseAreKept") {
  const Packed packed;
  packed.folder.write("out/readme.txt", "hello");
  const std::string other = packed.folder.path("b.ashbook");
  // A setup of that name that is another one.
  {
    auto book = Book::create(other);
    REQUIRE(book);
    REQUIRE(book->ensurePlace("Which \"panel\"?", {"Mesh, fine", {{"panel", "solid"}}}, {"All cores"}));
  }
  REQUIRE(readPackage(packed.folder.path("out"), other));
  const auto run = Book::open(other, BookAccess::ReadOnly)->run(packed.id);
  REQUIRE(run);
  CHECK(run->info.setup == "Mesh, fine (2)");
  CHECK(run->info.load == "All cores (2)");
}

TEST_CASE("aFolderThatHoldsSomethingIsNotWrittenInto") {
  const Packed packed;
  CHECK_FALSE(writePackage(packed.folder.path("a.ashbook"), {{packed.id}, {}, {}}, packed.folder.path("out")));
  CHECK_FALSE(writePackage(packed.folder.path("a.ashbook"), {{"rnone"}, {}, {}}, packed.folder.path("new")));
  CHECK_FALSE(fs::exists(packed.folder.path("new")));
  CHECK_FALSE(fs::exists(packed.folder.path("new.part")));
}

TEST_CASE("csvToTheLetterIsReadAndWrong") {
  const std::string text = "a,b\n" + csvCell(" x\r\n\"y\" ") + "," + csvCell("") + "\n";
  const auto records = parseStrictCsv(text, "f");
  REQUIRE(records);
  CHECK((*records)[1] == std::vector<std::string>{" x\r\n\"y\" ", ""});
  for (const char* wrong : {"a,b\n1\n", "a\n\"x\n", "a\nx\"y\n", "a\n\"x\"y\n"})
    CHECK_FALSE(parseStrictCsv(wrong, "f"));
  for (const double value : {0.1, 1e-300, 1.0 / 3, -0.0, 123456789.123456789})
    CHECK(std::stod(csvNumber(value)) == value);
  CHECK(csvNumber(NAN).empty());
}
