// SPDX-License-Identifier: GPL-3.0-or-later
// What the keeper does with what a person has allowed, or said of readings, on this machine.
#include "app/look/words.h"
#include "app/study/book_keeper.h"
#include "runner/reading_choices.h"

namespace ash {
using look::text;

void BookKeeper::readChoices(const QString& machine) {
  if (!m_book) return;
  auto known = choicesOn(*m_book, machine.toStdString());
  if (!known) {
    emit refused(text(known.error().message));
    return;
  }
  emit choices(std::make_shared<const ReadingChoices>(std::move(known->accepted)));
  emit proposals(machine, std::make_shared<const ReadingChoices>(std::move(known->proposed)));
}

void BookKeeper::putChoice(const QString& machine, const QString& reading,
                           const std::shared_ptr<const ReadingChoice>& choice) {
  if (!m_book) return;
  const Status put = sayOfReading(*m_book, machine.toStdString(), reading.toStdString(), *choice);
  if (!put) emit refused(text(put.error().message));
  readChoices(machine);
}

void BookKeeper::acceptChoices(const QString& machine) {
  if (!m_book) return;
  if (Status accepted = acceptProposals(*m_book, machine.toStdString()); !accepted)
    emit refused(text(accepted.error().message));
  readChoices(machine);
}

void BookKeeper::confirmParts(const std::vector<ActivePart>& parts) {
  if (Status confirmed = confirm(parts); !confirmed) emit refused(text(confirmed.error().message));
  if (m_book) tell(false);
}

void BookKeeper::listConfirmations() {
  emit confirmationsListed(std::make_shared<const ConfirmationList>(ash::confirmations()));
}

// What the book shows as allowed follows.
void BookKeeper::takeBackConfirmations(const QStringList& keys) {
  std::set<std::string> gone;
  for (const QString& key : keys) gone.insert(key.toStdString());
  if (Status taken = takeBack(gone); !taken) emit refused(text(taken.error().message));
  if (m_book) tell(false);
  listConfirmations();
}

}  // namespace ash
