// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/take_in.h"

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <optional>

#include "book/made_book.h"
#include "book/run_import.h"
#include "intake/import_reading.h"
#include "model/json_cursor.h"
#include "model/text.h"
#include "system/own_folders.h"
#include "system/whole_file.h"

namespace ash {
namespace {

constexpr size_t kLargestMemoryB = size_t{1} << 20, kMostRemembered = 5000;

std::string withoutEndings(const std::string& path) {
  std::filesystem::path name = std::filesystem::path(path).filename();
  for (int i = 0; i < 2 && name.has_extension() && name.extension().string().size() <= 5; ++i) name = name.stem();
  const std::string text = withoutControls(asUtf8(name.string()));
  return text.empty() ? std::string("log") : text;
}

/// Puts rows into the book.
class BookSink : public LogSink {
 public:
  explicit BookSink(const ImportPlace& place) : m_place(place) {}

  Status begin(const LogFacts& facts, const std::vector<PlannedColumn>& columns) override {
    SourceInfo source;
    source.id = "import/" + std::filesystem::path(facts.file).filename().string();
    for (const PlannedColumn& column : columns) source.readings.push_back(readingOf(column));
    RunInfo info;
    info.study = m_place.study.empty() ? "Taken in" : m_place.study;
    info.setup = m_place.setup.empty() ? withoutEndings(facts.file) : m_place.setup;
    info.load = m_place.load.empty() ? "not told" : m_place.load;
    info.started = startText(facts);
    info.bench = {{"taken_in", std::filesystem::path(facts.file).filename().string()}};
    auto begun = RunImport::begin(m_place.book, info, {source});
    if (!begun) return begun.error();
    m_import = std::move(*begun);
    m_run = info.id;
    for (const Event& event : m_place.typed) {
      if (Status kept = m_import->addEvent(event); !kept) return kept;
    }
    return {};
  }
  Status row(double timeS, const std::vector<double>& values) override { return m_import->addSweep(0, timeS, values); }
  Status event(const Event& event) override { return m_import->addEvent(event); }

  Result<std::string> finish(const LogFacts& facts) {
    // Rows that lie close are not to be read as one.
    constexpr double kOfClosest = 3.9;
    const double intervalS = std::min(facts.intervalS, kOfClosest * facts.closestS);
    if (Status kept = m_import->finish(startText(facts), intervalS, Outcome::TakenIn); !kept) return kept.error();
    return m_run;
  }
  void giveUp() { m_import.reset(); }

 private:
  const ImportPlace& m_place;
  std::optional<RunImport> m_import;
  std::string m_run;
};

std::string memoryFile() {
  const std::string folder = stateFolder();
  return folder.empty() ? folder : folder + "/columns.json";
}

}  // namespace

Result<TakenIn> takeIn(const std::string& path, const ImportWishes& wishes, const ImportPlace& place,
                       const ImportProgress& progress) {
  // What is no log must not leave a book behind.
  auto made = MadeBook::orOpen(place.book);
  if (!made) return made.error();
  BookSink sink(place);
  auto facts = readForeignLog(path, wishes, &sink, progress);
  const auto run = facts ? sink.finish(*facts) : Result<std::string>(facts.error());
  if (!run) {
    sink.giveUp();
    made->remove();
    return run.error();
  }
  made->keep();
  rememberColumns(wishes.map);
  return TakenIn{std::move(*facts), *run};
}

SaidOfColumns rememberedColumns() {
  std::ifstream file(memoryFile());
  std::string text(kLargestMemoryB, '\0');
  file.read(text.data(), static_cast<std::streamsize>(text.size()));
  text.resize(static_cast<size_t>(file.gcount()));
  SaidOfColumns said;
  const Json kept = parseQuietly(text);
  if (!kept.is_object()) return said;
  for (const auto& [name, one] : kept.items()) {
    const SaidOfColumn column{valueIn(one, "role", ""), valueIn(one, "unit", "")};
    // Another version may know other roles.
    if (column.role.empty() || Role(column.role).isKnown()) said[name] = column;
  }
  return said;
}

void rememberColumns(const SaidOfColumns& said) {
  const std::string path = memoryFile();
  if (path.empty() || said.empty()) return;
  SaidOfColumns all = rememberedColumns();
  for (const auto& [name, one] : said) all[name] = one;
  if (all.size() > kMostRemembered) all = said;
  Json kept = Json::object();
  for (const auto& [name, one] : all) kept[name] = {{"role", one.role}, {"unit", one.unit}};
  std::error_code error;
  std::filesystem::create_directories(std::filesystem::path(path).parent_path(), error);
  static_cast<void>(writeWholeFile(kept.dump(1), path, 0600).operator bool());
}

Status forgetColumns() {
  std::error_code error;
  std::filesystem::remove(memoryFile(), error);
  if (error) return Error::environment("Cannot remove " + memoryFile() + ": " + error.message() + ".");
  return {};
}

}  // namespace ash
