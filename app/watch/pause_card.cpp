// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/pause_card.h"

#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/look/theme.h"
#include "app/look/words.h"
#include "app/watch/live_model.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kReadFromAfarPx = 24;  // at two metres

const EndsByAnswer* pauseOf(const LiveModel& model) {
  if (!model.isGoingOn() || model.phases().empty()) return nullptr;
  const auto& planned = model.info().procedure.phases;
  const size_t index = model.phases().size() - 1;
  return index < planned.size() ? std::get_if<EndsByAnswer>(&planned[index].end) : nullptr;
}

QString waitedWords(const EndsByAnswer& pause, double waitedS) {
  const QString waited = QObject::tr("has waited %1").arg(text(clockText(waitedS)));
  if (!std::isfinite(pause.mostS)) return waited + QObject::tr("; load and log go on until it is done");
  return waited + QObject::tr("; goes on by itself in %1").arg(text(clockText(std::max(0.0, pause.mostS - waitedS))));
}

}  // namespace

PauseCard::PauseCard(const LiveModel& model, QWidget* parent) : QFrame(parent), m_model(model) {
  setObjectName(QStringLiteral("pause-card"));
  setFrameShape(QFrame::NoFrame);
  setAccessibleName(tr("The run waits for you"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(16), px(12), px(16), px(12));
  column->setSpacing(px(8));
  m_words = new QLabel(this);
  m_words->setObjectName(QStringLiteral("pause-words"));
  m_words->setTextFormat(Qt::PlainText);
  m_words->setWordWrap(true);
  m_words->setFont(look::font(kReadFromAfarPx, QFont::DemiBold));
  m_waited = new QLabel(this);
  m_waited->setObjectName(QStringLiteral("pause-waited"));
  m_waited->setTextFormat(Qt::PlainText);
  m_waited->setWordWrap(true);
  m_waited->setFont(look::font(13));
  m_found = new QLineEdit(this);
  m_found->setObjectName(QStringLiteral("pause-found"));
  m_found->setPlaceholderText(tr("what you found"));
  m_found->setAccessibleName(tr("What you found"));
  m_found->setToolTip(tr("A reading such as “noise 38.5”, or a note; may stay empty"));
  auto* done = new QPushButton(tr("Done"), this);
  done->setObjectName(QStringLiteral("pause-done"));
  done->setProperty("role", "main");
  done->setToolTip(tr("Goes on with the procedure (Enter)"));
  for (QWidget* part : std::initializer_list<QWidget*>{m_words, m_waited, m_found, done}) column->addWidget(part);
  const auto answer = [this] { emit answered(m_found->text().trimmed()); };
  connect(m_found, &QLineEdit::returnPressed, this, answer);
  connect(done, &QPushButton::clicked, this, answer);
  connect(&model, &LiveModel::changed, this, &PauseCard::refresh);
  refresh();  // a run may stand still already
}

void PauseCard::refresh() {
  const EndsByAnswer* pause = pauseOf(m_model);
  setVisible(pause != nullptr);
  const size_t phase = pause == nullptr ? SIZE_MAX : m_model.phases().size() - 1;
  const bool isNew = std::exchange(m_phase, phase) != phase;
  if (pause == nullptr) return;
  m_waited->setText(waitedWords(*pause, std::max(0.0, m_model.lastTimeS() - m_model.phases().back().startS)));
  if (!isNew) return;
  m_words->setText(text(pause->words));
  m_found->clear();
  // Enter is enough, unless something else is being typed: a line that is empty only happened to have the focus.
  const auto* typedInto = qobject_cast<QLineEdit*>(QApplication::focusWidget());
  if (typedInto == nullptr || typedInto->text().isEmpty() || !typedInto->isVisible()) m_found->setFocus();
}

}  // namespace ash

#include "moc_pause_card.cpp"
