// SPDX-License-Identifier: GPL-3.0-or-later
// JSON from elsewhere, key by key: what is taken, what is a mistake, and where it stands.
#include "model/json_cursor.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <functional>

using namespace ash;

namespace {

/// A document with what was wrong in it.
struct Document {
  explicit Document(const char* text) : json(Json::parse(text)), root(json, mistakes) {}
  std::string firstMistake() const {
    return mistakes.empty() ? std::string() : mistakes.front().path + ": " + mistakes.front().why;
  }
  Json json;
  JsonCursor::Mistakes mistakes;
  JsonCursor root;
};

}  // namespace

TEST_CASE("aKeyThatIsMissingOrNullLeavesItsValueAsItWas") {
  const Document document(R"({"there": 3, "nothing": null})");
  double number = 7;
  int whole = 8;
  std::string text = "as it was";
  bool isSo = true;
  std::vector<std::string> list = {"kept"};
  document.root.take("missing", number);
  document.root.take("nothing", whole);
  document.root.take("nothing", text);
  document.root.take("missing", isSo);
  document.root.take("missing", list);
  CHECK(number == 7);
  CHECK(whole == 8);
  CHECK(text == "as it was");
  CHECK(isSo);
  CHECK(list == std::vector<std::string>{"kept"});
  CHECK(std::isnan(document.root.number("missing")));
  CHECK(document.root.text("missing", "otherwise") == "otherwise");
  CHECK(document.mistakes.empty());
}

TEST_CASE("aValueOfAnotherKindIsAMistakeWithItsPath") {
  struct Row {
    const char* json;
    std::function<void(const JsonCursor&)> read;
    const char* mistake;
  };
  double number = 1;
  int whole = 1;
  size_t index = 1;
  bool isSo = false;
  std::string text;
  std::vector<std::string> list;
  std::map<std::string, std::string> texts;
  std::map<std::string, double> numbers;
  Json object;
  const std::vector<Row> rows = {
      {R"({"a": "3"})", [&](const JsonCursor& at) { at.take("a", number); }, "a: must be a number"},
      {R"({"a": 1.5})", [&](const JsonCursor& at) { at.take("a", whole); }, "a: must be a whole number"},
      {R"({"a": 1e300})", [&](const JsonCursor& at) { at.take("a", whole); }, "a: must be a whole number"},
      {R"({"a": -1})", [&](const JsonCursor& at) { at.take("a", index); }, "a: must not be below zero"},
      {R"({"a": 1})", [&](const JsonCursor& at) { at.take("a", isSo); }, "a: must be true or false"},
      {R"({"a": 1})", [&](const JsonCursor& at) { at.take("a", text); }, "a: must be a text"},
      {R"({"a": "x"})", [&](const JsonCursor& at) { at.take("a", list); }, "a: must be a list of texts"},
      {R"({"a": ["x", 2]})", [&](const JsonCursor& at) { at.take("a", list); }, "a: must be a list of texts"},
      {R"({"a": {"b": 2}})", [&](const JsonCursor& at) { at.take("a", texts); }, "a: must be an object of texts"},
      {R"({"a": {"b": "2"}})", [&](const JsonCursor& at) { at.take("a", numbers); }, "a.b: must be a number"},
      {R"({"a": [1]})", [&](const JsonCursor& at) { at.take("a", numbers); }, "a: must be an object"},
      {R"({"a": 3})", [&](const JsonCursor& at) { at.takeObject("a", object); }, "a: must be an object"},
      {R"({"a": {}})", [&](const JsonCursor& at) { static_cast<void>(at.objects("a")); }, "a: must be a list"},
      {R"({"a": [{}, 4]})", [&](const JsonCursor& at) { static_cast<void>(at.objects("a")); },
       "a[1]: must be an object"},
      {R"({"a": {"b": [{"c": "x"}]}})",
       [&](const JsonCursor& at) {
         for (const JsonCursor& one : at.at("a").objects("b")) one.take("c", number);
       },
       "a.b[0].c: must be a number"},
      {R"({"a": 3})", [&](const JsonCursor& at) { at.object("a").take("b", number); }, "a: must be an object"},
      {R"({"a": null})", [&](const JsonCursor& at) { at.object("a").take("b", number); }, ""},
      {R"({})", [&](const JsonCursor& at) { at.need("a", number); }, "a: is missing"},
      {R"({"a": null})", [&](const JsonCursor& at) { at.at("b").need("a", text); }, "b.a: is missing"},
      {R"({"a": 5})", [&](const JsonCursor& at) { at.need("a", text); }, "a: must be a text"},
  };
  for (const Row& row : rows) {
    INFO(row.json);
    const Document document(row.json);
    row.read(document.root);
    CHECK(document.firstMistake() == row.mistake);
  }
  CHECK(number == 1);
  CHECK(whole == 1);
}

