// SPDX-License-Identifier: GPL-3.0-or-later
// The grammar of docs/entry-line.md, line by line.
#include "model/entry_line.h"
#include "model/owed_readings.h"

#include <catch2/catch.hpp>
#include <cmath>

using namespace ash;

namespace {

Entry parsed(const char* line) {
  const auto entry = parseEntry(line);
  INFO(line << ": " << (entry ? "" : entry.error().message));
  REQUIRE(entry);
  return *entry;
}

std::string refused(const char* line) {
  const auto entry = parseEntry(line);
  INFO(line);
  REQUIRE_FALSE(entry);
  return entry.error().message;
}

bool contains(const std::string& text, const std::string& part) { return text.find(part) != std::string::npos; }

}  // namespace

TEST_CASE("theExamplesOfTheGrammarAreKeptAsTheyMean") {
  const Entry noise = parsed("noise 38.5 50cm");
  CHECK(noise.kind == Entry::Kind::Reading);
  CHECK(noise.role == "noise");
  CHECK(noise.value == 38.5);
  CHECK(noise.place == "50 cm");
  CHECK(parsed("surface hinge 47.5").role == "surface.hinge");
  CHECK(parsed("surface hinge 47.5").value == 47.5);
  CHECK(parsed("score 11493").value == 11493);
  CHECK(parsed("score graphics 1490").name == "graphics");
  CHECK(parsed("wall 162").role == "wall.power");
  CHECK(parsed("room 22.4").role == "room.temp");
  const Entry setting = parsed("set power-limit 65 W");
  CHECK(setting.kind == Entry::Kind::Setting);
  CHECK(setting.name == "power-limit");
  CHECK(setting.value == 65);
  CHECK(setting.unit == "W");
  CHECK(parsed("note coil whine").text == "coil whine");
  CHECK(parsed("void left a cable in the fan").kind == Entry::Kind::Void);
  CHECK(parsed("void left a cable in the fan").text == "left a cable in the fan");
}

TEST_CASE("numbersAreTakenAsPeopleWriteThem") {
  CHECK(parsed("noise 38,5").value == 38.5);
  CHECK(parsed("NOISE 38.5dBA").value == 38.5);
  CHECK(parsed("noise 38.5 dB at 1 m").place == "1 m");
  CHECK(parsed("noise   38.5   at 50 cm").place == "50 cm");
  CHECK(parsed("room 72.5 F").value == Approx(22.5));
  CHECK(parsed("wall 0.162 kW").value == Approx(162));
  CHECK(parsed("room -3").value == -3);
  CHECK(parsed("room \u22123").value == -3);
  CHECK(parsed("surface left side 41").role == "surface.left-side");
}

TEST_CASE("aRangeHasTwoEndsInTheirOrder") {
  for (const char* line : {"noise 38 to 44", "noise 38..44", "noise 44 to 38 dBA"}) {
    const Entry entry = parsed(line);
    INFO(line);
    CHECK(entry.value == 38);
    CHECK(entry.valueHigh == 44);
  }
  CHECK(eventOf(parsed("noise 38 to 44 50cm"), 12).valueHigh == 44);
  CHECK(parsed("noise 38 to 44 50cm").place == "50 cm");
  CHECK(contains(refused("noise 38 to loud"), "two numbers"));
}

TEST_CASE("soundsOfSeveralSourcesAreAddedAsTheySound") {
  // 10·log10(10^3.2 + 10^3.45) and three alike: + 10·log10 3.
  const Entry two = parsed("noise 32 + 34.5 50cm");
  CHECK(two.value == Approx(36.4379).epsilon(1e-5));
  CHECK(two.place == "50 cm");
  CHECK(parsed("noise 30+30+30 dBA").value == Approx(34.7712).epsilon(1e-5));
  CHECK(contains(entryWords(two), "32.0 + 34.5 together"));
  CHECK(contains(refused("noise 32 + loud"), "Only sound levels"));
  CHECK(contains(refused("wall 30 + 40"), "Only sound levels"));
  // A plus with nothing to add, a place taken for a level, a sum beside a range.
  for (const char* line : {"noise 32 +", "noise 32+", "noise 32 + 50cm", "noise 32+34+ 50cm", "noise 30 to 34 + 2"}) {
    INFO(line);
    CHECK(contains(refused(line), "Only sound levels"));
  }
  CHECK(contains(refused("noise 139 + 139 + 139"), "not believable"));
}

