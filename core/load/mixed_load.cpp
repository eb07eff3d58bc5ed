// SPDX-License-Identifier: GPL-3.0-or-later
// The load `mixed`: a fixed alternation of vector, integer and memory work with short rests, for governors to follow.
#include <algorithm>
#include <array>
#include <chrono>
#include <thread>

#include "load/load_kinds.h"

namespace ash {
namespace {

/// So many blocks of a kind, then the next; after the last a rest. The work of a round is fixed, not its time.
struct Stretch {
  LoadKind::Known kind;
  int blocks;
};
constexpr std::array kRound = {Stretch{LoadKind::Vector, 400}, Stretch{LoadKind::Integer, 600},
                               Stretch{LoadKind::Memory, 300}};
constexpr int kRestMs = 50, kRestSliceMs = 10;

constexpr double blocksOfRound() {
  double sum = 0;
  for (const Stretch& stretch : kRound) sum += stretch.blocks;
  return sum;
}

class MixedThread : public LoadThread {
 public:
  explicit MixedThread(std::vector<std::unique_ptr<LoadThread>> threads) : m_threads(std::move(threads)) {}

  BlockResult block(bool flip) override {
    if (m_restMs > 0) {
      std::this_thread::sleep_for(std::chrono::milliseconds(kRestSliceMs));
      m_restMs -= kRestSliceMs;
    }
    BlockResult result = m_threads[m_stretch]->block(flip);
    result.work = result.wrong == 0 ? 1 / blocksOfRound() : 0;
    if (++m_block < kRound[m_stretch].blocks) return result;
    m_block = 0;
    m_stretch = (m_stretch + 1) % kRound.size();
    if (m_stretch == 0) m_restMs = kRestMs;
    return result;
  }

 private:
  std::vector<std::unique_ptr<LoadThread>> m_threads;
  size_t m_stretch = 0;
  int m_block = 0, m_restMs = 0;
};

class MixedLoad : public LoadPart {
 public:
  explicit MixedLoad(std::vector<std::unique_ptr<LoadPart>> parts) : m_parts(std::move(parts)) {
    unit = "rounds/s";
    variant = m_parts.front()->variant;
    workPerBlock = 1 / blocksOfRound();
  }
  Result<std::unique_ptr<LoadThread>> makeThread(int index, const std::stop_token& stop) override {
    std::vector<std::unique_ptr<LoadThread>> workers;
    for (const auto& part : m_parts) {
      auto thread = part->makeThread(index, stop);
      if (!thread) return thread.error();
      workers.push_back(std::move(*thread));
    }
    return std::unique_ptr<LoadThread>(std::make_unique<MixedThread>(std::move(workers)));
  }

 private:
  std::vector<std::unique_ptr<LoadPart>> m_parts;
};

Result<std::unique_ptr<LoadPart>> makeMixed(const LoadOptions& options) {
  std::vector<std::unique_ptr<LoadPart>> parts;
  for (const Stretch& stretch : kRound) {
    LoadOptions of = options;
    of.kind = stretch.kind;
    of.pattern.clear();
    auto part = makeLoadPart(of);
    if (!part) return part.error();
    parts.push_back(std::move(*part));
  }
  return std::unique_ptr<LoadPart>(std::make_unique<MixedLoad>(std::move(parts)));
}

}  // namespace

extern const LoadKindRow kMixedLoad;
constinit const LoadKindRow kMixedLoad = {LoadKind::Mixed, makeMixed};

}  // namespace ash
