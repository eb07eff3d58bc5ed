// SPDX-License-Identifier: GPL-3.0-or-later
// The picture of docs/architecture.md is that of the link lines.
#include <catch2/catch.hpp>
#include <filesystem>
#include <map>
#include <regex>
#include <set>

#include "tests/support/temp_folder.h"

using namespace ash::tests;
namespace fs = std::filesystem;

namespace {

using Uses = std::map<std::string, std::set<std::string>>;

// Folders of core/ by the libraries of their rooms: ash_report_answer is of report.
std::string folderOf(const std::string& library, const std::set<std::string>& folders) {
  std::string found;
  for (const std::string& folder : folders) {
    const bool isOf = library == "ash_" + folder || library.starts_with("ash_" + folder + "_");
    if (isOf && folder.size() > found.size()) found = folder;
  }
  return found;
}

// Each folder with those that its CMakeLists.txt and those of its rooms name on a link line.
Uses linkLines(const fs::path& core) {
  std::set<std::string> folders;
  for (const auto& entry : fs::directory_iterator(core)) {
    if (entry.is_directory()) folders.insert(entry.path().filename().string());
  }
  Uses uses;
  const std::regex line(R"((ash_core_library|target_link_libraries)\(([^)]*)\))"), word(R"(ash_[a-z_]+)");
  for (const std::string& folder : folders) {
    uses[folder];
    for (const auto& entry : fs::recursive_directory_iterator(core / folder)) {
      if (entry.path().filename() != "CMakeLists.txt") continue;
      const std::string text = readFile(entry.path().string());
      for (std::sregex_iterator at(text.begin(), text.end(), line), end; at != end; ++at) {
        const std::string names = (*at)[2];
        for (std::sregex_iterator name(names.begin(), names.end(), word); name != end; ++name) {
          const std::string other = folderOf(name->str(), folders);
          if (!other.empty() && other != folder) uses[folder].insert(other);
        }
      }
    }
  }
  return uses;
}

bool reaches(const Uses& uses, const std::string& from, const std::string& to) {
  for (const std::string& next : uses.at(from)) {
    if (next == to || reaches(uses, next, to)) return true;
  }
  return false;
}

// Steps to the folder that uses nothing; the picture stands in their order.
int heightOf(const Uses& uses, const std::string& folder) {
  int height = 0;
  for (const std::string& next : uses.at(folder)) height = std::max(height, 1 + heightOf(uses, next));
  return height;
}

// What is reached by way of another is not drawn.
std::string pictureOf(const Uses& uses) {
  std::map<int, std::set<std::string>, std::greater<>> rows;
  for (const auto& [folder, others] : uses) rows[heightOf(uses, folder)].insert(folder);
  std::string picture;
  for (const auto& [height, folders] : rows) {
    for (const std::string& folder : folders) {
      std::string line = (height < 10 ? " " : "") + std::to_string(height) + "  " + folder;
      std::string arrows;
      for (const std::string& other : uses.at(folder)) {
        bool isByAnother = false;
        for (const std::string& between : uses.at(folder))
          isByAnother |= between != other && reaches(uses, between, other);
        if (!isByAnother) arrows += (arrows.empty() ? "" : ", ") + other;
      }
      if (!arrows.empty()) line += std::string(17 - std::min<size_t>(16, line.size()), ' ') + "──▶ " + arrows;
      picture += line + "\n";
    }
  }
  return picture;
}

}  // namespace

TEST_CASE("thePictureOfTheFoldersIsThatOfTheLinkLines") {
  const fs::path project = PROJECT_FOLDER;
  const Uses uses = linkLines(project / "core");
  REQUIRE(uses.size() > 15);
  for (const auto& [folder, others] : uses) {
    INFO(folder);
    CHECK_FALSE(reaches(uses, folder, folder));
  }
  const std::string picture = pictureOf(uses), doc = readFile((project / "docs/architecture.md").string());
  INFO(picture);
  CHECK(doc.find("```text\n" + picture + "```") != std::string::npos);
}

TEST_CASE("whatTheGuideForChangesNamesIsThere") {
  const fs::path project = PROJECT_FOLDER;
  const std::string text = readFile((project / "CONTRIBUTING.md").string());
  const std::regex path(R"(([a-z_]+/[a-z_/]+[a-z_]\.(cpp|h|md)|docs/[a-z-]+\.md|tests/[a-z]+/[a-z]+))");
  int count = 0;
  for (std::sregex_iterator at(text.begin(), text.end(), path), end; at != end; ++at, ++count) {
    const std::string name = (*at)[0];
    INFO(name);
    // Some are written without core/, as the compiler finds them, or within the room that was named before.
    const bool isThere = fs::exists(project / name) || fs::exists(project / "core" / name) ||
                         fs::exists(project / "core/analysis" / name);
    CHECK(isThere);
  }
  CHECK(count > 20);
}