TEST_CASE("aNumberOutOfItsRangeIsToldTheRangeAndNotTaken") {
  struct Row {
    const char* json;
    JsonRange range;
    const char* why;  // null: it is within
  };
  for (const Row& row : {Row{"0", kAboveZero, "must be above zero"}, Row{"1e-9", kAboveZero, nullptr},
                         Row{"-1", kNotNegative, "must not be below zero"}, Row{"0", kNotNegative, nullptr},
                         Row{"65", {1, 64}, "must be from 1 to 64"}, Row{"64", {1, 64}, nullptr},
                         Row{"0", {0, 100, true}, "must be above 0 and at most 100"},
                         Row{"1", {2}, "must be at least 2"}, Row{"2", {2}, nullptr}}) {
    INFO(row.json << " " << row.range.words());
    const Document document((std::string(R"({"a": )") + row.json + "}").c_str());
    double value = 17;
    document.root.take("a", value, row.range);
    CHECK((value == 17) == (row.why != nullptr));
    CHECK(document.firstMistake() == (row.why == nullptr ? "" : std::string("a: ") + row.why));
  }
}

TEST_CASE("wholeNumbersAreTakenHoweverTheyAreWritten") {
  const Document document(R"({"a": 4, "b": 4.0, "c": 4e0, "d": 9007199254740992})");
  int a = 0, b = 0, c = 0;
  long long d = 0;
  document.root.take("a", a);
  document.root.take("b", b);
  document.root.take("c", c);
  document.root.take("d", d);
  CHECK((a == 4 && b == 4 && c == 4));
  CHECK(d == 9007199254740992LL);
  CHECK(document.mistakes.empty());
}

TEST_CASE("whatNobodyAskedForIsKeptAsItStood") {
  const Document document(R"({"setup": "mesh", "later": {"x": [1, null]}, "started": null, "more": 2})");
  std::string setup, started;
  document.root.take("setup", setup);
  document.root.take("started", started);
  const Json rest = document.root.unasked();
  CHECK(jsonText(rest) == R"({"later":{"x":[1,null]},"more":2})");
}

TEST_CASE("whatIsNoObjectHasNoKeysAndDoesNoHarm") {
  for (const char* text : {"[1, 2]", "3", "\"words\"", "null"}) {
    INFO(text);
    const Document document(text);
    double value = 5;
    document.root.take("a", value);
    CHECK(value == 5);
    CHECK_FALSE(document.root.at("a").at("b").at("c").isThere());
    CHECK(document.root.objects("a").empty());
    CHECK(document.root.unasked().empty());
    CHECK(document.mistakes.empty());
  }
}

TEST_CASE("aHostileListHoldsAHundredMistakesAndNoMore") {
  std::string text = R"({"a": [)";
  for (int i = 0; i < 5000; ++i) text += i == 0 ? "1" : ",1";
  const Document document((text + "]}").c_str());
  CHECK(document.root.objects("a").empty());
  CHECK(document.mistakes.size() == 100);
  CHECK(document.mistakes.back().path == "a[99]");
}
