// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <cmath>
#include <filesystem>
#include <set>

#include "book/whole_run.h"
#include "model/role.h"
#include "model/text.h"
#include "model/unit.h"
#include "package/package.h"
#include "package/package_csv.h"
#include "system/clock.h"
#include "system/whole_file.h"

namespace ash {
namespace {

/// Files of a package and what datapackage.json says of them.
class PackageFolder {
 public:
  explicit PackageFolder(std::string folder) : m_folder(std::move(folder)) {}

  Status add(const std::string& path, const std::string& text, Json resource) {
    std::error_code error;
    const std::string file = m_folder + "/" + path;
    std::filesystem::create_directories(std::filesystem::path(file).parent_path(), error);
    if (Status written = writeWholeFile(text, file); !written) return written;
    std::string name = lowerCase(path.substr(0, path.rfind('.')));
    for (char& c : name) c = c == '/' ? '-' : c;
    resource["name"] = name;
    resource["path"] = path;
    resource["encoding"] = "utf-8";
    resource["bytes"] = text.size();
    resource["hash"] = "sha256:" + sha256Hex(text);
    m_resources.push_back(std::move(resource));
    return {};
  }
  const Json& resources() const { return m_resources; }

 private:
  std::string m_folder;
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

Status addRun(const WholeRun& run, PackageFolder& folder) {
  const std::string id = valueIn(run.row, "id", std::string());
  Json sources = Json::array();
  for (size_t s = 0; s < run.sources.size(); ++s) {
    const std::string path = fmt::format("{}/samples-{}.csv", id, s + 1);
    if (Status added = addSamples(run.sources[s], path, folder); !added) return added;
    sources.push_back({{"id", run.sources[s].id}, {"samples", path}, {"readings", run.sources[s].readings}});
  }
  const std::string events = id + "/events.csv";
  if (Status added = addEvents(run, events, folder); !added) return added;
  const Json json = {
      {"contract", 1}, {"run", run.row}, {"phases", run.phases}, {"events", events}, {"sources", std::move(sources)}};
  return folder.add(id + "/run.json", json.dump(1) + "\n",
                    {{"format", "json"}, {"mediatype", "application/json"}, {"title", "What run " + id + " is"}});
}

Json describe(const PackageWishes& wishes, const PackageFolder& folder) {
  Json package = {{"profile", "data-package"},
                  {"name", "ash-gauge-runs"},
                  {"title", wishes.title.empty() ? "Runs recorded with Ash Gauge" : wishes.title},
                  {"created", isoTimeNow()},
                  {"resources", folder.resources()}};
  if (!wishes.license.empty()) package["licenses"] = Json::array({{{"name", wishes.license}}});
  return package;
}

}  // namespace

Status writePackage(const std::string& bookPath, const PackageWishes& wishes, const std::string& folder) {
  std::error_code error;
  if (std::filesystem::exists(folder, error) && !std::filesystem::is_empty(folder, error))
    return Error::badInput(
        fmt::format("{} holds something already; name a folder that is empty or not there.", folder));
  const std::string part = folder + ".part";
  std::filesystem::remove_all(part, error);
  PackageFolder inside(part);
  const auto write = [&]() -> Status {
    for (const std::string& id : wishes.runs) {
      const auto run = readWholeRun(bookPath, id);
      if (!run) return run.error();
      if (Status added = addRun(*run, inside); !added) return added;
    }
    return writeWholeFile(describe(wishes, inside).dump(1) + "\n", part + "/datapackage.json");
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

}  // namespace ash
