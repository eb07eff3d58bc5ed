// SPDX-License-Identifier: GPL-3.0-or-later
// A file that claims to be a book, with a write-ahead log beside it: opening, listing, reading, checking and saving it
// neither crash nor write elsewhere, and what is saved grows with the files and not with what they claim.
#include <unistd.h>

#include <cstdio>
#include <filesystem>
#include <fstream>

#include "book/book.h"
#include "book/salvage.h"
#include "model/study_plan.h"
#include "runner/interrupted.h"
#include "runner/planned_run.h"
#include "tests/fuzz/fuzz.h"

using namespace ash;
namespace fs = std::filesystem;

namespace {

void readAll(const std::string& path) {
  auto book = Book::open(path, BookAccess::ReadOnly);
  if (!book) return;
  if (const auto studies = book->studies()) {
    for (const Study& study : *studies) {
      static_cast<void>(planFromJson(study.plan));
      for (const Load& load : study.loads) static_cast<void>(loadFromJson(load.name, load.spec));
    }
  }
  if (const auto runs = book->runs()) {
    for (const RunSummary& run : *runs) {
      const auto log = book->readRun(run.info.id);
      if (!log) continue;
      for (const Channel& channel : log->log.channels) fuzz::mustHold(channel.values.size() == log->log.timeS.size());
      static_cast<void>(reasonOfInterruption(run, *log, ""));
    }
  }
  static_cast<void>(book->check());
}

}  // namespace

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  static const std::string folder = [] {
    const std::string made = "/dev/shm/ash-fuzz-" + std::to_string(getpid());
    fs::create_directories(made);
    return made;
  }();
  const std::string path = folder + "/b.ashbook", saved = folder + "/saved.ashbook";
  // The last two bytes say how much of the rest, in 64ths, is the log.
  const size_t whole = size < 2 ? size : size - 2;
  const size_t book = size < 2 ? size : whole - whole * (data[whole] % 64) / 64;
  const auto write = [](const std::string& to, const uint8_t* bytes, size_t count) {
    std::ofstream(to, std::ios::binary)
        .write(reinterpret_cast<const char*>(bytes), static_cast<std::streamsize>(count));
  };
  // What is damaged is saved before anybody opens it: SQLite itself would repair or truncate a log.
  write(path, data, book);
  if (book < whole) write(path + "-wal", data + book, whole - book);
  const bool isSaved = salvageBook(path, saved).operator bool();
  if (isSaved) {
    fuzz::mustHold(fs::file_size(saved) < 64 * (whole + 65536));
    readAll(saved);
  }
  readAll(path);
  for (const fs::directory_entry& entry : fs::directory_iterator(folder)) {
    const std::string name = entry.path().filename().string();
    fuzz::mustHold(name.starts_with("b.ashbook") || name.starts_with("saved.ashbook"));
    fs::remove(entry.path());
  }
  return 0;
}
