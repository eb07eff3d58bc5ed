// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/instrument_table.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>
#include <string>
#include <vector>

#include "model/accuracy_text.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"
#include "report/markup/page_parts.h"

namespace ash {
namespace {

// What is said of a reading, over all runs: several where runs differ.
struct Measured {
  std::set<std::string> instruments, accuracies, places;
  double stepLow = INFINITY, stepHigh = 0;  // of the sensor
  std::string unit;
};

std::string joined(const std::set<std::string>& words, const std::string& none) {
  std::string text;
  for (const std::string& word : words) text += (text.empty() ? "" : "; ") + word;
  return text.empty() ? none : text;
}

void take(const AnalyzedRun& run, const std::string& role, Measured& measured) {
  const RunFacts& facts = run.run.facts;
  if (const auto place = facts.places.find(role); place != facts.places.end() && !place->second.empty())
    measured.places.insert(place->second);
  const auto stated = facts.accuracies.find(role);
  if (stated == facts.accuracies.end()) return;
  if (!stated->second.instrument.empty()) measured.instruments.insert(stated->second.instrument);
  const std::string words = accuracyText({stated->second.percent, stated->second.plusMinus}, measured.unit);
  if (!words.empty()) measured.accuracies.insert("± " + words);
}

// In the order in which the runs name them.
std::vector<std::pair<std::string, Measured>> allMeasured(const StudyReport& report) {
  std::vector<std::pair<std::string, Measured>> all;
  const auto entry = [&](const std::string& role) -> Measured& {
    const auto found = std::find_if(all.begin(), all.end(), [&](const auto& one) { return one.first == role; });
    return found == all.end() ? all.emplace_back(role, Measured()).second : found->second;
  };
  for (const auto& run : report.runs) {
    for (const ChannelFigures& channel : run->figures.channels) {
      if (Role(channel.name).isOfSpectrum()) continue;
      Measured& measured = entry(channel.name);
      measured.unit = channel.unit;
      if (channel.step > 0) {
        measured.stepLow = std::min(measured.stepLow, channel.step);
        measured.stepHigh = std::max(measured.stepHigh, channel.step);
      }
      take(*run, channel.name, measured);
    }
    for (const Event& event : run->run.facts.events) {
      if (event.kind != EventKind::Reading || event.role.empty()) continue;
      Measured& measured = entry(event.role.text());
      measured.unit = unitOf(event.role.quantity());
      measured.instruments.insert("typed by hand");
      take(*run, event.role.text(), measured);
    }
  }
  return all;
}

std::string stepWords(const Measured& measured) {
  if (measured.stepHigh <= 0) return "–";
  const std::string low = fmt::format("{:g}", measured.stepLow), high = fmt::format("{:g}", measured.stepHigh);
  return (low == high ? low : low + " to " + high) + (measured.unit.empty() ? "" : "\u202F" + measured.unit);
}

}  // namespace

Markup instrumentTable(const StudyReport& report) {
  const auto all = allMeasured(report);
  if (all.empty()) return {};
  Element head("tr");
  for (const char* title : {"Reading", "Measured by", "May be off by", "Step", "Where"})
    head.add(Element("th").set("scope", "col").text(title));
  Markup rows;
  for (const auto& [role, measured] : all) {
    Element line("tr");
    line.add(Element("td").text(Role(role).title()));
    for (const std::string& words :
         {joined(measured.instruments, "not named"), joined(measured.accuracies, "not stated"), stepWords(measured),
          joined(measured.places, "–")})
      line.add(Element("td").text(words));
    rows.add(line).lineEnd();
  }
  return scrolledTable(head, rows);
}

}  // namespace ash