TEST_CASE("aDistanceWrittenInAnotherWayIsTheSamePlace") {
  const std::vector<OwedReading> owed = {{"noise", "50 cm", OwedReading::When::AtRest}};
  CHECK(stillToTake(owed, {eventOf(parsed("noise 38 0.5m"), 10)}, {}, kMissing).empty());
  CHECK(stillToTake(owed, {eventOf(parsed("noise 38 1m"), 10)}, {}, kMissing).size() == 1);
}

TEST_CASE("whatBeginsWithNoWordOfTheGrammarIsANote") {
  CHECK(parsed("coil whine").kind == Entry::Kind::Note);
  CHECK(parsed("coil whine").text == "coil whine");
  CHECK(parsed("noisy fan").kind == Entry::Kind::Note);
}

TEST_CASE("linesThatCannotBeKeptSayWhatIsMissing") {
  CHECK(contains(refused("noise"), "noise 38.5 50cm"));
  CHECK(contains(refused("noise loud"), "needs a number"));
  CHECK(contains(refused("surface 47"), "place first"));
  CHECK(contains(refused("void"), "its reason"));
  CHECK(contains(refused("set power-limit"), "set power-limit 65 W"));
  CHECK(contains(refused("room 220"), "not believable"));
  CHECK(contains(refused("noise 38 W"), "kept in dBA"));
  CHECK(contains(refused("noise 38 50cm 100cm"), "more than noise can take"));
  refused("");
  refused("   ");
  CHECK_FALSE(parseEntry(std::string(600, 'x')));
}

TEST_CASE("anEntryBecomesAnEventWithEverythingThatWasSaid") {
  const Event event = eventOf(parsed("noise 38.5 50cm"), 751.5);
  CHECK(event.kind == EventKind::Reading);
  CHECK(event.atS == 751.5);
  CHECK(event.role == "noise");
  CHECK(event.value == 38.5);
  CHECK(std::isnan(event.valueHigh));
  CHECK(event.extra["place"] == "50 cm");
  CHECK(event.text == "noise 38.5\u202FdBA at 50 cm");
  CHECK(eventOf(parsed("set fan 80 %"), 1).kind == EventKind::Setting);
  CHECK(eventOf(parsed("void dust"), 1).kind == EventKind::Void);
}

TEST_CASE("completionsBeginWithWhatIsStillToTake") {
  const std::vector<OwedReading> owed = {{"noise", "50 cm", OwedReading::When::Settled},
                                         {"surface.hinge", "", OwedReading::When::Settled}};
  CHECK(completeEntry("", owed).front().line == "noise ");
  CHECK(completeEntry("su", owed).front().line == "surface hinge ");
  CHECK(completeEntry("noise 36.4", owed).front().line == "noise 36.4 50 cm");
  CHECK(completeEntry("noise 36.4 5", owed).front().line == "noise 36.4 50cm");
  CHECK(completeEntry("noise 36.4 50cm", owed).empty());
  CHECK(completeEntry("vo", {}).front().line == "void ");
  CHECK(completeEntry("xyz", owed).empty());
}

TEST_CASE("aReadingThatMustBeSettledStaysOpenUntilItIs") {
  const std::vector<OwedReading> byHand = {{"noise", "50 cm", OwedReading::When::Settled},
                                           {"room.temp", "", OwedReading::When::AtRest}};
  const std::vector<PhaseSpan> phases = {{PhaseKind::Idle, 0, 60, true}, {PhaseKind::Soak, 60, 600, true}};
  const std::vector<Event> early = {eventOf(parsed("noise 40 50cm"), 100), eventOf(parsed("room 22"), 10)};
  REQUIRE(stillToTake(byHand, early, phases, kMissing).size() == 1);
  CHECK(stillToTake(byHand, early, phases, kMissing)[0].role == "noise");
  // Settled at 90 s already: the reading at 100 s counts.
  CHECK(stillToTake(byHand, early, phases, 90).empty());
  auto measured = phases;
  measured.push_back({PhaseKind::Measure, 600, 900, true});
  auto late = early;
  late.push_back(eventOf(parsed("noise 40 50cm"), 650));
  CHECK(stillToTake(byHand, late, measured, kMissing).empty());
  // Another place is another reading.
  const std::vector<Event> elsewhere = {eventOf(parsed("noise 40 100cm"), 650), eventOf(parsed("room 22"), 10)};
  CHECK(stillToTake(byHand, elsewhere, measured, kMissing).size() == 1);
}
