// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/openmetrics_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <optional>
#include <set>

#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kMostSamples = 200'000, kMostLabels = 100;

bool isNameChar(char c, bool isFirst) {
  const bool isLetter = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_' || c == ':';
  return isLetter || (!isFirst && c >= '0' && c <= '9');
}

/// One line, read from left to right.
class Line {
 public:
  explicit Line(std::string_view text) : m_rest(text) {}

  bool isAtEnd() const { return m_rest.empty(); }
  void skipBlanks() { m_rest.remove_prefix(std::min(m_rest.find_first_not_of(" \t"), m_rest.size())); }
  bool take(char c) {
    if (m_rest.empty() || m_rest.front() != c) return false;
    m_rest.remove_prefix(1);
    return true;
  }
  std::string_view name() {
    size_t length = 0;
    while (length < m_rest.size() && isNameChar(m_rest[length], length == 0)) ++length;
    return cut(length);
  }
  std::string_view word() { return cut(std::min(m_rest.find_first_of(" \t"), m_rest.size())); }

  // "…" with \\, \" and \n; nothing when it is not closed.
  std::optional<std::string> quoted() {
    if (!take('"')) return std::nullopt;
    std::string value;
    for (size_t i = 0; i < m_rest.size(); ++i) {
      const char c = m_rest[i];
      if (c == '"') {
        m_rest.remove_prefix(i + 1);
        return value;
      }
      if (c == '\\' && i + 1 < m_rest.size()) {
        const char next = m_rest[++i];
        value += next == 'n' ? '\n' : next;
        continue;
      }
      value += c;
    }
    return std::nullopt;
  }

 private:
  std::string_view cut(size_t length) {
    const std::string_view part = m_rest.substr(0, length);
    m_rest.remove_prefix(length);
    return part;
  }
  std::string_view m_rest;
};

// A number as both formats write it: also NaN, +Inf, 1e3, 0x… not.
std::optional<double> metricNumber(std::string_view text) {
  std::string small(text);
  std::transform(small.begin(), small.end(), small.begin(), [](unsigned char c) { return char(std::tolower(c)); });
  if (small.starts_with('+')) small.erase(0, 1);
  double value = 0;
  const auto [end, error] = std::from_chars(small.data(), small.data() + small.size(), value);
  if (error == std::errc::result_out_of_range) return kMissing;
  if (error != std::errc() || end != small.data() + small.size()) return std::nullopt;
  return std::isfinite(value) ? value : kMissing;
}

std::optional<std::string> takeLabels(Line& line, MetricSample& sample) {
  if (!line.take('{')) return {};
  line.skipBlanks();
  while (!line.take('}')) {
    const std::string name(line.name());
    line.skipBlanks();
    if (name.empty() || !line.take('=')) return "a label has no name";
    line.skipBlanks();
    auto value = line.quoted();
    if (!value) return "a label's value is not closed";
    if (!sample.labels.emplace(name, std::move(*value)).second) return fmt::format("the label {} is there twice", name);
    if (sample.labels.size() > kMostLabels) return "there are too many labels";
    line.skipBlanks();
    line.take(',');
    line.skipBlanks();
  }
  return {};
}

/// What stands in a line that is no comment. An error is its sentence.
std::optional<std::string> takeSample(std::string_view text, bool isOpenMetrics, MetricSample& sample) {
  Line line(text);
  sample.name = line.name();
  if (sample.name.empty()) return "it begins with no name";
  line.skipBlanks();
  if (auto fault = takeLabels(line, sample)) return fault;
  line.skipBlanks();
  const auto value = metricNumber(line.word());
  if (!value) return "its value is no number";
  sample.value = *value;
  line.skipBlanks();
  if (line.isAtEnd() || line.take('#')) return {};  // an exemplar may follow
  const auto stamp = metricNumber(line.word());
  if (!stamp) return "its time stamp is no number";
  sample.stampS = isOpenMetrics ? *stamp : *stamp / 1000;
  line.skipBlanks();
  if (line.isAtEnd() || line.take('#')) return {};
  return "something stands after its time stamp";
}

// "# TYPE name counter" is kept; the rest of the comments says nothing that is needed.
void takeComment(std::string_view text, std::set<std::string>& counters, bool& hasEnd) {
  Line line(text.substr(1));
  line.skipBlanks();
  const std::string_view what = line.word();
  line.skipBlanks();
  if (what == "EOF" && line.isAtEnd()) hasEnd = true;
  if (what != "TYPE") return;
  const std::string name(line.name());
  line.skipBlanks();
  if (line.word() == "counter") counters.insert(name);
}

bool isOfFamily(const std::string& name, const std::set<std::string>& counters) {
  if (counters.contains(name)) return true;
  return name.ends_with("_total") && counters.contains(name.substr(0, name.size() - 6));
}

struct NamedUnit {
  std::string_view end;
  std::string_view unit;
};
constexpr std::array kNamedUnits = {
    NamedUnit{"_celsius", "°C"}, NamedUnit{"_watts", "W"},   NamedUnit{"_joules", "J"},     NamedUnit{"_volts", "V"},
    NamedUnit{"_amperes", "A"},  NamedUnit{"_hertz", "Hz"},  NamedUnit{"_ratio", "ratio"},  NamedUnit{"_seconds", "s"},
    NamedUnit{"_rpm", "RPM"},    NamedUnit{"_percent", "%"}, NamedUnit{"_decibels", "dBA"}, NamedUnit{"_kelvin", "K"}};

}  // namespace

Result<MetricsPage> parseMetrics(std::string_view text, bool isOpenMetrics) {
  MetricsPage page;
  std::set<std::string> counters;
  size_t number = 0;
  while (!text.empty()) {
    const size_t end = std::min(text.find('\n'), text.size());
    std::string_view line = text.substr(0, end);
    text.remove_prefix(std::min(end + 1, text.size()));
    ++number;
    if (line.ends_with('\r')) line.remove_suffix(1);
    if (trimmed(line).empty()) continue;
    if (page.hasEnd) return Error::badInput(fmt::format("line {}: something stands after # EOF", number));
    if (line.front() == '#') {
      takeComment(line, counters, page.hasEnd);
      continue;
    }
    MetricSample sample;
    if (const auto fault = takeSample(line, isOpenMetrics, sample))
      return Error::badInput(fmt::format("line {}: {}", number, *fault));
    sample.isCounter = isOfFamily(sample.name, counters);
    page.samples.push_back(std::move(sample));
    if (page.samples.size() > kMostSamples)
      return Error::badInput(fmt::format("it has more than {} samples", kMostSamples));
  }
  if (isOpenMetrics && !page.hasEnd) return Error::badInput("the page is cut off: # EOF is missing");
  return page;
}

std::optional<UnitMatch> unitOfMetric(std::string_view name) {
  if (name.ends_with("_total")) name.remove_suffix(6);
  for (const NamedUnit& known : kNamedUnits) {
    if (name.ends_with(known.end)) return matchUnit(known.unit);
  }
  return std::nullopt;
}

}  // namespace ash
