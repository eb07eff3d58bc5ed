// SPDX-License-Identifier: GPL-3.0-or-later
// The catalogue of figures: what can be told of a run and held against another, and everything that anybody asks of
// such a figure (figure_kinds.h). Comparison, accuracy, Standings, trade-off, plan, page, CSV and text walk it.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "analysis/catalogue/figure_kinds.h"
#include "model/device.h"

namespace ash {

/// All rows, in the order of FigureId; Other is not among them.
std::span<const FigureKind> figureKinds();

/// A figure of a device or of the run: what is worked out, shown, compared. Ordered and compared by its code.
class Figure {
 public:
  /// Takes the name apart ("cpu.over_ambient_k", "fan.rear", "noise"); one that is in no row is Other.
  Figure(std::string_view code);                                       // NOLINT: a figure is written by its name
  Figure(const std::string& code) : Figure(std::string_view(code)) {}  // NOLINT
  Figure(const char* code) : Figure(std::string_view(code)) {}         // NOLINT
  /// Of a device.
  Figure(const Device& device, FigureId id);
  /// Of the run.
  Figure(FigureId id) : Figure(Device(), id) {}  // NOLINT

  FigureId id() const { return m_kind->id; }
  const FigureKind& kind() const { return *m_kind; }
  const Device& device() const { return m_device; }  ///< empty for the run's own
  const std::string& code() const { return m_code; }

  /// The heading for a person: "CPU over room".
  std::string title() const;
  std::string unit() const { return std::string(m_kind->unit); }
  /// Decimals it is quoted with.
  int digits() const;
  /// Of a difference: kelvin for °C.
  std::string differenceUnit() const;
  /// Which way is better.
  Better better(bool lowerScoreIsBetter = false) const;
  FigureGroup group() const;
  /// In °C or K: a plain margin in kelvin applies.
  bool isTemperature() const;

  bool operator==(const Figure& other) const { return m_code == other.m_code; }
  auto operator<=>(const Figure& other) const { return m_code <=> other.m_code; }

 private:
  Device m_device;
  std::string m_code;
  const FigureKind* m_kind;
};

/// In the order of a list: by group, in it by device, for a device as in the catalogue.
bool isListedBefore(const Figure& a, const Figure& b);

/// Pairs of figures that are worth a plane, what it costs first: noise and kelvin over room, price and speed. Of the
/// processor, then of the graphics.
std::vector<std::pair<Figure, Figure>> tradeOffPairs();

/// What a study may ask for: of the processor and the graphics, over room of regulators and drives, of the run.
std::vector<Figure> figuresToAskFor();

}  // namespace ash
