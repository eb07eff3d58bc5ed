// SPDX-License-Identifier: GPL-3.0-or-later
// What a row of the catalogue of figures holds: everything that anybody asks of a kind of figure.
#pragma once

#include <array>
#include <string_view>

namespace ash {

/// Which kind of figure; the values stand beside their rows (figure_kinds.h).
enum class FigureId : int;

enum class Better { Lower, Higher, Neither };

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
  bool work = false;   ///< loads that did not last equally long, without equal work: it is a sum over the load
};

/// Within how much two repeats of one setup are taken to agree in 95 of 100 cases where no repeats tell and the study
/// states nothing (contract, "One run a side"; a repeatability limit in the sense of ISO 5725-6): an amount in the unit
/// of the figure, or a part of its value.
struct Agreement {
  double amount = 0, share = 0;
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

/// What a figure is bought with it: the planes of Standings set them against each other.
inline constexpr FigureId kNoFigure{-1};
struct Trade {
  int place = 0;  ///< among the planes; 0 = none
  std::array<FigureId, 2> buys = {kNoFigure, kNoFigure};
};

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
  Agreement agreement = {0, 0.01};
  FigureWords words = {};
  Trade trade = {};
  bool mayLead = false;        ///< a study may ask for it
  bool ofEveryDevice = false;  ///< listed of those beside the question, too: drives, memory, regulators, air
};

}  // namespace ash
