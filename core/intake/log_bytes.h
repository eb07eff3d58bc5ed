// SPDX-License-Identifier: GPL-3.0-or-later
// The bytes of a foreign log as UTF-8, in pieces: unpacked (gzip), of UTF-16 or Windows-1252 made UTF-8, without the
// stretches of zeros that a power cut leaves.
#pragma once

#include <memory>
#include <string>

#include "exchange/csv_records.h"
#include "model/result.h"

namespace ash {

struct LogBytes {
  std::unique_ptr<ByteSource> source;
  std::string encoding;            ///< "utf-8", "utf-16", "windows-1252"
  bool isPacked = false;           ///< gzip
  double sizeB = 0;                ///< of the file
  const double* readB = nullptr;   ///< how much of the file has been read; lives as long as the source
  const bool* isBroken = nullptr;  ///< a packed file that ended before its end, or holds rubbish
  const size_t* zeros = nullptr;   ///< bytes that were zero and are left out
};

/// Opens a log. The error says why it cannot be read, or that it is none: a folder, a picture, a program.
Result<LogBytes> openLogBytes(const std::string& path);

}  // namespace ash
