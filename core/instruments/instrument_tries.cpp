// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/instrument_tries.h"

#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "instruments/instrument_file.h"
#include "system/own_folders.h"
#include "system/whole_file.h"

namespace ash {
namespace {

constexpr size_t kLargestTriesB = size_t{1} << 20, kMostKept = 1000;

std::string triesFile() {
  const std::string folder = stateFolder();
  return folder.empty() ? folder : folder + "/instrument-tries.json";
}

}  // namespace

InstrumentTries InstrumentTries::load() {
  InstrumentTries tries;
  std::ifstream file(triesFile());
  std::string text(kLargestTriesB, '\0');
  file.read(text.data(), static_cast<std::streamsize>(text.size()));
  text.resize(static_cast<size_t>(file.gcount()));
  if (Json kept = parseQuietly(text); kept.is_object()) tries.m_tries = std::move(kept);
  return tries;
}

std::optional<bool> InstrumentTries::of(const Instrument& instrument) const {
  const Json tried = valueIn(m_tries, instrument.name.c_str(), Json::object());
  if (valueIn(tried, "as", Json()) != instrumentToJson(instrument)) return std::nullopt;
  return valueIn(tried, "ok", false);
}

void InstrumentTries::set(const Instrument& instrument, bool isGood) {
  if (m_tries.size() >= kMostKept) m_tries = Json::object();
  m_tries[instrument.name] = {{"as", instrumentToJson(instrument)}, {"ok", isGood}};
}

void InstrumentTries::keep() const {
  const std::string path = triesFile();
  if (path.empty()) return;
  std::error_code error;
  std::filesystem::create_directories(std::filesystem::path(path).parent_path(), error);
  static_cast<void>(writeWholeFile(m_tries.dump(1), path, 0600).operator bool());
}

}  // namespace ash
