// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/aligned_memory.h"

#include <fmt/format.h>
#include <sys/mman.h>

#include <utility>

namespace ash {

Result<AlignedMemory> AlignedMemory::make(size_t bytes) {
  AlignedMemory memory;
  void* data = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
  if (data == MAP_FAILED)
    return Error::environment(fmt::format("There are no {:.0f} MB of memory for the load; ask for less (--memory).",
                                          static_cast<double>(bytes) / 1e6));
  madvise(data, bytes, MADV_HUGEPAGE);
  memory.m_data = data;
  memory.m_bytes = bytes;
  return memory;
}

AlignedMemory::AlignedMemory(AlignedMemory&& other) noexcept
    : m_data(std::exchange(other.m_data, nullptr)), m_bytes(std::exchange(other.m_bytes, 0)) {}

AlignedMemory& AlignedMemory::operator=(AlignedMemory&& other) noexcept {
  std::swap(m_data, other.m_data);
  std::swap(m_bytes, other.m_bytes);
  return *this;
}

AlignedMemory::~AlignedMemory() {
  if (m_data != nullptr) munmap(m_data, m_bytes);
}

}  // namespace ash
