// SPDX-License-Identifier: GPL-3.0-or-later
#include "package/zip_file.h"

#include <fmt/format.h>
#include <zip.h>

#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <memory>
#include <optional>
#include <set>
#include <vector>

#include "model/text.h"

namespace ash {
namespace {

namespace fs = std::filesystem;
constexpr zip_int64_t kMostEntries = 100'000;
constexpr uint64_t kMostBytes = 8ull << 30, kMostTimes = 1000, kSmall = 1 << 20;
constexpr size_t kPieceB = 1 << 18;

struct ZipDiscard {
  void operator()(zip_t* zip) const { zip_discard(zip); }
};
using Zip = std::unique_ptr<zip_t, ZipDiscard>;

Zip openZip(const std::string& file, int flags, std::string& why) {
  int code = 0;
  Zip zip(zip_open(file.c_str(), flags, &code));
  if (zip) return zip;
  zip_error_t error;
  zip_error_init_with_code(&error, code);
  why = zip_error_strerror(&error);
  zip_error_fini(&error);
  return zip;
}

// Relative, without ways up, roots, drives and empty parts.
bool isPlainPath(const std::string& name) {
  const fs::path path(name);
  if (name.empty() || path.is_absolute() || name.find('\\') != std::string::npos || name.find(':') != std::string::npos)
    return false;
  return std::none_of(path.begin(), path.end(), [](const fs::path& part) { return part == ".." || part == "."; });
}

/// How much may still be unpacked.
struct Budget {
  uint64_t left;
};

Status unpack(zip_t* zip, zip_uint64_t index, const std::string& name, const fs::path& to, Budget& budget) {
  const auto broken = [&] {
    return Error::badInput(fmt::format("{} cannot be unpacked: {}.", withoutControls(name), zip_strerror(zip)));
  };
  zip_file_t* entry = zip_fopen_index(zip, index, 0);
  if (entry == nullptr) return broken();
  const std::unique_ptr<zip_file_t, decltype(&zip_fclose)> closing(entry, &zip_fclose);
  std::error_code error;
  fs::create_directories(to.parent_path(), error);
  std::ofstream out(to, std::ios::binary);
  std::vector<char> piece(kPieceB);
  for (;;) {
    const zip_int64_t got = zip_fread(entry, piece.data(), piece.size());
    if (got < 0) return broken();
    if (got == 0) break;
    if (static_cast<uint64_t>(got) > budget.left)
      return Error::badInput(fmt::format("{} unpacks to more than a package may have.", withoutControls(name)));
    budget.left -= static_cast<uint64_t>(got);
    out.write(piece.data(), got);
  }
  out.close();
  if (!out) return Error::environment(fmt::format("Cannot write {}: is the drive full?", to.string()));
  return {};
}

}  // namespace

namespace {

// The date and time of a zip entry (APPNOTE 6.3.10, 4.4.6), which knows no time zone.
struct DosDate {
  zip_uint16_t time = 0, day = 0;
};

std::optional<DosDate> dosDateOf(const std::string& iso) {
  int year = 0, month = 0, day = 0, hour = 0, minute = 0, second = 0;
  constexpr int kFields = 6, kFirstYear = 1980, kLastYear = 2107;
  if (std::sscanf(iso.c_str(), "%4d-%2d-%2dT%2d:%2d:%2d", &year, &month, &day, &hour, &minute, &second) != kFields)
    return std::nullopt;
  if (year < kFirstYear || year > kLastYear || month < 1 || month > 12 || day < 1 || day > 31) return std::nullopt;
  if (hour < 0 || hour > 23 || minute < 0 || minute > 59 || second < 0 || second > 60) return std::nullopt;
  return DosDate{static_cast<zip_uint16_t>(hour << 11 | minute << 5 | second / 2),
                 static_cast<zip_uint16_t>((year - kFirstYear) << 9 | month << 5 | day)};
}

}  // namespace

Status zipFolder(const std::string& folder, const std::string& file, const std::string& dated) {
  const std::string part = file + ".part";
  std::error_code error;
  fs::remove(part, error);
  std::string why;
  Zip zip = openZip(part, ZIP_CREATE | ZIP_EXCL, why);
  if (!zip) return Error::environment(fmt::format("Cannot make {}: {}.", file, why));
  std::vector<std::string> names;
  for (const auto& entry : fs::recursive_directory_iterator(folder, error)) {
    if (entry.is_regular_file()) names.push_back(fs::relative(entry.path(), folder).generic_string());
  }
  std::sort(names.begin(), names.end());
  const auto date = dosDateOf(dated);
  for (const std::string& name : names) {
    const std::string path = fmt::format("{}/{}", folder, name);
    zip_source_t* source = zip_source_file(zip.get(), path.c_str(), 0, -1);
    const zip_int64_t entry = source == nullptr ? -1 : zip_file_add(zip.get(), name.c_str(), source, ZIP_FL_ENC_UTF_8);
    if (entry >= 0 && date) {
      zip_file_set_dostime(zip.get(), static_cast<zip_uint64_t>(entry), date->time, date->day, 0);
    } else if (entry < 0) {
      if (source != nullptr) zip_source_free(source);
      return Error::environment(fmt::format("Cannot make {}: {}.", file, zip_strerror(zip.get())));
    }
  }
  if (zip_close(zip.get()) != 0) {
    const Error failed = Error::environment(fmt::format("Cannot make {}: {}.", file, zip_strerror(zip.get())));
    zip.reset();
    fs::remove(part, error);
    return failed;
  }
  static_cast<void>(zip.release());  // closed: it is no more
  fs::rename(part, file, error);
  if (!error) return {};
  return Error::environment(fmt::format("Cannot make {}: {}.", file, error.message()));
}

bool isZip(const std::string& path) {
  std::error_code error;
  if (!fs::is_regular_file(path, error)) return false;
  char head[4] = {};
  std::ifstream(path, std::ios::binary).read(head, sizeof head);
  return std::string_view(head, sizeof head) == "PK\x03\x04";
}

Status unzipInto(const std::string& file, const std::string& folder) {
  std::string why;
  const Zip zip = openZip(file, ZIP_RDONLY | ZIP_CHECKCONS, why);
  if (!zip) return Error::badInput(fmt::format("{} is no zip file that can be read: {}.", file, why));
  const zip_int64_t count = zip_get_num_entries(zip.get(), 0);
  if (count > kMostEntries) return Error::badInput(fmt::format("{} has more entries than a package may.", file));
  std::error_code error;
  const uint64_t size = fs::file_size(file, error);
  Budget budget{std::min(kMostBytes, std::max<uint64_t>(kSmall, size * kMostTimes))};
  std::set<std::string> names;
  for (zip_int64_t i = 0; i < count; ++i) {
    const auto index = static_cast<zip_uint64_t>(i);
    const char* raw = zip_get_name(zip.get(), index, 0);
    const std::string name = raw == nullptr ? "" : raw;
    if (name.ends_with('/')) continue;  // a folder
    if (!isPlainPath(name))
      return Error::badInput(fmt::format("{} has an entry “{}” that leads out of it.", file, withoutControls(name)));
    if (!names.insert(name).second)
      return Error::badInput(fmt::format("{} has two entries “{}”.", file, withoutControls(name)));
    if (Status done = unpack(zip.get(), index, name, fs::path(folder) / name, budget); !done) return done;
  }
  return {};
}

}  // namespace ash
