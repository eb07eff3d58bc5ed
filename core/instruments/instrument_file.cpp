// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/instrument_file.h"

#include <fmt/format.h>

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <functional>
#include <set>

#include "instruments/openmetrics_text.h"
#include "instruments/sound_readings.h"
#include "model/json_cursor.h"
#include "model/pattern.h"
#include "model/text.h"
#include "system/own_folders.h"
#include "system/whole_file.h"

namespace ash {
namespace {

constexpr int kFormat = 1;
constexpr size_t kMostInstruments = 100, kMostReadings = 200, kLongestText = 4096;
constexpr uintmax_t kLargestFileB = 4u << 20;
constexpr JsonRange kIntervalS{0.05, 3600}, kTimeoutS{0.05, 60}, kDelayS{0, 60};

// What nobody asked for is a mistake here, and not another version's: a mistyped key would silently be a default.
void refuseUnknown(const JsonCursor& part) {
  const Json unasked = part.unasked();
  for (const auto& [key, value] : unasked.items()) part.refuse(key, "is no key of this");
}

void checkText(const JsonCursor& part, std::string_view key, const std::string& text, size_t most = kLongestText) {
  if (text.size() > most) return part.refuse(key, fmt::format("is longer than {} characters", most));
  if (withoutControls(text) != text) part.refuse(key, "holds control characters");
}

void takeUnit(const JsonCursor& part, InstrumentReading& reading) {
  part.take("unit", reading.unitText);
  const Quantity own = reading.role.quantity();
  if (reading.unitText.empty()) {
    reading.unit = {own, 1, 0};
    return;
  }
  const auto match = matchUnit(reading.unitText, own);
  if (!match && reading.role.isKnown())
    return part.refuse("unit", fmt::format("\"{}\" is no unit of {} (kept in {})", reading.unitText,
                                           reading.role.text(), unitOf(own)));
  if (match && reading.role.isKnown() && match->quantity != own)
    return part.refuse("unit", fmt::format("\"{}\" is a unit of another quantity: {} is kept in {}", reading.unitText,
                                           reading.role.text(), unitOf(own)));
  reading.unit = match.value_or(UnitMatch{});
}

void takeAsked(const JsonCursor& part, InstrumentKind kind, InstrumentReading& reading) {
  switch (kind) {
    case InstrumentKind::Scpi:
      part.need("query", reading.query);
      checkText(part, "query", reading.query);
      if (!reading.query.empty() && !reading.query.ends_with('?'))
        part.refuse("query", "must end with a question mark");
      return;
    case InstrumentKind::OpenMetrics:
      part.need("metric", reading.metric);
      part.take("labels", reading.labels);
      return;
    case InstrumentKind::Mqtt:
      part.need("topic", reading.topic);
      checkText(part, "topic", reading.topic);
      if (reading.topic.find_first_of("+#") != std::string::npos)
        part.refuse("topic", "must be one topic, without + and #");
      part.take("pointer", reading.pointer);
      if (!reading.pointer.empty() && !reading.pointer.starts_with('/'))
        part.refuse("pointer", "must begin with / (RFC 6901)");
      return;
    case InstrumentKind::Sound:
      return takeSoundMeasure(part, reading);
    case InstrumentKind::Command: {
      part.need("pattern", reading.pattern);
      if (reading.pattern.empty()) return;
      const auto pattern = Pattern::compile(reading.pattern);
      if (!pattern) return part.refuse("pattern", pattern.error().message);
      if (pattern->groupCount() != 1) part.refuse("pattern", "must have one group, which holds the number");
      return;
    }
  }
}

InstrumentReading readingFrom(const JsonCursor& part, InstrumentKind kind) {
  InstrumentReading reading;
  const std::string role = part.text("role");
  part.take("name", reading.name);
  if (!role.empty()) {
    reading.role = Role(role);
    if (!reading.role.isKnown()) part.refuse("role", fmt::format("\"{}\" is no role; give a \"name\" instead", role));
  } else if (trimmed(reading.name).empty()) {
    part.refuse("role", "is missing, and there is no \"name\" either");
  }
  checkText(part, "name", reading.name, 100);
  takeUnit(part, reading);
  takeAsked(part, kind, reading);
  const bool saysItself = kind == InstrumentKind::OpenMetrics && reading.unitText.empty() && reading.role.empty();
  if (saysItself) reading.unit = unitOfMetric(reading.metric).value_or(UnitMatch{});
  part.take("place", reading.place);
  checkText(part, "place", reading.place, 200);
  part.take("accuracy", reading.accuracyAsWritten);
  if (!reading.accuracyAsWritten.empty()) {
    const auto accuracy = parseAccuracy(reading.accuracyAsWritten, reading.unit.quantity);
    if (accuracy)
      reading.accuracy = *accuracy;
    else
      part.refuse("accuracy", accuracy.error().message);
  }
  refuseUnknown(part);
  return reading;
}

void takeWhere(const JsonCursor& part, Instrument& instrument) {
  if (instrument.kind == InstrumentKind::Command) {
    part.need("command", instrument.command);
    const std::string form = part.text("form", "once");
    instrument.isFollowed = form == "lines";
    if (form != "lines" && form != "once") part.refuse("form", "must be \"once\" or \"lines\"");
    return;
  }
  if (instrument.kind == InstrumentKind::Sound) return takeMicrophone(part, instrument);
  part.need("address", instrument.address);
  checkText(part, "address", instrument.address);
  if (instrument.kind == InstrumentKind::Scpi) {
    part.take("setup", instrument.setup);
    for (const std::string& line : instrument.setup) checkText(part, "setup", line);
    return;
  }
  part.take("tls_ca", instrument.tlsCa);
  if (instrument.kind == InstrumentKind::Mqtt) {
    part.take("user", instrument.user);
    part.take("password_file", instrument.passwordFile);
    part.take("qos", instrument.qos, {0, 1});
    return;
  }
  if (!instrument.address.empty() && !instrument.address.starts_with("http://") &&
      !instrument.address.starts_with("https://"))
    part.refuse("address", "must begin with http:// or https://");
  const size_t host = instrument.address.find("://");
  const std::string_view authority =
      std::string_view(instrument.address).substr(std::min(host, instrument.address.size()));
  if (authority.substr(0, authority.find('/', 3)).find('@') != std::string_view::npos)
    part.refuse("address", "holds a user or a password; a secret comes from a file (token_file)");
  part.take("token_file", instrument.tokenFile);
}

void takeReadings(const JsonCursor& part, Instrument& instrument) {
  std::set<std::string> titles;
  const auto readings = part.objects("readings");
  const bool isSound = instrument.kind == InstrumentKind::Sound;
  if (readings.empty() && !isSound) part.refuse("readings", "must hold at least one reading");
  if (readings.size() > kMostReadings) return part.refuse("readings", fmt::format("holds more than {}", kMostReadings));
  for (const JsonCursor& one : readings) {
    instrument.readings.push_back(readingFrom(one, instrument.kind));
    const std::string& title = instrument.readings.back().title();
    if (!title.empty() && !titles.insert(title).second)
      one.refuse(instrument.readings.back().role.empty() ? "name" : "role",
                 fmt::format("\"{}\" is there twice", title));
  }
  if (isSound) completeSoundReadings(part, instrument);
}

Instrument instrumentFrom(const JsonCursor& part) {
  Instrument instrument;
  part.need("name", instrument.name);
  checkText(part, "name", instrument.name, 100);
  std::string kind;
  part.need("kind", kind);
  const auto known = instrumentKindFrom(kind);
  if (!known) {
    if (!kind.empty()) part.refuse("kind", fmt::format("\"{}\" must be {}", kind, instrumentKindWords()));
    return instrument;
  }
  instrument.kind = *known;
  takeWhere(part, instrument);
  part.take("interval_s", instrument.intervalS, kIntervalS);
  part.take("timeout_s", instrument.timeoutS, kTimeoutS);
  part.take("delay_s", instrument.delayS, kDelayS);
  takeReadings(part, instrument);
  refuseUnknown(part);
  return instrument;
}

Result<std::string> textOf(const std::string& path) {
  return readWholeFile(path, kLargestFileB, "it holds no instruments");
}

// The file that is changed: the named one, else the person's own.
Result<std::string> fileToChange(const std::string& named) {
  if (named == kNoInstruments) return Error::badInput("--instruments none names no file that could be changed.");
  if (!named.empty()) return named;
  if (std::string own = ownInstrumentFile(); !own.empty()) return own;
  return Error::environment("There is no home folder to keep instruments in; name a file with --instruments.");
}

Result<Json> documentOf(const std::string& path) {
  std::error_code error;
  if (!std::filesystem::exists(path, error)) return Json{{"instruments", kFormat}, {"list", Json::array()}};
  const auto text = textOf(path);
  if (!text) return text.error();
  if (const auto checked = parseInstruments(*text, path); !checked) return checked.error();
  return parseObject(*text);
}

Status writeDocument(const Json& document, const std::string& path) {
  const std::string text = document.dump(2) + "\n";
  if (const auto checked = parseInstruments(text, path); !checked) return checked.error();
  std::error_code error;
  if (const auto folder = std::filesystem::path(path).parent_path(); !folder.empty())
    std::filesystem::create_directories(folder, error);
  if (error) return Error::environment(fmt::format("Cannot make the folder of {}: {}.", path, error.message()));
  return writeWholeFile(text, path, 0600);
}

// Changes the one of that name in the file.
Status changeOne(const std::string& named, const std::string& name, const std::function<void(Json&)>& change) {
  const auto path = fileToChange(named);
  if (!path) return path.error();
  auto document = documentOf(*path);
  if (!document) return document.error();
  for (Json& one : (*document)["list"]) {
    if (valueIn(one, "name", "") != name) continue;
    change(one);
    return writeDocument(*document, *path);
  }
  return Error::badInput(fmt::format("{} has no instrument \"{}\".", *path, name));
}

}  // namespace

std::string ownInstrumentFile() {
  const std::string folder = configFolder();
  return folder.empty() ? folder : folder + "/instruments.json";
}

Result<std::vector<Instrument>> parseInstruments(const std::string& text, const std::string& where) {
  const Json document = parseQuietly(text);
  if (!document.is_object())
    return Error::badInput(fmt::format("{} is no JSON object; see docs/instruments.md for its form.", where));
  JsonCursor::Mistakes mistakes;
  const JsonCursor root(document, mistakes);
  int format = 0;
  root.need("instruments", format);
  if (format != kFormat) root.refuse("instruments", fmt::format("must be {}", kFormat));
  std::vector<Instrument> list;
  std::set<std::string> names;
  for (const JsonCursor& one : root.objects("list")) {
    list.push_back(instrumentFrom(one));
    if (!names.insert(list.back().name).second)
      one.refuse("name", fmt::format("\"{}\" is there twice", list.back().name));
  }
  if (list.size() > kMostInstruments) root.refuse("list", fmt::format("holds more than {}", kMostInstruments));
  refuseUnknown(root);
  if (!mistakes.empty())
    return Error::badInput(
        fmt::format("{}: {} {}.", where, mistakes.front().path, withoutControls(mistakes.front().why)));
  return list;
}

Result<std::vector<Instrument>> readInstruments(const std::string& named) {
  if (named == kNoInstruments) return std::vector<Instrument>();
  const std::string path = named.empty() ? ownInstrumentFile() : named;
  std::error_code error;
  if (named.empty() && (path.empty() || !std::filesystem::exists(path, error))) return std::vector<Instrument>();
  const auto text = textOf(path);
  if (!text) return text.error();
  return parseInstruments(*text, path);
}

Json instrumentToJson(const Instrument& instrument) {
  Json json = {{"name", instrument.name}, {"kind", instrumentKindText(instrument.kind)}};
  if (instrument.kind == InstrumentKind::Command) {
    json["command"] = instrument.command;
    json["form"] = instrument.isFollowed ? "lines" : "once";
  } else if (instrument.kind == InstrumentKind::Sound) {
    json["device"] = instrument.device;
    json["spectrum"] = instrument.hasSpectrum;
    if (std::isfinite(instrument.calibrationDb)) json["calibration_db"] = instrument.calibrationDb;
  } else {
    json["address"] = instrument.address;
  }
  json["interval_s"] = instrument.intervalS;
  json["timeout_s"] = instrument.timeoutS;
  json["delay_s"] = instrument.delayS;
  if (!instrument.setup.empty()) json["setup"] = instrument.setup;
  if (!instrument.tokenFile.empty()) json["token_file"] = instrument.tokenFile;
  if (!instrument.user.empty()) json["user"] = instrument.user;
  if (!instrument.passwordFile.empty()) json["password_file"] = instrument.passwordFile;
  if (instrument.kind == InstrumentKind::Mqtt) json["qos"] = instrument.qos;
  if (!instrument.tlsCa.empty()) json["tls_ca"] = instrument.tlsCa;
  json["readings"] = Json::array();
  for (const InstrumentReading& reading : instrument.readings) {
    if (reading.isOfSpectrum) continue;
    Json one = Json::object();
    one[reading.role.empty() ? "name" : "role"] =
        instrument.kind == InstrumentKind::Sound ? writtenSoundRole(reading) : reading.title();
    if (!reading.query.empty()) one["query"] = reading.query;
    if (!reading.metric.empty()) one["metric"] = reading.metric;
    if (!reading.labels.empty()) one["labels"] = reading.labels;
    if (!reading.topic.empty()) one["topic"] = reading.topic;
    if (!reading.pointer.empty()) one["pointer"] = reading.pointer;
    if (!reading.pattern.empty()) one["pattern"] = reading.pattern;
    if (!reading.unitText.empty()) one["unit"] = reading.unitText;
    if (!reading.accuracyAsWritten.empty()) one["accuracy"] = reading.accuracyAsWritten;
    if (!reading.place.empty()) one["place"] = reading.place;
    json["readings"].push_back(std::move(one));
  }
  return json;
}

Status addInstrument(const std::string& named, const Json& instrument) {
  const auto path = fileToChange(named);
  if (!path) return path.error();
  auto document = documentOf(*path);
  if (!document) return document.error();
  const std::string name = valueIn(instrument, "name", "");
  for (const Json& there : (*document)["list"]) {
    if (valueIn(there, "name", "") == name)
      return Error::badInput(fmt::format("{} has an instrument \"{}\" already; remove it first.", *path, name));
  }
  (*document)["list"].push_back(instrument);
  return writeDocument(*document, *path);
}

Status changeInstrument(const std::string& named, const std::string& name, const Json& instrument) {
  // A new name that is another's is found where the whole file is checked.
  return changeOne(named, name, [&](Json& one) { one = instrument; });
}

Status calibrateInstrument(const std::string& named, const std::string& name, double fullScaleDb) {
  return changeOne(named, name, [&](Json& one) { one["calibration_db"] = std::round(100 * fullScaleDb) / 100; });
}

Status removeInstrument(const std::string& named, const std::string& name) {
  const auto path = fileToChange(named);
  if (!path) return path.error();
  auto document = documentOf(*path);
  if (!document) return document.error();
  Json& list = (*document)["list"];
  const size_t before = list.size();
  for (auto one = list.begin(); one != list.end();) one = valueIn(*one, "name", "") == name ? list.erase(one) : one + 1;
  if (list.size() == before) return Error::badInput(fmt::format("{} has no instrument \"{}\".", *path, name));
  return writeDocument(*document, *path);
}

}  // namespace ash
