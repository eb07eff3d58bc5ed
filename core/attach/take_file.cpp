// SPDX-License-Identifier: GPL-3.0-or-later
#include "attach/take_file.h"

#include <fmt/format.h>

#include <filesystem>
#include <fstream>

#include "attach/file_kind.h"
#include "model/text.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

std::string listed(const std::vector<std::string>& all) {
  std::string text;
  for (size_t i = 0; i < all.size(); ++i) text += (i == 0 ? "" : i + 1 == all.size() ? " and " : ", ") + all[i];
  return text;
}

std::string remarksOn(const KeptPicture& picture) {
  std::string text;
  if (picture.width != picture.widthBefore || picture.height != picture.heightBefore)
    text = fmt::format("Scaled from {} × {} to {} × {} pixels.", picture.widthBefore, picture.heightBefore,
                       picture.width, picture.height);
  if (!picture.removed.empty()) text += fmt::format("{}Removed: {}.", text.empty() ? "" : " ", listed(picture.removed));
  return text;
}

// As a file system takes it, whatever it was called before.
std::string plainName(const std::string& name) {
  std::string plain = withoutControls(asUtf8(fs::path(name).filename().string()));
  return plain.empty() ? "file" : plain;
}

}  // namespace

Result<TakenFile> takeBytes(const std::string& name, std::string bytes, const PictureReader& reader) {
  TakenFile taken;
  taken.about.name = plainName(name);
  if (bytes.empty()) return Error::badInput(fmt::format("{} is empty.", taken.about.name));
  const FileKind kind = fileKindOf(bytes);
  taken.about.type = kind.type;
  // It is not kept as it is: it may tell all that a picture tells.
  if (!kind.isPicture && isCalledPicture(taken.about.name))
    return Error::badInput(fmt::format(
        "{} is called a picture and is none that can be read: it is broken, or something else.", taken.about.name));
  if (!kind.isPicture) {
    if (bytes.size() > static_cast<size_t>(kLargestAttachmentB))
      return Error::badInput(fmt::format("{} has {:.1f} MiB; a file that is kept may have {} at most.",
                                         taken.about.name, static_cast<double>(bytes.size()) / (1 << 20),
                                         kLargestAttachmentB >> 20));
    taken.remarks = "Kept as it is, with whatever it tells of its maker.";
    taken.bytes = std::move(bytes);
    return taken;
  }
  auto picture = reader.keep(taken.about.name, bytes);
  if (!picture) return picture.error();
  taken.about.type = picture->type;
  taken.about.extra = {{"width", picture->width}, {"height", picture->height}};
  if (!picture->taken.empty()) taken.about.extra["taken"] = picture->taken;
  taken.remarks = remarksOn(*picture);
  taken.bytes = std::move(picture->bytes);
  return taken;
}

Result<TakenFile> takeFile(const std::string& path, const PictureReader& reader) {
  std::error_code error;
  const auto status = fs::status(path, error);
  if (!fs::exists(status)) return Error::badInput(fmt::format("There is no file {}.", path));
  if (!fs::is_regular_file(status)) return Error::badInput(fmt::format("{} is no plain file.", path));
  const auto size = fs::file_size(path, error);
  if (!error && size > static_cast<uintmax_t>(kLargestFileTakenB))
    return Error::badInput(fmt::format("{} has {} MiB; of a picture at most {} are read, of other files {} kept.", path,
                                       size >> 20, kLargestFileTakenB >> 20, kLargestAttachmentB >> 20));
  std::ifstream file(path, std::ios::binary);
  std::string bytes(error ? 0 : size, '\0');
  file.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
  if (error || !file) return Error::environment(fmt::format("Cannot read {}.", path));
  return takeBytes(path, std::move(bytes), reader);
}

}  // namespace ash
