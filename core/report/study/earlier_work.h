// SPDX-License-Identifier: GPL-3.0-or-later
// Setups of other studies and other books, shown beside a study's own: read only, worked out anew by the same method,
// held against the study's reference as far as it is like for like.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "analysis/comparison/compare.h"
#include "book/book.h"
#include "model/study_plan.h"

namespace ash {

/// One such setup with its runs.
struct EarlierSetup {
  AlsoShown what;
  std::string label;  ///< "Mesh of Which side panel?", with the book's name where it is another
  std::vector<std::shared_ptr<const AnalyzedRun>> runs;
  std::string problem;  ///< one sentence where it cannot be read; then it has no runs
};

/// Under one load, against the reference.
struct EarlierRow {
  AlsoShown what;
  std::string label;
  ComparisonRow row;
  std::vector<ComparisonCheck> checks;  ///< the worst first
  /// True where no check but those that only inform stands against it.
  bool isLikeForLike() const;
};

/// Reads what is to be shown; a book that was moved is looked for.
EarlierSetup readEarlier(const Book& book, const AlsoShown& what);
/// What it is called: see EarlierSetup::label.
std::string labelOf(const AlsoShown& what);

/// Its runs under the load against those of the reference setup; empty where it has none under that load.
std::vector<EarlierRow> earlierRows(const std::vector<EarlierSetup>& earlier, const std::string& load,
                                    const std::vector<const AnalyzedRun*>& reference, const CompareOptions& options);

}  // namespace ash
