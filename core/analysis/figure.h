// SPDX-License-Identifier: GPL-3.0-or-later
// The catalogue of figures: what can be told of a run and held against another, and everything that anybody asks of
// such a figure. A new figure is a row here and a line that fills it in metrics.cpp; comparison, accuracy, Standings,
// trade-off, plan, page, CSV and text walk the catalogue.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "model/device.h"

namespace ash {

enum class Better { Lower, Higher, Neither };

/// Which kind of figure, in the order in which they are listed.
enum class FigureId {
  OverRoom,
  Temperature,
  Peak,
  HeadroomK,
  Resistance,
  HeadroomW,
  HottestRoom,
  Clock,
  ThrottledThermal,
  Throttled,
  WorkRate,
  Score,
  FrameRate,
  Stability,
  TaskTime,
  Runtime,
  Power,
  WallPower,
  IdleWallPower,
  WorkPerJoule,
  ScorePerWatt,
  Energy,
  Noise,
  IdleNoise,
  FanSpeed,
  FanWoke,
  Price,
  Other,  ///< a name that is in no row: a reading of the reviewer's own
};

/// Which instruments a figure comes from (accuracy.h).
enum class MeasuredBy {
  Itself,           ///< the reading of its own name
  AtRest,           ///< the reading of its name, at rest
  Temperature,      ///< its device's temperature
  TemperatureMean,  ///< that, at its mean: what the figure is worked out from
  OverRoom,         ///< that and the room's
  PowerShare,       ///< the power that energy and efficiency come from, as a share
};

/// Where the true figure of a device lies that had not settled, or was held at its limit.
enum class WhileWarming { Same, Above, Below };

/// What keeps two runs from being compared in a figure, beside what keeps them from it in every one.
struct Concerns {
  bool room = false;   ///< a room that was not measured in both
  bool power = false;  ///< energy from two kinds of reading
  bool window = true;  ///< a run that was cut short
};

/// How a figure is put into a sentence.
struct FigureWords {
  std::string_view verb = "has";                  ///< "runs", "is", "has"
  std::string_view less = "less", more = "more";  ///< "cooler", "warmer"
  std::string_view ratio = {};                    ///< "time" in "1.8 × the time"; empty = its title
};

constexpr int kUsualDigits = -1;

/// Under which heading a figure stands.
enum class FigureGroup { Temperature, Surfaces, Speed, Power, NoiseAndFans, Value, None };
std::string_view titleOf(FigureGroup group);

/// One row of the catalogue. The order of the rows is the order in which figures are listed.
struct FigureKind {
  FigureId id;
  std::string_view code = {};  ///< behind the device ("over_ambient_k"), or the whole name ("noise")
  bool isOfDevice = false;
  std::string_view title = {}, unit = {};
  std::string_view definition = {};  ///< one sentence: the tooltip of its heading
  FigureGroup group = FigureGroup::None;
  Better better = Better::Lower;
  int digits = kUsualDigits;  ///< decimals it is quoted with; kUsualDigits = as its unit
  double scale = 1;           ///< shown value over the one that is kept: 100 for shares in percent
  bool hasRatio = false;      ///< a zero that means none: times, energies, scores, rates, watts
  MeasuredBy measuredBy = MeasuredBy::Itself;
  WhileWarming warming = WhileWarming::Same;
  Concerns concerns = {};
  FigureWords words = {};
  bool mayLead = false;        ///< a study may ask for it
  bool ofEveryDevice = false;  ///< listed of those beside the question, too: drives, memory, regulators, air
};

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

/// What a study may ask for: of the processor and the graphics, over room of regulators and drives, of the run.
std::vector<Figure> figuresToAskFor();

}  // namespace ash
