// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/made_book.h"

#include <filesystem>

namespace ash {

Result<MadeBook> MadeBook::orOpen(const std::string& path) {
  std::error_code error;
  MadeBook made;
  if (!std::filesystem::exists(path, error)) made.m_path = path;
  const auto book = Book::openOrCreate(path);
  if (!book) return book.error();
  return made;
}

void MadeBook::remove() const {
  std::error_code error;
  if (m_path.empty()) return;
  for (const char* end : {"", "-wal", "-shm"}) std::filesystem::remove(m_path + end, error);
}

}  // namespace ash
