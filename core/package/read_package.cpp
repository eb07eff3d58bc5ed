// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <map>
#include <memory>
#include <set>
#include <sstream>

#include "book/whole_run.h"
#include "model/text.h"
#include "package/others_keys.h"
#include "package/package.h"
#include "package/package_csv.h"
#include "package/scratch_folder.h"
#include "package/zip_file.h"
#include "system/sha256.h"

namespace ash {
namespace {

namespace fs = std::filesystem;
constexpr uintmax_t kLargestDescriptionB = 16u << 20, kLargestFileB = 1ull << 30;
constexpr size_t kMostResources = 100'000, kMostKeysOfOthersB = 256 << 10, kMostKeysOfAllB = 16 << 20;
constexpr auto kReplace = Json::error_handler_t::replace;  // of what is no UTF-8
constexpr char kDescription[] = "datapackage.json";

Result<std::string> textOfFile(const std::string& path, uintmax_t most) {
  std::error_code error;
  const auto status = fs::symlink_status(path, error);
  if (error || !fs::exists(status)) return Error::badInput(fmt::format("{} is missing.", path));
  if (!fs::is_regular_file(status)) return Error::badInput(fmt::format("{} is no plain file.", path));
  if (fs::file_size(path, error) > most) return Error::badInput(fmt::format("{} is too large.", path));
  std::ifstream file(path, std::ios::binary);
  std::ostringstream text;
  text << file.rdbuf();
  if (!file) return Error::badInput(fmt::format("Cannot read {}.", path));
  return text.str();
}

// Within the folder, without links, addresses and ways up.
bool isInside(const std::string& folder, const std::string& path) {
  const fs::path relative(path);
  if (path.empty() || relative.is_absolute() || path.find(':') != std::string::npos ||
      path.find('\\') != std::string::npos)
    return false;
  fs::path at(folder);
  for (const fs::path& part : relative) {
    if (part == ".." || part == "." || part.empty()) return false;
    at /= part;
    std::error_code error;
    if (fs::is_symlink(fs::symlink_status(at, error))) return false;
  }
  return true;
}

/// The files of a package by their paths, each as it was said to be.
class CheckedPackage {
 public:
  static Result<CheckedPackage> open(const std::string& folder) {
    const auto text = textOfFile(folder + "/" + kDescription, kLargestDescriptionB);
    if (!text) return text.error();
    const Json description = parseQuietly(*text);
    const Json resources = valueIn(description, "resources", Json());
    if (!resources.is_array() || resources.size() > kMostResources)
      return Error::badInput(fmt::format("{}/{} lists no resources.", folder, kDescription));
    CheckedPackage package;
    package.m_folder = folder;
    package.m_keys = keysOfOthers(PackagePart::Description, description);
    if (const std::string title = valueIn(description, "title", std::string()); !title.empty() && title != kPlainTitle)
      package.m_keys["title"] = title;
    std::set<std::string> names;
    for (const Json& resource : resources) {
      const std::string name = valueIn(resource, "name", std::string()),
                        path = valueIn(resource, "path", std::string());
      const std::string shown = withoutControls(path.empty() ? name : path);
      if (!names.insert(name).second)
        return Error::badInput(fmt::format("The package has two resources \"{}\".", withoutControls(name)));
      if (!isInside(folder, path))
        return Error::badInput(fmt::format("The package's resource \"{}\" lies outside of it or is a link.", shown));
      if (package.m_said.contains(path)) return Error::badInput(fmt::format("The package lists {} twice.", shown));
      package.m_said[path] = resource;
    }
    return package;
  }

  /// Its bytes, when they are as many and the ones that were said.
  Result<std::string> read(const std::string& path) const {
    const auto said = m_said.find(path);
    if (said == m_said.end())
      return Error::badInput(fmt::format("The package does not list {}.", withoutControls(path)));
    auto text = textOfFile(m_folder + "/" + path, kLargestFileB);
    if (!text) return text;
    const Json bytes = valueIn(said->second, "bytes", Json()), hash = valueIn(said->second, "hash", Json());
    if (bytes.is_number() && bytes.get<double>() != static_cast<double>(text->size()))
      return Error::badInput(fmt::format("{} is not as long as the package says.", withoutControls(path)));
    if (hash.is_string() && hash.get<std::string>() != "sha256:" + sha256Hex(*text))
      return Error::badInput(fmt::format("{} is not what the package says (its hash differs).", withoutControls(path)));
    return text;
  }
  /// The same, in memory once for all who have it.
  Result<std::shared_ptr<const std::string>> share(const std::string& path) const {
    auto bytes = m_shared[path].lock();
    if (bytes) return bytes;
    auto text = read(path);
    if (!text) return text.error();
    bytes = std::make_shared<const std::string>(std::move(*text));
    m_shared[path] = bytes;
    return bytes;
  }
  /// What others have written beside what is ours, of the package and of its files with their paths.
  const Json& keysOfOthersInIt() const { return m_keys; }
  Json keysOfOthersAt(const std::string& path) const {
    const auto said = m_said.find(path);
    return said == m_said.end() ? Json::object() : keysOfOthers(PackagePart::Resource, said->second);
  }
  /// Every file is what it was said to be, those as well that are not ours.
  Status check() const {
    for (const auto& [path, said] : m_said) {
      if (const auto text = read(path); !text) return text.error();
    }
    return {};
  }
  std::vector<std::string> runFiles() const {
    std::vector<std::string> files;
    for (const auto& [path, said] : m_said) {
      if (path.ends_with("/run.json")) files.push_back(path);
    }
    return files;
  }

