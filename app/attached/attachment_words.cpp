// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/attached/attachment_words.h"

#include <QStringList>
#include <cmath>

#include "app/look/words.h"
#include "app/study/study_desk.h"
#include "model/text.h"

namespace ash {
using look::text;

QString attachmentWords(const Attachment& one) {
  QStringList words = {text(one.name)};
  if (std::isfinite(one.atS)) words << QObject::tr("at %1").arg(text(clockText(one.atS)));
  if (!one.text.empty()) words << text(one.text);
  return words.join(QStringLiteral(" · "));
}

QString ownerWords(const StudyDesk& desk, const Attachment& one) {
  for (const Study& study : desk.studies()) {
    for (const Setup& setup : study.setups) {
      if (one.setup != 0 && setup.id == one.setup) return text(setup.name);
    }
  }
  for (const RunSummary& run : desk.allRuns()) {
    if (run.info.id != one.run) continue;
    const QString words =
        QObject::tr("%1, %2, repeat %3").arg(text(run.info.setup), text(run.info.load)).arg(run.info.repeat);
    return std::isfinite(one.atS) ? QObject::tr("%1, at %2").arg(words, text(clockText(one.atS))) : words;
  }
  return {};
}

}  // namespace ash
