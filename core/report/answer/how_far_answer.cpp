// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/how_far_answer.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/condition_field.h"
#include "report/answer/held_ladder.h"
#include "report/answer/leaning.h"
#include "report/answer/row_figure.h"

namespace ash {
namespace {

void append(Sentence& sentence, const Sentence& more) { sentence.insert(sentence.end(), more.begin(), more.end()); }

Sentence ladderSentence(const std::vector<HeldRung>& rungs, const std::string& field) {
  // What lies behind one that did not hold is not reached.
  const auto broken = std::find_if(rungs.begin(), rungs.end(),
                                   [](const HeldRung& rung) { return leaningOf(rung.chance) != Leaning::Yes; });
  if (broken == rungs.begin()) {
    Sentence none = {{fmt::format("No setting of {} that was run holds for certain: {}", lowerFirst(fieldTitle(field)),
                                  broken->row->setup)}};
    append(none, broken->words);
    none.push_back({"."});
    return none;
  }
  const HeldRung& furthest = *std::prev(broken);
  Sentence sentence = {
      {fmt::format("{} is the furthest that holds, by {},", furthest.row->setup, lowerFirst(fieldTitle(field)))}};
  append(sentence, furthest.words);
  if (broken == rungs.end()) {
    sentence.push_back({". Nothing further was run."});
    return sentence;
  }
  const bool isOpen = leaningOf(broken->chance) != Leaning::No;
  sentence.push_back({fmt::format("; {} {}", broken->row->setup, isOpen ? "may not hold," : "does not hold,")});
  append(sentence, broken->words);
  const bool isTold = isOpen && std::isfinite(broken->chance);
  sentence.push_back({isTold ? fmt::format(" (chance that it does {}).", chanceWords(broken->chance)) : "."});
  return sentence;
}

// "CPU: a room of 56.2 °C (…), or 18.3 W (…) more."
Sentence roomAndWatts(const ComparisonRow& row) {
  Sentence sentence;
  for (const auto& [figure, value] : row.metrics) {
    if (figure.id() != FigureId::HottestRoom || !std::isfinite(value.value)) continue;
    sentence.push_back(
        {(sentence.empty() ? row.setup + ": " : "; ") + figure.device().shortName() + " could go to a room of "});
    addFigure(sentence, row, figure);
    const Figure watts(figure.device(), FigureId::HeadroomW);
    const MetricRow* left = figureIn(row, watts);
    if (left == nullptr) continue;
    sentence.push_back({left->value < 0 ? "; its headroom in watts, here, is " : ", or carry "});
    addFigure(sentence, row, watts);
    if (left->value >= 0) sentence.push_back({" more"});
  }
  if (sentence.empty())
    return {{fmt::format(
        "Cannot tell how far {} can go: room, power and the limit of a part that works have to be known.", row.setup)}};
  sentence.push_back({"."});
  return sentence;
}

}  // namespace

std::vector<Sentence> howFarSentences(const StudyReport& report, const LoadStanding& load) {
  // Of a field that was levelled the rungs themselves are asked about.
  if (load.comparison.equalBy) {
    const std::optional<Comparison> asRun = comparedAsRun(report, load);
    if (!asRun) return {};
    return wordsOnly(howFarSentences(report, LoadStanding{load.load, *asRun, {}, {}}), load.comparison);
  }
  std::vector<Sentence> sentences;
  for (const std::string& field : report.plan.underTest) {
    for (const HeldLadder& ladder : heldLadders(report, load, field))
      sentences.push_back(ladderSentence(ladder.all, field));
  }
  if (!sentences.empty()) return sentences;
  for (const ComparisonRow& row : load.comparison.rows) sentences.push_back(roomAndWatts(row));
  return sentences;
}

}  // namespace ash
