// SPDX-License-Identifier: GPL-3.0-or-later
// A book that was made for one purpose and goes with it when nothing was kept.
#pragma once

#include <string>

#include "book/book.h"

namespace ash {

class MadeBook {
 public:
  /// Opens the book, or makes it.
  static Result<MadeBook> orOpen(const std::string& path);
  /// It stays.
  void keep() { m_path.clear(); }
  /// Removes it when it was not there before.
  void remove() const;

 private:
  std::string m_path;  // empty when it was there before
};

}  // namespace ash
