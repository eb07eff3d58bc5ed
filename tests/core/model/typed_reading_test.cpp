// SPDX-License-Identifier: GPL-3.0-or-later
// What can be typed: the words of docs/entry.md, the roles they stand for, and back.
#include "model/typed_reading.h"

#include <catch2/catch.hpp>
#include <map>

#include "model/entry_line.h"
#include "model/study_plan.h"

using namespace ash;

TEST_CASE("everyTypedWordStandsForOneRoleAndBack") {
  const std::map<std::string, std::string> roles = {
      {"noise", "noise"}, {"wall", "wall.power"}, {"room", "room.temp"}, {"score", "score"}};
  size_t withPlace = 0;
  for (const TypedReading& typed : typedReadings()) {
    INFO(typed.word);
    withPlace += typed.hasOwnPlace();
    const Role role = typed.roleAt("left-hinge");
    CHECK(typedReadingOf(role) == &typed);
    CHECK(typedReadingCalled(typed.word) == &typed);
    if (typed.hasOwnPlace()) {
      CHECK(role.text() == "surface.left-hinge");
      CHECK(typedWords(role) == "surface left-hinge");
    } else {
      CHECK(role.text() == roles.at(std::string(typed.word)));
      CHECK(typedWords(role) == typed.word);
    }
  }
  CHECK(withPlace == 1);
  CHECK(typedReadings().size() == roles.size() + 1);
  CHECK(typedReadingCalled("hum") == nullptr);
  CHECK(typedReadingOf(Role("cpu.temp")) == nullptr);
  CHECK(typedWords(Role("cpu.temp")) == "cpu.temp");
}

TEST_CASE("everyExampleOfATypedReadingIsTakenAsThatReading") {
  for (const TypedReading& typed : typedReadings()) {
    INFO(typed.example);
    const auto entry = parseEntry(typed.example);
    REQUIRE(entry);
    CHECK(entry->kind == Entry::Kind::Reading);
    CHECK(typedReadingOf(entry->role) == &typed);
    CHECK(entry->value >= typed.least);
    CHECK(entry->value <= typed.most);
  }
}

TEST_CASE("unitsAreTakenAsPeopleTypeThem") {
  struct Row {
    const char* line;
    double value;
    const char* unit;
  };
  // 104 °F is 40 °C; 0.162 kW is 162 W.
  for (const Row& row : {Row{"room 22.4 c", 22.4, "°C"}, Row{"room 22.4 °", 22.4, "°C"},
                         Row{"surface lid 104 F", 40, "°C"}, Row{"noise 38 dB(A)", 38, "dBA"},
                         Row{"noise 38dba", 38, "dBA"}, Row{"wall 162 w", 162, "W"}, Row{"wall 0.162 kW", 162, "W"}}) {
    INFO(row.line);
    const auto entry = parseEntry(row.line);
    REQUIRE(entry);
    CHECK(entry->value == Approx(row.value));
    CHECK(entry->unit == row.unit);
  }
  for (const char* wrong : {"room 22 dB", "noise 38 W", "wall 3 V", "score 12 W"}) {
    INFO(wrong);
    CHECK_FALSE(parseEntry(wrong));
  }
}

TEST_CASE("aListOfOwedReadingsComesBackAsItWasTyped") {
  for (const char* text : {"noise 50 cm", "surface hinge", "wall before the plug", "room", "score", "noise 50 cm ±1.5",
                           "noise 50 cm, surface hinge, wall ±1 %"}) {
    INFO(text);
    const auto owed = parseOwedList(text);
    REQUIRE(owed);
    CHECK(owedListText(*owed) == text);
  }
  for (const char* wrong : {"surface", "hum 50 cm", "cpu.temp", "surface left hinge"}) {
    INFO(wrong);
    const auto owed = parseOwedList(wrong);
    REQUIRE_FALSE(owed);
    CHECK(owed.error().message.find("is no reading to take by hand") != std::string::npos);
  }
}

TEST_CASE("theFirstWordSaysWhatALineIsAndWithoutOneItIsANote") {
  CHECK(parseEntry("void a cable in the fan")->kind == Entry::Kind::Void);
  CHECK(parseEntry("fail it froze")->kind == Entry::Kind::Fail);
  CHECK(parseEntry("set power-limit 65 W")->kind == Entry::Kind::Setting);
  CHECK(parseEntry("note coil whine")->text == "coil whine");
  CHECK(parseEntry("coil whine")->kind == Entry::Kind::Note);
  CHECK(parseEntry("coil whine")->text == "coil whine");
  CHECK(parseEntry("void").error().message.find("needs its reason") != std::string::npos);
  CHECK(parseEntry("note").error().message.find("needs its words") != std::string::npos);
}
