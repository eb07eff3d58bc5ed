// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg book allow`: what a book would run, ask or turn on this machine, and leave for it.
#include "cli/book_allow.h"

#include <fmt/format.h>

#include <cstdio>

#include "book/book.h"
#include "cli/command.h"
#include "model/active_parts.h"
#include "model/text.h"
#include "system/confirmed.h"

namespace ash::cli {

int allowBook(const std::string& path, bool all, bool json) {
  const auto book = Book::open(path, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto studies = book->studies();
  if (!studies) return fail(studies.error());
  const auto confirmed = confirmedTexts();
  std::vector<std::string> keys;
  Json list = Json::array();
  for (const Study& study : *studies) {
    for (const ActivePart& part : activeParts(study)) {
      const bool isConfirmed = all || confirmed.contains(part.key());
      keys.push_back(part.key());
      list.push_back({{"study", study.name},
                      {"where", part.where},
                      {"kind", part.kind},
                      {"text", part.text},
                      {"allowed", isConfirmed}});
      if (!json)
        std::puts(fmt::format("{}  {} / {}: {} `{}`", isConfirmed ? "allowed" : "not yet", study.name, part.where,
                              part.kind, withoutControls(part.text))
                      .c_str());
    }
  }
  if (json) printJson({{"contract", 1}, {"parts", list}});
  if (!json && keys.empty()) std::fputs("Nothing in this book does anything on a machine.\n", stderr);
  if (!all || keys.empty()) return kDone;
  const Status written = confirmTexts(keys);
  return written ? kDone : fail(written.error());
}

}  // namespace ash::cli
