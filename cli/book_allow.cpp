// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg book allow`: what a book would run, ask or turn on this machine, what it says of its readings, and leave for
// it.
#include "cli/book_allow.h"

#include <fmt/format.h>

#include <cstdio>

#include "book/book.h"
#include "cli/command.h"
#include "model/text.h"
#include "readings/linux_machine.h"
#include "system/confirmed.h"

namespace ash::cli {
namespace {

struct Found {
  std::string study;  ///< empty for what is said of readings
  ActivePart part;
};

Result<std::vector<Found>> partsOf(const Book& book, const std::string& root) {
  const auto studies = book.studies();
  if (!studies) return studies.error();
  std::vector<Found> found;
  for (const Study& study : *studies) {
    for (ActivePart& part : activeParts(study)) found.push_back({study.name, std::move(part)});
  }
  const std::string machine = machineKey(machineFacts(root));
  const auto said = book.readingChoices(machine);
  if (!said) return said.error();
  for (const auto& [reading, choice] : *said) found.push_back({"", activePart(machine, reading, choice)});
  return found;
}

void printPart(const Found& found, bool isAllowed) {
  const std::string study = found.study.empty() ? "" : found.study + " / ";
  std::puts(fmt::format("{}  {}{}: {}", isAllowed ? "allowed" : "not yet", withoutControls(study),
                        withoutControls(found.part.where), found.part.kind.text())
                .c_str());
  for (const std::string& line : detailLines(found.part)) std::puts(("           " + line).c_str());
}

}  // namespace

int allowBook(const std::string& path, const std::string& root, bool all, bool json) {
  const auto book = Book::open(path, BookAccess::ReadOnly);
  if (!book) return fail(book.error());
  const auto found = partsOf(*book, root);
  if (!found) return fail(found.error());
  const auto known = confirmedKeys();
  std::vector<ActivePart> parts;
  Json list = Json::array();
  for (const Found& one : *found) {
    const bool isAllowed = all || known.contains(confirmationKey(one.part));
    parts.push_back(one.part);
    list.push_back({{"study", one.study.empty() ? Json(nullptr) : Json(one.study)},
                    {"where", one.part.where},
                    {"kind", one.part.kind.text()},
                    {"text", one.part.text},
                    {"whole", one.part.body},
                    {"allowed", isAllowed}});
    if (!json) printPart(one, isAllowed);
  }
  if (all) {
    if (Status written = confirm(parts); !written) return fail(written.error());
  }
  if (json) printJson({{"contract", 1}, {"parts", list}});
  if (!json && parts.empty()) std::fputs("Nothing in this book does anything on a machine.\n", stderr);
  return kDone;
}

}  // namespace ash::cli
