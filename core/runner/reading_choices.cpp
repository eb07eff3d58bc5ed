// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/reading_choices.h"

#include <fmt/format.h>

#include <filesystem>

#include "readings/linux_machine.h"

namespace ash {

Result<SortedChoices> choicesOn(const Book& book, const std::string& machine) {
  const auto said = book.readingChoices(machine);
  if (!said) return said.error();
  return sortChoices(machine, *said);
}

Result<SortedChoices> choicesFor(const std::string& bookPath, const std::string& root) {
  std::error_code error;
  if (!std::filesystem::exists(bookPath, error)) return SortedChoices();
  const auto book = Book::open(bookPath, BookAccess::ReadOnly);
  if (!book) return book.error();
  return choicesOn(*book, machineKey(machineFacts(root)));
}

Status sayOfReading(Book& book, const std::string& machine, const std::string& reading, const ReadingChoice& choice) {
  const auto before = choicesOn(book, machine);
  if (!before) return before.error();
  if (Status put = book.putReadingChoice(machine, reading, choice); !put) return put;
  // A role that was given to this reading is taken from the one that had it: what is said of that one changes, too.
  const auto after = book.readingChoices(machine);
  if (!after) return after.error();
  std::vector<ActivePart> own;
  for (const auto& [id, said] : *after) {
    if (id == reading || before->accepted.contains(id)) own.push_back(activePart(machine, id, said));
  }
  return confirm(own);
}

Status acceptProposals(const Book& book, const std::string& machine) {
  const auto sorted = choicesOn(book, machine);
  if (!sorted) return sorted.error();
  std::vector<ActivePart> parts;
  for (const auto& [id, said] : sorted->proposed) parts.push_back(activePart(machine, id, said));
  return confirm(parts);
}

std::string proposalSentence(const SortedChoices& choices) {
  const size_t count = choices.proposed.size();
  if (count == 0) return {};
  return fmt::format(
      "The book says of {} reading{} of this machine what nobody has accepted here, so it does not count; see the page "
      "Readings, or `ashg book allow`.",
      count, count == 1 ? "" : "s");
}

}  // namespace ash
