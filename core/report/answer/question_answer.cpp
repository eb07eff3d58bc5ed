// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/question_answer.h"

#include "report/answer/choice_answer.h"
#include "report/answer/claim_answer.h"
#include "report/answer/holds_answer.h"
#include "report/answer/how_far_answer.h"

namespace ash {

std::vector<Sentence> questionSentences(const StudyReport& report, const LoadStanding& load) {
  if (!report.plan.asks.isAsked()) return {};
  switch (report.plan.asks.kind) {
    case QuestionKind::Open:
      break;
    case QuestionKind::WhichIsBest:
      return bestSentences(report, load);
    case QuestionKind::HoldsInRoom:
    case QuestionKind::HoldsAtPower:
    case QuestionKind::HoldsAtNoise:
      return holdsSentences(report, load);
    case QuestionKind::HowFar:
      return howFarSentences(report, load);
    case QuestionKind::WhatItCosts:
      return costSentences(report, load);
    case QuestionKind::IsClaimTrue:
      return claimSentences(report, load);
  }
  return {};
}

namespace {

// Who holds is one sentence, and then there is one for each setup.
bool hasDetails(const StudyReport& report, const LoadStanding& load) {
  const QuestionKind kind = report.plan.asks.kind;
  const bool isHolding =
      kind == QuestionKind::HoldsInRoom || kind == QuestionKind::HoldsAtPower || kind == QuestionKind::HoldsAtNoise;
  return isHolding && isCrowded(load);
}

}  // namespace

std::vector<Sentence> detailSentences(const StudyReport& report, const LoadStanding& load) {
  if (!hasDetails(report, load)) return {};
  std::vector<Sentence> sentences = questionSentences(report, load);
  if (!sentences.empty()) sentences.erase(sentences.begin());
  return sentences;
}

std::vector<Sentence> leadSentences(const StudyReport& report, const LoadStanding& load) {
  std::vector<Sentence> sentences = questionSentences(report, load);
  if (hasDetails(report, load) && !sentences.empty()) sentences.resize(1);
  return sentences.empty() ? headlineSentences(report, load) : sentences;
}

}  // namespace ash
