// SPDX-License-Identifier: GPL-3.0-or-later
#include "attach/file_kind.h"

#include <algorithm>
#include <array>
#include <string>

#include "model/text.h"

namespace ash {
namespace {

using namespace std::string_view_literals;

struct Signature {
  std::string_view first;  // at the file's beginning
  size_t at;               // where `then` stands
  std::string_view then;
  FileKind kind;
};

constexpr std::array kSignatures = {
    Signature{"\x89PNG\r\n\x1a\n"sv, 0, ""sv, {"image/png", true}},  // PNG, 5.2
    Signature{"\xff\xd8\xff"sv, 0, ""sv, {"image/jpeg", true}},      // ITU-T T.81, B.1.1.3
    Signature{"GIF8"sv, 0, ""sv, {"image/gif", true}},               //
    Signature{"BM"sv, 6, "\0\0\0\0"sv, {"image/bmp", true}},         // reserved words are zero
    Signature{"RIFF"sv, 8, "WEBP"sv, {"image/webp", true}},          // RFC 9649
    Signature{"II*\0"sv, 0, ""sv, {"image/tiff", true}},             // TIFF 6.0
    Signature{"MM\0*"sv, 0, ""sv, {"image/tiff", true}},             //
    Signature{"RIFF"sv, 8, "WAVE"sv, {"audio/vnd.wave", false}},     // RFC 2361
    Signature{"fLaC"sv, 0, ""sv, {"audio/flac", false}},             // RFC 9639
    Signature{"OggS"sv, 0, ""sv, {"audio/ogg", false}},              // RFC 3533
    Signature{"ID3"sv, 0, ""sv, {"audio/mpeg", false}},              //
    Signature{"%PDF-"sv, 0, ""sv, {"application/pdf", false}},       // ISO 32000
    Signature{"PK\x03\x04"sv, 0, ""sv, {"application/zip", false}},  //
    Signature{"\x1f\x8b"sv, 0, ""sv, {"application/gzip", false}},   // RFC 1952
    // Of the same family as films: pictures of telephones, which are not kept with all that they tell.
    Signature{"\0\0\0"sv, 4, "ftyphei"sv, {"image/heic", true}},   // ISO 23008-12
    Signature{"\0\0\0"sv, 4, "ftypmif1"sv, {"image/heic", true}},  //
    Signature{"\0\0\0"sv, 4, "ftypavi"sv, {"image/avif", true}},   //
    Signature{"\0\0\0"sv, 4, "ftyp"sv, {"video/mp4", false}},      // ISO 14496-12
};

bool matches(const Signature& signature, std::string_view bytes) {
  return bytes.starts_with(signature.first) && bytes.size() >= signature.at + signature.then.size() &&
         bytes.substr(signature.at, signature.then.size()) == signature.then;
}

bool isText(std::string_view bytes) {
  const std::string_view head = bytes.substr(0, 4096);
  return !head.empty() && head.find('\0') == std::string_view::npos;
}

}  // namespace

bool isCalledPicture(std::string_view name) {
  constexpr std::array kEndings = {".jpg"sv, ".jpeg"sv, ".png"sv,  ".gif"sv,  ".bmp"sv, ".webp"sv,
                                   ".tif"sv, ".tiff"sv, ".heic"sv, ".heif"sv, ".avif"sv};
  const std::string small = lowerCase(name);
  return std::any_of(kEndings.begin(), kEndings.end(),
                     [&](std::string_view ending) { return small.ends_with(ending); });
}

FileKind fileKindOf(std::string_view bytes) {
  const auto found = std::find_if(kSignatures.begin(), kSignatures.end(),
                                  [&](const Signature& signature) { return matches(signature, bytes); });
  if (found != kSignatures.end()) return found->kind;
  return {isText(bytes) ? "text/plain" : "application/octet-stream", false};
}

}  // namespace ash
