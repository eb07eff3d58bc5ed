// SPDX-License-Identifier: GPL-3.0-or-later
// A picture, a sound or any other file that is kept with a setup, a run or a moment of a run.
#pragma once

#include <string>

#include "model/json.h"
#include "model/reading.h"

namespace ash {

/// All that is known of it but its bytes. It belongs to a run or to a setup, never to both.
struct Attachment {
  long long id = 0;             ///< its row in the book; 0 = not kept yet
  std::string run;              ///< empty = it belongs to a setup
  long long setup = 0;          ///< row of the setup; 0 = it belongs to a run
  double atS = kMissing;        ///< moment of the run in seconds since its first sample; missing = the whole of it
  std::string name;             ///< the file's own name without folders
  std::string type;             ///< media type (RFC 6838), "image/jpeg"
  std::string text;             ///< what a person says of it
  std::string hash;             ///< SHA-256 of the bytes as they are kept, in hexadecimal digits
  std::string added;            ///< when it came into the book, ISO 8601
  long long sizeB = 0;          ///< bytes as they are kept
  Json extra = Json::object();  ///< of a picture: "width", "height", "taken" (ISO 8601, by its camera's clock)
};

/// True for a picture that is drawn; a drawing that is itself a program (SVG) is kept as a file only.
inline bool isPicture(const Attachment& attachment) {
  return attachment.type == "image/png" || attachment.type == "image/jpeg";
}

/// The most bytes one of them may have as it is kept.
inline constexpr long long kLargestAttachmentB = 32LL << 20;

}  // namespace ash
