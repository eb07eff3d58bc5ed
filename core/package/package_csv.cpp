// SPDX-License-Identifier: GPL-3.0-or-later
#include "package/package_csv.h"

#include <fmt/format.h>
#include <openssl/evp.h>

#include <array>
#include <cmath>

namespace ash {

std::string csvCell(std::string_view text) {
  if (text.find_first_of(",\"\r\n") == std::string_view::npos) return std::string(text);
  std::string whole = "\"";
  for (const char c : text) whole += c == '"' ? std::string("\"\"") : std::string(1, c);
  return whole + "\"";
}

std::string csvNumber(double value) {
  if (std::isinf(value)) return value > 0 ? "INF" : "-INF";
  return std::isnan(value) ? std::string() : fmt::format("{}", value);
}

Result<std::vector<std::vector<std::string>>> parseStrictCsv(std::string_view text, const std::string& where) {
  std::vector<std::vector<std::string>> records;
  std::vector<std::string> record;
  std::string cell;
  bool isQuoted = false;
  const auto wrong = [&](const char* why) {
    return Error::badInput(fmt::format("{}, record {}: {}.", where, records.size() + 1, why));
  };
  const auto endRecord = [&] {
    record.push_back(std::move(cell));
    cell.clear();
    records.push_back(std::move(record));
    record.clear();
    return records.back().size() == records.front().size();
  };
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (isQuoted) {
      if (c != '"') {
        cell += c;
      } else if (i + 1 < text.size() && text[i + 1] == '"') {
        cell += '"';
        ++i;
      } else {
        isQuoted = false;
        if (i + 1 < text.size() && text[i + 1] != ',' && text[i + 1] != '\n')
          return wrong("a quote ends within a cell");
      }
    } else if (c == '"') {
      if (!cell.empty()) return wrong("a quote begins within a cell");
      isQuoted = true;
    } else if (c == ',') {
      record.push_back(std::move(cell));
      cell.clear();
    } else if (c == '\n') {
      if (!endRecord()) return wrong("it has another number of cells than the header");
    } else {
      cell += c;
    }
  }
  if (isQuoted) return wrong("a quote is never closed");
  if ((!cell.empty() || !record.empty()) && !endRecord())
    return wrong("it has another number of cells than the header");
  return records;
}

std::string sha256Hex(std::string_view bytes) {
  std::array<unsigned char, EVP_MAX_MD_SIZE> digest{};
  unsigned length = 0;
  EVP_Digest(bytes.data(), bytes.size(), digest.data(), &length, EVP_sha256(), nullptr);
  std::string hex;
  for (unsigned i = 0; i < length; ++i) hex += fmt::format("{:02x}", digest[i]);
  return hex;
}

}  // namespace ash
