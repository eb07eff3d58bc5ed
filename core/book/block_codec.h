// SPDX-License-Identifier: GPL-3.0-or-later
// Sample blocks as bytes: little-endian IEEE doubles, and a CRC-32 over both columns.
#pragma once

#include <cstdint>
#include <string>

#include "model/samples.h"

namespace ash {

/// Doubles to bytes and back. A missing value is the one NaN that kMissing is.
std::string packDoubles(const std::vector<double>& values);
std::vector<double> unpackDoubles(const void* bytes, size_t size);

/// CRC-32 (ISO-HDLC) over the bytes of the times and then of the samples.
uint32_t blockChecksum(const void* times, size_t timesSize, const void* samples, size_t samplesSize);

}  // namespace ash
