// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/reading_words.h"

#include <QObject>
#include <cmath>

#include "app/look/parts.h"
#include "model/number_text.h"
#include "readings/meaning/words.h"

namespace ash {
using look::text;
namespace {

constexpr double kStillS = 600;

int digitsOf(const Reading& reading) { return usualDigits(reading.unit); }

}  // namespace

QString readingWords(const Reading& reading) {
  QString words = text(meaningWords(reading));
  // A device's own label is shown as it is.
  if (words == text(reading.name) && reading.driver != "computed") return words;
  words.remove(QObject::tr(", computed"));
  if (!words.isEmpty()) words[0] = words[0].toUpper();
  return words;
}

QString readingValue(const ReadingNow& now) {
  return text(withUnit(now.value, digitsOf(now.reading), now.reading.unit));
}

QString seenText(const ReadingNow& now) {
  if (!std::isfinite(now.low)) return {};
  const QString low = text(numberText(now.low, digitsOf(now.reading)));
  const QString high = text(numberText(now.high, digitsOf(now.reading)));
  return low == high ? low : QObject::tr("%1 to %2").arg(low, high);
}

QString ageText(const ReadingNow& now) {
  if (now.isHidden) return QObject::tr("not logged");
  if (!now.fault.empty()) return QObject::tr("gone");
  if (!std::isfinite(now.ageS)) return QObject::tr("no answer");
  if (now.reading.quantity == Quantity::Temperature && now.stillS > kStillS)
    return QObject::tr("still %1 min").arg(std::lround(now.stillS / 60));
  return now.ageS < 1.8 ? QString() : QObject::tr("%1 s old").arg(std::lround(now.ageS));
}

}  // namespace ash
