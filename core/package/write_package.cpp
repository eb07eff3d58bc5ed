// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <cmath>
#include <filesystem>
#include <set>

#include "book/whole_run.h"
#include "model/role.h"
#include "model/text.h"
#include "model/unit.h"
#include "package/others_keys.h"
#include "package/package.h"
#include "package/package_csv.h"
#include "package/scratch_folder.h"
#include "package/zip_file.h"
#include "system/clock.h"
#include "system/sha256.h"
#include "system/whole_file.h"

namespace ash {
namespace {

/// Files of a package and what datapackage.json says of them.
class PackageFolder {
 public:
  explicit PackageFolder(std::string folder) : m_folder(std::move(folder)) {}

  bool holds(const std::string& path) const { return m_paths.contains(path); }
  /// What others had written of files that will be added, by their paths.
  void expect(const Json& keysOfOthers) { m_expected = keysOfOthers; }

  /// `isText` = in UTF-8.
  Status add(const std::string& path, const std::string& text, Json resource, bool isText = true) {
    m_paths.insert(path);
    std::error_code error;
    const std::string file = m_folder + "/" + path;
    std::filesystem::create_directories(std::filesystem::path(file).parent_path(), error);
    if (Status written = writeWholeFile(text, file); !written) return written;
    std::string name = lowerCase(path.substr(0, path.rfind('.')));
    for (char& c : name) c = c == '/' ? '-' : c;
    resource["name"] = name;
    resource["path"] = path;
    if (isText) resource["encoding"] = "utf-8";
    resource["bytes"] = text.size();
    resource["hash"] = "sha256:" + sha256Hex(text);
    putBack(PackagePart::Resource, valueIn(m_expected, path.c_str(), Json::object()), resource);
    m_resources.push_back(std::move(resource));
    return {};
  }
  const Json& resources() const { return m_resources; }