 private:
  std::string m_folder;
  Json m_keys = Json::object();
  std::map<std::string, Json> m_said;
  mutable std::map<std::string, std::weak_ptr<const std::string>> m_shared;
};

bool numberFrom(const std::string& cell, double& value) {
  value = NAN;
  if (cell.empty()) return true;
  if (cell == "INF" || cell == "-INF") {
    value = cell == "INF" ? INFINITY : -INFINITY;
    return true;
  }
  const auto [end, error] = std::from_chars(cell.data(), cell.data() + cell.size(), value);
  return error == std::errc() && end == cell.data() + cell.size();
}

Status takeSamples(const CheckedPackage& package, const std::string& path, WholeSource& source) {
  const auto text = package.read(path);
  if (!text) return text.error();
  if (text->empty()) return Error::badInput(fmt::format("{} is empty.", withoutControls(path)));
  const size_t width = source.readings.size() + 1;
  source.columns.assign(width - 1, {});
  return eachCsvRecord(*text, path, [&](const std::vector<std::string>& record, size_t number) -> Status {
    const auto wrong = [&](const std::string& why) -> Status {
      return Error::badInput(fmt::format("{}, record {}: {}.", withoutControls(path), number, why));
    };
    if (record.size() != width) return wrong("it has another number of columns than its run says");
    if (number == 1) return {};
    for (size_t c = 0; c < width; ++c) {
      double value = NAN;
      if (!numberFrom(record[c], value) || (c == 0 && !std::isfinite(value)))
        return wrong(fmt::format("\"{}\" is no number", withoutControls(record[c].substr(0, 100))));
      if (c > 0) {
        source.columns[c - 1].push_back(value);
        continue;
      }
      if (!source.timeS.empty() && !(value > source.timeS.back())) return wrong("its time does not go on");
      source.timeS.push_back(value);
    }
    return {};
  });
}

Status takeEvents(const CheckedPackage& package, const std::string& path, WholeRun& run) {
  constexpr size_t kAt = 0, kKind = 1, kText = 2, kRole = 3, kValue = 4, kHigh = 5, kExtra = 6, kWidth = 7;
  const auto text = package.read(path);
  if (!text) return text.error();
  const auto records = parseStrictCsv(*text, path);
  if (!records) return records.error();
  if (records->empty() || records->front().size() != kWidth)
    return Error::badInput(fmt::format("{} has another number of columns than events have.", withoutControls(path)));
  for (size_t row = 1; row < records->size(); ++row) {
    const auto& cells = (*records)[row];
    Json event = {{"kind", cells[kKind]},
                  {"text", cells[kText]},
                  {"role", cells[kRole].empty() ? Json(nullptr) : Json(cells[kRole])},
                  {"extra", cells[kExtra].empty() ? Json::object() : parseObject(cells[kExtra])}};
    for (const auto& [key, at] : {std::pair("at_s", kAt), std::pair("value", kValue), std::pair("value_high", kHigh)}) {
      double value = NAN;
      if (!numberFrom(cells[at], value))
        return Error::badInput(fmt::format("{}, record {}: \"{}\" is no number.", withoutControls(path), row + 1,
                                           withoutControls(cells[at].substr(0, 100))));
      event[key] = std::isfinite(value) ? Json(value) : Json(nullptr);
    }
    run.events.push_back(std::move(event));
  }
  return {};
}

Status takeFiles(const CheckedPackage& package, const std::string& runFile, const Json& said, WholeRun& run) {
  if (!said.is_array()) return Error::badInput(fmt::format("{} has no list of files.", withoutControls(runFile)));
  for (const Json& one : said) {
    auto bytes = package.share(valueIn(one, "path", std::string()));
    if (!bytes) return bytes.error();
    WholeFile file{valueIn(one, "of", std::string()) == kOfSetup, one, std::move(*bytes)};
    file.about.erase("path");
    file.about.erase("of");
    run.files.push_back(std::move(file));
  }
  return {};
}

Error tooManyKeys(const std::string& where, size_t most) {
  return Error::badInput(fmt::format("{} has more than {} KiB of keys that this program does not know.",
                                     withoutControls(where), most >> 10));
}

// Into the run's `extra`, each under the name of what it stood in.
Status keepKeysOfOthers(const CheckedPackage& package, const std::string& file, const Json& json, WholeRun& run) {
  Json kept = Json::object(), resources = Json::object();
  const auto keep = [](Json& in, const std::string& key, Json keys) {
    if (!keys.empty()) in[key] = std::move(keys);
  };
  keep(resources, file, package.keysOfOthersAt(file));
  const std::string events = valueIn(json, "events", std::string());
  keep(resources, events, package.keysOfOthersAt(events));
  for (const Json& source : valueIn(json, "sources", Json::array())) {
    const std::string samples = valueIn(source, "samples", std::string());
    keep(resources, samples, package.keysOfOthersAt(samples));
  }
  keep(kept, "description", package.keysOfOthersInIt());
  keep(kept, "run", keysOfOthers(PackagePart::Run, json));
  keep(kept, "resources", std::move(resources));
  if (kept.dump(-1, ' ', false, kReplace).size() > kMostKeysOfOthersB) return tooManyKeys(file, kMostKeysOfOthersB);
  Json extra = valueIn(run.row, "extra", Json::object());
  extra.erase(kKeysOfOthers);
  keep(extra, kKeysOfOthers, std::move(kept));
  run.row["extra"] = std::move(extra);
  return {};
}

Result<WholeRun> runOf(const CheckedPackage& package, const std::string& file) {
  const auto text = package.read(file);
  if (!text) return text.error();
  const Json json = parseQuietly(*text);
  WholeRun run;
  run.row = valueIn(json, "run", Json());
  run.phases = valueIn(json, "phases", Json::array());
  const Json sources = valueIn(json, "sources", Json());
  if (!run.row.is_object() || !sources.is_array() || !run.phases.is_array())
    return Error::badInput(fmt::format("{} is no run of a package.", withoutControls(file)));
  for (const Json& one : sources) {
    WholeSource source;
    source.id = valueIn(one, "id", std::string());
    source.readings = valueIn(one, "readings", Json::array());
    if (!source.readings.is_array())
      return Error::badInput(fmt::format("{} is no run of a package.", withoutControls(file)));
    if (Status taken = takeSamples(package, valueIn(one, "samples", std::string()), source); !taken)
      return taken.error();
    run.sources.push_back(std::move(source));
  }
  if (Status taken = takeEvents(package, valueIn(json, "events", std::string()), run); !taken) return taken.error();
  if (Status taken = takeFiles(package, file, valueIn(json, "files", Json::array()), run); !taken) return taken.error();
  if (Status kept = keepKeysOfOthers(package, file, json, run); !kept) return kept.error();
  return run;
}

}  // namespace

bool isPackage(const std::string& path) {
  std::error_code error;
  return isZip(path) || (fs::is_directory(path, error) && fs::exists(fs::path(path) / kDescription, error));
}

namespace {

Result<std::vector<std::string>> readFolder(const std::string& folder, const std::string& bookPath) {
  const auto package = CheckedPackage::open(folder);
  if (!package) return package.error();
  if (Status checked = package->check(); !checked) return checked.error();
  std::vector<WholeRun> runs;
  size_t keysOfOthersB = 0;
  for (const std::string& file : package->runFiles()) {
    auto run = runOf(*package, file);
    if (!run) return run.error();
    // What is said of the package stands in every run.
    keysOfOthersB += valueIn(run->row["extra"], kKeysOfOthers, Json()).dump(-1, ' ', false, kReplace).size();
    if (keysOfOthersB > kMostKeysOfAllB) return tooManyKeys(folder, kMostKeysOfAllB);
    runs.push_back(std::move(*run));
  }
  if (runs.empty()) return Error::badInput(fmt::format("There is no run in {}.", folder));
  if (Status written = writeWholeRuns(bookPath, runs); !written) return written.error();
  std::vector<std::string> ids;
  for (const WholeRun& run : runs) ids.push_back(valueIn(run.row, "id", std::string()));
  return ids;
}

}  // namespace

// A zip file is unpacked beside the book: there is room for what is to be kept.
Result<std::vector<std::string>> readPackage(const std::string& from, const std::string& bookPath) {
  if (!isZip(from)) return readFolder(from, bookPath);
  const auto scratch = ScratchFolder::beside(bookPath);
  if (!scratch) return scratch.error();
  if (Status unpacked = unzipInto(from, scratch->path()); !unpacked) return unpacked.error();
  if (!isPackage(scratch->path()))
    return Error::badInput(fmt::format("{} holds no data package; unpack it, and take its logs in one by one.", from));
  return readFolder(scratch->path(), bookPath);
}

}  // namespace ash
