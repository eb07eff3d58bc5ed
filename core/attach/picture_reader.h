// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures are decoded in a process of their own (app/picture), which a picture that is made to do harm can end and no
// more. What that process tells is what this speaks of; docs/attachments.md.
#pragma once

#include <string>
#include <vector>

#include "model/result.h"

namespace ash {

inline constexpr char kPictureProgram[] = "picture-reader";
/// Longest side of a picture that is kept, in pixels.
inline constexpr int kLongestSidePx = 2560;
/// The most pixels of a picture that is taken at all.
inline constexpr double kMostPixels = 250e6;

/// A picture as it is kept: decoded and written anew, so that nothing but what is seen is left of it.
struct KeptPicture {
  std::string bytes;
  std::string type;  ///< "image/png" or "image/jpeg"
  int width = 0, height = 0;
  int widthBefore = 0, heightBefore = 0;
  std::string taken;                 ///< ISO 8601 without zone, as its camera says; empty = it does not
  std::vector<std::string> removed;  ///< "the place where it was taken", …
};

/// Pixels: rows from above, each `width` of 32 bits, 0xAARRGGBB premultiplied in this machine's order.
struct DrawnPicture {
  int width = 0, height = 0;
  std::string pixels;
};

class PictureReader {
 public:
  /// `program` is the path of picture-reader; empty = there is none, and everything is refused with a sentence.
  explicit PictureReader(std::string program) : m_program(std::move(program)) {}
  /// The one beside this program.
  static PictureReader beside();

  /// Errors name the file: no picture that can be read, one that is too large, one whose decoder did not end.
  Result<KeptPicture> keep(const std::string& name, const std::string& bytes) const;
  /// Scaled down to lie within `mostWidth` by `mostHeight`, never up.
  Result<DrawnPicture> draw(const std::string& name, const std::string& bytes, int mostWidth, int mostHeight) const;

 private:
  std::string m_program;
};

}  // namespace ash
