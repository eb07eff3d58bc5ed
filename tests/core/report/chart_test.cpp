// SPDX-License-Identifier: GPL-3.0-or-later
// Charts that can be read: no text covers another or leaves the picture in any size, whatever names setups have; they
// are told apart without colours, and colours are told from their ground.
#include <fmt/format.h>

#include <catch2/catch.hpp>
#include <random>
#include <regex>
#include <set>

#include "model/number_text.h"
#include "report/drawing/label_text.h"
#include "report/drawing/svg_chart.h"
#include "report/drawing/ticks.h"

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

size_t lettersOf(const std::string& text) {
  return static_cast<size_t>(
      std::count_if(text.begin(), text.end(), [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; }));
}

// Where the texts of a drawing lie: a letter is half an em wide in the mean. (Widths of a real font: the window's
// test.)
std::vector<Box> textsOf(const std::string& svg) {
  constexpr double kMeanEm = 0.5;
  std::vector<Box> boxes;
  const std::regex text("<text([^>]*)>([^<]*)</text>");
  for (auto it = std::sregex_iterator(svg.begin(), svg.end(), text); it != std::sregex_iterator(); ++it) {
    const std::string tag = (*it)[1], words = (*it)[2];
    if (words.empty()) continue;
    const double size = attributeOf(tag, "font-size", 0), x = attributeOf(tag, "x", 0), y = attributeOf(tag, "y", 0);
    const double width = static_cast<double>(lettersOf(words)) * size * kMeanEm;
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

// In every size, light and dark.
void checkEverySize(const Chart& chart) {
  for (const ChartSizeInfo& info : chartSizes()) {
    for (const bool isDark : {false, true}) {
      INFO(info.word);
      checkTexts(svgChart(chart, {info.size, isDark, true}).str());
    }
  }
}

Chart chartOf(std::variant<RankPlot, PlanePlot> plot) {
  return {"answer",
          "The tall cooler with two fans runs 10.3 K cooler than the small one, the first two of 20 that were measured",
          "CPU over room, All cores, with 95 % intervals; limit marked",
          "Which cooler for the mixing box in the rack? · 40 runs of 20 setups, 2026-09-24 to 2026-10-25 · Ash Gauge",
          "spoken",
          std::move(plot)};
}

RankPlot rankOf(size_t count, const std::string& name) {
  RankPlot plot;
  plot.unit = "K";
  for (size_t i = 0; i < count; ++i) {
    RankedSetup setup;
    setup.label = name + " " + std::to_string(i + 1);
    setup.value = 40 + 3.7 * static_cast<double>(i);
    setup.low = setup.value - 0.4;
    setup.high = setup.value + 0.4;
    setup.figure = withUnit(setup.value, 1, "K");
    setup.under = "± 0.4 K";
    setup.limit = 73;
    setup.repeats = {setup.value - 0.2, setup.value + 0.2};
    setup.setupIndex = static_cast<int>(i);
    plot.setups.push_back(setup);
  }
  return plot;
}

PlotLine lineOf(const std::string& label, int setup, double rise) {
  PlotLine line;
  line.label = label;
  line.setupIndex = setup;
  for (double t = 0; t <= 1800; t += 10) {
    line.x.push_back(t);
    line.y.push_back(rise * (1 - std::exp(-t / 300)));
  }
  return line;
}

PlanePlot warmUpOf(int setups) {
  PlanePlot plot;
  plot.x = {"time from load start, min:s", PlotAxis::Scale::Minutes};
  plot.y = {"over room, K"};
  for (int setup = 0; setup < setups; ++setup)
    plot.lines.push_back(
        lineOf((setup % 2 == 0 ? "Setup " : "The tall cooler with two fans, mount ") + std::to_string(setup + 1), setup,
               50 + 0.2 * setup));
  return plot;
}

// WCAG 2.1: relative luminance and contrast ratio.
double luminanceOf(std::string_view colour) {
  double sum = 0;
  for (const auto& [at, weight] : {std::pair{1, 0.2126}, std::pair{3, 0.7152}, std::pair{5, 0.0722}}) {
    const double part = std::stoi(std::string(colour.substr(static_cast<size_t>(at), 2)), nullptr, 16) / 255.0;
    sum += weight * (part <= 0.04045 ? part / 12.92 : std::pow((part + 0.055) / 1.055, 2.4));
  }
  return sum;
}
double contrastOf(std::string_view a, std::string_view b) {
  const double x = luminanceOf(a), y = luminanceOf(b);
  return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

constexpr const char* kLongNames[] = {"S", "Mesh + dust filter",
                                      "The tall cooler with two fans, second mount, new paste",
                                      "Donaudampfschifffahrtsgesellschaftskapitän", "WWWWWW MMMMMM @@@@@@ %%%%%%"};

}  // namespace

TEST_CASE("rankedNamesOfAnyLengthKeepToTheirPlaceInEverySize") {
  for (const char* name : kLongNames) {
    for (const size_t count : {size_t{1}, size_t{2}, size_t{6}, size_t{7}, size_t{20}}) {
      INFO(name << " " << count);
      checkEverySize(chartOf(rankOf(count, name)));
    }
  }
}

// A picture of a given height shows what fits and says what does not.
TEST_CASE("aThumbnailSaysHowManyItLeavesOut") {
  const std::string svg = svgChart(chartOf(rankOf(40, "Setup")), {ChartSize::Thumbnail}).str();
  CHECK(svg.find("viewBox='0 0 1920 1080'") != std::string::npos);
  std::smatch more;
  REQUIRE(std::regex_search(svg, more, std::regex(">and ([0-9]+) more<")));
  size_t named = 0;
  for (const Box& box : textsOf(svg)) named += box.text.starts_with("Setup ");
  CHECK(named + std::stoul(more[1]) == 40);
}

TEST_CASE("linesOfManySetupsAreNamedApartInEverySize") {
  for (const int setups : {1, 8, 24}) {
    INFO(setups);
    checkEverySize(chartOf(warmUpOf(setups)));
  }
}

TEST_CASE("pointsAreNamedWhereverTheyLieInEverySize") {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> place(0, 1);
  for (int round = 0; round < 12; ++round) {
    PlanePlot plot;
    plot.x = {"noise, dBA"};
    plot.y = {"CPU over room, K"};
    const int count = 2 + round;
    for (int i = 0; i < count; ++i) {
      PlotPoint point;
      point.x = 37 + place(random);
      point.y = 50 + 10 * place(random);
      point.xLow = point.x - 0.2;
      point.xHigh = point.x + 0.2;
      point.label = std::string(kLongNames[static_cast<size_t>(i) % 4]) + " " + std::to_string(i);
      point.setupIndex = i;
      plot.points.push_back(point);
    }
    INFO(round);
    checkEverySize(chartOf(plot));
    // Every name stands in it: at its point or in the legend.
    const std::string svg = svgChart(chartOf(plot)).str();
    for (int i = 0; i < std::min(count, 4); ++i)
      CHECK(svg.find(" " + std::to_string(i) + "</text>") != std::string::npos);
  }
}

TEST_CASE("anAxisOfOctavesHasRoundFrequencies") {
  CHECK(logTicks(25, 12'500) == std::vector<double>{50, 100, 200, 500, 1000, 2000, 5000, 10'000});
  CHECK(logTicks(0, 100).empty());
  PlanePlot plot;
  plot.x = {"frequency, Hz", PlotAxis::Scale::Log};
  plot.y = {"dBA"};
  PlotLine line;
  line.label = "Solid";
  line.stroke = PlotLine::Stroke::Steps;
  for (double hz = 25; hz < 13'000; hz *= std::pow(10, 0.1)) {
    line.x.push_back(hz);
    line.y.push_back(20 + 5 * std::sin(hz));
  }
  plot.lines = {line};
  checkEverySize(chartOf(plot));
  // A tenfold is as far as the next.
  const std::string svg = svgChart(chartOf(plot)).str();
  const auto placeOf = [&](const std::string& words) {
    std::smatch found;
    REQUIRE(std::regex_search(svg, found, std::regex("<text x='([0-9.]+)'[^>]*>" + words + "</text>")));
    return std::stod(found[1]);
  };
  CHECK(placeOf("1 k") - placeOf("100") == Approx(placeOf("10 k") - placeOf("1 k")).margin(0.2));
}

// Ticks of a narrow range are told apart, and there are two at least.
TEST_CASE("ticksThatLieCloseKeepTheirDecimals") {
  CHECK(digitsOfTicks({0, 20, 40}) == 0);
  CHECK(digitsOfTicks({0, 0.5, 1}) == 1);
  CHECK(digitsOfTicks({3.70, 3.72}) == 2);
  PlotLine line;
  line.x = {0, 600, 1200};
  line.y = {20.0, 20.5, 20.8};
  PlanePlot plot;
  plot.lines = {line};
  for (const ChartSizeInfo& info : chartSizes()) {
    std::set<std::string> seen;
    size_t numbers = 0;
    for (const Box& box : textsOf(svgChart(chartOf(plot), {info.size}).str())) {
      CHECK(seen.insert(box.text).second);
      numbers += box.text.starts_with("2");
    }
    CHECK(numbers >= 2);
  }
}

TEST_CASE("aChartKeepsThePeakOfManySamples") {
  PlotLine line;
  for (int i = 0; i < 100'000; ++i) {
    line.x.push_back(i);
    line.y.push_back(i == 54'321 ? 99.0 : 50.0);
  }
  PlanePlot plot;
  plot.x.scale = PlotAxis::Scale::Minutes;
  plot.lines = {line};
  const std::string svg = svgChart(chartOf(plot)).str();
  CHECK(svg.size() < 80'000);
  // The highest point of the path lies as far above the line as the peak above 50: 49 of a range of 1.14 times 49.
  const size_t at = svg.find("<path d='M");
  const std::string path = svg.substr(at, svg.find("' ", at) - at);
  double top = INFINITY, usual = -INFINITY;
  const std::regex place("[ML][0-9.]+ ([0-9.]+)");
  for (auto it = std::sregex_iterator(path.begin(), path.end(), place); it != std::sregex_iterator(); ++it) {
    top = std::min(top, std::stod((*it)[1]));
    usual = std::max(usual, std::stod((*it)[1]));
  }
  const double plotHeight = 270 - 1.7 * 12 - 1.7 * 12;
  CHECK(usual - top == Approx(plotHeight / 1.14).margin(0.5));
}

// A gap stays one.
TEST_CASE("aLineBreaksWhereAReadingIsMissing") {
  PlotLine line;
  line.x = {0, 1, 2, 3, 4, 5};
  line.y = {1, 2, kMissing, kMissing, 3, 4};
  PlanePlot plot;
  plot.lines = {line};
  const std::string svg = svgChart(chartOf(plot)).str();
  const size_t at = svg.find("<path d='");
  const std::string path = svg.substr(at, svg.find("' ", at) - at);
  CHECK(std::count(path.begin(), path.end(), 'M') == 2);
}

TEST_CASE("setupsAreToldApartWithoutColours") {
  std::set<std::string> dashes, shapes;
  PlanePlot plot;
  for (int i = 0; i < 8; ++i) {
    dashes.insert(dashesOf(i, 2));
    PlotPoint point;
    point.x = point.y = i;
    point.setupIndex = i;
    plot.points.push_back(point);
  }
  CHECK(dashes.size() == 8);
  // A shape from its first corner on, wherever it lies.
  const std::string svg = svgChart(chartOf(plot)).str();
  const std::regex shape("<path d='M([0-9.]+) ([0-9.]+)L([0-9.]+) ([0-9.]+)([^']*)Z' fill='#");
  for (auto it = std::sregex_iterator(svg.begin(), svg.end(), shape); it != std::sregex_iterator(); ++it) {
    const std::string rest = (*it)[5];
    shapes.insert(fmt::format("{} {:.0f} {:.0f}", std::count(rest.begin(), rest.end(), 'L'),
                              std::stod((*it)[3]) - std::stod((*it)[1]), std::stod((*it)[4]) - std::stod((*it)[2])));
  }
  CHECK(shapes.size() == 8);
}

TEST_CASE("wordsAndColoursStandOutOfTheirGround") {
  for (const ChartLook look : {ChartLook{}, ChartLook{ChartSize::Print}, ChartLook{ChartSize::Page, true}}) {
    const ChartPalette& palette = look.palette();
    for (const std::string_view words : {palette.ink, palette.soft, palette.ember})
      CHECK(contrastOf(words, palette.paper) >= 4.5);
    CHECK(contrastOf(palette.soft, palette.window) >= 4.5);
    for (int setup = 0; setup < 8; ++setup) {
      const std::string colour = palette.setup(setup);
      INFO(colour);
      CHECK(contrastOf(colour, palette.paper) >= 3);
    }
  }
}

// Each has its interval, its repeats and its limit; one at its limit is told apart in ember.
TEST_CASE("aColumnShowsIntervalRepeatsAndLimit") {
  RankPlot plot = rankOf(3, "Setup");
  plot.setups[2].isAtLimit = true;
  const auto countOf = [](const std::string& text, const std::string& part) {
    size_t count = 0;
    for (size_t at = text.find(part); at != std::string::npos; at = text.find(part, at + 1)) ++count;
    return count;
  };
  const std::string svg = svgChart(chartOf(plot)).str();
  const std::string ember(ChartLook().palette().ember);
  CHECK(countOf(svg, "<circle") == 6);
  CHECK(countOf(svg, "stroke='" + ember + "'") == 1);
  CHECK(countOf(svg, "fill='" + ember + "'>± 0.4 K<") == 1);
  plot.setups[2].isAtLimit = false;
  CHECK(countOf(svgChart(chartOf(plot)).str(), ember) == 0);
  // On a phone the same as bars: a name over each, its figure at its right.
  const std::string phone = svgChart(chartOf(plot), {ChartSize::Phone}).str();
  CHECK(countOf(phone, ">Setup ") == 3);
  CHECK(countOf(phone, "text-anchor='end'>4") == 3);
}

TEST_CASE("whatIsAskedIsALineWithItsWordsInEverySize") {
  for (const size_t count : {size_t{1}, size_t{3}, size_t{12}}) {
    RankPlot plot = rankOf(count, "Setup");
    plot.asked = 60;
    plot.askedWords = "asked: 60 K";
    checkEverySize(chartOf(plot));
    CHECK(svgChart(chartOf(plot)).str().find(">asked: 60 K<") != std::string::npos);
  }
}

TEST_CASE("aLowerValueIsALowerColumn") {
  const std::string svg = svgChart(chartOf(rankOf(3, "Setup"))).str();
  std::vector<double> heights;
  const std::regex bar("<rect[^>]* height='([0-9.]+)' fill='#(?:2F5D8A|7B3F73|1C7C7D)'");
  for (auto it = std::sregex_iterator(svg.begin(), svg.end(), bar); it != std::sregex_iterator(); ++it)
    heights.push_back(std::stod((*it)[1]));
  REQUIRE(heights.size() == 3);
  // 40 to 43.7 to 47.4, from zero.
  CHECK(heights[1] / heights[0] == Approx(43.7 / 40).epsilon(0.01));
  CHECK(heights[2] / heights[0] == Approx(47.4 / 40).epsilon(0.01));
}

TEST_CASE("aPhoneNamesLinesInALegend") {
  const PlanePlot plot = warmUpOf(8);
  const std::string phone = svgChart(chartOf(plot), {ChartSize::Phone}).str();
  const std::string page = svgChart(chartOf(plot)).str();
  for (int setup = 0; setup < 8; setup += 2) {
    const std::string name = ">Setup " + std::to_string(setup + 1) + "<";
    CHECK(phone.find(name) != std::string::npos);
    CHECK(page.find(name) != std::string::npos);
  }
  // In the legend with the dashes of the line.
  CHECK(phone.find("stroke-dasharray='" + dashesOf(1, 2) + "'") != std::string::npos);
}

TEST_CASE("aPictureThatStandsAloneBringsItsGroundAndSize") {
  const Chart chart = chartOf(rankOf(2, "Setup"));
  const std::string inPage = svgChart(chart).str(), alone = svgChart(chart, {ChartSize::Phone, true, true}).str();
  CHECK(inPage.find(" width='768'") == std::string::npos);
  CHECK(inPage.find(std::string(ChartLook().palette().paper)) == std::string::npos);
  CHECK(alone.find(" width='390'") != std::string::npos);
  CHECK(alone.find("fill='" + std::string(ChartLook{ChartSize::Phone, true}.palette().paper) + "'") !=
        std::string::npos);
  CHECK(alone.find("id='chart-answer-phone-dark'") != std::string::npos);
  CHECK(ChartLook{ChartSize::Page}.suffix().empty());
  CHECK(ChartLook{ChartSize::Print, false, true}.suffix() == "-print");
  CHECK(ChartLook{ChartSize::Print}.palette().paper == "#FFFFFF");
}
