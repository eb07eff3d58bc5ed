// SPDX-License-Identifier: GPL-3.0-or-later
// A file from outside becomes what is kept with a setup or a run.
#pragma once

#include <string>

#include "attach/picture_reader.h"
#include "model/attachment.h"

namespace ash {

/// The largest file that is read at all: a picture may be larger than what is kept of it.
inline constexpr long long kLargestFileTakenB = 128LL << 20;

struct TakenFile {
  Attachment about;     ///< name, type and extra; to whom it belongs is the caller's to say
  std::string bytes;    ///< as they are to be kept
  std::string remarks;  ///< sentences on what was done to it; empty = it is kept as it was
};

/// Reads a plain file and prepares it. Errors: no plain file, too large, a picture that cannot be read.
Result<TakenFile> takeFile(const std::string& path, const PictureReader& reader);

/// The same of bytes that came otherwise (pasted); `name` is their file's.
Result<TakenFile> takeBytes(const std::string& name, std::string bytes, const PictureReader& reader);

}  // namespace ash
