// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/block_codec.h"

#include <bit>
#include <boost/crc.hpp>
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

uint32_t blockChecksum(const std::string& times, const std::string& samples) {
  boost::crc_32_type crc;
  crc.process_bytes(times.data(), times.size());
  crc.process_bytes(samples.data(), samples.size());
  return crc.checksum();
}

}  // namespace ash
