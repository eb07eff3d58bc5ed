// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/csv_read.h"

#include <fmt/format.h>

#include <cerrno>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "exchange/log_reader.h"
#include "exchange/text_encoding.h"

namespace ash {
namespace {

Result<std::string> readWholeFile(const std::string& path) {
  std::error_code error;
  if (std::filesystem::is_directory(path, error)) {
    return Error::badInput(fmt::format("{} is a folder; give a CSV file.", path));
  }
  std::ifstream file(path, std::ios::binary);
  if (!file) return Error::badInput(fmt::format("Cannot read {}: {}.", path, std::generic_category().message(errno)));
  std::ostringstream text;
  text << file.rdbuf();
  return text.str();
}

}  // namespace

Result<Log> parseCsvLog(const std::string& bytes, const std::string& where) {
  auto text = toUtf8(bytes, where);
  if (!text) return text.error();
  TextSource source(*text);
  CsvRecords records(source);
  return LogReader(records, {where, static_cast<double>(text->size())}).run();
}

Result<Log> readCsvLog(const std::string& path) {
  std::error_code error;
  if (std::filesystem::is_directory(path, error))
    return Error::badInput(fmt::format("{} is a folder; give a CSV file.", path));
  const auto source = FileSource::open(path);
  if (!source) return Error::badInput(fmt::format("Cannot read {}: {}.", path, std::generic_category().message(errno)));
  CsvRecords records(*source);
  const std::string head(records.head());
  const Encoding encoding = detectEncoding(head);
  if (encoding == Encoding::Utf16 || encoding == Encoding::Binary) {
    auto bytes = readWholeFile(path);
    return bytes ? parseCsvLog(*bytes, path) : bytes.error();
  }
  if (head.starts_with("\xEF\xBB\xBF")) records.skip(3);
  const auto size = std::filesystem::file_size(path, error);
  return LogReader(records, {path, error ? 0.0 : static_cast<double>(size), encoding == Encoding::Windows1252}).run();
}

std::string runNameOfFile(const std::string& path) {
  const std::string name = std::filesystem::path(path).filename().string();
  return name.ends_with(".csv") || name.ends_with(".CSV") ? name.substr(0, name.size() - 4) : name;
}

Result<RunFacts> readSidecar(const std::string& path) {
  auto text = readWholeFile(path);
  if (!text) return text.error();
  return parseSidecar(*text, path);
}

Result<RunLog> readRunFiles(const std::string& csvPath) {
  auto log = readCsvLog(csvPath);
  if (!log) return log.error();
  RunLog run;
  run.name = runNameOfFile(csvPath);
  run.log = std::move(*log);
  const auto folder = std::filesystem::path(csvPath).parent_path();
  const auto sidecar = folder / (run.name + ".meta.json");
  std::error_code error;
  if (std::filesystem::exists(sidecar, error)) {
    auto facts = readSidecar(sidecar.string());
    if (!facts) return facts.error();
    run.facts = std::move(*facts);
  }
  if (run.facts.setup.empty()) run.facts.setup = run.name;
  return run;
}

}  // namespace ash
