// SPDX-License-Identifier: GPL-3.0-or-later
// Charts that can be read: no text covers another or leaves the picture, whatever names setups have, and who cannot see
// one is told its figures.
#include <catch2/catch.hpp>
#include <random>
#include <regex>

#include "model/number_text.h"
#include "report/chart/label_text.h"
#include "report/chart/svg_bars.h"
#include "report/chart/svg_chart.h"

using namespace ash;

namespace {

struct Box {
  double left, right, top, bottom;
  std::string text;
  bool meets(const Box& other) const {
    return left < other.right && other.left < right && top < other.bottom && other.top < bottom;
  }
};

double attributeOf(const std::string& tag, const std::string& name, double otherwise) {
  std::smatch found;
  return std::regex_search(tag, found, std::regex(" " + name + "='([-0-9.]+)'")) ? std::stod(found[1]) : otherwise;
}

// Where the texts of a drawing lie. A letter of Inter is half an em wide in the mean, and a little more in semi-bold.
std::vector<Box> textsOf(const std::string& svg) {
  constexpr double kMeanEm = 0.56;
  std::vector<Box> boxes;
  const std::regex text("<text([^>]*)>([^<]*)</text>");
  for (auto it = std::sregex_iterator(svg.begin(), svg.end(), text); it != std::sregex_iterator(); ++it) {
    const std::string tag = (*it)[1], words = (*it)[2];
    if (words.empty()) continue;
    const double size = tag.find("class='title'") != std::string::npos ? 13 : 12;
    const double x = attributeOf(tag, "x", 0), y = attributeOf(tag, "y", 0);
    const double width = widthAtMost(words, size) / 0.62 * kMeanEm;
    const double from = tag.find("'end'") != std::string::npos      ? x - width
                        : tag.find("'middle'") != std::string::npos ? x - width / 2
                                                                    : x;
    boxes.push_back({from, from + width, y - 0.75 * size, y + 0.2 * size, words});
  }
  return boxes;
}

void checkTexts(const std::string& svg) {
  std::smatch view;
  REQUIRE(std::regex_search(svg, view, std::regex("viewBox='0 0 ([0-9]+) ([0-9]+)'")));
  const double width = std::stod(view[1]), height = std::stod(view[2]);
  const std::vector<Box> boxes = textsOf(svg);
  CHECK(boxes.size() > 3);
  for (size_t i = 0; i < boxes.size(); ++i) {
    INFO(boxes[i].text);
    CHECK(boxes[i].left >= -1);
    CHECK(boxes[i].right <= width + 1);
    CHECK(boxes[i].top >= -1);
    CHECK(boxes[i].bottom <= height + 1);
    for (size_t k = 0; k < i; ++k) {
      INFO(boxes[k].text);
      CHECK_FALSE(boxes[i].meets(boxes[k]));
    }
  }
}

std::vector<ChartColumn> columnsOf(size_t count, const std::string& name) {
  std::vector<ChartColumn> columns;
  for (size_t i = 0; i < count; ++i) {
    ChartColumn column;
    column.label = name + " " + std::to_string(i + 1);
    column.value = 40 + 3.7 * static_cast<double>(i);
    column.low = column.value - 0.4;
    column.high = column.value + 0.4;
    column.figure = withUnit(column.value, 1, "K");
    column.under = "± 0.4 K";
    column.limit = 73;
    column.setupIndex = static_cast<int>(i);
    columns.push_back(column);
  }
  return columns;
}

}  // namespace

TEST_CASE("namesOfAnyLengthKeepToTheirColumn") {
  for (const char* name : {"S", "Mesh + dust filter", "The tall cooler with two fans, second mount, new paste",
                           "Donaudampfschifffahrtsgesellschaftskapitän"}) {
    for (const size_t count : {size_t{1}, size_t{2}, size_t{6}})
      checkTexts(svgColumns({"CPU over room, All cores", "K", "spoken"}, columnsOf(count, name)).str());
    for (const size_t count : {size_t{7}, size_t{20}})
      checkTexts(svgBars({"CPU over room, All cores", "K", "spoken"}, columnsOf(count, name)).str());
  }
}

TEST_CASE("linesOfManySetupsAreNamedApart") {
  ChartSpec chart;
  chart.title = "Processor temperature, over room, All cores";
  chart.unit = "K";
  chart.xTitle = "minutes from load start";
  for (int setup = 0; setup < 8; ++setup) {
    ChartLine line;
    line.label = (setup % 2 == 0 ? "Setup " : "The tall cooler with two fans, mount ") + std::to_string(setup + 1);
    line.setupIndex = setup;
    for (double t = 0; t <= 1800; t += 10) {
      line.series.t.push_back(t);
      line.series.v.push_back((50 + 0.2 * setup) * (1 - std::exp(-t / 300)));
    }
    chart.lines.push_back(line);
  }
  checkTexts(svgLineChart(chart).str());
}

// Ticks of a narrow range are told apart.
TEST_CASE("ticksThatLieCloseKeepTheirDecimals") {
  CHECK(digitsOfTicks({0, 20, 40}) == 0);
  CHECK(digitsOfTicks({0, 0.5, 1}) == 1);
  CHECK(digitsOfTicks({3.70, 3.72}) == 2);
  ChartSpec chart;
  chart.unit = "K";
  ChartLine line;
  line.series.t = {0, 600, 1200};
  line.series.v = {20.0, 20.5, 20.8};
  chart.lines = {line};
  std::set<std::string> seen;
  for (const Box& box : textsOf(svgLineChart(chart).str())) CHECK(seen.insert(box.text).second);
}

TEST_CASE("labelsAreBrokenBetweenWordsAndCutBetweenCharacters") {
  CHECK(brokenLabel("Mesh", 12, 140, 2) == std::vector<std::string>{"Mesh"});
  const auto two = brokenLabel("The tall cooler with two fans", 12, 140, 2);
  REQUIRE(two.size() == 2);
  CHECK(two[0] == "The tall cooler");
  CHECK(two[1] == "with two fans");
  const auto cut = brokenLabel("Äöüßéñ Äöüßéñ Äöüßéñ Äöüßéñ Äöüßéñ Äöüßéñ", 12, 60, 2);
  REQUIRE(cut.size() == 2);
  CHECK(cut[1].find("…") != std::string::npos);
  for (const std::string& line : cut) CHECK(widthAtMost(line, 12) <= 60);
  // Rungs of a ladder are told apart by their ends.
  CHECK(brokenLabel("The mixing box in the rack, 105 W", 12, 120, 1).front() == "The mixi…, 105 W");
}
