// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/block_codec.h"

#include <zlib.h>

#include <bit>
#include <cstring>

namespace ash {
static_assert(std::endian::native == std::endian::little, "blocks are little-endian; swap here on other machines");

std::string packDoubles(const std::vector<double>& values) {
  std::string bytes(values.size() * sizeof(double), '\0');
  if (!values.empty()) std::memcpy(bytes.data(), values.data(), bytes.size());
  return bytes;
}

std::vector<double> unpackDoubles(const void* bytes, size_t size) {
  std::vector<double> values(size / sizeof(double));
  if (!values.empty()) std::memcpy(values.data(), bytes, values.size() * sizeof(double));
  return values;
}

uint32_t blockChecksum(const void* times, size_t timesSize, const void* samples, size_t samplesSize) {
  const auto add = [](uLong crc, const void* bytes, size_t size) {
    // Without bytes zlib gives the start value and not what it was given.
    return size == 0 ? crc : crc32_z(crc, static_cast<const Bytef*>(bytes), size);
  };
  return static_cast<uint32_t>(add(add(crc32_z(0, nullptr, 0), times, timesSize), samples, samplesSize));
}

}  // namespace ash
