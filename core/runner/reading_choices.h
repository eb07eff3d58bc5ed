// SPDX-License-Identifier: GPL-3.0-or-later
// What a book says of a machine's readings, and what of it counts on this machine.
#pragma once

#include <string>

#include "book/book.h"
#include "system/confirmed.h"

namespace ash {

/// What was said or accepted here counts; the rest, which came with the book, is a proposal.
Result<SortedChoices> choicesOn(const Book& book, const std::string& machine);
/// The same for a book that may not be there yet, of the machine below `root`.
Result<SortedChoices> choicesFor(const std::string& bookPath, const std::string& root);

/// Says it of one reading, as a person of this machine; an empty choice takes back what was said. What counted before
/// still counts.
Status sayOfReading(Book& book, const std::string& machine, const std::string& reading, const ReadingChoice& choice);

/// Accepts all that the book proposes for this machine.
Status acceptProposals(const Book& book, const std::string& machine);

/// "The book proposes …" for a run that goes on without it; empty when it proposes nothing.
std::string proposalSentence(const SortedChoices& choices);

}  // namespace ash
