// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/picture/picture_tags.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <exiv2/exiv2.hpp>
#include <string_view>

namespace ash {
namespace {

using namespace std::string_view_literals;

// Names, and parts of names, under which the standards keep them: Exif 2.32 (4.6), IPTC-IIM 4.2, XMP part 2; makers'
// notes name theirs alike.
constexpr std::array kPlaceNames = {"City"sv,          "CountryName"sv,   "CountryCode"sv,    "Country"sv,
                                    "ProvinceState"sv, "State"sv,         "SubLocation"sv,    "Location"sv,
                                    "LocationName"sv,  "LocationShown"sv, "LocationCreated"sv};
constexpr std::array kOwnerParts = {"Owner"sv,   "Artist"sv,  "SerialN"sv,     "XPAuthor"sv, "Copyright"sv,
                                    "creator"sv, "Creator"sv, "Byline"sv,      "Author"sv,   "rights"sv,
                                    "Contact"sv, "Person"sv,  "HostComputer"sv};
// Of the file and not of what is seen or of who took it: needed to draw it, or part of how fields are laid out.
constexpr std::array kLayoutParts = {"ExifTag"sv, "GPSTag"sv, "GPSVersionID"sv, "InteroperabilityTag"sv};

template <size_t N>
bool hasOneOf(std::string_view key, const std::array<std::string_view, N>& parts) {
  return std::any_of(parts.begin(), parts.end(),
                     [&](std::string_view part) { return key.find(part) != std::string_view::npos; });
}

// By the last part of its name ("Xmp.photoshop.City"), for makers call places on the sensor a location, too.
bool tellsPlace(std::string_view key) {
  std::string_view last = key.substr(key.rfind('.') + 1);
  if (const size_t step = last.find_first_of("[/"); step != std::string_view::npos) last = last.substr(0, step);
  return last.starts_with("GPS") || std::find(kPlaceNames.begin(), kPlaceNames.end(), last) != kPlaceNames.end();
}

template <typename Data>
void take(const Data& data, PictureTags& tags) {
  for (const auto& field : data) {
    const std::string key = field.key();
    if (hasOneOf(key, kLayoutParts)) continue;
    if (tellsPlace(key))
      tags.hasPlace = true;
    else if (hasOneOf(key, kOwnerParts))
      tags.hasOwner = true;
    else
      ++tags.others;
  }
}

// "2026:11:03 19:04:11" (Exif 2.32, 4.6.5, DateTimeOriginal) as ISO 8601.
std::string isoOf(std::string moment) {
  constexpr std::string_view kShape = "dddd:dd:dd dd:dd:dd";
  if (moment.size() != kShape.size()) return {};
  for (size_t i = 0; i < kShape.size(); ++i) {
    const bool fits =
        kShape[i] == 'd' ? std::isdigit(static_cast<unsigned char>(moment[i])) != 0 : moment[i] == kShape[i];
    if (!fits) return {};
  }
  moment[4] = moment[7] = '-';
  moment[10] = 'T';
  return moment;
}

}  // namespace

PictureTags tagsOf(const std::string& bytes) {
  PictureTags tags;
  Exiv2::LogMsg::setLevel(Exiv2::LogMsg::mute);
  try {
    const auto image =
        Exiv2::ImageFactory::open(reinterpret_cast<const Exiv2::byte*>(bytes.data()), static_cast<long>(bytes.size()));
    if (image.get() == nullptr) return tags;
    image->readMetadata();
    take(image->exifData(), tags);
    take(image->iptcData(), tags);
    take(image->xmpData(), tags);
    if (!image->comment().empty()) ++tags.others;
    for (const char* key : {"Exif.Photo.DateTimeOriginal", "Exif.Photo.DateTimeDigitized", "Exif.Image.DateTime"}) {
      const auto found = image->exifData().findKey(Exiv2::ExifKey(key));
      if (tags.taken.empty() && found != image->exifData().end()) tags.taken = isoOf(found->toString());
    }
  } catch (const std::exception&) {
    // A file without such fields, or with broken ones.
  }
  return tags;
}

void countText(const std::string& key, PictureTags& tags) {
  if (hasOneOf(key, kOwnerParts))
    tags.hasOwner = true;
  else
    ++tags.others;
}

std::vector<std::string> removedWords(const PictureTags& tags) {
  std::vector<std::string> words;
  if (tags.hasPlace) words.emplace_back("the place where it was taken");
  if (tags.hasOwner) words.emplace_back("whose picture or camera it is");
  if (tags.others > 0)
    words.push_back(fmt::format("{} other field{} of its file", tags.others, tags.others == 1 ? "" : "s"));
  return words;
}

}  // namespace ash
