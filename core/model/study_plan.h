// SPDX-License-Identifier: GPL-3.0-or-later
// The plan of a study as a type: what is held equal, what is under test, how often, by which procedure, and how it is
// written up. Kept as JSON in the book (`Study::plan`); keys this version does not know are kept and written back.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "model/result.h"
#include "model/role.h"
#include "model/stated_figure.h"
#include "model/study.h"
#include "model/study_question.h"

namespace ash {

/// A condition that must be the same in every run.
struct HeldCondition {
  std::string field;            ///< of a setup's conditions: "fan_duty", "room_c", …
  Json target;                  ///< number in the field's unit, or a word; null = only "the same"
  double tolerance = kMissing;  ///< in the field's unit; missing = exact
};

/// A reading that only a person can take.
struct OwedReading {
  enum class When { AtRest, Settled, AtEnd };
  Role role;          ///< "noise", "wall.power", "room.temp", "surface.hinge", "score"
  std::string place;  ///< "50 cm"; may be empty
  When when = When::Settled;
  double plusMinus = 0, percent = 0;  ///< stated accuracy of the instrument: fixed part, share of the reading
};

/// How the page of a study is put together; blocks are named by their ids (report/page_blocks.h).
struct WriteUpPlan {
  std::vector<std::string> leftOut;
  std::vector<std::string> order;               ///< ids that were moved, in their order; the others follow
  std::map<std::string, std::string> comments;  ///< the tester's own words below a block
  std::string licence;                          ///< of text, figures and charts, "CC BY 4.0"; empty = none stated
};

/// A setup of another study, or of another book, that is shown beside this study's own.
struct AlsoShown {
  std::string book;  ///< as a path from this book's folder; empty = this book
  std::string study, setup;
  std::string run;  ///< one of its runs, by which the book is known again when it was moved
  bool operator==(const AlsoShown&) const = default;
};

/// A check of the comparison that a person has looked at and takes as it is, with a reason. It stays a check.
struct AcceptedCheck {
  std::string what;                  ///< its code (verdict.h): "settling", "cpu.clock"
  std::vector<std::string> between;  ///< the runs it is about, sorted; of others it is another check
  std::string reason, when;          ///< when: ISO 8601
  bool operator==(const AcceptedCheck&) const = default;
};

struct StudyPlan {
  std::vector<HeldCondition> held;
  std::vector<std::string> underTest;  ///< fields of conditions that are meant to differ
  std::string figure;                  ///< the metric asked for, "cpu.over_ambient_k"; empty = chosen by what was read
  StudyQuestion asks;                  ///< what is asked of the figure; the answer begins accordingly
  std::optional<double> marginK;       ///< differences of temperature below this do not matter
  std::string equal;  ///< what the field is levelled by: "noise", "power", "fan", with "=VALUE"; empty = as run
  std::optional<double> repeatabilityK;  ///< how far repeats scatter (standard deviation), for setups with a single run
  int repeats = 3;
  bool isUntilDecided = false;  ///< `repeats` are the most: after each round it is asked whether more are needed
  std::vector<OwedReading> byHand;
  std::string reference;  ///< name of a setup; empty = the first
  std::string phases = "idle 1min, soak settled 5min..40min, measure 5min, cool 1min";
  std::vector<std::string> stopRules;  ///< beside the default ones
  std::string bench;                   ///< a simulated bench; empty = this machine
  std::vector<AlsoShown> alsoShown;
  std::vector<AcceptedCheck> accepted;
  std::vector<StatedFigure> stated;  ///< what was expected, and what others claim
  double speed = 60;                 ///< of the simulated bench
  WriteUpPlan writeUp;
  Json rest = Json::object();  ///< keys of later versions
};

/// Reads a plan; what is missing or of the wrong shape has its default.
StudyPlan planFromJson(const Json& json);
Json planToJson(const StudyPlan& plan);

/// The setup that the others are held against: as planned, else the first. Empty when there is none.
std::string referenceSetup(const Study& study, const StudyPlan& plan);

/// Place of a setup in its study, which is its colour everywhere; -1 when it is none of them.
int setupIndexIn(const Study& study, const std::string& setup);

/// "noise, 50 cm, when settled".
std::string owedWords(const OwedReading& owed);

/// A list of readings to take by hand as a person writes it: "noise 50 cm, surface hinge, wall at rest". The error
/// names the item that is not understood.
Result<std::vector<OwedReading>> parseOwedList(const std::string& text);
std::string owedListText(const std::vector<OwedReading>& owed);

}  // namespace ash
