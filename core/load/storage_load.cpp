// SPDX-License-Identifier: GPL-3.0-or-later
// The load `storage`: sequential and random reads and writes past the page cache, every block that is read is checked.
#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <filesystem>

#include "load/aligned_memory.h"
#include "load/flip_bit.h"
#include "load/load_kinds.h"
#include "load/scratch_file.h"

namespace ash {
namespace {

constexpr size_t kPage = 4096;  // the unit that is checked, and the size of a random request
constexpr size_t kWords = kPage / sizeof(std::uint64_t);
constexpr size_t kRandomRequests = 2000;  // of a part, before the next begins
constexpr int kCheckEvery = 32;           // requests
constexpr int kReadsOfTen = 7;
struct StoragePatternWords {
  enum Known { Mix, Write, Read, RandomWrite, RandomRead, Other };
  static constexpr std::array<std::string_view, Other> kWords = {"mix", "write", "read", "random-write", "random-read"};
};
using StoragePattern = OpenWord<StoragePatternWords>;

std::uint64_t scramble(std::uint64_t x) {
  // splitmix64, the finalizer of Java 8's SplittableRandom (Steele, Lea, Flood, OOPSLA 2014).
  x = (x ^ (x >> 30)) * 0xbf58476d1ce4e5b9;
  x = (x ^ (x >> 27)) * 0x94d049bb133111eb;
  return x ^ (x >> 31);
}

/// What page `page` holds after having been written `generation` times.
void fillPage(std::uint64_t* words, std::uint64_t page, std::uint64_t generation) {
  std::uint64_t x = scramble(page * 0x9e3779b97f4a7c15 + generation);
  for (size_t i = 0; i < kWords; ++i) words[i] = x += 0x9e3779b97f4a7c15;
}

bool isPageRight(const std::uint64_t* words, std::uint64_t page, std::uint64_t generation) {
  std::uint64_t x = scramble(page * 0x9e3779b97f4a7c15 + generation), different = 0;
  for (size_t i = 0; i < kWords; ++i) different |= words[i] ^ (x += 0x9e3779b97f4a7c15);
  return different == 0;
}

enum class Part { Write, Read, Random };

/// One request at a time in a stretch of the file of its own: as many of them as the queue is deep.
class StorageThread : public LoadThread {
 public:
  StorageThread(const ScratchFile& file, AlignedMemory memory, StoragePattern::Known pattern, size_t firstPage,
                size_t pages, size_t pagesPerBlock)
      : m_file(file),
        m_memory(std::move(memory)),
        m_words(static_cast<std::uint64_t*>(m_memory.data())),
        m_pattern(pattern),
        m_firstPage(firstPage),
        m_blockPages(pagesPerBlock),
        m_generation(pages, 0),
        m_random(firstPage * 2 + 1) {}

  BlockResult block(bool flip) override {
    // What only writes is checked as well: a page is read back now and then.
    if ((m_pattern == StoragePattern::Write || m_pattern == StoragePattern::RandomWrite) && m_hasWritten &&
        ++m_unchecked >= kCheckEvery) {
      m_unchecked = 0;
      return request((scramble(m_random += 0x9e3779b97f4a7c15) >> 8) % m_generation.size(), 1, false, flip);
    }
    // Whatever is asked for, there must be something to read first.
    switch (m_part) {
      case Part::Write:
        return request(m_at, m_blockPages, true, flip);
      case Part::Read:
        return request(m_at, m_blockPages, false, flip);
      case Part::Random:
        break;
    }
    const std::uint64_t number = scramble(m_random += 0x9e3779b97f4a7c15);
    const bool writes =
        m_pattern == StoragePattern::RandomWrite || (m_pattern == StoragePattern::Mix && number % 10 >= kReadsOfTen);
    return request((number >> 8) % m_generation.size(), 1, writes, flip);
  }

 private:
  BlockResult request(size_t page, size_t pages, bool writes, bool flip) {
    const size_t bytes = pages * kPage;
    const auto offset = static_cast<off_t>((m_firstPage + page) * kPage);
    if (writes) {
      for (size_t i = 0; i < pages; ++i)
        fillPage(m_words + i * kWords, m_firstPage + page + i, ++m_generation[page + i]);
      if (flip) flipBit(m_words + 8, 11);
    }
    const ssize_t done = writes ? pwrite(m_file.descriptor(), m_words, bytes, offset)
                                : pread(m_file.descriptor(), m_words, bytes, offset);
    if (done != static_cast<ssize_t>(bytes)) return failed(writes, done < 0 ? errno : ENOSPC);
    if (!writes && flip) flipBit(m_words + 8, 11);
    long long wrong = 0;
    for (size_t i = 0; !writes && i < pages; ++i) {
      if (isPageRight(m_words + i * kWords, m_firstPage + page + i, m_generation[page + i])) continue;
      ++wrong;
      mend(page + i, i);
    }
    if (pages == m_blockPages || m_part == Part::Random) advance(pages);
    return {wrong > 0 ? 0 : static_cast<double>(bytes) / 1e6, wrong, {}};
  }

  // What was wrong is written anew, so that it counts once.
  void mend(size_t page, size_t place) {
    std::uint64_t* words = m_words + place * kWords;
    fillPage(words, m_firstPage + page, m_generation[page]);
    if (pwrite(m_file.descriptor(), words, kPage, static_cast<off_t>((m_firstPage + page) * kPage)) < 0) return;
  }

