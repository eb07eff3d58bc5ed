// SPDX-License-Identifier: GPL-3.0-or-later
// A book read as the window sees it, on the keeper's thread.
#pragma once

#include "app/study/book_view.h"
#include "book/book.h"

namespace ash {

/// Studies, runs, ladders, files and procedures. `remarks` gets a sentence for each part that could not be read while
/// the rest could.
Result<BookView> readBookView(const Book& book, std::vector<std::string>& remarks);

}  // namespace ash
