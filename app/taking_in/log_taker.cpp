// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/taking_in/log_taker.h"

#include "app/look/words.h"
#include "book/beside.h"
#include "system/clock.h"

namespace ash {
using look::text;
namespace {

// With what this person said of columns before.
ImportWishes withEarlier(ImportWishes wishes) {
  wishes.earlier = rememberedColumns();
  return wishes;
}

}  // namespace

ImportProgress LogTaker::telling(int number) {
  return [this, number, toldS = monotonicS()](double share) mutable {
    constexpr double kEveryS = 0.1;
    if (monotonicS() - toldS > kEveryS) {
      toldS = monotonicS();
      emit progress(share);
    }
    return number == m_expected;
  };
}

void LogTaker::look(const std::shared_ptr<const LogWish>& wish) {
  if (wish->number != m_expected) return;
  const ImportWishes wishes = withEarlier(wish->wishes);
  auto found = lookAtLog(wish->path, wishes, telling(wish->number));
  if (wish->number != m_expected) return;
  if (!found) return emit looked(nullptr, nullptr, text(found.error().message));
  const auto whole = std::make_shared<const LogLook>(std::move(*found));
  if (wish->beside.run.empty()) return emit looked(whole, nullptr, {});
  auto beside = lookBeside(wish->path, wishes, wish->beside, telling(wish->number));
  if (wish->number != m_expected) return;
  if (!beside) return emit looked(whole, nullptr, text(beside.error().message));
  emit looked(whole, std::make_shared<const BesideLook>(std::move(*beside)), {});
}

void LogTaker::take(const std::shared_ptr<const LogWish>& wish) {
  const ImportWishes wishes = withEarlier(wish->wishes);
  if (wish->beside.run.empty()) {
    const auto run = takeIn(wish->path, wishes, wish->place, telling(wish->number));
    if (!run) return emit taken({}, {}, text(run.error().message));
    return emit taken(text(run->run), {}, {});
  }
  const auto beside = takeBeside(wish->path, wishes, wish->beside, telling(wish->number));
  if (!beside) return emit taken({}, {}, text(beside.error().message));
  emit taken(text(wish->beside.run), text(beside->source), text(beside->refusal));
}

void LogTaker::takeOff(const QString& book, const QString& run, const QString& name) {
  const Status off = takeOffBeside(book.toStdString(), run.toStdString(), name.toStdString());
  emit takenOff(off ? QString() : text(off.error().message));
}

void LogTaker::countRemembered() { emit remembered(static_cast<int>(rememberedColumns().size()), {}); }

void LogTaker::forgetRemembered() {
  const Status gone = forgetColumns();
  emit remembered(static_cast<int>(rememberedColumns().size()), gone ? QString() : text(gone.error().message));
}

}  // namespace ash

#include "moc_log_taker.cpp"
