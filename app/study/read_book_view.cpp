// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/study/read_book_view.h"

#include "system/confirmed.h"

namespace ash {

Result<BookView> readBookView(const Book& book, std::vector<std::string>& remarks) {
  BookView view;
  view.path = QString::fromStdString(book.path());
  auto studies = book.studies();
  if (!studies) return studies.error();
  auto runs = book.runs();
  if (!runs) return runs.error();
  view.studies = std::move(*studies);
  view.runs = std::move(*runs);
  if (auto attachments = book.attachments())
    view.attachments = std::move(*attachments);
  else
    remarks.push_back(attachments.error().message);
  if (const auto ladders = book.ladders()) {
    for (const KeptLadder& one : *ladders) {
      if (auto ladder = fromKept(one)) view.ladders.push_back(std::move(*ladder));
    }
  }
  if (auto procedures = book.procedures())
    view.procedures = std::move(*procedures);
  else
    remarks.push_back(procedures.error().message);
  for (const Study& study : view.studies) {
    if (auto open = unconfirmedOf(activeParts(study)); !open.empty()) view.unconfirmed[study.name] = std::move(open);
  }
  return view;
}

}  // namespace ash
