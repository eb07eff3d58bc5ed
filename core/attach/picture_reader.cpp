// SPDX-License-Identifier: GPL-3.0-or-later
#include "attach/picture_reader.h"

#include <fmt/format.h>

#include <algorithm>

#include "attach/file_kind.h"
#include "model/json.h"
#include "model/text.h"
#include "system/short_process.h"

namespace ash {
namespace {

constexpr double kMostS = 30;
constexpr size_t kMostOutputB = size_t{80} << 20, kMostHeadB = 16'384;
constexpr size_t kBytesOfPixel = 4;

struct Answer {
  Json head;
  std::string bytes;
};

// One line of JSON, then bytes.
Result<Answer> ask(const std::string& program, const std::string& name, const std::vector<std::string>& arguments,
                   const std::string& bytes) {
  if (program.empty())
    return Error::environment(
        fmt::format("{} is a picture, and {}, which reads pictures, is not installed: install the package ash-gauge.",
                    name, kPictureProgram));
  auto told = answerOf({program, arguments, kMostS, kMostOutputB}, bytes);
  if (!told) return told.error();
  if (told->isLate)
    return Error::badInput(fmt::format("{} cannot be read as a picture: it took more than {} s.", name, kMostS));
  const size_t end = told->output.find('\n');
  const Json head = end < kMostHeadB ? parseQuietly(told->output.substr(0, end)) : Json();
  const std::string refused = withoutControls(valueIn(head, "refused", std::string()));
  if (!refused.empty()) return Error::badInput(fmt::format("{} {}.", name, refused));
  if (told->status != 0 || !head.is_object())
    return Error::badInput(fmt::format("{} cannot be read as a picture: it is broken, or made to do harm.", name));
  told->output.erase(0, end + 1);
  return Answer{head, std::move(told->output)};
}

}  // namespace

PictureReader PictureReader::beside() { return PictureReader(programBeside(kPictureProgram)); }

Result<KeptPicture> PictureReader::keep(const std::string& name, const std::string& bytes) const {
  auto answer = ask(m_program, name, {"keep"}, bytes);
  if (!answer) return answer.error();
  const Json& head = answer->head;
  KeptPicture kept{std::move(answer->bytes),
                   valueIn(head, "type", std::string()),
                   valueIn(head, "width", 0),
                   valueIn(head, "height", 0),
                   valueIn(head, "width_before", 0),
                   valueIn(head, "height_before", 0),
                   withoutControls(valueIn(head, "taken", std::string())),
                   {}};
  for (const Json& one : valueIn(head, "removed", Json::array())) {
    if (one.is_string()) kept.removed.push_back(withoutControls(one.get<std::string>()));
  }
  const bool isWhole = fileKindOf(kept.bytes).type == kept.type && kept.type.starts_with("image/") && kept.width > 0 &&
                       kept.height > 0 && std::max(kept.width, kept.height) <= kLongestSidePx;
  if (!isWhole) return Error::badInput(fmt::format("{} cannot be read as a picture.", name));
  return kept;
}

Result<DrawnPicture> PictureReader::draw(const std::string& name, const std::string& bytes, int mostWidth,
                                         int mostHeight) const {
  auto answer = ask(m_program, name, {"draw", std::to_string(mostWidth), std::to_string(mostHeight)}, bytes);
  if (!answer) return answer.error();
  DrawnPicture drawn{valueIn(answer->head, "width", 0), valueIn(answer->head, "height", 0), std::move(answer->bytes)};
  const bool isWhole =
      drawn.width > 0 && drawn.height > 0 && drawn.width <= mostWidth && drawn.height <= mostHeight &&
      drawn.pixels.size() == static_cast<size_t>(drawn.width) * static_cast<size_t>(drawn.height) * kBytesOfPixel;
  if (!isWhole) return Error::badInput(fmt::format("{} cannot be read as a picture.", name));
  return drawn;
}

}  // namespace ash