  BlockResult failed(bool writes, int error) const {
    BlockResult result;
    result.failure =
        Error::io(writes ? "write the load's file in" : "read the load's file in", m_file.folder(), error).message;
    return result;
  }

  void advance(size_t pages) {
    if (m_part == Part::Random) {
      if (m_pattern == StoragePattern::Mix && ++m_requests >= kRandomRequests) {
        m_requests = 0;
        m_part = Part::Write;
      }
      return;
    }
    m_at += pages;
    if (m_at + m_blockPages <= m_generation.size()) return;
    m_at = 0;
    m_hasWritten = true;
    if (!m_file.isDirect()) {
      // Without O_DIRECT the drive must be asked for by hand: nothing may stay in the page cache.
      fdatasync(m_file.descriptor());
      posix_fadvise(m_file.descriptor(), 0, 0, POSIX_FADV_DONTNEED);
    }
    if (m_pattern == StoragePattern::Write) return;
    if (m_pattern == StoragePattern::Read)
      m_part = Part::Read;
    else if (m_pattern == StoragePattern::Mix)
      m_part = m_part == Part::Write ? Part::Read : Part::Random;
    else
      m_part = Part::Random;
  }

  const ScratchFile& m_file;
  AlignedMemory m_memory;
  std::uint64_t* m_words;
  const StoragePattern::Known m_pattern;
  const size_t m_firstPage, m_blockPages;
  std::vector<std::uint32_t> m_generation;
  std::uint64_t m_random;
  Part m_part = Part::Write;
  size_t m_at = 0, m_requests = 0;
  int m_unchecked = 0;
  bool m_hasWritten = false;
};

StoragePattern patternOf(const LoadOptions& options) {
  return options.pattern.empty() ? StoragePattern(StoragePattern::Mix) : StoragePattern::fromText(options.pattern);
}

class StorageLoad : public LoadPart {
 public:
  StorageLoad(ScratchFile file, const LoadOptions& options) : m_file(std::move(file)) {
    unit = "MB/s";
    variant = m_file.isDirect() ? "direct" : "buffered";
    m_pattern = patternOf(options);
    pattern = StoragePattern(m_pattern).text();
    threads = options.queueDepth;
    isSelfPaced = true;
    m_blockPages = static_cast<size_t>(options.blockKb) * 1024 / kPage;
    const auto pages = static_cast<size_t>(options.fileMb * 1e6) / kPage / static_cast<size_t>(threads);
    m_pagesEach = std::max<size_t>(1, pages / m_blockPages) * m_blockPages;
  }
  Result<std::unique_ptr<LoadThread>> makeThread(int index, const std::stop_token&) override {
    auto memory = AlignedMemory::make(m_blockPages * kPage);
    if (!memory) return memory.error();
    return std::unique_ptr<LoadThread>(std::make_unique<StorageThread>(
        m_file, std::move(*memory), m_pattern, static_cast<size_t>(index) * m_pagesEach, m_pagesEach, m_blockPages));
  }

 private:
  ScratchFile m_file;
  StoragePattern::Known m_pattern = StoragePattern::Mix;
  size_t m_blockPages = 1, m_pagesEach = 1;
};

constexpr LoadField kStorageFields[] = {
    {"file_mb",
     "--file",
     "MB of the storage load's file",
     &LoadOptions::fileMb,
     {16, 1e7},
     "The file of the storage load must be from 16 to 10,000,000 MB."},
    {"queue_depth",
     "--queue",
     "Requests at a time of the storage load",
     &LoadOptions::queueDepth,
     {1, 64},
     "The queue depth must be from 1 to 64."},
    {"block_kb",
     "--block",
     "KB of a sequential request",
     &LoadOptions::blockKb,
     {4, 4096},
     "The block of the storage load must be a multiple of 4 from 4 to 4096 KB."},
};

Status checkStorage(const LoadOptions& options) {
  if (options.blockKb % 4 != 0)
    return Error::badInput("The block of the storage load must be a multiple of 4 from 4 to 4096 KB.");
  const double blocksMb = static_cast<double>(options.queueDepth) * options.blockKb * 1024 / 1e6;
  if (options.fileMb >= blocksMb) return {};
  return Error::badInput(
      fmt::format("{} requests of {} KB at a time need a file of at least {:.0f} MB, not {:g} (--file).",
                  options.queueDepth, options.blockKb, std::ceil(blocksMb), options.fileMb));
}

Result<std::unique_ptr<LoadPart>> makeStorage(const LoadOptions& options) {
  const StoragePattern pattern = patternOf(options);
  if (pattern == StoragePattern::Other)
    return Error::badInput(fmt::format("The storage load has no pattern \"{}\"; it has: {}.", pattern.text(),
                                       fmt::join(StoragePattern::kWords, ", ")));
  std::error_code error;
  const std::string folder = options.folder.empty() ? std::filesystem::current_path(error).string() : options.folder;
  auto file = ScratchFile::make(folder, static_cast<long long>(options.fileMb * 1e6));
  if (!file) return file.error();
  return std::unique_ptr<LoadPart>(std::make_unique<StorageLoad>(std::move(*file), options));
}

}  // namespace

extern const LoadKindRow kStorageLoad;
constinit const LoadKindRow kStorageLoad = {LoadKind::Storage, makeStorage, kStorageFields, checkStorage};

}  // namespace ash
