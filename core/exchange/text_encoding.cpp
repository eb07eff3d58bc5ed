// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/text_encoding.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cstdint>

namespace ash {
namespace {

void appendUtf8(std::string& out, uint32_t code) {
  if (code < 0x80) {
    out += static_cast<char>(code);
  } else if (code < 0x800) {
    out += static_cast<char>(0xC0 | (code >> 6));
    out += static_cast<char>(0x80 | (code & 0x3F));
  } else if (code < 0x10000) {
    out += static_cast<char>(0xE0 | (code >> 12));
    out += static_cast<char>(0x80 | ((code >> 6) & 0x3F));
    out += static_cast<char>(0x80 | (code & 0x3F));
  } else {
    out += static_cast<char>(0xF0 | (code >> 18));
    out += static_cast<char>(0x80 | ((code >> 12) & 0x3F));
    out += static_cast<char>(0x80 | ((code >> 6) & 0x3F));
    out += static_cast<char>(0x80 | (code & 0x3F));
  }
}

uint8_t byteAt(std::string_view bytes, size_t i) { return static_cast<uint8_t>(bytes[i]); }

std::string fromUtf16(const std::string& bytes, size_t first, bool isBigEndian) {
  std::string out;
  const auto unitAt = [&](size_t i) {
    return isBigEndian ? static_cast<uint32_t>(byteAt(bytes, i) << 8 | byteAt(bytes, i + 1))
                       : static_cast<uint32_t>(byteAt(bytes, i + 1) << 8 | byteAt(bytes, i));
  };
  for (size_t i = first; i + 1 < bytes.size(); i += 2) {
    uint32_t code = unitAt(i);
    const bool isHighSurrogate = code >= 0xD800 && code < 0xDC00 && i + 3 < bytes.size();
    if (isHighSurrogate) {
      const uint32_t low = unitAt(i + 2);
      if (low >= 0xDC00 && low < 0xE000) {
        code = 0x10000 + ((code - 0xD800) << 10) + (low - 0xDC00);
        i += 2;
      }
    }
    appendUtf8(out, code);
  }
  return out;
}

bool isUtf8(const std::string& bytes) {
  for (size_t i = 0; i < bytes.size();) {
    const uint8_t lead = byteAt(bytes, i);
    const size_t more = lead < 0x80                   ? 0
                        : lead >= 0xC2 && lead < 0xE0 ? 1
                        : lead >= 0xE0 && lead < 0xF0 ? 2
                        : lead >= 0xF0 && lead < 0xF5 ? 3
                                                      : 9;
    if (more == 9) return false;
    // A character cut at the very end of the file is a cut line, not another encoding.
    for (size_t k = 1; k <= more && i + k < bytes.size(); ++k) {
      if ((byteAt(bytes, i + k) & 0xC0) != 0x80) return false;
    }
    i += more + 1;
  }
  return true;
}

// The 32 places where Windows-1252 differs from Latin-1; 0 = not assigned.
constexpr std::array<uint16_t, 32> kWindows1252 = {0x20AC, 0,      0x201A, 0x0192, 0x201E, 0x2026, 0x2020, 0x2021,
                                                   0x02C6, 0x2030, 0x0160, 0x2039, 0x0152, 0,      0x017D, 0,
                                                   0,      0x2018, 0x2019, 0x201C, 0x201D, 0x2022, 0x2013, 0x2014,
                                                   0x02DC, 0x2122, 0x0161, 0x203A, 0x0153, 0,      0x017E, 0x0178};

// UTF-16 without a mark: every other byte of plain text is zero.
int zeroSide(const std::string& bytes) {
  const size_t length = std::min<size_t>(bytes.size(), 400) & ~size_t{1};
  size_t even = 0, odd = 0;
  for (size_t i = 0; i + 1 < length; i += 2) {
    even += bytes[i] == '\0';
    odd += bytes[i + 1] == '\0';
  }
  const size_t most = length / 2 * 8 / 10;
  if (length < 8) return 0;
  return odd >= most && even == 0 ? 1 : even >= most && odd == 0 ? 2 : 0;
}

}  // namespace

Encoding detectEncoding(const std::string& head) {
  if (head.starts_with("\xFF\xFE") || head.starts_with("\xFE\xFF") || zeroSide(head) != 0) return Encoding::Utf16;
  const size_t last = head.find_last_not_of('\0');
  if (head.substr(0, last == std::string::npos ? 0 : last).find('\0') != std::string::npos) return Encoding::Binary;
  if (last == std::string::npos && !head.empty()) return Encoding::Binary;
  return isUtf8(head) ? Encoding::Utf8 : Encoding::Windows1252;
}

std::string fromWindows1252(std::string_view bytes) {
  std::string out;
  for (size_t i = 0; i < bytes.size(); ++i) {
    const uint8_t byte = byteAt(bytes, i);
    const bool isSpecial = byte >= 0x80 && byte < 0xA0;
    appendUtf8(out, isSpecial ? (kWindows1252[byte - 0x80] != 0 ? kWindows1252[byte - 0x80] : 0xFFFD) : byte);
  }
  return out;
}

Result<std::string> toUtf8(const std::string& bytes, const std::string& where) {
  if (bytes.starts_with("\xEF\xBB\xBF")) return bytes.substr(3);
  switch (detectEncoding(bytes)) {
    case Encoding::Utf8:
      return bytes;
    case Encoding::Windows1252:
      return fromWindows1252(bytes);
    case Encoding::Utf16: {
      const bool hasMark = bytes.starts_with("\xFF\xFE") || bytes.starts_with("\xFE\xFF");
      const bool isBigEndian = hasMark ? bytes.starts_with("\xFE\xFF") : zeroSide(bytes) == 2;
      return fromUtf16(bytes, hasMark ? 2 : 0, isBigEndian);
    }
    case Encoding::Binary:
      break;
  }
  return Error::badInput(fmt::format("{} is a binary file, not a log; give a CSV file.", where));
}

}  // namespace ash
