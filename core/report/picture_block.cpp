// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/picture_block.h"

#include <fmt/format.h>

#include "system/base64.h"

namespace ash {
namespace {

// By the first bytes (PNG, 5.2; JPEG, B.1.1.3), and only what it says to be.
bool isWhatItSays(const StudyPicture& picture) {
  const std::string_view bytes = picture.bytes;
  if (picture.kept.type == "image/png") return bytes.starts_with("\x89PNG\r\n\x1a\n");
  return picture.kept.type == "image/jpeg" && bytes.starts_with("\xFF\xD8\xFF");
}

std::string captionOf(const StudyPicture& picture, const std::string& setup) {
  return picture.kept.text.empty() ? setup : fmt::format("{}: {}", setup, picture.kept.text);
}

}  // namespace

Markup picturesOfSetups(const StudyReport& report, PageForm form) {
  Markup all;
  long long usedB = 0;
  for (const StudyPicture& picture : report.pictures) {
    const std::string& setup = report.study.setups.at(picture.setup).name;
    const std::string caption = captionOf(picture, setup);
    Element figure("figure");
    const auto sizeB = static_cast<long long>(picture.bytes.size());
    const bool isShown = form == PageForm::Either && isWhatItSays(picture) && usedB + sizeB <= kMostPicturesB;
    if (isShown) {
      usedB += sizeB;
      figure.add(Element("img")
                     .set("src", fmt::format("data:{};base64,{}", picture.kept.type, base64Of(picture.bytes)))
                     .set("alt", fmt::format("Picture of {}", caption))
                     .alone());
      figure.add(Element("figcaption").text(caption));
    } else {
      figure.add(
          Element("figcaption").text(caption).add(Element("small").text(fmt::format(" ({})", picture.kept.name))));
    }
    all.add(figure).lineEnd();
  }
  return all;
}

}  // namespace ash