 private:
  std::string m_folder;
  std::set<std::string> m_paths;
  Json m_expected = Json::object();
  Json m_resources = Json::array();
};

Json numberField(const std::string& name, const std::string& title, const std::string& unit) {
  Json field = {{"name", name}, {"type", "number"}, {"title", title}};
  if (!unit.empty()) field["unit"] = unit;
  if (const std::string_view ucum = ucumOf(unit); !ucum.empty()) field["ucum"] = ucum;
  return field;
}

Json table(Json fields) {
  return {{"profile", "tabular-data-resource"},
          {"format", "csv"},
          {"mediatype", "text/csv"},
          {"dialect", {{"delimiter", ","}, {"lineTerminator", "\n"}, {"doubleQuote", true}}},
          {"schema", {{"fields", std::move(fields)}, {"missingValues", {""}}}}};
}

// The ending of its own name where that is a plain one, so that a stranger's programs know what it is.
std::string fileEnding(const WholeFile& file) {
  const std::string name = valueIn(file.about, "name", std::string());
  const size_t dot = name.rfind('.');
  const std::string ending = dot == std::string::npos ? "" : lowerCase(name.substr(dot + 1));
  const bool isPlain = !ending.empty() && ending.size() <= 5 && std::all_of(ending.begin(), ending.end(), [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9');
  });
  return isPlain ? ending : "bin";
}

// Columns have names of their own: the role, else the reading's name, told apart by a number.
std::vector<std::string> columnNames(const WholeSource& source) {
  std::vector<std::string> names;
  std::set<std::string> taken = {"time"};
  for (const Json& reading : source.readings) {
    const Json role = valueIn(reading, "role", Json());
    const std::string own = role.is_string() ? role.get<std::string>() : valueIn(reading, "name", std::string());
    std::string name = own.empty() ? "reading" : own;
    for (int number = 2; !taken.insert(name).second; ++number) name = fmt::format("{} ({})", own, number);
    names.push_back(std::move(name));
  }
  return names;
}

Status addSamples(const WholeSource& source, const std::string& path, PackageFolder& folder) {
  const auto names = columnNames(source);
  Json fields = Json::array({numberField("time", "Seconds since the run's first sample", "s")});
  std::string text = "time";
  for (size_t c = 0; c < names.size(); ++c) {
    const Json& reading = source.readings[c];
    const Json role = valueIn(reading, "role", Json());
    Json field = numberField(names[c], role.is_string() ? Role(role.get<std::string>()).title() : names[c],
                             valueIn(reading, "unit", std::string()));
    if (role.is_string()) field["role"] = role;
    fields.push_back(std::move(field));
    text += "," + csvCell(names[c]);
  }
  text += "\n";
  for (size_t row = 0; row < source.timeS.size(); ++row) {
    text += csvNumber(source.timeS[row]);
    for (const auto& column : source.columns) text += "," + csvNumber(column[row]);
    text += "\n";
  }
  Json resource = table(std::move(fields));
  resource["title"] = "Samples of " + source.id;
  return folder.add(path, text, std::move(resource));
}

Status addEvents(const WholeRun& run, const std::string& path, PackageFolder& folder) {
  const auto textOf = [](const Json& event, const char* key) {
    const Json value = valueIn(event, key, Json());
    return value.is_string()                     ? csvCell(value.get<std::string>())
           : value.is_number()                   ? csvNumber(value.get<double>())
           : value.is_object() && !value.empty() ? csvCell(value.dump())
                                                 : std::string();
  };
  std::string text = "at,kind,text,role,value,value_high,extra\n";
  for (const Json& event : run.events) {
    text +=
        fmt::format("{},{},{},{},{},{},{}\n", textOf(event, "at_s"), textOf(event, "kind"), textOf(event, "text"),
                    textOf(event, "role"), textOf(event, "value"), textOf(event, "value_high"), textOf(event, "extra"));
  }
  const auto words = [](const char* name, const char* title) {
    return Json{{"name", name}, {"type", "string"}, {"title", title}};
  };
  Json resource = table(Json::array(
      {numberField("at", "Seconds since the run's first sample", "s"), words("kind", "What it is about"),
       words("text", "In words"), words("role", "Of a reading: what it means"), numberField("value", "Its value", ""),
       numberField("value_high", "Upper end of a range", ""), words("extra", "More, as JSON")}));
  resource["title"] = "Events";
  return folder.add(path, text, std::move(resource));
}

// Each once, by its bytes: a setup has many runs. What is said of them stands in run.json.
Result<Json> addFiles(const WholeRun& run, PackageFolder& folder) {
  Json all = Json::array();
  for (const WholeFile& file : run.files) {
    const std::string path = fmt::format("files/{}.{}", sha256Hex(*file.bytes), fileEnding(file));
    if (!folder.holds(path)) {
      Json resource = {{"profile", "data-resource"}, {"mediatype", valueIn(file.about, "type", std::string())}};
      const std::string name = valueIn(file.about, "name", std::string());
      if (!name.empty()) resource["title"] = name;
      if (Status added = folder.add(path, *file.bytes, std::move(resource), false); !added) return added.error();
    }
    Json about = file.about;
    about["path"] = path;
    about["of"] = file.isOfSetup ? kOfSetup : kOfRun;
    all.push_back(std::move(about));
  }
  return all;
}

Status addRun(const WholeRun& run, PackageFolder& folder) {
  const std::string id = valueIn(run.row, "id", std::string());
  Json row = run.row;
  Json extra = valueIn(row, "extra", Json::object());
  const Json others = valueIn(extra, kKeysOfOthers, Json::object());
  extra.erase(kKeysOfOthers);
  row["extra"] = std::move(extra);
  folder.expect(valueIn(others, "resources", Json::object()));
  Json sources = Json::array();
  for (size_t s = 0; s < run.sources.size(); ++s) {
    const std::string path = fmt::format("{}/samples-{}.csv", id, s + 1);
    if (Status added = addSamples(run.sources[s], path, folder); !added) return added;
    sources.push_back({{"id", run.sources[s].id}, {"samples", path}, {"readings", run.sources[s].readings}});
  }
  const std::string events = id + "/events.csv";
  if (Status added = addEvents(run, events, folder); !added) return added;
  const auto files = addFiles(run, folder);
  if (!files) return files.error();
  Json json = {{"contract", 1},
               {"run", std::move(row)},
               {"phases", run.phases},
               {"events", events},
               {"sources", std::move(sources)}};
  if (!files->empty()) json["files"] = *files;
  putBack(PackagePart::Run, valueIn(others, "run", Json::object()), json);
  return folder.add(id + "/run.json", json.dump(1) + "\n",
                    {{"format", "json"}, {"mediatype", "application/json"}, {"title", "What run " + id + " is"}});
}

// What others have said of a package that all these runs came with.
Json saidOfAll(const std::vector<Json>& saidOfRuns) {
  const bool isOne = !saidOfRuns.empty() && std::all_of(saidOfRuns.begin(), saidOfRuns.end(),
                                                        [&](const Json& one) { return one == saidOfRuns.front(); });
  return isOne ? saidOfRuns.front() : Json::object();
}

Json describe(const PackageWishes& wishes, const PackageFolder& folder, const Json& others) {
  Json package = {{"profile", "data-package"},
                  {"name", "ash-gauge-runs"},
                  {"created", wishes.created.empty() ? isoTimeNow() : wishes.created},
                  {"resources", folder.resources()}};
  if (!wishes.title.empty()) package["title"] = wishes.title;
  if (!wishes.license.empty()) package["licenses"] = Json::array({{{"name", wishes.license}}});
  putBack(PackagePart::Description, others, package);
  if (!package.contains("title")) package["title"] = kPlainTitle;
  return package;
}

}  // namespace

namespace {

Status writeFolder(const std::string& bookPath, const PackageWishes& wishes, const std::string& folder) {
  std::error_code error;
  if (std::filesystem::exists(folder, error) && !std::filesystem::is_empty(folder, error))
    return Error::badInput(
        fmt::format("{} holds something already; name a folder that is empty or not there.", folder));
  const std::string part = folder + ".part";
  std::filesystem::remove_all(part, error);
  PackageFolder inside(part);
  std::vector<Json> saidOfRuns;
  const auto write = [&]() -> Status {
    for (const std::string& id : wishes.runs) {
      const auto run = readWholeRun(bookPath, id);
      if (!run) return run.error();
      if (Status added = addRun(*run, inside); !added) return added;
      const Json others = valueIn(valueIn(run->row, "extra", Json::object()), kKeysOfOthers, Json::object());
      saidOfRuns.push_back(valueIn(others, "description", Json::object()));
    }
    return writeWholeFile(describe(wishes, inside, saidOfAll(saidOfRuns)).dump(1) + "\n", part + "/datapackage.json");
  };
  Status written = write();
  if (written) {
    std::filesystem::remove(folder, error);
    std::filesystem::rename(part, folder, error);
    if (error) written = Error::environment(fmt::format("Cannot make {}: {}.", folder, error.message()));
  }
  if (!written) std::filesystem::remove_all(part, error);
  return written;
}

}  // namespace

Status writePackage(const std::string& bookPath, const PackageWishes& wishes, const std::string& to) {
  if (!to.ends_with(".zip")) return writeFolder(bookPath, wishes, to);
  std::error_code error;
  if (std::filesystem::exists(to, error))
    return Error::badInput(fmt::format("{} is there already; name a file that is not.", to));
  const auto scratch = ScratchFolder::beside(to);
  if (!scratch) return scratch.error();
  if (Status written = writeFolder(bookPath, wishes, scratch->path()); !written) return written;
  return zipFolder(scratch->path(), to, wishes.created);
}

}  // namespace ash
