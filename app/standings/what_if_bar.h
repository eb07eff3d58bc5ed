// SPDX-License-Identifier: GPL-3.0-or-later
// What the columns of Standings stand for: what was measured, what it would be in another room or with another power,
// or what each setup costs a person who says what noise and money are worth.
#pragma once

#include <QWidget>

#include "analysis/heat/projection.h"
#include "report/answer/weighing.h"

class QLabel;
class QSlider;

namespace ash {

namespace look {
class Segments;
}

enum class RankKind { Measured, Projected, Weighed };

class WhatIfBar : public QWidget {
  Q_OBJECT
 public:
  explicit WhatIfBar(QWidget* parent);

  RankKind kind() const;
  ProjectionQuestion question() const;
  Worth worth() const;
  /// What can be asked for of a load: the most power, whether noise and prices are known, and the room it was run in.
  struct Range {
    std::string study;  ///< another one begins in its own room, with its own power
    double roomC = 22, mostPowerW = 0;
    bool hasNoise = false, hasPrice = false;
    QString currency;
  };
  void setRange(const Range& range);
  /// What the columns say, in a sentence or two.
  void setWords(const QString& words);

 signals:
  void changed();

 private:
  struct Field {
    QWidget* row;
    QSlider* slider;
    QLabel* value;
  };
  Field addField(const char* objectName, const QString& name, const QString& tip);
  void fillValues();
  void takeKind();

  Range m_range;
  look::Segments* m_kind;
  Field m_room, m_power, m_noise, m_price;
  QLabel* m_words;
};

}  // namespace ash
