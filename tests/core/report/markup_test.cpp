// SPDX-License-Identifier: GPL-3.0-or-later
// Elements of the page: whatever goes in, only what we named comes out as an element.
#include "report/markup/markup.h"

#include <algorithm>
#include <catch2/catch.hpp>

#include "report/markup/page_parts.h"

using namespace ash;

TEST_CASE("elementsHoldAttributesTextAndOtherElements") {
  Element line("p");
  line.set("class", "soft").text("1 < 2 & ").add(Element("b").text("“so”")).add(Element("br").alone());
  CHECK(line.whole().str() == "<p class=\"soft\">1 &lt; 2 &amp; <b>“so”</b><br></p>");
  CHECK(Element("td").whole().str() == "<td></td>");
  CHECK(Element("td").set("data-value", 23.708749999999963).whole().str() ==
        "<td data-value=\"23.708749999999963\"></td>");
}

TEST_CASE("aDrawingClosesItselfAndRoundsToATenth") {
  Element svg = Element::svg("line");
  CHECK(svg.at("x1", 3.14159).at("x2", 100).set("class", "grid").whole().str() ==
        "<line x1='3.1' x2='100.0' class='grid'/>");
  CHECK(Element::svg("text").text("a'b").whole().str() == "<text>a&#39;b</text>");
}

TEST_CASE("whatABookHoldsNeverBecomesAnElement") {
  // Ways out of a text, out of an attribute in either quotes, and out of an element that is open.
  for (const char* hostile : {"<script>alert(1)</script>", "\" onload=\"x", "' onload='x", "</td><img src=x>", "&lt;",
                              "a\0b<i>", "]]><x>", "--><x>"}) {
    const std::string words(hostile);
    INFO(words);
    for (Element element : {Element("td"), Element::svg("text")}) {
      const std::string made = element.set("title", words).text(words).whole().str();
      const size_t opened = made.find('>');
      // One tag is opened and one closed, and the only quotes are those around the attribute.
      CHECK(std::count(made.begin(), made.end(), '<') == 2);
      CHECK(std::count(made.begin(), made.end(), '>') == 2);
      const char quote = made[made.find('=') + 1];
      CHECK(std::count(made.begin(), made.begin() + static_cast<std::ptrdiff_t>(opened), quote) == 2);
      CHECK(made.find(quote, opened) == std::string::npos);
    }
    CHECK(Markup::ofText(words).str().find_first_of("<>\"'") == std::string::npos);
  }
}

TEST_CASE("aListTellsEachItemOnce") {
  ItemList items;
  CHECK(items.isEmpty());
  items.add("left <out>");
  items.add("left <out>");
  items.add("other");
  CHECK(items.size() == 2);
  CHECK(items.html().str() == "<ul>\n<li>left &lt;out&gt;</li>\n<li>other</li>\n</ul>\n");
}
