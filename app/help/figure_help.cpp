// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/help/figure_help.h"

#include <QFile>

#include "app/look/words.h"
#include "report/answer/answer.h"

namespace ash {
using look::text;
namespace {

QString betterWords(Better better) {
  return better == Better::Lower    ? QObject::tr("Lower is better.")
         : better == Better::Higher ? QObject::tr("Higher is better.")
                                    : QObject::tr("Neither more nor less is better by itself.");
}

}  // namespace

QString methodSectionOf(FigureId figure) {
  switch (figure) {
    case FigureId::HeadroomK:
    case FigureId::Resistance:
    case FigureId::HeadroomW:
    case FigureId::HottestRoom:
      return QStringLiteral("Heat");
    case FigureId::ThrottledThermal:
    case FigureId::Throttled:
      return QStringLiteral("Throttling");
    case FigureId::WorkPerJoule:
    case FigureId::ScorePerWatt:
    case FigureId::Energy:
      return QStringLiteral("Energy and efficiency");
    case FigureId::Score:
    case FigureId::Stability:
    case FigureId::TaskTime:
    case FigureId::Runtime:
      return QStringLiteral("Passes and batteries");
    case FigureId::Noise:
    case FigureId::IdleNoise:
    case FigureId::NoiseOverRest:
    case FigureId::Price:
      return QStringLiteral("Comparison");
    case FigureId::OverRoom:
    case FigureId::Temperature:
    case FigureId::Peak:
    case FigureId::Clock:
    case FigureId::WorkRate:
    case FigureId::FrameRate:
    case FigureId::Power:
    case FigureId::WallPower:
    case FigureId::IdleWallPower:
    case FigureId::FanSpeed:
    case FigureId::FanWoke:
    case FigureId::Other:
      break;
  }
  return QStringLiteral("Window statistics");
}

QString methodSection(const QString& heading) {
  QFile file(QStringLiteral(":/ash/method.md"));
  if (!file.open(QIODevice::ReadOnly)) return {};
  const QString all = QString::fromUtf8(file.readAll());
  const QString head = QStringLiteral("\n## %1\n").arg(heading);
  const auto from = all.indexOf(head);
  if (from < 0) return {};
  const auto start = from + head.size(), end = all.indexOf(QStringLiteral("\n## "), start);
  return all.mid(start, end < 0 ? -1 : end - start).trimmed();
}

HelpWords helpOf(const Figure& figure) {
  const QString section = methodSectionOf(figure.id());
  QString words = text(figure.kind().definition) + QStringLiteral("\n\n");
  if (const QString unit = text(shownUnit(figure)); !unit.isEmpty()) words += QObject::tr("In %1. ").arg(unit);
  words += betterWords(figure.better()) + QStringLiteral("\n\n");
  words += QObject::tr("**How it is worked out** (method, “%1”)").arg(section) + QStringLiteral("\n\n") +
           methodSection(section);
  return {text(figure.title()), words};
}

}  // namespace ash
